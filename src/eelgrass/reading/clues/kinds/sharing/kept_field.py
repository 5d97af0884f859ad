"""A name that is to keep what a field or element held, and leads to the very same container."""

from __future__ import annotations

import ast
import re
from collections.abc import Iterator

from eelgrass.reading.clues.checks import Changed, LeadsTo
from eelgrass.reading.clues.clue import Evidence, Kind, Sighting
from eelgrass.reading.clues.facts import Facts
from eelgrass.reading.clues.patterns import changes, stored_name
from eelgrass.reading.clues.program_text import Site, source

_KEPT = re.compile(r"before|old|copy|copied|backup|snapshot|saved|original|start|previous|earlier|kept|first", re.I)


def find(facts: Facts) -> Iterator[Sighting]:
    """Of each `name = owner.field` and `name = owner[key]` whose name speaks of what was: the container is changed by
    another way, and read by the name."""
    for site, node in facts.all(ast.Assign):
        name = stored_name(node)
        if not name or not _KEPT.search(name) or not isinstance(node.value, (ast.Attribute, ast.Subscript)):
            continue
        if isinstance(node.value, ast.Subscript) and isinstance(node.value.slice, ast.Slice):
            continue
        if any(changes(its.node, name) for its in facts.loads(site.function, name)):
            continue
        for visit in facts.visits(site, 4):
            yield from _of_visit(facts, site, node, visit, name)


def _of_visit(facts: Facts, site: Site, node: ast.Assign, visit: int, name: str) -> Iterator[Sighting]:
    frame, begins = facts.frame(visit), facts.after(visit)
    number = facts.object_named(name, frame, begins)
    if number is None or facts.trace.objects.type_of(number) not in ("list", "dict", "set"):
        return
    changed = facts.changes_of(number, begins, len(facts.trace.steps))[:1]
    read = facts.next_read(name, frame, changed[0]) if changed else -1
    if read >= 0:
        yield Sighting(
            site.number,
            0.8,
            {"name": name, "owner": source(node.value), "changed": facts.line(changed[0]), "read": facts.line(read)},
            (
                Evidence(
                    visit,
                    f"“{name}” and “{source(node.value)}” are one object.",
                    (LeadsTo(name, number, frame, begins),),
                ),
                Evidence(changed[0], "It is changed.", (Changed(number, changed[0], changed[0] + 1),)),
                Evidence(read, f"“{name}” is read.", (LeadsTo(name, number, frame, read),)),
            ),
        )


KIND = Kind(
    "kept-field",
    "Kept, and changed all the same",
    "“{name}” is to keep what “{owner}” was at line {line}, but leads to the same object: what line {changed} changed "
    "is seen by “{name}” at line {read}. Was it meant to be a copy?",
    "a name that speaks of what was gets a container from a field or element; that is changed, and read by the name",
    "strong",
    """\
plots = {"reef": [4, 6], "pier": [2]}
before = plots["reef"] #!
plots["reef"].append(9)
print("before:", before)
print("now:", plots["reef"])
""",
    """\
plots = {"reef": [4, 6], "pier": [2]}
before = plots["reef"][:]
plots["reef"].append(9)
print("before:", before)
print("now:", plots["reef"])
""",
    find,
)
