"""A value that each pass stores, of which only the last one is ever read."""

from __future__ import annotations

import ast
import re
from collections.abc import Iterator

from eelgrass.reading.clues.checks import Holds, Reads, worth
from eelgrass.reading.clues.clue import Evidence, Kind, Sighting
from eelgrass.reading.clues.facts import UNKNOWN, Facts, shown
from eelgrass.reading.clues.patterns import called, is_constant, mentions, stored_name
from eelgrass.reading.clues.program_text import Site

#: Names of what is meant to be the last.
_LAST = re.compile(
    r"last|latest|current|prev|final|newest|recent|now|found|old|end|state|position|place|answer|line", re.I
)

#: Names of what is meant to have something of all of them.
_COLLECTS = re.compile(r"total|sum|count|amount|all|text|coded|result|balance|names|words|list", re.I)
#: So many of the values are compared.
_LOOKED_AT = 50
#: Calls that are made for what they take away as well as for what they give.
_TAKING = frozenset(("pop", "popleft", "heappop", "next", "input", "readline", "get", "choice", "randint"))


def find(facts: Facts) -> Iterator[Sighting]:
    """Of each store in the body of a loop that no statement of the loop reads, and that is read after it."""
    for site, node in facts.all(ast.Assign):
        name, loop = stored_name(node), facts.loop_around(site)
        if not name or loop is None or mentions(node.value, name):
            continue
        if facts.parent(site) is not loop and not _COLLECTS.search(name):
            continue  # what a decision keeps may be the one that was looked for
        inside = [loop, *facts.all_in(loop)]
        others = [its for its in inside if its is not site and its in facts.stores(site.function, name)]
        if others or any(its in facts.loads(site.function, name) for its in inside) or is_constant(node.value):
            continue
        if not isinstance(loop.node, ast.While) or not mentions(loop.node.test, name):
            yield from _told(facts, site, loop, name)


def _told(facts: Facts, site: Site, loop: Site, name: str) -> Iterator[Sighting]:
    for its in facts.rounds(loop, 4):
        visits = facts.all_in_frame(site, its.frame, its.first, its.past + 1)
        some = [*visits[:_LOOKED_AT].tolist(), *visits[-1:].tolist()]
        values = [facts.asked(name, facts.after(visit), its.frame) for visit in some]
        read = facts.next_read(name, its.frame, its.past - 1)
        # The pass of the reading would belong to an outer loop that stores the name again.
        if len(visits) < 2 or read < 0 or facts.inside_at(read, loop) or UNKNOWN in (values[0], values[-1]):
            continue
        if all(value == values[0] for value in values):
            continue
        first, last = some[0], facts.after(some[-1])
        if facts.read_by_others(name, its.frame, first + 1, its.past) >= 0:
            continue
        start = facts.asked(name, its.first, its.frame)
        has_start = start is not UNKNOWN and _is_start(facts, site, name, its.first)
        takes = any(called(its) in _TAKING for its in ast.walk(site.node))
        is_decided = facts.parent(site) is not loop
        if is_decided and not has_start:
            continue
        strength = 0.6 if is_decided else 0.9 if has_start else 0.2 if takes or _LAST.search(name) else 0.65
        checks = (Holds(f"{name} == {values[-1]!r}", its.frame, last),) if type(values[-1]) in (int, float, str) else ()
        yield Sighting(
            site.number,
            strength,
            {"name": name, "loop": loop.node.lineno, "times": len(visits), "first": shown(values[0])}
            | {"last": shown(values[-1]), "read": facts.line(read)},
            (
                Evidence(
                    first,
                    f"“{name}” becomes {shown(values[0])}, which nothing reads.",
                    worth(name, values[0], its.frame, facts.after(first)),
                ),
                Evidence(last, f"“{name}” is {shown(values[-1])}.", checks),
                Evidence(read, "Only this is read.", (Reads(name, read),)),
            ),
        )
        return


def _is_start(facts: Facts, site: Site, name: str, step: int) -> bool:
    """Whether a name was set to a number or an empty container before, in the same function."""
    values = [
        its.node.value
        for its in facts.stores(site.function, name)
        if isinstance(its.node, ast.Assign) and its is not site
    ]
    starts = [its for its in values if is_constant(its) and not (isinstance(its, ast.Constant) and its.value is None)]
    return bool(starts) and facts.line(step) >= 0


KIND = Kind(
    "only-last-kept",
    "Only the last one is kept",
    "Line {line} stores “{name}” in each of {times} passes of the loop at line {loop}, beginning with {first}; only "
    "the last one, {last}, is ever read (line {read}). What about the others?",
    "a name gets several values in the passes of a loop, none of which is read in the loop, and is read after it",
    "strong where the name had a start value that nothing read either; weak where its name says that it is the last "
    "one",
    """\
total = 0
for weight in [12, 30, 25]:
    total = weight #!
print("grams:", total)
""",
    """\
total = 0
for weight in [12, 30, 25]:
    total = total + weight
print("grams:", total)
""",
    find,
)
