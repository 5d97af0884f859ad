"""A list of a class that all its objects share."""

from __future__ import annotations

import ast
from collections.abc import Iterator

from eelgrass.reading.clues.checks import Changed
from eelgrass.reading.clues.clue import Evidence, Kind, Sighting
from eelgrass.reading.clues.facts import Facts
from eelgrass.reading.clues.patterns import stored_name
from eelgrass.trace.model import StepKind


def find(facts: Facts) -> Iterator[Sighting]:
    """Of each container that a class body stores: methods of two objects changed it by `self`."""
    functions = facts.trace.program.functions
    for site in facts.sites:
        name = stored_name(site.node)
        value = getattr(site.node, "value", None)
        if not name or functions[site.function].kind != "class" or not isinstance(value, (ast.List, ast.Dict, ast.Set)):
            continue
        for visit in facts.visits(site, 2):
            number = facts.object_named(name, facts.frame(visit), facts.after(visit))
            if number is None:
                continue
            by: dict[int, int] = {}
            for step in facts.changes_of(number, facts.after(visit), len(facts.trace.steps)):
                if facts.trace.steps.kind[step] == StepKind.LINE and _is_by_object(facts, step, name):
                    owner = _self(facts, step)
                    if owner is not None:
                        by.setdefault(owner, step)
            if len(by) >= 2:
                one, other = sorted(by.values())[:2]
                yield Sighting(
                    site.number,
                    0.9,
                    {"name": name, "class": functions[site.function].name, "one": facts.line(one)},
                    (
                        Evidence(one, f"One object changes “{name}”.", (Changed(number, one, one + 1),)),
                        Evidence(other, "Another object changes the same.", (Changed(number, other, other + 1),)),
                    ),
                )
                break


def _is_by_object(facts: Facts, step: int, name: str) -> bool:
    """Whether a statement changes `something.name`, where the something is no class."""
    site = facts.site_at(step)
    classes = {its.name for its in facts.trace.program.functions if its.kind == "class"}
    for node in ast.walk(site.node) if site is not None else ():
        if isinstance(node, ast.Attribute) and node.attr == name:
            return not (isinstance(node.value, ast.Name) and (node.value.id in classes or node.value.id == "cls"))
    return False


def _self(facts: Facts, step: int) -> int | None:
    """The object through which a statement changes a field."""
    frame = facts.frame(step)
    own = facts.object_named("self", frame, step)
    if own is not None:
        return own
    site = facts.site_at(step)
    for node in ast.walk(site.node) if site is not None else ():
        if isinstance(node, ast.Attribute) and isinstance(node.value, ast.Name):
            found = facts.object_named(node.value.id, frame, step)
            if found is not None:
                return found
    return None


KIND = Kind(
    "shared-field",
    "One list for all objects",
    "“{name}” (line {line}) belongs to the class “{class}”: more than one of its objects changes it, the first at "
    "line {one}. Should each object have one of its own?",
    "a container that a class body stores was changed through two of its objects",
    "strong",
    """\
class Boat:
    crew = [] #!

    def board(self, name):
        self.crew.append(name)

tern, gull = Boat(), Boat()
tern.board("Ada")
gull.board("Ben")
print(tern.crew)
""",
    """\
class Boat:
    def __init__(self):
        self.crew = []

    def board(self, name):
        self.crew.append(name)

tern, gull = Boat(), Boat()
tern.board("Ada")
gull.board("Ben")
print(tern.crew)
""",
    find,
)
