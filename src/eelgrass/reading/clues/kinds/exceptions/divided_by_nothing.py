"""A division by a count that is still 0."""

from __future__ import annotations

import ast
from collections.abc import Iterator

from eelgrass.reading.clues.checks import Holds, Raised
from eelgrass.reading.clues.clue import Evidence, Kind, Sighting
from eelgrass.reading.clues.facts import Facts
from eelgrass.reading.clues.program_text import source

_DIVIDING = (ast.Div, ast.FloorDiv, ast.Mod)


def find(facts: Facts) -> Iterator[Sighting]:
    """Of each ZeroDivisionError that nothing caught: what was 0."""
    for path, visit in facts.failures:
        site = facts.site_at(visit) if path.type == "ZeroDivisionError" else None
        if site is None or path.is_caught:
            continue
        nodes = [
            its.right for its in ast.walk(site.node) if isinstance(its, ast.BinOp) and isinstance(its.op, _DIVIDING)
        ]
        nodes += [site.node.value] if isinstance(site.node, ast.AugAssign) else []
        for node in nodes:
            if facts.value(node, visit) == 0:
                check = Holds(f"({ast.unparse(node)}) == 0", facts.frame(visit), visit)
                yield Sighting(
                    site.number,
                    0.85,
                    {"by": source(node)},
                    (
                        Evidence(visit, f"“{source(node)}” is 0.", (check,)),
                        Evidence(path.stations[0].step, "It is divided by.", (Raised(path.stations[0].step),)),
                    ),
                )
                break


KIND = Kind(
    "divided-by-nothing",
    "Divided by 0",
    "Line {line} divides by “{by}”, which is 0 here. What should come out when there is nothing to divide by?",
    "a ZeroDivisionError that nothing caught, with what was 0",
    "strong",
    """\
depths = []
average = sum(depths) / len(depths) #!
print(average)
""",
    """\
depths = []
average = sum(depths) / len(depths) if depths else 0
print(average)
""",
    find,
)
