"""A loop that would not end."""

from __future__ import annotations

import ast
from collections.abc import Iterator

from eelgrass.reading.clues.checks import Holds, Ran
from eelgrass.reading.clues.clue import Check, Evidence, Kind, Sighting
from eelgrass.reading.clues.facts import UNKNOWN, Facts, shown
from eelgrass.reading.clues.patterns import is_constant
from eelgrass.reading.clues.program_text import Site, names_in, source
from eelgrass.reading.endless_run import busiest_loop
from eelgrass.reading.expressions.python_values import Thing

_LATEST = 100
_FEWEST = 100


def find(facts: Facts) -> Iterator[Sighting]:
    """Of the loop that a stopped run stood in: what its condition reads, many passes ago and now."""
    if facts.trace.outcome.outcome != "stopped" or not len(facts.trace.steps):
        return
    busiest = busiest_loop(facts.recording, facts.recording.stepping.last())
    site = facts.site(busiest.loop) if busiest is not None else None
    if busiest is None or site is None or not isinstance(site.node, ast.While) or busiest.times < _FEWEST:
        return
    frame = facts.frame(busiest.step)
    starts = facts.recording.loops.starts(busiest.step, busiest.loop)
    early, late = int(starts[max(len(starts) - _LATEST, 0)]), int(starts[-1])
    told = []
    checks: list[Check] = [Ran(site.number, late)]
    for name in sorted({ast.unparse(its) for its in _read(site.node.test)}):
        before, now = (facts.asked(name, step, frame) for step in (early, late))
        if before is UNKNOWN or now is UNKNOWN or isinstance(now, Thing):
            continue
        same = before == now
        told.append(f"“{name}” stays {shown(now)}" if same else f"“{name}” went from {shown(before)} to {shown(now)}")
        if type(now) in (int, float, str, bool):
            checks.append(Holds(f"{name} == {now!r}", frame, late))
    what = "; ".join(told) if told else f"“{source(site.node.test)}” stays true"
    yield Sighting(
        site.number,
        0.95,
        {
            "times": f"{busiest.times:,}",
            "test": source(site.node.test),
            "what": what + _why(facts, site, frame, early, late),
        },
        (
            Evidence(early, f"One of the latest {_LATEST} passes begins.", (Ran(site.number, early),)),
            Evidence(late, f"{what[:1].upper()}{what[1:]}.", tuple(checks)),
        ),
    )


def _why(facts: Facts, loop: Site, frame: int, early: int, late: int) -> str:
    """The line that stands behind a loop and would change what its condition reads, or that sets it to the same in the
    latest passes, in words; '' where there is none."""
    behind = facts.neighbour(loop, 1)
    for name in sorted(names_in(loop.node.test)) if isinstance(loop.node, ast.While) else ():
        if behind is not None and behind in facts.stores(loop.function, name):
            return f"; line {behind.node.lineno}, which changes “{name}”, stands behind the loop"
        inside = [its for its in facts.stores(loop.function, name) if facts.inside(its, loop)]
        ran = [its for its in inside if len(facts.all_in_frame(its, frame, early, late))]
        if len(ran) == 1 and isinstance(ran[0].node, ast.Assign) and is_constant(ran[0].node.value):
            return f"; line {ran[0].node.lineno} sets “{name}” to {source(ran[0].node.value)} again and again"
    return ""


def _read(test: ast.AST) -> Iterator[ast.AST]:
    """The names, fields and elements that a condition reads, each as a whole; not what it calls."""
    if isinstance(test, (ast.Name, ast.Attribute, ast.Subscript)):
        yield test
        return
    parts = [*test.args, *_owner(test)] if isinstance(test, ast.Call) else ast.iter_child_nodes(test)
    for its in parts:
        yield from _read(its)


def _owner(call: ast.Call) -> list[ast.expr]:
    return [call.func.value] if isinstance(call.func, ast.Attribute) else []


KIND = Kind(
    "no-end-in-sight",
    "A loop that would not end",
    "The loop at line {line} went round {times} times without an end in sight, while “{test}” is true. In the latest "
    "passes, {what}. What would have to happen for it to end?",
    "the run was stopped in a `while` that had gone round very often",
    "strong",
    """\
water = 8
while water > 0: #!
    print("pump")
    level = water - 1
""",
    """\
water = 8
while water > 0:
    print("pump")
    water = water - 1
""",
    find,
)
