"""A number and a text that are written alike, and are not equal."""

from __future__ import annotations

import ast
from collections.abc import Iterator

from eelgrass.reading.clues.checks import Holds
from eelgrass.reading.clues.clue import Evidence, Kind, Sighting
from eelgrass.reading.clues.comparisons import comparisons
from eelgrass.reading.clues.facts import Facts, shown
from eelgrass.reading.clues.program_text import source


def find(facts: Facts) -> Iterator[Sighting]:
    """Of each comparison of a number with a text, or of a value with the elements of a container, of the other kind."""
    for its in comparisons(facts, ast.Eq, ast.NotEq, ast.In, ast.NotIn):
        pair = _alike(its.left, its.right)
        if pair is None:
            continue
        one, other = pair
        sign = "!=" if isinstance(its.node.ops[0], (ast.Eq, ast.NotEq)) else "not in"
        text = f"{its.left!r} {sign} {its.right_text}"
        yield Sighting(
            its.site.number,
            0.9,
            {
                "test": source(its.node),
                "one": shown(one),
                "other": shown(other),
                "first": _kind(one),
                "second": _kind(other),
            },
            (
                Evidence(
                    its.visit,
                    f"{shown(one)} is a {_kind(one)}, {shown(other)} a {_kind(other)}.",
                    (Holds(text, facts.frame(its.visit), its.visit),),
                ),
            ),
        )


def _alike(left: object, right: object) -> tuple[object, object] | None:
    """The two that are written alike and are of different kinds; None where there are no such two."""
    others = list(right)[:200] if isinstance(right, (list, tuple, set, dict)) else [right]
    for other in others:
        is_other_kind = {type(left), type(other)} in ({int, str}, {float, str})
        if is_other_kind and str(left).strip() == str(other).strip() and left not in others:
            return left, other
    return None


def _kind(value: object) -> str:
    return "text" if isinstance(value, str) else "number"


KIND = Kind(
    "number-and-text",
    "A number and a text",
    "“{test}” at line {line} compared the {first} {one} with the {second} {other}: they are written alike, but a "
    "number and a text are never equal. Which of the two should both be?",
    "`==`, `!=`, `in` or `not in` between a number and a text that is written like it",
    "strong",
    """\
seats = input("Seats? ")
if seats == 6: #!
    print("the large boat")
else:
    print("the small boat")
""",
    """\
seats = int(input("Seats? "))
if seats == 6:
    print("the large boat")
else:
    print("the small boat")
""",
    find,
    ("6",),
)
