"""Two objects with the same in them that are not equal."""

from __future__ import annotations

import ast
from collections.abc import Iterator

from eelgrass.reading.clues.checks import Ran
from eelgrass.reading.clues.clue import Evidence, Kind, Sighting
from eelgrass.reading.clues.facts import Facts, shown
from eelgrass.reading.clues.program_text import source
from eelgrass.reading.expressions.python_values import Thing
from eelgrass.reading.state import insides


def find(facts: Facts) -> Iterator[Sighting]:
    """Of each `==`, `!=`, `in` or `not in` of objects whose class does not say what is equal: another object has the
    same fields with the same values."""
    own = {functions.name for functions in facts.trace.program.functions if functions.kind == "class"}
    for site, node in facts.all(ast.Compare):
        if len(node.ops) != 1 or not isinstance(node.ops[0], (ast.Eq, ast.NotEq, ast.In, ast.NotIn)):
            continue
        for visit in facts.visits(site, 12):
            left, right = facts.value(node.left, visit), facts.value(node.comparators[0], visit)
            others = list(right)[:50] if isinstance(right, (list, tuple)) else [right]
            twin = next((its for its in others if _are_alike(facts, left, its, visit)), None)
            same = any(
                isinstance(its, Thing) and isinstance(left, Thing) and its.number == left.number for its in others
            )
            if twin is None or same or left.type_ not in own or _says_equal(facts, left.type_):
                continue
            yield Sighting(
                site.number,
                0.9,
                {"test": source(node), "class": left.type_, "fields": _fields(facts, left, visit)},
                (
                    Evidence(
                        visit,
                        f"Two objects of “{left.type_}” hold {_fields(facts, left, visit)}.",
                        (Ran(site.number, visit),),
                    ),
                ),
            )
            break


def _are_alike(facts: Facts, one: object, other: object, visit: int) -> bool:
    if (
        not isinstance(one, Thing)
        or not isinstance(other, Thing)
        or one.type_ != other.type_
        or one.number == other.number
    ):
        return False
    held = [insides.fields(facts.trace, its.number, visit) for its in (one, other)]
    return bool(held[0]) and held[0] == held[1]


def _fields(facts: Facts, one: Thing, visit: int) -> str:
    held = insides.fields(facts.trace, one.number, visit)[:3]
    return ", ".join(f"{name} {shown(facts.plain(value))}" for name, value in held)


def _says_equal(facts: Facts, class_: str) -> bool:
    functions = facts.trace.program.functions
    decorated = any(
        isinstance(its.node, ast.ClassDef) and its.node.name == class_ and its.node.decorator_list
        for its in facts.sites
    )
    return decorated or any(its.name == "__eq__" for its in functions)


KIND = Kind(
    "not-equal-objects",
    "The same in them, and not equal",
    "“{test}” at line {line} compares objects of “{class}”: two of them hold the same ({fields}), but are two "
    "objects, and the class does not say when two are equal. What should be compared?",
    "two objects of a class without `__eq__` that hold the same were compared, or one was looked for among others",
    "strong",
    """\
class Crab:
    def __init__(self, name):
        self.name = name

tagged = [Crab("Nip"), Crab("Sidle")]
seen = Crab("Nip")
if seen in tagged: #!
    print("tagged before")
else:
    print("a new crab")
""",
    """\
class Crab:
    def __init__(self, name):
        self.name = name

tagged = [Crab("Nip"), Crab("Sidle")]
seen = tagged[0]
if seen in tagged:
    print("tagged before")
""",
    find,
)
