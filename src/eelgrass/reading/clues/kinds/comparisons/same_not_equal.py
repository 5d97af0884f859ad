"""`is` between things that are equal, and not the same."""

from __future__ import annotations

import ast
from collections.abc import Iterator

from eelgrass.reading.clues.checks import Holds
from eelgrass.reading.clues.clue import Evidence, Kind, Sighting
from eelgrass.reading.clues.comparisons import Compared, comparisons
from eelgrass.reading.clues.facts import Facts, shown
from eelgrass.reading.clues.program_text import source

_PLAIN = (int, float, str, list, dict, set, tuple)


def find(facts: Facts) -> Iterator[Sighting]:
    """Of each `is` between numbers, texts or containers: they are equal."""
    compared = list(comparisons(facts, ast.Is, ast.IsNot))
    of_objects = {its.site.number for its in compared if _asks_for_object(its)}
    for its in compared:
        if type(its.left) is not type(its.right) or type(its.left) not in _PLAIN or its.left != its.right:
            continue
        if its.result is not (not isinstance(its.node.ops[0], ast.Is)) and isinstance(its.left, (list, dict, set)):
            continue  # they are the same
        if its.site.number in of_objects:
            continue
        text = f"{its.left_text} == {its.right_text}"
        word = "is" if isinstance(its.node.ops[0], ast.Is) else "is not"
        yield Sighting(
            its.site.number,
            0.85,
            {"test": source(its.node), "value": shown(its.left), "word": word},
            (Evidence(its.visit, f"Both are {shown(its.left)}.", (Holds(text, facts.frame(its.visit), its.visit),)),),
        )


def _asks_for_object(its: Compared) -> bool:
    """Whether two names or fields are compared of which one led to an object: whether it is the same one may be what is
    asked."""
    if any(isinstance(side, (ast.List, ast.Dict, ast.Set)) for side in (its.node.left, its.node.comparators[0])):
        return False
    return any(side is not None and type(side) not in (int, float, str, bool, tuple) for side in (its.left, its.right))


KIND = Kind(
    "same-not-equal",
    "The same, or equal?",
    "“{test}” at line {line} asks whether two values are one object, not whether they are equal: both are {value}. "
    "What does “{word}” say here that was meant?",
    "`is` between two numbers, texts or containers that are equal",
    "strong",
    """\
buoys = []
if buoys is []: #!
    print("none set out")
else:
    print(len(buoys), "set out")
""",
    """\
buoys = []
if buoys == []:
    print("none set out")
else:
    print(len(buoys), "set out")
""",
    find,
)
