"""A product that begins with nothing."""

from __future__ import annotations

import ast
from collections.abc import Iterator

import numpy as np

from eelgrass.reading.clues.checks import Holds
from eelgrass.reading.clues.clue import Evidence, Kind, Sighting
from eelgrass.reading.clues.facts import Facts
from eelgrass.reading.clues.patterns import mentions, stored_name
from eelgrass.reading.clues.program_text import Site


def find(facts: Facts) -> Iterator[Sighting]:
    """Of each name that is multiplied in a loop: it was 0 before, and 0 is all that it became."""
    for site in facts.sites:
        name, loop = stored_name(site.node), facts.loop_around(site)
        if name and loop is not None and _multiplies(site.node, name):
            yield from _told(facts, site, loop, name)


def _told(facts: Facts, site: Site, loop: Site, name: str) -> Iterator[Sighting]:
    for its in facts.rounds(loop):
        start = facts.begun_by(name, its.frame, its.first)
        visits = facts.all_in_frame(site, its.frame, its.first, its.past + 1)
        if start is None or len(visits) < 2:
            continue
        first, last = int(visits[0]), facts.after(int(visits[-1]))
        steps, values = facts.name_writes(name, its.frame)
        became = np.unique(values[(steps >= its.first) & (steps < last)]).tolist()
        if facts.asked(name, first, its.frame) == 0 and all(facts.plain(number) == 0 for number in became):
            yield Sighting(
                start.number,
                0.95,
                {"name": name, "times": len(visits), "at": site.node.lineno},
                (
                    Evidence(first, f"“{name}” is 0.", (Holds(f"{name} == 0", its.frame, first),)),
                    Evidence(last, f"“{name}” is still 0.", (Holds(f"{name} == 0", its.frame, last),)),
                ),
            )
            return


def _multiplies(node: ast.stmt, name: str) -> bool:
    if isinstance(node, ast.AugAssign):
        return isinstance(node.op, ast.Mult)
    value = getattr(node, "value", None)
    return isinstance(value, ast.BinOp) and isinstance(value.op, ast.Mult) and mentions(value, name)


KIND = Kind(
    "times-nothing",
    "Multiplied from 0",
    "“{name}” begins with 0 at line {line}; multiplied {times} times at line {at}, it stays 0. With what should a "
    "product begin?",
    "a name is multiplied in a loop, at least twice, and is 0 each time",
    "strong",
    """\
ways = 0 #!
for gates in [2, 3, 4]:
    ways = ways * gates
print("ways through:", ways)
""",
    """\
ways = 1
for gates in [2, 3, 4]:
    ways = ways * gates
print("ways through:", ways)
""",
    find,
)
