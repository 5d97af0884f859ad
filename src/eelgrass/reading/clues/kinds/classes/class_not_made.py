"""A class that is used as if it were one of its objects."""

from __future__ import annotations

import ast
from collections.abc import Iterator

from eelgrass.reading.clues.checks import Ran
from eelgrass.reading.clues.clue import Evidence, Kind, Sighting
from eelgrass.reading.clues.facts import Facts
from eelgrass.reading.clues.patterns import stored_name


def find(facts: Facts) -> Iterator[Sighting]:
    """Of each `name = Class`: a method was then called by the name, or a field stored, as of an object."""
    classes = {its.name for its in facts.trace.program.functions if its.kind == "class"}
    for site, node in facts.all(ast.Assign):
        name = stored_name(node)
        if not name or not isinstance(node.value, ast.Name) or node.value.id not in classes:
            continue
        for visit in facts.visits(site, 2):
            read = facts.next_read(name, facts.frame(visit), visit)
            used = facts.site_at(read) if read >= 0 else None
            if used is None or any(
                isinstance(its, ast.Call) and getattr(its.func, "id", "") == name for its in ast.walk(used.node)
            ):
                continue
            yield Sighting(
                site.number,
                0.85,
                {"name": name, "class": node.value.id, "used": facts.line(read)},
                (
                    Evidence(visit, f"“{name}” becomes the class itself.", (Ran(site.number, visit),)),
                    Evidence(read, f"“{name}” is worked with.", (Ran(used.number, read),)),
                ),
            )
            break


KIND = Kind(
    "class-not-made",
    "The class, not an object of it",
    "Line {line} gives “{name}” the class “{class}” itself: no object is made. Line {used} works with it. Was an "
    "object meant?",
    "a name was given a class, and worked with, without calling it",
    "strong",
    """\
class Lamp:
    lit = False

one = Lamp #!
other = Lamp
one.lit = True
print(other.lit)
""",
    """\
class Lamp:
    lit = False

one = Lamp()
other = Lamp()
one.lit = True
print(other.lit)
""",
    find,
)
