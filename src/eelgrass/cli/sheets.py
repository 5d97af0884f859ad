"""The command `eelgrass sheet`."""

from __future__ import annotations

import importlib
from pathlib import Path

import click

from eelgrass.cli.common import Refused, load, recording_argument


@click.command()
@recording_argument
@click.option("--function", help="The function whose call to trace [default: the module].")
@click.option("--call", type=click.IntRange(1), default=1, show_default=True, help="Which of its calls.")
@click.option("--loop", type=click.IntRange(1), metavar="LINE", help="A row for each pass of the loop at this line.")
@click.option("--title", help="What stands above it [default: the program's name].")
@click.option("--solution", is_flag=True, help="With all of it filled in.")
@click.option("-o", "out", type=click.Path(dir_okay=False, path_type=Path), required=True, help="A .pdf or .html file.")
def sheet(
    recording: Path, function: str | None, call: int, loop: int | None, title: str | None, solution: bool, out: Path
) -> None:
    """A trace table to fill in on paper, with the text and room for the output; or its solution."""
    from eelgrass.atomic_write import replaced
    from eelgrass.export import sheets
    from eelgrass.reading.recording import Recording
    from eelgrass.reading.tables import trace_table as tables

    if out.suffix not in (".pdf", ".html"):
        raise click.UsageError("A sheet is a .pdf or an .html file.")
    asked_of = Recording(load(recording))
    try:
        made = tables.of_loop_at(asked_of, loop, 1) if loop else tables.of_call_named(asked_of, function, call, False)
    except LookupError as error:
        raise Refused(str(error.args[0])) from error
    name = Path(asked_of.trace.program.modules[0].file).name
    html = sheets.sheet(made, title or name, solution)
    data = html.encode()
    if out.suffix == ".pdf":  # nothing outside `eelgrass.desktop` imports it, so it is found by name
        data = importlib.import_module("eelgrass.desktop.paper").as_pdf(html)
    try:
        with replaced(out) as file:
            file.write(data)
    except OSError as error:
        raise Refused(f"“{out}” cannot be written: {error.strerror}.") from error
