"""The command `eelgrass what-if`."""

from __future__ import annotations

from pathlib import Path

import click

from eelgrass.cli.common import Refused, load, recording_argument, save, write


@click.command("what-if")
@recording_argument
@click.argument("step", type=click.IntRange(0))
@click.argument("settings", metavar="NAME=EXPRESSION…", nargs=-1, required=True)
@click.option("-o", "--output", required=True, metavar="OUT.eelrec", type=click.Path(dir_okay=False, path_type=Path))
def what_if(recording: Path, step: int, settings: tuple[str, ...], output: Path) -> None:
    """The run again, with names, elements or fields of other values just before STEP: its output, and a recording.

    What was typed is typed again; after that there is no more input. Exit status 0 when the side run went on to an end
    of its own, 1 when it came to the step another way, or what is to be set is not there.
    """
    from eelgrass.reading.expressions.expression import ExpressionError
    from eelgrass.reading.recording import Recording
    from eelgrass.reading.watches.settable import wish
    from eelgrass.runs.repeating import SideRunError
    from eelgrass.runs.what_if import begun_what_if, what_is_missing
    from eelgrass.trace.model import Texts

    before = Recording(load(recording))
    if step >= len(before.trace.steps):
        raise Refused(f"“{recording.name}” has {len(before.trace.steps)} steps, from 0; there is no step {step}.")
    try:
        wishes = [wish(before, step, before.stepping.frame_of(step), text) for text in settings]
        run = begun_what_if(before.trace, step, wishes)
    except (ExpressionError, SideRunError) as error:
        raise Refused(str(error)) from error
    trace = run.fed(())
    write(trace.texts.of(Texts.OUTPUT))
    click.echo("".join(trace.texts.of(Texts.ERRORS)), nl=False, err=True)
    save(trace, output)
    missing = what_is_missing(run, trace)
    if missing:
        raise Refused(missing)
