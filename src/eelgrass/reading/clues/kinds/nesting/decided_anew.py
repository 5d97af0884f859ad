"""A yes or no that each pass decides anew, so that only the last pass counts."""

from __future__ import annotations

import ast
from collections.abc import Iterator

from eelgrass.reading.clues.checks import Ran, Reads, worth
from eelgrass.reading.clues.clue import Evidence, Kind, Sighting
from eelgrass.reading.clues.facts import Facts, shown
from eelgrass.reading.clues.patterns import is_constant, stored_name
from eelgrass.reading.clues.program_text import Site


def find(facts: Facts) -> Iterator[Sighting]:
    """Of each `if` in a loop whose body and `else` store two constants in one name: a later pass stored another one
    than an earlier, nothing in the loop reads it, and it is read after it."""
    for site, node in facts.all(ast.If):
        loop = facts.loop_around(site)
        if loop is None or _leaves(node) or any(isinstance(its, ast.Break) for its in ast.walk(loop.node)):
            continue
        for name, one, other in _both_ways(node):
            first, second = facts.site_of(one), facts.site_of(other)
            inside = facts.all_in(loop)
            if first is None or second is None or any(its in facts.loads(site.function, name) for its in inside):
                continue
            yield from _told(facts, loop, first, second, name)


def _leaves(node: ast.If) -> bool:
    return any(isinstance(its, (ast.Break, ast.Return, ast.Continue)) for its in ast.walk(node))


def _both_ways(node: ast.If) -> Iterator[tuple[str, ast.stmt, ast.stmt]]:
    """(name, the statement that stores it in the body, the one in the `else`)."""
    stored = {stored_name(its): its for its in node.body if isinstance(its, ast.Assign) and is_constant(its.value)}
    for its in node.orelse:
        name = stored_name(its)
        if name and name in stored and isinstance(its, ast.Assign) and is_constant(its.value):
            yield name, stored[name], its


def _told(facts: Facts, loop: Site, first: Site, second: Site, name: str) -> Iterator[Sighting]:
    for its in facts.rounds(loop):
        all_yes, all_no = (facts.all_in_frame(one, its.frame, its.first, its.past + 1) for one in (first, second))
        read = facts.next_read(name, its.frame, its.past - 1)
        if not len(all_yes) or not len(all_no) or read < 0 or facts.inside_at(read, loop):
            continue
        yes, no = int(all_yes[0]), int(all_no[-1])
        if yes > no or facts.read_by_others(name, its.frame, yes + 1, its.past) >= 0:
            continue
        lost = facts.asked(name, facts.after(yes), its.frame)
        last = facts.asked(name, read, its.frame)
        if lost != last:
            yield Sighting(
                second.number,
                0.9,
                {
                    "name": name,
                    "set": first.node.lineno,
                    "lost": shown(lost),
                    "last": shown(last),
                    "read": facts.line(read),
                },
                (
                    Evidence(yes, f"“{name}” becomes {shown(lost)}.", (Ran(first.number, yes),)),
                    Evidence(no, "A later pass decides anew.", (Ran(second.number, no),)),
                    Evidence(
                        read, f"“{name}” is {shown(last)}.", (Reads(name, read), *worth(name, last, its.frame, read))
                    ),
                ),
            )
            return


KIND = Kind(
    "decided-anew",
    "Each pass decides anew",
    "Line {set} made “{name}” {lost} in one pass, and line {line} made it {last} in a later one: at line {read}, only"
    " the last pass counts. Should what one pass has found stay found?",
    "an `if` in a loop stores one of two constants in each pass; a later pass overwrote what an earlier had stored, "
    "unread",
    "strong",
    """\
found = False
for crab in ["shore", "spider", "hermit"]:
    if crab == "spider":
        found = True
    else:
        found = False #!
print("a spider crab:", found)
""",
    """\
found = False
for crab in ["shore", "spider", "hermit"]:
    if crab == "spider":
        found = True
print("a spider crab:", found)
""",
    find,
)
