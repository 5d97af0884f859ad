"""The command `eelgrass sheet`."""

from __future__ import annotations

import importlib
from pathlib import Path
from typing import TYPE_CHECKING

import click

from eelgrass.cli.common import Refused, load, put, recording_argument

if TYPE_CHECKING:
    from eelgrass.reading.recording import Recording


@click.command()
@recording_argument
@click.option("--function", help="The function whose call to trace [default: the module].")
@click.option("--call", type=click.IntRange(1), default=1, show_default=True, help="Which of its calls.")
@click.option("--loop", type=click.IntRange(1), metavar="LINE", help="A row for each pass of the loop at this line.")
@click.option("--title", help="What stands above it [default: the program's name].")
@click.option("--solution", is_flag=True, help="With all of it filled in.")
@click.option("--notes", type=click.IntRange(0), metavar="STEP", help="Instead: the text with its notes at this step.")
@click.option("--on-each", type=click.Choice(["1", "2", "4"]), default="1", help="So many on a page of a .pdf.")
@click.option("-o", "out", type=click.Path(dir_okay=False, path_type=Path), required=True, help="A .pdf or .html file.")
def sheet(
    recording: Path,
    function: str | None,
    call: int,
    loop: int | None,
    title: str | None,
    solution: bool,
    notes: int | None,
    on_each: str,
    out: Path,
) -> None:
    """A trace table to fill in on paper, with the text and room for the output; or its solution; or the text with its
    margin notes and values as they are at a step."""
    from eelgrass.reading.recording import Recording

    if out.suffix not in (".pdf", ".html"):
        raise click.UsageError("A sheet is a .pdf or an .html file.")
    asked_of = Recording(load(recording))
    title = title or Path(asked_of.trace.program.modules[0].file).name
    html = _table(asked_of, title, function, call, loop, solution) if notes is None else _notes(asked_of, title, notes)
    data = html.encode("utf-8", "replace")
    if out.suffix == ".pdf":  # nothing outside `eelgrass.desktop` imports it, so it is found by name
        data = importlib.import_module("eelgrass.desktop.paper").as_pdf(html, int(on_each))
    put(out, data)


def _table(asked_of: Recording, title: str, function: str | None, call: int, loop: int | None, solution: bool) -> str:
    from eelgrass.export import sheets
    from eelgrass.reading.tables import trace_table as tables

    try:
        made = tables.of_loop_at(asked_of, loop, 1) if loop else tables.of_call_named(asked_of, function, call, False)
    except LookupError as error:
        raise Refused(str(error.args[0])) from error
    return sheets.sheet(made, title, solution)


def _notes(asked_of: Recording, title: str, step: int) -> str:
    from eelgrass.export.handouts import handout

    if step >= len(asked_of.trace.steps):
        raise Refused(f"There is no step {step}.")
    return handout(asked_of, asked_of.stepping.nearest(step), title)
