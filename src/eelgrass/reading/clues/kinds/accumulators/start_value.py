"""A search for the largest or smallest that never gets away from its start value."""

from __future__ import annotations

import ast
from collections.abc import Iterator

from eelgrass.reading.clues.checks import Holds
from eelgrass.reading.clues.clue import Evidence, Kind, Sighting
from eelgrass.reading.clues.facts import Facts, shown
from eelgrass.reading.clues.patterns import is_name, stored_name
from eelgrass.reading.clues.program_text import source

#: So many of the values are compared.
_LOOKED_AT = 40


def find(facts: Facts) -> Iterator[Sighting]:
    """Of each `if x > best: best = x` in a loop: it was never true, and the start value is none of those gone
    through."""
    for site, node in facts.all(ast.If):
        loop = facts.loop_around(site)
        best = _best(node)
        if loop is None or not best:
            continue
        for its in facts.rounds(loop, 4):
            start = facts.begun_by(best, its.frame, its.first)
            if start is None:
                continue
            asked = facts.all_in_frame(site, its.frame, its.first, its.past + 1)
            visits = asked[:_LOOKED_AT].tolist()
            candidate = _candidate(node, best)
            values = [facts.value(candidate, visit) for visit in visits] if candidate is not None else []
            kept = facts.asked(best, its.past, its.frame)
            numbers = [its for its in values if type(its) in (int, float)]
            if len(numbers) < 2 or len(numbers) != len(values) or type(kept) not in (int, float) or kept in numbers:
                continue
            body = facts.site_of(node.body[0])
            if body is None or len(facts.all_in_frame(body, its.frame, its.first, its.past + 1)):
                continue
            if any(facts.value(node.test, visit) is not False for visit in visits):
                continue
            low, high = shown(min(numbers)), shown(max(numbers))
            between = f"from {low} to {high}" if len(asked) == len(visits) else f"({low} and {high} among them)"
            yield Sighting(
                start.number,
                0.9,
                {"best": best, "kept": shown(kept), "test": source(node.test), "asked": node.lineno}
                | {"values": f"the {len(asked)} values {between}"},
                (
                    Evidence(
                        its.first,
                        f"“{best}” begins with {shown(kept)}.",
                        (Holds(f"{best} == {kept!r}", its.frame, its.first),),
                    ),
                    Evidence(
                        visits[0],
                        f"“{source(node.test)}” is false, as in all passes.",
                        (Holds(f"not ({ast.unparse(node.test)})", its.frame, visits[0]),),
                    ),
                    Evidence(
                        its.past,
                        f"“{best}” is still {shown(kept)}.",
                        (Holds(f"{best} == {kept!r}", its.frame, its.past),),
                    ),
                ),
            )
            break


def _best(node: ast.If) -> str:
    """The name that a condition compares by size and its body stores."""
    test = node.test
    if (
        not isinstance(test, ast.Compare)
        or len(test.ops) != 1
        or not isinstance(test.ops[0], (ast.Lt, ast.Gt, ast.LtE, ast.GtE))
    ):
        return ""
    sides = {its.id for its in (test.left, test.comparators[0]) if isinstance(its, ast.Name)}
    return next(
        (stored_name(its) for its in node.body if stored_name(its) in sides and not isinstance(its, ast.AugAssign)), ""
    )


def _candidate(node: ast.If, best: str) -> ast.expr | None:
    assert isinstance(node.test, ast.Compare)
    sides = [node.test.left, node.test.comparators[0]]
    return next((its for its in sides if not (is_name(its, best))), None)


KIND = Kind(
    "start-value",
    "Never away from the start",
    "“{best}” began with {kept} (line {line}) and ended so: “{test}” at line {asked} was never true for {values}. "
    "Can the start value be one that none of them gets past?",
    "a search for the largest or smallest whose condition was never true, and whose result is none of the values",
    "strong",
    """\
warmest = 0 #!
for degrees in [-4, -2, -9]:
    if degrees > warmest:
        warmest = degrees
print("warmest:", warmest)
""",
    """\
readings = [-4, -2, -9]
warmest = readings[0]
for degrees in readings:
    if degrees > warmest:
        warmest = degrees
print("warmest:", warmest)
""",
    find,
)
