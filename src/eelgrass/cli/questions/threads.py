"""The command `eelgrass threads`."""

from __future__ import annotations

from pathlib import Path

import click

from eelgrass.cli.common import Refused, load, print_rows, recording_argument


@click.command()
@recording_argument
@click.option("--at", "step", type=int, help="The step [default: the end of the run].")
def threads(recording: Path, step: int | None) -> None:
    """What each thread is doing, which locks it holds and waits for, and the circle of a deadlock, as JSON."""
    from eelgrass.export import json_threads
    from eelgrass.reading.recording import Recording
    from eelgrass.reading.threads.waiting import threads_at

    its = Recording(load(recording))
    count = len(its.trace.steps)
    step = count - 1 if step is None else step
    if not 0 <= step < count:
        raise Refused(f"“{recording.name}” has {count} steps, from 0; there is no step {step}.")
    print_rows([json_threads.threads(threads_at(its, step))])
