"""A place below 0 that means one from the end."""

from __future__ import annotations

import ast
from collections.abc import Iterator

from eelgrass.reading.clues.checks import Holds
from eelgrass.reading.clues.clue import Evidence, Kind, Sighting
from eelgrass.reading.clues.facts import Facts, shown
from eelgrass.reading.clues.program_text import source


def find(facts: Facts) -> Iterator[Sighting]:
    """Of each `sequence[place - 1]` in a loop: the place is 0 once, and larger at other times."""
    for site, node in facts.all(ast.Subscript):
        if (
            not isinstance(node.slice, ast.BinOp)
            or not isinstance(node.slice.op, ast.Sub)
            or not isinstance(node.ctx, ast.Load)
        ):
            continue
        if (
            not isinstance(node.slice.left, ast.Name)
            or facts.loop_around(site) is None
            or not isinstance(node.slice.right, ast.Constant)
        ):
            continue
        below, above = -1, 0
        for visit in facts.visits(site):
            index = facts.value(node.slice, visit)
            if not facts.was_evaluated(node, site, visit):
                continue
            if type(index) is int and index < 0:
                below = visit if below < 0 else below
            elif type(index) is int:
                above += 1
        held = facts.value(node.value, below) if below >= 0 else None
        if isinstance(held, (list, str)) and above >= 1 and len(held) > 1:
            index = facts.value(node.slice, below)
            value = facts.value(node, below)
            yield Sighting(
                site.number,
                0.65,
                {"part": source(node), "index": index, "name": node.slice.left.id, "value": shown(value)},
                (
                    Evidence(
                        below,
                        f"“{ast.unparse(node.slice)}” is {index}.",
                        (Holds(f"({ast.unparse(node.slice)}) < 0", facts.frame(below), below),),
                    ),
                ),
            )


KIND = Kind(
    "last-wraps",
    "Before the first comes the last",
    "“{part}” at line {line} asks for place {index} once, when “{name}” is still at its start: that is one from the "
    "end, {value}. Is that the neighbour that was meant?",
    "a place in a loop is below 0 once, so that an element from the end is looked at, and not below 0 at other times",
    "middling: a ring is meant so",
    """\
levels = [4, 7, 9]
for place in range(len(levels)):
    rise = levels[place] - levels[place - 1] #!
    print("rise:", rise)
""",
    """\
levels = [4, 7, 9]
for place in range(1, len(levels)):
    rise = levels[place] - levels[place - 1]
    print("rise:", rise)
""",
    find,
)
