"""The commands `eelgrass trail` and `eelgrass kept-out`."""

from __future__ import annotations

from itertools import islice
from pathlib import Path

import click

from eelgrass.cli.common import Refused, load, print_rows, recording_argument
from eelgrass.trace.program import Program


@click.command()
@recording_argument
@click.argument("expression", required=False)
@click.option("--at", "step", type=int, help="The step just before which EXPRESSION has the value.")
@click.option("--output", "character", type=click.IntRange(0), help="A character of standard output, counted from 0.")
@click.option("--exception", is_flag=False, flag_value=-1, type=int, help="An exception: at a step, else the last one.")
@click.option("--end", is_flag=True, help="Why a run that was stopped had not ended.")
@click.option("--most", type=click.IntRange(1), default=100, show_default=True, help="So many links.")
def trail(
    recording: Path,
    expression: str | None,
    step: int | None,
    character: int | None,
    exception: int | None,
    end: bool,
    most: int,
) -> None:
    """Where a value, a printed character, an exception or the end of a stopped run came from: the links of a trail, the
    nearest first, one JSON object a line."""
    from eelgrass.export.json_trails import links
    from eelgrass.reading.expressions.expression import ExpressionError
    from eelgrass.reading.recording import Recording
    from eelgrass.reading.trails import trail as trails
    from eelgrass.reading.trails.origins import Origins

    asked = sum((expression is not None, character is not None, exception is not None, end))
    if asked != 1 or (expression is None) != (step is None):
        raise click.UsageError("Ask for one: --at STEP EXPRESSION, --output CHARACTER, --exception, or --end.")
    origins = Origins(Recording(load(recording)))
    try:
        if expression is not None and step is not None:
            count = len(origins.trace.steps)
            if not 0 <= step < count:
                raise Refused(f"“{recording.name}” has {count} steps, from 0; there is no step {step}.")
            found = trails.trail_of_expression(origins, expression, step)
        elif character is not None:
            found = trails.trail_of_output(origins, character)
        else:
            found = (
                trails.trail_of_end(origins)
                if end
                else trails.trail_of_exception(origins, -1 if exception is None else exception)
            )
    except ExpressionError as error:
        raise click.UsageError(f"{error} (at column {error.column + 1})") from error
    except trails.NoTrailError as error:
        raise Refused(str(error)) from error
    print_rows(islice(links(found), most))


@click.command("kept-out")
@recording_argument
@click.argument("line", type=click.IntRange(1))
@click.option("--file", "name", help="The module's file, where there are several.")
@click.option("--at", "step", type=int, default=-1, help="Only after this step, in its frame.")
def kept_out(recording: Path, line: int, name: str | None, step: int) -> None:
    """Why LINE did not run, as JSON."""
    from eelgrass.export.json_trails import kept_out as as_json
    from eelgrass.reading.recording import Recording
    from eelgrass.reading.trails.kept_out import kept_out as find
    from eelgrass.reading.trails.origins import Origins

    origins = Origins(Recording(load(recording)))
    module = _module(origins.trace.program, name)
    print_rows([as_json(origins.recording, find(origins, module, line, step))])


def _module(program: Program, name: str | None) -> int:
    """The number of the module with a file's name, or path. Raises Refused."""
    files = [module.file for module in program.modules]
    found = [number for number, file in enumerate(files) if name is None or file == name or Path(file).name == name]
    if not found:
        raise Refused(f"No module of this recording has the file “{name}”.")
    return found[0]
