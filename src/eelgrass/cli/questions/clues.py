"""The command `eelgrass clues`."""

from __future__ import annotations

from pathlib import Path

import click

from eelgrass.cli.common import load, print_rows, recording_argument
from eelgrass.reading.clues.clue import LIKELY


@click.command()
@recording_argument
@click.option(
    "--least",
    type=click.FloatRange(0, 1),
    default=LIKELY,
    show_default=True,
    metavar="STRENGTH",
    help="Only those of at least this strength, from 0 to 1.",
)
@click.option("--without", "without", multiple=True, metavar="KIND", help="None of this kind (repeatable).")
@click.option("--stated", is_flag=True, help="Instead: what comments, docstrings and type hints state, as claims.")
@click.pass_context
def clues(context: click.Context, recording: Path, least: float, without: tuple[str, ...], stated: bool) -> None:
    """What looks like a usual mistake in a run, with its evidence: one JSON object a line, the strongest first. Exit
    status 1 when there is none."""
    from eelgrass.export.json_clues import clues as as_json
    from eelgrass.export.json_clues import stated as stated_rows
    from eelgrass.reading.clues.catalogue import all_kinds
    from eelgrass.reading.clues.finding import find_clues
    from eelgrass.reading.recording import Recording

    unknown = sorted(set(without) - {kind.id for kind in all_kinds()})
    if unknown:
        raise click.UsageError(f"There is no kind of clue “{unknown[0]}”.")
    trace = load(recording)
    if stated:
        rows = list(stated_rows(Recording(trace)))
        print_rows(rows)
        context.exit(0 if rows else 1)
    found = [its for its in find_clues(Recording(trace), without=without) if its.strength >= least]
    print_rows(as_json(trace, found))
    context.exit(0 if found else 1)
