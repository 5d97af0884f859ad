"""The command `eelgrass ask`."""

from __future__ import annotations

from pathlib import Path
from typing import TYPE_CHECKING, Any

import click

from eelgrass.cli.common import Refused, load, print_rows, recording_argument
from eelgrass.export import json_rows

if TYPE_CHECKING:
    from eelgrass.reading.expressions.expression import Expression
    from eelgrass.reading.recording import Recording


@click.command()
@recording_argument
@click.argument("expression")
@click.option("--at", "step", type=int, help="The step before which to ask; without it, over the whole run.")
@click.option("--side-run", is_flag=True, help="With --at: run the program again to that step, and ask there.")
def ask(recording: Path, expression: str, step: int | None, side_run: bool) -> None:
    """What EXPRESSION gives just before a step, or every change of it over the run, as JSON.

    A question that calls the program's own functions is answered only by a side run, which runs the program.
    """
    from eelgrass.reading.expressions.expression import ExpressionError, parse_expression
    from eelgrass.reading.recording import Recording
    from eelgrass.reading.watches import watch as asking

    asked_of = Recording(load(recording))
    try:
        asked = parse_expression(expression)
    except ExpressionError as error:
        raise click.UsageError(f"{error} (at column {error.column + 1})") from error
    if side_run and step is None:
        raise click.UsageError("A side run goes to one step: say which with --at.")
    if step is None:
        print_rows(json_rows.answer(asked_of, told) for told in asking.over(asked_of, asked))
        return
    if not 0 <= step < len(asked_of.trace.steps):
        raise Refused(f"“{recording.name}” has {len(asked_of.trace.steps)} steps, from 0; there is no step {step}.")
    if side_run:
        print_rows([_aside(asked_of, asked, step)])
        return
    told = asking.at(asked_of, asked, asked_of.stepping.frame_of(step), step)
    if not told.known:
        raise Refused(told.text)
    print_rows([json_rows.answer(asked_of, told)])


def _aside(recording: Recording, asked: Expression, step: int) -> dict[str, Any]:
    """What a side run to a step answers."""
    from eelgrass.reading.expressions.expression import ExpressionError
    from eelgrass.reading.watches import side_run_check
    from eelgrass.runs.repeating import SideRunError
    from eelgrass.runs.side_run import ask_aside

    try:
        side_run_check.need_harmless(recording, asked)
        told = ask_aside(recording.trace, step, 0, asked.text)
    except (ExpressionError, SideRunError) as error:
        raise Refused(str(error)) from error
    other = side_run_check.difference(recording, recording.stepping.frame_of(step), step, told.written, told.names)
    if other:
        raise Refused(other)
    gave = {"raised": told.raised} if told.raised else {"text": told.text, "type": side_run_check.word(told.type)}
    return {"step": step, **gave, "seconds": round(told.seconds, 3)}
