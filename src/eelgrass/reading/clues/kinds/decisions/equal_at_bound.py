"""A comparison whose two sides were equal: just where it is decided whether the bound belongs to it."""

from __future__ import annotations

import ast
from collections.abc import Iterator

from eelgrass.reading.clues.checks import Ran, part_worth
from eelgrass.reading.clues.clue import EITHER_WAY, Evidence, Kind, Sighting
from eelgrass.reading.clues.comparisons import comparisons
from eelgrass.reading.clues.facts import Facts, shown
from eelgrass.reading.clues.program_text import source


def find(facts: Facts) -> Iterator[Sighting]:
    """Of each `<`, `<=`, `>`, `>=` of two numbers or texts: the first visit at which they were the same."""
    told = set()
    for its in comparisons(facts, ast.Lt, ast.LtE, ast.Gt, ast.GtE):
        if its.node in told or type(its.left) not in (int, float, str) or its.left != its.right:
            continue
        told.add(its.node)
        sides = () if its.in_comprehension else (its.node.left, its.node.comparators[0])
        checks = [check for one in sides for check in part_worth(one, its.left, facts.frame(its.visit), its.visit)]
        yield Sighting(
            its.site.number,
            EITHER_WAY,
            {"test": source(its.node), "value": shown(its.left), "outcome": "true" if its.result else "false"},
            (Evidence(its.visit, f"Both sides are {shown(its.left)}.", (Ran(its.site.number, its.visit), *checks)),),
        )


KIND = Kind(
    "equal-at-the-bound",
    "Just at the bound",
    "Both sides of “{test}” at line {line} were {value}, and it was {outcome}. Does the bound itself belong to it?",
    "two sides of a comparison by order were equal",
    "nothing by itself: the run cannot say what was meant",
    """\
def size(shoots):
    if shoots > 30: #!
        return "dense"
    return "thin"

for shoots in [12, 30, 44]:
    print(shoots, size(shoots))
""",
    """\
def size(shoots):
    if shoots >= 30:
        return "dense"
    return "thin"

for shoots in [12, 30, 44]:
    print(shoots, size(shoots))
""",
    find,
    is_seen_alone=False,
)
