"""A place that a list or text does not have."""

from __future__ import annotations

import ast
from collections.abc import Iterator
from typing import Any

from eelgrass.reading.clues.checks import Holds, Raised, Ran
from eelgrass.reading.clues.clue import Evidence, Kind, Sighting
from eelgrass.reading.clues.facts import Facts
from eelgrass.reading.clues.patterns import is_name, range_of
from eelgrass.reading.clues.program_text import Site, source
from eelgrass.reading.expressions.source_tree import own_parts


def find(facts: Facts) -> Iterator[Sighting]:
    """Of each IndexError: the element that was asked for, and the loop whose name its index is."""
    for path, visit in facts.failures:
        site = facts.site_at(visit) if path.type == "IndexError" else None
        found = _asked_for(facts, site, visit) if site is not None else None
        if site is None or found is None:
            continue
        node, index, size = found
        loop = _loop_of(facts, site, node.slice)
        where = site if loop is None else loop
        has = f"its last place is {size - 1}" if size else "it is empty"
        checks = (Holds(f"len({ast.unparse(node.value)}) == {size}", facts.frame(visit), visit),)
        plain = isinstance(node.value, (ast.Name, ast.Attribute))
        yield Sighting(
            where.number,
            0.9,
            {"part": source(node), "sequence": source(node.value), "index": index, "size": size, "has": has}
            | {"at": facts.line(visit), "elements": "element" if size == 1 else "elements"},
            (
                Evidence(
                    visit,
                    f"“{source(node.value)}” has {size}, and place {index} is asked for.",
                    checks if plain else (Ran(site.number, visit),),
                ),
                Evidence(path.stations[0].step, "It is not there.", (Raised(path.stations[0].step),)),
            ),
        )


def _asked_for(facts: Facts, site: Site, visit: int) -> tuple[ast.Subscript, int, int] | None:
    """(the part that asked for an element that is not there, the index, how many there are)."""
    for node in (its for part in own_parts(site.node) for its in ast.walk(part)):
        if isinstance(node, ast.Subscript) and not isinstance(node.slice, ast.Slice):
            index: Any = facts.value(node.slice, visit)
            held: Any = facts.value(node.value, visit)
            if type(index) is int and isinstance(held, (list, str, tuple)) and not -len(held) <= index < len(held):
                return node, index, len(held)
    return None


def _loop_of(facts: Facts, site: Site, index: ast.expr) -> Site | None:
    """The loop that counts the name that an index is, but for a number that is added."""
    if isinstance(index, ast.BinOp) and isinstance(index.right, ast.Constant):
        index = index.left
    loop = facts.loop_around(site)
    while loop is not None and isinstance(index, ast.Name):
        node = loop.node
        if (
            range_of(node)
            and isinstance(node, ast.For)
            and isinstance(node.target, ast.Name)
            and node.target.id == index.id
        ):
            return loop
        if isinstance(node, ast.While) and any(is_name(n, index.id) for n in ast.walk(node.test)):
            return loop
        loop = facts.loop_around(loop)
    return None


KIND = Kind(
    "past-the-end",
    "A place that is not there",
    "At line {at}, “{part}” asks for place {index} of “{sequence}”, which has {size} {elements}: {has}. Which places "
    "should be asked for?",
    "an IndexError, with the value of the index and the length at that moment",
    "strong",
    """\
tides = [12, 15, 11]
place = 0
while place <= len(tides): #!
    print(tides[place])
    place += 1
""",
    """\
tides = [12, 15, 11]
place = 0
while place < len(tides):
    print(tides[place])
    place += 1
""",
    find,
)
