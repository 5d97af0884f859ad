"""A division that leaves something over: whether that is kept or dropped."""

from __future__ import annotations

import ast
from collections.abc import Iterator

from eelgrass.reading.clues.checks import part_worth
from eelgrass.reading.clues.clue import EITHER_WAY, Evidence, Kind, Sighting
from eelgrass.reading.clues.facts import Facts, shown
from eelgrass.reading.clues.program_text import source


def find(facts: Facts) -> Iterator[Sighting]:
    """Of each `/` and `//` of numbers: the first visit at which something was left over, or, of `/`, at which a whole
    number became one with a point."""
    for site, node in facts.all(ast.BinOp):
        if not isinstance(node.op, (ast.Div, ast.FloorDiv)):
            continue
        for visit in facts.visits(site, 6):
            one, by = facts.value(node.left, visit), facts.value(node.right, visit)
            if type(one) not in (int, float) or type(by) not in (int, float) or not by:
                continue
            is_cut = isinstance(node.op, ast.FloorDiv)
            if is_cut and not one % by:
                continue
            frame = facts.frame(visit)
            gave, other = (one // by, round(one / by, 4)) if is_cut else (one / by, one // by)
            yield Sighting(
                site.number,
                EITHER_WAY,
                {"text": source(node), "gave": shown(gave), "other": shown(other), "word": "/" if is_cut else "//"},
                (
                    Evidence(
                        visit,
                        f"{shown(one)} is divided by {shown(by)}.",
                        (*part_worth(node.left, one, frame, visit), *part_worth(node.right, by, frame, visit)),
                    ),
                ),
            )
            break


KIND = Kind(
    "whole-or-not",
    "With or without what is left over",
    "“{text}” at line {line} gave {gave}; with “{word}” it would be {other}. Should it be a whole number?",
    "a division, whose other kind would have given something else",
    "nothing by itself: the run cannot say what was meant",
    """\
crabs = [4, 7, 2]
each = sum(crabs) // len(crabs) #!
print("on each beach:", each)
""",
    """\
crabs = [4, 7, 2]
each = sum(crabs) / len(crabs)
print("on each beach:", each)
""",
    find,
    is_seen_alone=False,
)
