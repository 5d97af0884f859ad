"""A loop that is always left in its first pass."""

from __future__ import annotations

import ast
from collections.abc import Iterator
from typing import Any

from eelgrass.reading.clues.checks import Holds, Ran
from eelgrass.reading.clues.clue import Evidence, Kind, Sighting
from eelgrass.reading.clues.facts import Facts, Round
from eelgrass.reading.clues.patterns import collects
from eelgrass.reading.clues.program_text import Site, source


def find(facts: Facts) -> Iterator[Sighting]:
    """Of each loop whose body always leaves: there was more to go through than the one pass it had. Of several ways
    out, the last one that was taken is told, since what stands in an `else` is seldom what was looked for."""
    loops: list[tuple[Site, ast.For | ast.While]] = [*facts.all(ast.For), *facts.all(ast.While)]
    for site, node in loops:
        leaving = _leaving(node.body) or _gives_what_it_collects(node.body)
        ways: dict[int, Sighting] = {}
        for its in facts.rounds(site) if leaving else ():
            for place, left in enumerate(leaving if len(its.starts) == 1 else ()):
                way = _way_for(facts, its, left) if isinstance(node, ast.For) else _way_while(facts, its, left)
                if way is not None:
                    ways.setdefault(place, way)
        if ways:
            yield ways[min(ways)]


def _gives_what_it_collects(body: list[ast.stmt]) -> list[ast.stmt]:
    """The `return` at the end of a body, of what the body puts together: also where a pass may end before it."""
    last = body[-1]
    given = last.value.id if isinstance(last, ast.Return) and isinstance(last.value, ast.Name) else ""
    return [last] if given and any(collects(its, given) for its in body) else []


def _way_while(facts: Facts, its: Round, leaving: ast.stmt) -> Sighting | None:
    """The sighting of a round of a `while` whose condition was true when a statement left it."""
    left, node = facts.site_of(leaving), its.loop.node
    visits = facts.in_frame(left, its.frame, its.first, its.past + 1) if left is not None else []
    if left is None or not visits or not isinstance(node, ast.While) or isinstance(node.test, ast.Constant):
        return None
    if facts.asked(ast.unparse(node.test), visits[0], its.frame) is not True:
        return None
    test = source(node.test)
    return Sighting(
        left.number,
        0.85,
        {"loop": node.lineno, "why": f"was left in its first pass, though “{test}” was still true"}
        | {"what": type(left.node).__name__.lower(), "ask": "Should there be more passes"},
        (
            Evidence(its.first, "The loop begins.", (Ran(its.loop.number, its.first),)),
            Evidence(
                visits[0],
                f"“{test}” is still true, and the loop is left.",
                (Ran(left.number, visits[0]), Holds(ast.unparse(node.test), its.frame, visits[0])),
            ),
        ),
    )


def _way_for(facts: Facts, its: Round, leaving: ast.stmt) -> Sighting | None:
    """The sighting of a round that was left by a statement; None where it was not."""
    left, node = facts.site_of(leaving), its.loop.node
    visits = facts.in_frame(left, its.frame, its.first, its.past + 1) if left is not None else []
    whole: Any = facts.value(node.iter, its.first) if isinstance(node, ast.For) else None
    count = len(whole) if isinstance(whole, (list, tuple, str, dict, set, range)) else 0
    if left is None or not visits or count < 2:
        return None
    through = node.iter if isinstance(node, ast.For) and isinstance(node.iter, ast.Name) else None
    begins = Ran(its.loop.number, its.first)
    checks = (begins,) if through is None else (Holds(f"len({through.id}) == {count}", its.frame, its.first),)
    return Sighting(
        left.number,
        0.9,
        {"loop": node.lineno, "why": f"had {count} to go through, but was left in its first pass"}
        | {"what": type(left.node).__name__.lower(), "ask": "Should the others be looked at, too"},
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
    "The loop at line {loop} {why}, by the “{what}” at line {line}, which stands inside of the loop. {ask}?",
    "every way through a loop's body leaves the loop, or its end hands back what the body collects; and there was more "
    "than one to go through, or the condition was still true",
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
