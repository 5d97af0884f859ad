"""A sum that is always divided by the same number, however many were added."""

from __future__ import annotations

import ast
from collections.abc import Iterator

from eelgrass.reading.clues.checks import Ran
from eelgrass.reading.clues.clue import Evidence, Kind, Sighting
from eelgrass.reading.clues.facts import Facts, shown
from eelgrass.reading.clues.patterns import collects
from eelgrass.reading.clues.program_text import Site, source


def find(facts: Facts) -> Iterator[Sighting]:
    """Of each `name / number` whose name collects in a loop of the same function: another number was added."""
    for site, node in facts.all(ast.BinOp):
        if not isinstance(node.op, (ast.Div, ast.FloorDiv)) or not isinstance(node.left, ast.Name):
            continue
        by = node.right.value if isinstance(node.right, ast.Constant) else None
        if type(by) is not int or not 2 <= by <= 60 or by == 10 or facts.loop_around(site) is not None:
            continue
        name = node.left.id
        adding = [
            its
            for its in facts.stores(site.function, name)
            if collects(its.node, name) and facts.loop_around(its) is not None
        ]
        if adding:
            yield from _told(facts, site, node, adding, by, name)


def _told(facts: Facts, site: Site, node: ast.BinOp, adding: list[Site], by: int, name: str) -> Iterator[Sighting]:
    anew = [its for its in facts.stores(site.function, name) if its not in adding]
    counts = {visit: _added(facts, adding, anew, visit) for visit in facts.visits(site)}
    other = next((visit for visit, count in counts.items() if count and count != by), -1)
    if other >= 0:
        yield Sighting(
            site.number,
            0.85 if by in counts.values() or len(counts) > 1 else 0.6,
            {"text": source(node), "by": by, "count": counts[other], "name": name}
            | {"gave": shown(facts.value(node, other))},
            (Evidence(other, f"{counts[other]} were added up, and {by} is divided by.", (Ran(site.number, other),)),),
        )


def _added(facts: Facts, adding: list[Site], anew: list[Site], visit: int) -> int:
    """How often a frame added to a sum before a visit, since it last stored it anew."""
    frame = facts.frame(visit)
    begins = max((int(step) for its in anew for step in facts.all_in_frame(its, frame, 0, visit)[-1:]), default=0)
    return sum(len(facts.all_in_frame(its, frame, begins, visit)) for its in adding)


KIND = Kind(
    "divided-by-fixed",
    "Always divided by the same",
    "“{text}” at line {line} divides by {by}, though {count} were added up in “{name}” this time: it gives {gave}. By"
    " how many should it be divided?",
    "a sum of a loop is divided by a number that is written out, and another number of times something was added",
    "strong where the same line divided sums of other numbers, too",
    """\
def mean_level(levels):
    total = 0
    for level in levels:
        if level < 9:
            total = total + level
    return total / 4 #!

print(mean_level([2, 4, 3, 3]))
print(mean_level([2, 4, 99, 3]))
""",
    """\
def mean_level(levels):
    total = 0
    count = 0
    for level in levels:
        if level < 9:
            total = total + level
            count = count + 1
    return total / count

print(mean_level([2, 4, 3, 3]))
print(mean_level([2, 4, 99, 3]))
""",
    find,
)
