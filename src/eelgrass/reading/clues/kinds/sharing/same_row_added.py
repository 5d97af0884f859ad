"""One list that is put into another again and again."""

from __future__ import annotations

import ast
from collections.abc import Iterator

from eelgrass.reading.clues.checks import Changed, LeadsTo
from eelgrass.reading.clues.clue import Evidence, Kind, Sighting
from eelgrass.reading.clues.facts import Facts
from eelgrass.reading.clues.patterns import root

_ADDING = ("append", "add", "insert", "appendleft")


def find(facts: Facts) -> Iterator[Sighting]:
    """Of each `outer.append(inner)` in a loop: the same inner container is added twice, and changed in between."""
    for site, node in facts.all(ast.Call):
        method = node.func.attr if isinstance(node.func, ast.Attribute) else ""
        added = node.args[-1] if node.args and method in _ADDING else None
        if (
            not isinstance(added, ast.Name)
            or not isinstance(node.func, ast.Attribute)
            or facts.loop_around(site) is None
        ):
            continue
        last: dict[int, tuple[int, int]] = {}
        for visit in facts.visits(site, 12):
            frame = facts.frame(visit)
            number = facts.object_named(added.id, frame, visit)
            shape = "" if number is None else facts.trace.objects.shape_of(number)
            if number is None or shape not in ("list", "dict", "set", "instance"):
                continue
            before, its = last.get(frame, (-1, -1))
            last[frame] = visit, number
            if its == number and facts.changes_of(number, before + 1, visit):
                changing = facts.changes_of(number, before + 1, visit)[0]
                stands = facts.owner_visit(changing)
                yield Sighting(
                    site.number,
                    0.9,
                    {"inner": added.id, "outer": root(node.func.value) or "the list", "changed": facts.line(changing)},
                    (
                        Evidence(before, f"“{added.id}” is put in.", (LeadsTo(added.id, number, frame, before),)),
                        Evidence(stands, "It is changed.", (Changed(number, changing, changing + 1),)),
                        Evidence(visit, "The same object is put in again.", (LeadsTo(added.id, number, frame, visit),)),
                    ),
                )
                break


KIND = Kind(
    "same-row-added",
    "The same row, added again",
    "Line {line} puts the same object “{inner}” into “{outer}” each time: what line {changed} changes is changed in "
    "every place where it stands. Was each meant to be one of its own?",
    "one container or object is added to another at least twice, and changed in between",
    "strong",
    """\
row = []
rows = []
for plot in ("reef", "pier"):
    row.clear()
    row.append(plot)
    rows.append(row) #!
print(rows)
""",
    """\
rows = []
for plot in ("reef", "pier"):
    row = []
    row.append(plot)
    rows.append(row)
print(rows)
""",
    find,
)
