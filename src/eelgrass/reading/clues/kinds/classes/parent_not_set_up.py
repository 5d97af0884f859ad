"""A field that only the parent's `__init__` would have set, which a class of its own put aside."""

from __future__ import annotations

import ast
from collections.abc import Iterator

from eelgrass.reading.clues.checks import Raised
from eelgrass.reading.clues.clue import Evidence, Kind, Sighting
from eelgrass.reading.clues.facts import Facts


def find(facts: Facts) -> Iterator[Sighting]:
    """Of each AttributeError of an own object: its class has an `__init__` that does not call the parent's, which
    stores a field of that name."""
    classes = {node.name: node for _, node in facts.all(ast.ClassDef)}
    for path, _ in facts.failures:
        parts = path.message.split("'")
        if path.type != "AttributeError" or len(parts) < 5 or parts[1] not in classes:
            continue
        node = classes[parts[1]]
        own = _init(node)
        parents = [its.id for its in node.bases if isinstance(its, ast.Name)]
        for parent in parents:
            above = _init(classes[parent]) if parent in classes else None
            if (
                own is None
                or above is None
                or "super()" in ast.unparse(own)
                or f"{parent}.__init__" in ast.unparse(own)
            ):
                continue
            site = facts.site_of(own)
            if site is not None and _stores(above, parts[3]):
                yield Sighting(
                    site.number,
                    0.95,
                    {"class": parts[1], "parent": parent, "field": parts[3]},
                    (Evidence(path.stations[0].step, f"There is no “{parts[3]}”.", (Raised(path.stations[0].step),)),),
                )


def _init(node: ast.ClassDef) -> ast.FunctionDef | None:
    return next((its for its in node.body if isinstance(its, ast.FunctionDef) and its.name == "__init__"), None)


def _stores(node: ast.FunctionDef, field: str) -> bool:
    return any(
        isinstance(its, ast.Attribute) and its.attr == field and isinstance(its.ctx, ast.Store)
        for its in ast.walk(node)
    )


KIND = Kind(
    "parent-not-set-up",
    "The parent is not set up",
    "“{field}” is set by “__init__” of “{parent}”, but “{class}” has an “__init__” of its own (line {line}), which "
    "does not call it. Who should set “{field}”?",
    "an AttributeError, of a field that the parent's `__init__` sets, which the class's own does not call",
    "strong",
    """\
class Boat:
    def __init__(self, name):
        self.name = name

class Ferry(Boat):
    def __init__(self, name, seats): #!
        self.seats = seats

ferry = Ferry("Tern", 12)
print(ferry.name, ferry.seats)
""",
    """\
class Boat:
    def __init__(self, name):
        self.name = name

class Ferry(Boat):
    def __init__(self, name, seats):
        super().__init__(name)
        self.seats = seats

ferry = Ferry("Tern", 12)
print(ferry.name, ferry.seats)
""",
    find,
)
