"""Two floats that differ by rounding alone."""

from __future__ import annotations

import ast
import math
from collections.abc import Iterator

from eelgrass.reading.clues.checks import Holds
from eelgrass.reading.clues.clue import Evidence, Kind, Sighting
from eelgrass.reading.clues.comparisons import comparisons
from eelgrass.reading.clues.facts import Facts, shown
from eelgrass.reading.clues.program_text import source

_NEAR = 1e-9


def find(facts: Facts) -> Iterator[Sighting]:
    """Of each `==` or `!=` of floats: they differ, and by hardly anything."""
    for its in comparisons(facts, ast.Eq, ast.NotEq):
        if not all(type(side) in (int, float) for side in (its.left, its.right)) or float not in (
            type(its.left),
            type(its.right),
        ):
            continue
        if its.left != its.right and math.isclose(its.left, its.right, rel_tol=_NEAR, abs_tol=_NEAR):
            text = f"{its.left_text} != {its.right_text}"
            yield Sighting(
                its.site.number,
                0.95,
                {"test": source(its.node), "one": shown(its.left), "other": shown(its.right)},
                (
                    Evidence(
                        its.visit,
                        f"{shown(its.left)} and {shown(its.right)} are not equal.",
                        (Holds(text, facts.frame(its.visit), its.visit),),
                    ),
                ),
            )


KIND = Kind(
    "nearly-equal",
    "Nearly equal",
    "“{test}” at line {line} compares {one} with {other}: they differ only by the rounding of floats, and are not "
    "equal. How near is near enough?",
    "`==` or `!=` between floats that differ by less than a billionth",
    "strong",
    """\
litres = 0.1 + 0.2
if litres == 0.3: #!
    print("the tank is full")
else:
    print("not full")
""",
    """\
litres = 0.1 + 0.2
if abs(litres - 0.3) < 0.001:
    print("the tank is full")
else:
    print("not full")
""",
    find,
)
