"""A method without a parameter for its object."""

from __future__ import annotations

import ast
import re
from collections.abc import Iterator

from eelgrass.reading.clues.checks import Raised
from eelgrass.reading.clues.clue import Evidence, Kind, Sighting
from eelgrass.reading.clues.facts import Facts
from eelgrass.reading.clues.program_text import Site

_TAKES = re.compile(r"([\w.]+)\(\) takes (\d+) positional arguments? but (\d+) (?:was|were) given")


def find(facts: Facts) -> Iterator[Sighting]:
    """Of each call that was given one argument too many: a method that has no `self`, or a function with fewer."""
    for path, visit in facts.failures:
        told = _TAKES.match(path.message) if path.type == "TypeError" else None
        definition = _definition(facts, told.group(1)) if told else None
        if told is None or definition is None or not isinstance(definition.node, ast.FunctionDef):
            continue
        node, in_class = definition.node, facts.trace.program.functions[definition.function].kind == "class"
        if (
            not in_class
            or (node.args.args and node.args.args[0].arg == "self")
            or int(told.group(3)) != int(told.group(2)) + 1
        ):
            continue
        yield Sighting(
            definition.number,
            0.95,
            {"function": node.name, "takes": told.group(2), "given": told.group(3), "call": facts.line(visit)},
            (Evidence(path.stations[0].step, "The call fails.", (Raised(path.stations[0].step),)),),
        )


def _definition(facts: Facts, name: str) -> Site | None:
    wanted = name.split(".")[-1]
    return next((site for site, node in facts.all(ast.FunctionDef) if node.name == wanted), None)


KIND = Kind(
    "self-missing",
    "No place for the object itself",
    "“{function}” (line {line}) takes {takes}, and was given {given} at line {call}: the object itself is handed over"
    " as well. Where should it go?",
    "a TypeError of a method whose first parameter is not `self`, with one argument too many",
    "strong",
    """\
class Lamp:
    def flash(): #!
        print("flash")

lamp = Lamp()
lamp.flash()
""",
    """\
class Lamp:
    def flash(self):
        print("flash")

lamp = Lamp()
lamp.flash()
""",
    find,
)
