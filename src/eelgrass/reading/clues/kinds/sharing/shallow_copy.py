"""A copy of the outer list only."""

from __future__ import annotations

import ast
from collections.abc import Iterator

from eelgrass.reading.clues.checks import Changed, Holds, Reads
from eelgrass.reading.clues.clue import Evidence, Kind, Sighting
from eelgrass.reading.clues.facts import Facts
from eelgrass.reading.clues.patterns import called, mentions, stored_name
from eelgrass.reading.clues.program_text import Site
from eelgrass.reading.state import insides

_SHAPES = ("list", "dict", "set")


def find(facts: Facts) -> Iterator[Sighting]:
    """Of each copy of a container of containers: one of those inside is changed by one name, and read by the other."""
    for site, node in facts.all(ast.Assign):
        new, old = stored_name(node), _copied(node.value)
        if new and old and new != old:
            for visit in facts.visits(site, 4):
                yield from _of_visit(facts, site, visit, new, old)


def _copied(node: ast.expr) -> str:
    """The name of what an expression copies."""
    if isinstance(node, ast.Subscript) and isinstance(node.slice, ast.Slice) and isinstance(node.value, ast.Name):
        return node.value.id if node.slice.lower is None and node.slice.upper is None else ""
    if not isinstance(node, ast.Call) or called(node) not in ("copy", "list", "dict"):
        return ""
    its = node.args[0] if node.args else getattr(node.func, "value", None)
    return its.id if isinstance(its, ast.Name) else ""


def _of_visit(facts: Facts, site: Site, visit: int, new: str, old: str) -> Iterator[Sighting]:
    frame, begins = facts.frame(visit), facts.after(visit)
    outer = facts.object_named(old, frame, visit)
    for key, value in [] if outer is None else insides.items(facts.trace, outer, visit, 0, 40):
        number = facts.trace.values.object_of(value)
        if number is None or facts.trace.objects.shape_of(number) not in _SHAPES:
            continue
        place = repr(facts.trace.values.get(key))
        for change in facts.changes_of(number, begins, len(facts.trace.steps))[:4]:
            changing = facts.owner_visit(change)
            by = facts.site_at(changing) if changing >= 0 else None
            through = next((its for its in (new, old) if by is not None and mentions(by.node, its)), "")
            other = old if through == new else new
            read = facts.next_read(other, frame, changing) if through else -1
            if read >= 0 and facts.frame(changing) == frame:
                same = Holds(f"{new}[{place}] is {old}[{place}]", frame, begins)
                yield Sighting(
                    site.number,
                    0.85,
                    {"new": new, "old": old, "place": place, "through": through, "other": other}
                    | {"changed": facts.line(changing), "read": facts.line(read)},
                    (
                        Evidence(visit, f"“{new}[{place}]” and “{old}[{place}]” are one object.", (same,)),
                        Evidence(changing, f"It is changed by “{through}”.", (Changed(number, change, change + 1),)),
                        Evidence(read, f"“{other}” is read.", (Reads(other, read),)),
                    ),
                )
                return


KIND = Kind(
    "shallow-copy",
    "A copy with the same things in it",
    "“{new}” is a copy of “{old}”, but “{new}[{place}]” and “{old}[{place}]” are still one object: what line "
    "{changed} changed in “{through}” is seen in “{other}” at line {read}. Were the inner ones meant to be copied, "
    "too?",
    "a container is copied, what is in it is not; something in it is changed by one of the two names, and the other "
    "is read later",
    "strong",
    """\
beds = [[3, 4], [5, 6]]
before = beds[:] #!
beds[0][0] = 9
print("before:", before)
print("now:", beds)
""",
    """\
beds = [[3, 4], [5, 6]]
before = [bed[:] for bed in beds]
beds[0][0] = 9
print("before:", before)
print("now:", beds)
""",
    find,
)
