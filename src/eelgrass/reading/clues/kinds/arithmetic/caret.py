"""`^` between numbers, where a power may be meant."""

from __future__ import annotations

import ast
from collections.abc import Iterator

from eelgrass.reading.clues.checks import Holds
from eelgrass.reading.clues.clue import Evidence, Kind, Sighting
from eelgrass.reading.clues.facts import Facts, shown
from eelgrass.reading.clues.program_text import source


def find(facts: Facts) -> Iterator[Sighting]:
    """Of each `^` of a whole number and a small written one: the power is something else."""
    for site, node in facts.all(ast.BinOp):
        power = node.right.value if isinstance(node.right, ast.Constant) else None
        if not isinstance(node.op, ast.BitXor) or type(power) is not int or power not in (2, 3, 4):
            continue
        for visit in facts.visits(site, 4):
            left, gave = facts.value(node.left, visit), facts.value(node, visit)
            if type(left) is int and type(gave) is int and abs(left) < 10**6 and left**power != gave:
                check = Holds(f"({ast.unparse(node)}) == {gave!r}", facts.frame(visit), visit)
                yield Sighting(
                    site.number,
                    0.85,
                    {"text": source(node), "left": shown(left), "right": power, "gave": shown(gave)},
                    (Evidence(visit, f"“{source(node)}” gives {shown(gave)}.", (check,)),),
                )
                break


KIND = Kind(
    "caret",
    "A sign that is no power",
    "“{text}” at line {line} gives {gave} for {left}: “^” compares the bits of two numbers. Was {left} to the power "
    "of {right} meant?",
    "`^` between a whole number and a small one that is written out, where the power would be another number",
    "strong",
    """\
side = 5
area = side ^ 2 #!
print(area, "square metres")
""",
    """\
side = 5
area = side ** 2
print(area, "square metres")
""",
    find,
)
