"""A search by halves in a list that is not sorted."""

from __future__ import annotations

import ast
from collections.abc import Iterator

from eelgrass.reading.clues.checks import Holds
from eelgrass.reading.clues.clue import Evidence, Kind, Sighting
from eelgrass.reading.clues.facts import Facts, shown
from eelgrass.reading.clues.patterns import mentions, stored_name
from eelgrass.reading.clues.program_text import Site


def find(facts: Facts) -> Iterator[Sighting]:
    """Of each loop that halves a stretch of places and looks into a list there: the list is not sorted."""
    for loop, _node in facts.all(ast.While):
        inside = facts.all_in(loop)
        halving = next((its for its in inside if _halves(its.node)), None)
        middle = stored_name(halving.node) if halving is not None else ""
        sequence = _looked_into(inside, middle) if middle else ""
        for its in facts.rounds(loop, 6) if sequence else ():
            held = facts.asked(sequence, its.first, its.frame)
            if not isinstance(held, list) or len(held) < 3 or not len(its.starts):
                continue
            if not {type(one) for one in held} <= {int, float} and {type(one) for one in held} != {str}:
                continue
            if held not in (sorted(held), sorted(held, reverse=True)):
                yield Sighting(
                    loop.number,
                    0.85,
                    {"sequence": sequence, "values": shown(held), "middle": middle},
                    (
                        Evidence(
                            its.first,
                            f"“{sequence}” is {shown(held)}.",
                            (Holds(f"sorted({sequence}) != {sequence}", its.frame, its.first),),
                        ),
                    ),
                )
                break


def _halves(node: ast.stmt) -> bool:
    value = getattr(node, "value", None)
    return (
        bool(stored_name(node))
        and isinstance(value, ast.AST)
        and any(
            isinstance(its, ast.BinOp)
            and isinstance(its.op, (ast.FloorDiv, ast.Div))
            and isinstance(its.right, ast.Constant)
            and its.right.value == 2
            for its in ast.walk(value)
        )
    )


def _looked_into(inside: list[Site], middle: str) -> str:
    for site in inside:
        test = getattr(site.node, "test", None) or getattr(site.node, "value", None)
        for node in ast.walk(test) if isinstance(test, ast.AST) else ():
            if isinstance(node, ast.Subscript) and isinstance(node.value, ast.Name) and mentions(node.slice, middle):
                return node.value.id
    return ""


KIND = Kind(
    "halving-unsorted",
    "Halved, and not sorted",
    "The loop at line {line} halves the places of “{sequence}” and leaves one half out each time, but “{sequence}” is"
    " not in order: {values}. Which half can be left out then?",
    "a loop halves a stretch of places in a list that is not sorted",
    "strong",
    """\
tags = [31, 4, 27, 8, 15]
low, high, found = 0, len(tags) - 1, -1
while low <= high: #!
    middle = (low + high) // 2
    if tags[middle] == 4:
        found = middle
        break
    if tags[middle] < 4:
        low = middle + 1
    else:
        high = middle - 1
print(found)
""",
    """\
tags = sorted([31, 4, 27, 8, 15])
low, high, found = 0, len(tags) - 1, -1
while low <= high:
    middle = (low + high) // 2
    if tags[middle] == 4:
        found = middle
        break
    if tags[middle] < 4:
        low = middle + 1
    else:
        high = middle - 1
print(found)
""",
    find,
)
