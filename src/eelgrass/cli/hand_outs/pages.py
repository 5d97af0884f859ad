"""The command `eelgrass page`."""

from __future__ import annotations

from pathlib import Path

import click

from eelgrass.cli.common import Refused, load, put, require_confinement


@click.command()
@click.argument("source", metavar="REC", type=click.Path(path_type=Path))
@click.option("--from", "first", type=click.IntRange(0), default=0, show_default=True, help="The first step to show.")
@click.option("--to", "last", type=click.IntRange(0), help="The last one [default: the end of the run].")
@click.option("--case", "cases", multiple=True, help="Of an exercise: the cases to show [default: those of its route].")
@click.option("--ask/--no-ask", default=None, help="Ask what comes next [default: what an exercise asks].")
@click.option("--title", help="What stands above it [default: the program's name].")
@click.option("-o", "out", type=click.Path(dir_okay=False, path_type=Path), required=True, help="The .html file.")
def page(
    source: Path, first: int, last: int | None, cases: tuple[str, ...], ask: bool | None, title: str | None, out: Path
) -> None:
    """One HTML file for any browser, without network: the run of a recording, or of an exercise's program in its cases,
    to step through."""
    from eelgrass.lessons.exercises.exercise import is_exercise

    if is_exercise(source):
        if first or last is not None or title:
            raise click.UsageError("--from, --to and --title are for recordings.")
        html = _of_exercise(source, cases, ask is not False)
    elif cases:
        raise click.UsageError("--case is for exercises.")
    else:
        html = _of_recording(source, first, last, title, bool(ask))
    put(out, html.encode("utf-8", "replace"))


def _of_recording(path: Path, first: int, last: int | None, title: str | None, asks: bool) -> str:
    from eelgrass.export.pages.page import ToShow
    from eelgrass.export.pages.page import page as made
    from eelgrass.export.pages.runs import Chosen, worth_asking
    from eelgrass.reading.recording import Recording

    recording = Recording(load(path))
    end = len(recording.trace.steps) - 1
    if first > end or (last is not None and last < first):
        raise Refused(f"There is nothing to show: the recording has the steps 0 to {end:,}.")
    name = Path(recording.trace.program.modules[0].file).name
    questions = worth_asking(recording, first, last) if asks else {}
    return made(title or name, [ToShow(recording, Chosen(first=first, last=last, questions=questions))])


def _of_exercise(path: Path, cases: tuple[str, ...], asks: bool) -> str:
    from tempfile import TemporaryDirectory

    from eelgrass.errors import EelgrassError
    from eelgrass.export.pages.exercise_page import exercise_page
    from eelgrass.lessons.exercises import exercise as exercises

    require_confinement()
    with TemporaryDirectory(prefix="eelgrass-exercise-") as folder:
        try:
            return exercise_page(exercises.open_either(path, Path(folder)), cases, asks)
        except EelgrassError as error:
            raise Refused(str(error)) from error
