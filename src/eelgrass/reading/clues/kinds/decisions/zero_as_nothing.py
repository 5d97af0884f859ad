"""A 0 that counts as if nothing were there."""

from __future__ import annotations

import ast
from collections.abc import Iterator

from eelgrass.reading.clues.checks import Holds
from eelgrass.reading.clues.clue import Evidence, Kind, Sighting
from eelgrass.reading.clues.facts import Facts
from eelgrass.reading.clues.program_text import source


def find(facts: Facts) -> Iterator[Sighting]:
    """Of each condition that is a name or element alone: it was 0 once, and None or '' at another time."""
    for site, node in facts.all(ast.If):
        asked = (
            node.test.operand if isinstance(node.test, ast.UnaryOp) and isinstance(node.test.op, ast.Not) else node.test
        )
        if not isinstance(asked, (ast.Name, ast.Subscript, ast.Attribute)):
            continue
        zero, nothing = -1, -1
        for visit in facts.visits(site, 60):
            value = facts.value(asked, visit)
            if type(value) in (int, float) and value == 0:
                zero = visit
            elif value is None or value == "":
                nothing = visit
        if zero >= 0 and nothing >= 0:
            text = ast.unparse(asked)
            empty = facts.value(asked, nothing)
            yield Sighting(
                site.number,
                0.8,
                {"asked": source(asked), "nothing": repr(empty)},
                (
                    Evidence(zero, f"“{source(asked)}” is 0.", (Holds(f"{text} == 0", facts.frame(zero), zero),)),
                    Evidence(
                        nothing,
                        f"“{source(asked)}” is {empty!r}.",
                        (Holds(f"not {text}", facts.frame(nothing), nothing),),
                    ),
                ),
            )


KIND = Kind(
    "zero-as-nothing",
    "0 is taken for nothing",
    "The condition at line {line} treats 0 and {nothing} alike: “{asked}” was each of them, and both count as false. "
    "Is 0 meant to be nothing here?",
    "a condition asks a value alone, which was 0 at one moment and None or an empty text at another",
    "strong",
    """\
for level in [3, 0, None]:
    if level: #!
        print("level", level)
    else:
        print("no reading")
""",
    """\
for level in [3, 0, None]:
    if level is not None:
        print("level", level)
    else:
        print("no reading")
""",
    find,
)
