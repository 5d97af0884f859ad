"""The command `eelgrass turns`, and what `record` is told about turns."""

from __future__ import annotations

import json
from pathlib import Path
from typing import TYPE_CHECKING, Any

import click

from eelgrass.cli.common import Refused, load, save, write
from eelgrass.errors import EelgrassError

if TYPE_CHECKING:
    from eelgrass.runs.order import Desk


class TurnsType(click.ParamType[Any]):
    """An order in which threads take turns: its number, `free` for none, or a recording that keeps one."""

    name = "WHICH"

    def convert(self, value: Any, param: click.Parameter | None, context: click.Context | None) -> Any:
        """Gives the `Turns`, or None for `free`."""
        from eelgrass.runs.order import Turns
        from eelgrass.runs.repeating import kept_turns

        if not isinstance(value, str):
            return value
        if value == "free":
            return None
        if value.isdecimal() and len(value) < 10:
            return Turns(int(value))
        if not Path(value).is_file():
            self.fail(f"“{value}” is neither a number, nor “free”, nor a recording.", param, context)
        return kept_turns(load(Path(value)).case)


def desk_of(file: Path) -> Desk:
    """The desk at which is done what stands in a file. Raises CannotRunError and Refused."""
    from eelgrass.runs.acts import read_acts
    from eelgrass.runs.order import Desk

    try:
        return Desk(read_acts(file.read_text(encoding="utf-8").splitlines()))
    except (OSError, UnicodeError) as error:
        raise Refused(f"“{file}” cannot be read: {error}.") from error


@click.command("turns", context_settings={"ignore_unknown_options": True, "allow_interspersed_args": False})
@click.option("--seconds", type=click.FloatRange(0), default=10.0, show_default=True, help="Search for so long.")
@click.option("--claim", multiple=True, help="What should hold whenever its names are there.")
@click.option(
    "--expect", type=click.Path(dir_okay=False, exists=True, path_type=Path), help="A file with the output expected."
)
@click.option("--typed", multiple=True, help="A line that is typed into the program.")
@click.option("-o", "--output", type=click.Path(dir_okay=False, path_type=Path), help="Where to write its recording.")
@click.argument("program", type=click.Path(path_type=Path))
@click.argument("arguments", nargs=-1, type=click.UNPROCESSED)
def search_turns(
    seconds: float,
    claim: tuple[str, ...],
    expect: Path | None,
    typed: tuple[str, ...],
    output: Path | None,
    program: Path,
    arguments: tuple[str, ...],
) -> None:
    """Search an order of turns in which the threads of PROGRAM go wrong: a claim breaks, the output differs, an
    exception passes, or nobody can go on. Exit status 0 when one is found."""
    from eelgrass.lessons.cases.case import Case
    from eelgrass.lessons.judging.wrong_orders import search
    from eelgrass.runs.order import Order
    from eelgrass.runs.programs.finding import find_program
    from eelgrass.runs.pythons.choosing import choice

    try:
        file = find_program(program)
        found = choice(file.parent)
        order = Order(file, arguments=arguments, seed=1, python=found.interpreter.python, python_found=found.words)
        expected = expect.read_text(encoding="utf-8") if expect is not None else None
        searched = search(order, Case("", arguments, typed, True, expected, claims=claim), seconds)
    except EelgrassError as error:
        raise Refused(str(error)) from error
    except (OSError, UnicodeError) as error:
        raise Refused(f"It cannot be searched: {error}.") from error
    if searched.is_alone:
        raise Refused(f"“{file.name}” has one thread only.")
    if searched.kept_by:
        raise Refused(f"The threads of “{file.name}” cannot be made to take turns ({searched.kept_by}).")
    its = searched.turns
    told = {
        "tried": searched.tried,
        "turns": None if its is None else {"number": its.number, "switches": its.switches},
        "text": searched.why,
    }
    write([json.dumps(told) + "\n"])
    if searched.trace is None:
        raise SystemExit(1)
    if output is not None:
        save(searched.trace, output)
