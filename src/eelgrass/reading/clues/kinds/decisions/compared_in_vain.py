"""A comparison that stands alone, where something was to be stored."""

from __future__ import annotations

import ast
from collections.abc import Iterator

from eelgrass.reading.clues.checks import Holds, Ran
from eelgrass.reading.clues.clue import Evidence, Kind, Sighting
from eelgrass.reading.clues.facts import UNKNOWN, Facts, shown
from eelgrass.reading.clues.program_text import source


def find(facts: Facts) -> Iterator[Sighting]:
    """Of each statement that only compares or works out something: nothing is made of the result."""
    for site, node in facts.all(ast.Expr):
        its = node.value
        is_comparison = isinstance(its, ast.Compare) and isinstance(its.ops[0], ast.Eq)
        if not is_comparison and not isinstance(its, (ast.BinOp, ast.Compare)):
            continue
        for visit in facts.visits(site, 6):
            gave = facts.value(its, visit)
            if gave is UNKNOWN:
                continue
            left = its.left if isinstance(its, (ast.Compare, ast.BinOp)) else its
            frame = facts.frame(visit)
            checks = (
                (Holds(f"({ast.unparse(its)}) == {gave!r}", frame, visit),)
                if type(gave) in (bool, int, float, str)
                else (Ran(site.number, visit),)
            )
            yield Sighting(
                site.number,
                0.9 if is_comparison or facts.times(site) > 1 else 0.75,
                {"text": source(its), "gave": shown(gave), "left": source(left)},
                (Evidence(visit, f"“{source(its)}” gives {shown(gave)}, and that goes nowhere.", checks),),
            )
            break


KIND = Kind(
    "goes-nowhere",
    "Worked out, and not kept",
    "“{text}” at line {line} only works something out: it gave {gave}, which nothing keeps; “{left}” is as before. "
    "What should become of the result?",
    "a statement that is a comparison or a calculation alone, and ran",
    "strong",
    """\
seats = 6
aboard = 2
aboard + 3 #!
print(seats - aboard, "free")
""",
    """\
seats = 6
aboard = 2
aboard = aboard + 3
print(seats - aboard, "free")
""",
    find,
)
