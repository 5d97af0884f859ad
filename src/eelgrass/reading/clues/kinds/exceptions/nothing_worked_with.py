"""A None that is worked with as if it were something."""

from __future__ import annotations

import ast
from collections.abc import Iterator

from eelgrass.reading.clues.checks import Holds, Raised, Ran
from eelgrass.reading.clues.clue import Evidence, Kind, Sighting
from eelgrass.reading.clues.facts import Facts
from eelgrass.reading.clues.program_text import source
from eelgrass.reading.expressions.source_tree import own_parts
from eelgrass.reading.state.name_lookup import NO_SLOT, slot_of
from eelgrass.reading.trails.visits_of_writes import last_write


def find(facts: Facts) -> Iterator[Sighting]:
    """Of each TypeError or AttributeError about None: the name that is None, and the line that made it so."""
    for path, visit in facts.failures:
        site = facts.site_at(visit)
        if site is None or path.type not in ("TypeError", "AttributeError") or "NoneType" not in path.message:
            continue
        frame = facts.frame(visit)
        for node in (its for own in own_parts(site.node) for its in ast.walk(own)):
            if not isinstance(node, ast.Name) or facts.value(node, visit) is not None:
                continue
            slot = slot_of(facts.trace, frame, node.id)
            write = last_write(facts.recording, slot, visit) if slot != NO_SLOT else None
            made = facts.site_at(write.visit) if write is not None else None
            if write is None or made is None:
                continue
            yield Sighting(
                made.number,
                0.8,
                {"name": source(node), "at": facts.line(visit), "type": path.type},
                (
                    Evidence(write.visit, f"“{node.id}” becomes None.", (Ran(made.number, write.visit),)),
                    Evidence(visit, f"“{node.id}” is worked with.", (Holds(f"{node.id} is None", frame, visit),)),
                    Evidence(path.stations[0].step, "It cannot be.", (Raised(path.stations[0].step),)),
                ),
            )
            break


KIND = Kind(
    "nothing-worked-with",
    "Worked with, and nothing there",
    "“{name}” is None since line {line}, and line {at} works with it as if it were something. Where should its value "
    "have come from?",
    "a TypeError or AttributeError about None, with the line that stored it",
    "strong",
    """\
deepest = None #!
for depth in [4, 9, 6]:
    if depth > deepest:
        deepest = depth
print(deepest)
""",
    """\
deepest = None
for depth in [4, 9, 6]:
    if deepest is None or depth > deepest:
        deepest = depth
print(deepest)
""",
    find,
)
