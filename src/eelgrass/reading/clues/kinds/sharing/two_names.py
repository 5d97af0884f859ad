"""Two names of one container where a copy was meant."""

from __future__ import annotations

import ast
from collections.abc import Iterator

from eelgrass.reading.clues.checks import Changed, LeadsTo
from eelgrass.reading.clues.clue import Evidence, Kind, Sighting
from eelgrass.reading.clues.facts import Facts
from eelgrass.reading.clues.patterns import changes, stored_name
from eelgrass.reading.clues.program_text import Site, source

_TYPES = ("list", "dict", "set")


def find(facts: Facts) -> Iterator[Sighting]:
    """Of each `new = old`: the container is changed by one of the names and read by the other."""
    for site, node in facts.all(ast.Assign):
        new = stored_name(node)
        if not new or not isinstance(node.value, ast.Name) or node.value.id == new or _walks(facts, site, new):
            continue
        for visit in facts.visits(site, 6):
            yield from _of_visit(facts, site, visit, new, node.value.id)


def _walks(facts: Facts, site: Site, name: str) -> bool:
    """Whether a name goes on from one container into another, as through a tree."""
    stores = facts.stores(site.function, name)
    return any(name in _names(its.node) for its in stores if its.number != site.number)


def _names(node: ast.stmt) -> set[str]:
    value = getattr(node, "value", None)
    return {its.id for its in ast.walk(value) if isinstance(its, ast.Name)} if value is not None else set()


def _of_visit(facts: Facts, site: Site, visit: int, new: str, old: str) -> Iterator[Sighting]:
    frame, begins = facts.frame(visit), facts.after(visit)
    number = facts.object_named(old, frame, visit)
    if number is None or facts.trace.objects.type_of(number) not in _TYPES:
        return
    ends = min(facts.next_write(name, frame, begins - 1) for name in (new, old))
    for change in facts.changes_of(number, begins, ends + 1):
        changing = facts.owner_visit(change)
        by = facts.site_at(changing) if changing >= 0 else None
        if by is None or facts.frame(change) != frame:
            continue
        through = next((its for its in (new, old) if changes(by.node, its)), "")
        other = old if through == new else new
        read = facts.next_read(other, frame, changing) if through else -1
        if read >= 0:
            yield Sighting(
                site.number,
                0.9,
                {"new": new, "old": old, "through": through, "other": other, "changed": facts.line(changing)}
                | {"read": facts.line(read), "did": source(by.node)},
                (
                    Evidence(
                        visit, f"“{new}” becomes the same object as “{old}”.", (LeadsTo(new, number, frame, begins),)
                    ),
                    Evidence(
                        changing,
                        f"It is changed by the name “{through}”.",
                        (Changed(number, changing, facts.after(changing)), LeadsTo(other, number, frame, changing)),
                    ),
                    Evidence(
                        read, f"The change is seen by the name “{other}”.", (LeadsTo(other, number, frame, read),)
                    ),
                ),
            )
            return


KIND = Kind(
    "two-names",
    "One container, two names",
    "“{new}” and “{old}” are the same object since line {line}: what line {changed} changed by “{through}” is seen by"
    " “{other}” at line {read}. Was “{new}” meant to be a copy?",
    "two names lead to one list, dictionary or set; it is changed by one of them, and read by the other later",
    "strong",
    """\
readings = [2, 5, 3, 7]
kept = readings #!
kept.append(1)
print(len(readings), "readings,", len(kept), "kept")
""",
    """\
readings = [2, 5, 3, 7]
kept = list(readings)
kept.append(1)
print(len(readings), "readings,", len(kept), "kept")
""",
    find,
)
