"""A range that was made one longer or shorter by hand."""

from __future__ import annotations

import ast
from collections.abc import Iterator

from eelgrass.reading.clues.checks import Over
from eelgrass.reading.clues.clue import EITHER_WAY, Evidence, Kind, Sighting
from eelgrass.reading.clues.facts import Facts, shown
from eelgrass.reading.clues.patterns import called
from eelgrass.reading.clues.program_text import source


def find(facts: Facts) -> Iterator[Sighting]:
    """Of each loop over a `range` that begins at 1, or ends at a number plus or minus 1: its passes, and the numbers
    that they had."""
    for site, node in facts.all(ast.For):
        if not isinstance(node.iter, ast.Call) or called(node.iter) != "range" or not _is_moved(node.iter.args):
            continue
        for its in facts.rounds(site, 2):
            numbers = facts.value(node.iter, its.first)
            if not isinstance(numbers, range) or facts.ended_early(its) or len(its.starts) != len(numbers):
                continue
            told = f"{shown(numbers[0])} to {shown(numbers[-1])}" if len(numbers) else "nothing"
            over = Over(site.number, its.first, its.past, len(numbers))
            yield Sighting(
                site.number,
                EITHER_WAY,
                {"range": source(node.iter), "count": len(numbers), "told": told},
                (Evidence(its.first, f"It goes through {told}.", (over,)),),
            )
            break


def _is_moved(arguments: list[ast.expr]) -> bool:
    begins = len(arguments) == 2 and isinstance(arguments[0], ast.Constant) and arguments[0].value == 1
    end = arguments[min(len(arguments) - 1, 1)] if arguments else None
    is_one_off = isinstance(end, ast.BinOp) and isinstance(end.right, ast.Constant) and end.right.value == 1
    return begins or is_one_off


KIND = Kind(
    "one-pass-off",
    "One pass more or less",
    "“{range}” at line {line} made {count} passes, with {told}. Are the first and the last the ones that were meant?",
    "a range that begins at 1, or whose end is moved by 1",
    "nothing by itself: the run cannot say what was meant",
    """\
def doubled(days):
    shoots = 1
    for day in range(days - 1): #!
        shoots = shoots * 2
    return shoots

print(doubled(4))
""",
    """\
def doubled(days):
    shoots = 1
    for day in range(days):
        shoots = shoots * 2
    return shoots

print(doubled(4))
""",
    find,
    is_seen_alone=False,
)
