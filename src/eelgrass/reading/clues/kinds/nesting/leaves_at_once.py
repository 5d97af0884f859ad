"""A loop that is always left in its first pass."""

from __future__ import annotations

import ast
from collections.abc import Iterator
from typing import Any

from eelgrass.reading.clues.checks import Holds, Ran
from eelgrass.reading.clues.clue import Evidence, Kind, Sighting
from eelgrass.reading.clues.facts import Facts, Round


def find(facts: Facts) -> Iterator[Sighting]:
    """Of each `for` whose body always leaves: there was more to go through than the one pass it had. Of several ways
    out, the last one that was taken is told, since what stands in an `else` is seldom what was looked for."""
    for site, node in facts.all(ast.For):
        leaving = _leaving(node.body)
        ways: dict[int, Sighting] = {}
        for its in facts.rounds(site) if leaving else ():
            through: Any = facts.value(node.iter, its.first)
            is_sized = isinstance(through, (list, tuple, str, dict, set, range))
            if len(its.starts) == 1 and is_sized and len(through) > 1:
                for place, left in enumerate(leaving):
                    way = _way(facts, its, left, len(through))
                    if way is not None:
                        ways.setdefault(place, way)
        if ways:
            yield ways[min(ways)]


def _way(facts: Facts, its: Round, leaving: ast.stmt, count: int) -> Sighting | None:
    """The sighting of a round that was left by a statement; None where it was not."""
    left = facts.site_of(leaving)
    visits = facts.in_frame(left, its.frame, its.first, its.past + 1) if left is not None else []
    if left is None or not visits:
        return None
    node = its.loop.node
    through = node.iter if isinstance(node, ast.For) and isinstance(node.iter, ast.Name) else None
    begins = Ran(its.loop.number, its.first)
    checks = (begins,) if through is None else (Holds(f"len({through.id}) == {count}", its.frame, its.first),)
    return Sighting(
        left.number,
        0.9,
        {"loop": node.lineno, "count": count, "what": type(left.node).__name__.lower()},
        (
            Evidence(its.first, f"There are {count} to go through.", checks),
            Evidence(visits[0], "In the first pass, the loop is left.", (Ran(left.number, visits[0]),)),
        ),
    )


def _leaving(body: list[ast.stmt]) -> list[ast.stmt]:
    """The statements by which a body is left in any case; none where its end can be reached."""
    for statement in body:
        if isinstance(statement, (ast.Return, ast.Break)):
            return [statement]
        if isinstance(statement, ast.If) and statement.orelse:
            arms = [_leaving(statement.body), _leaving(statement.orelse)]
            if all(arms):
                return [its for arm in reversed(arms) for its in arm]
        if any(isinstance(its, ast.Continue) for its in ast.walk(statement)):
            return []
    return []


KIND = Kind(
    "leaves-at-once",
    "Left in the first pass",
    "The loop at line {loop} had {count} to go through, but was left in its first pass, by the “{what}” at line "
    "{line}: every way through its body leaves it. Should the others be looked at, too?",
    "every way through a loop's body leaves the loop, and there was more than one to go through",
    "strong",
    """\
def all_deep(depths):
    for depth in depths:
        if depth < 3:
            return False
        else:
            return True #!
print(all_deep([5, 2, 8]))
""",
    """\
def all_deep(depths):
    for depth in depths:
        if depth < 3:
            return False
    return True
print(all_deep([5, 2, 8]))
""",
    find,
)
