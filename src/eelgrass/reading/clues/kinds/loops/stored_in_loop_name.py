"""A loop's own name that is stored in a pass, and overwritten by the next pass."""

from __future__ import annotations

import ast
from collections.abc import Iterator

from eelgrass.reading.clues.checks import Ran
from eelgrass.reading.clues.clue import Evidence, Kind, Sighting
from eelgrass.reading.clues.facts import Facts, shown
from eelgrass.reading.clues.patterns import stored_name
from eelgrass.reading.clues.program_text import source


def find(facts: Facts) -> Iterator[Sighting]:
    """Of each store into the name of the loop around: nothing reads it before the next pass begins."""
    for site in facts.sites:
        name, loop = stored_name(site.node), facts.loop_around(site)
        if not name or loop is None or not isinstance(loop.node, ast.For):
            continue
        if not isinstance(loop.node.target, ast.Name) or loop.node.target.id != name:
            continue
        for visit in facts.visits(site, 6):
            frame = facts.frame(visit)
            again = facts.in_frame(loop, frame, visit, len(facts.trace.steps))[:1]
            if not again or facts.next_read(name, frame, visit, again[0]) >= 0:
                break
            stored = facts.plain(facts.named(name, frame, facts.after(visit)))
            then = facts.plain(facts.named(name, frame, facts.after(again[0])))
            if facts.inside_at(facts.after(again[0]), loop) and stored != then:
                yield Sighting(
                    site.number,
                    0.85,
                    {"name": name, "loop": loop.node.lineno, "through": source(loop.node.iter)}
                    | {"stored": shown(stored), "then": shown(then)},
                    (
                        Evidence(visit, f"“{name}” becomes {shown(stored)}.", (Ran(site.number, visit),)),
                        Evidence(again[0], f"The next pass makes it {shown(then)}.", (Ran(loop.number, again[0]),)),
                    ),
                )
                break


KIND = Kind(
    "stored-in-loop-name",
    "What the next pass overwrites",
    "Line {line} makes “{name}” {stored}, but nothing reads that: the next pass of the loop at line {loop} makes it "
    "{then}, whatever it was. “{through}” has not changed. What was meant to change?",
    "the name of a loop is stored inside of the loop, and not read before the next pass stores into it",
    "strong",
    """\
levels = [4, 6, 9]
for level in levels:
    level = level * 2 #!
print(levels)
""",
    """\
levels = [4, 6, 9]
doubled = []
for level in levels:
    level = level * 2
    doubled.append(level)
print(doubled)
""",
    find,
)
