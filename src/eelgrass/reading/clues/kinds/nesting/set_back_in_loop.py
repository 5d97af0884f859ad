"""A sum or list that begins anew in each pass."""

from __future__ import annotations

import ast
from collections.abc import Iterator

from eelgrass.reading.clues.checks import Ran, Reads
from eelgrass.reading.clues.clue import Evidence, Kind, Sighting
from eelgrass.reading.clues.facts import Facts, shown
from eelgrass.reading.clues.patterns import collects, is_constant, stored_name
from eelgrass.reading.clues.program_text import Site

#: So many passes are looked at for one that loses something.
_LOOKED_AT = 400


def find(facts: Facts) -> Iterator[Sighting]:
    """Of each constant stored in a loop's body: a name that collects in the same pass, and is read only after the
    loop."""
    for site, node in facts.all(ast.Assign):
        name, loop = stored_name(node), facts.loop_around(site)
        if not name or loop is None or not is_constant(node.value) or facts.parent(site) is not loop:
            continue
        inside = facts.all_in(loop)
        collecting = [its for its in inside if its is not site and collects(its.node, name)]
        deciding = [
            its for its in inside if isinstance(its.node, ast.If) and any(facts.inside(c, its) for c in collecting)
        ]
        loads = facts.loads(site.function, name)
        reading = [its for its in inside if its in loads and its not in (*collecting, *deciding)]
        if not collecting or reading or any(its.node.lineno < node.lineno for its in collecting):
            continue
        yield from _told(facts, site, loop, collecting, name)


def _told(facts: Facts, site: Site, loop: Site, collecting: list[Site], name: str) -> Iterator[Sighting]:
    for its in facts.rounds(loop, 4):
        visits = facts.all_in_frame(site, its.frame, its.first, its.past + 1)
        collected = any(facts.in_frame(one, its.frame, its.first, its.past + 1) for one in collecting)
        read = facts.next_read(name, its.frame, its.past - 1)
        if len(visits) < 2 or not collected or read < 0 or facts.inside_at(read, loop):
            continue
        if facts.read_by_others(name, its.frame, its.first, its.past) >= 0:
            continue
        for visit in visits[1:_LOOKED_AT].tolist():
            lost = facts.asked(name, visit, its.frame)
            if lost == facts.asked(name, facts.after(visit), its.frame):
                continue
            yield Sighting(
                site.number,
                0.9,
                {
                    "name": name,
                    "loop": loop.node.lineno,
                    "lost": shown(lost),
                    "times": len(visits),
                    "read": facts.line(read),
                },
                (
                    Evidence(visit, f"“{name}” is {shown(lost)}, and begins anew.", (Ran(site.number, visit),)),
                    Evidence(read, f"“{name}” is read after the loop.", (Reads(name, read),)),
                ),
            )
            return


KIND = Kind(
    "set-back-in-loop",
    "Set back in each pass",
    "Line {line} sets “{name}” back in each pass of the loop at line {loop}, {times} times: at the start of one "
    "of them, {lost} is lost. At line {read}, “{name}” has what the last pass left. From where on should it collect?",
    "a name is set to a constant in each pass, collects in the same pass, and is read only after the loop",
    "strong",
    """\
for count in [4, 7, 2]:
    total = 0 #!
    total += count
print("shoots:", total)
""",
    """\
for counts in [[4, 7], [2, 5]]:
    total = 0
    for count in counts:
        total += count
    print("shoots:", total)
""",
    find,
)
