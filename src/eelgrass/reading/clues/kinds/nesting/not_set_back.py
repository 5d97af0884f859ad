"""A sum for each row that goes on from the row before."""

from __future__ import annotations

import ast
from collections.abc import Iterator

from eelgrass.reading.clues.checks import Holds, worth
from eelgrass.reading.clues.clue import Evidence, Kind, Sighting
from eelgrass.reading.clues.facts import Facts, shown
from eelgrass.reading.clues.patterns import collects, is_constant, stored_name
from eelgrass.reading.clues.program_text import Site


def find(facts: Facts) -> Iterator[Sighting]:
    """Of each name that is set to a constant before a loop, collects in a loop inside of it, is read after the inner
    one, and never after the outer one."""
    for site, node in facts.all(ast.Assign):
        name = stored_name(node)
        if not name or not is_constant(node.value) or isinstance(getattr(node.value, "value", None), (str, bool)):
            continue
        outer = _next_loop(facts, site)
        if outer is None or len(facts.stores(site.function, name)) > 2:
            continue
        inner_loops = (
            its for its in facts.children(outer, site.function) if isinstance(its.node, (ast.For, ast.While))
        )
        for inner in inner_loops:
            collecting = next((its for its in facts.all_in(inner) if collects(its.node, name)), None)
            reading = [its for its in facts.loads(site.function, name) if its is not collecting]
            behind = [its for its in reading if facts.parent(its) is outer and its.node.lineno > inner.node.lineno]
            if collecting is not None and behind and len(behind) == len(reading):
                yield from _told(facts, site, outer, inner, name)


def _next_loop(facts: Facts, site: Site) -> Site | None:
    """The loop in the same block whose header comes after a statement first."""
    block = facts.children(facts.parent(site), site.function)
    loops = (its for its in block if isinstance(its.node, ast.For) and its.node.lineno > site.node.lineno)
    return next(loops, None)


def _told(facts: Facts, site: Site, outer: Site, inner: Site, name: str) -> Iterator[Sighting]:
    rounds = facts.rounds(inner, 4)
    visit = facts.visits(site, 1)
    if len(rounds) < 2 or not visit or not len(rounds[1].starts):
        return
    second = rounds[1]
    start = facts.asked(name, facts.after(visit[0]), second.frame)
    before = facts.asked(name, second.first, second.frame)
    if type(before) not in (int, float, list) or before == start:
        return
    running = any(word in name for word in ("running", "cumul", "so_far", "grand", "all", "overall", "seen", "number"))
    yield Sighting(
        site.number,
        0.3 if running else 0.6,
        {
            "name": name,
            "outer": outer.node.lineno,
            "inner": inner.node.lineno,
            "before": shown(before),
            "start": shown(start),
        },
        (
            Evidence(
                facts.after(visit[0]),
                f"“{name}” begins with {shown(start)}.",
                worth(name, start, second.frame, facts.after(visit[0])),
            ),
            Evidence(
                second.first,
                f"The second pass begins to collect, and “{name}” is {shown(before)}.",
                (Holds(f"{name} == {before!r}", second.frame, second.first),),
            ),
        ),
    )


KIND = Kind(
    "not-set-back",
    "Goes on from the pass before",
    "“{name}” is set to {start} once, at line {line}. In the second pass of the loop at line {outer}, the loop at "
    "line {inner} goes on from {before}. Should it begin anew for each?",
    "a name collects in an inner loop, is read after it in each pass of the outer one and not later, and is not set "
    "back",
    "middling: a running sum is meant so; weak where the name says that",
    """\
plots = [[3, 4], [5, 6]]
total = 0 #!
for plot in plots:
    for count in plot:
        total += count
    print("plot:", total)
""",
    """\
plots = [[3, 4], [5, 6]]
total = 0
for plot in plots:
    for count in plot:
        total += count
print("all plots:", total)
""",
    find,
)
