"""A method that should set an object up, and is never called, since it is called otherwise."""

from __future__ import annotations

import ast
import re
from collections.abc import Iterator
from difflib import SequenceMatcher

from eelgrass.reading.clues.checks import NeverRan
from eelgrass.reading.clues.clue import Evidence, Kind, Sighting
from eelgrass.reading.clues.facts import Facts

_LIKENESS = 0.7
#: Methods that Python calls by itself, of which some are called nearly so, too.
_PYTHONS_OWN = frozenset(name for its in (object, int, list, dict, str) for name in dir(its))


def find(facts: Facts) -> Iterator[Sighting]:
    """Of each method whose name is nearly `__init__`: it never ran, though objects of its class were made."""
    for site in facts.sites:
        function = facts.trace.program.functions[site.function]
        if not isinstance(site.node, ast.FunctionDef) or function.kind != "class" or site.node.name == "__init__":
            continue
        name = site.node.name
        hands_over_more = len(site.node.args.args) > 1  # than Python hands to `__int__`
        if name in _PYTHONS_OWN and not (name == "__int__" and hands_over_more):
            continue
        if re.search(r"initial(?!i[sz])", name, re.I):
            continue
        if "init" not in name.lower() and SequenceMatcher(None, name, "__init__").ratio() < _LIKENESS:
            continue
        first = facts.site_of(site.node.body[0])
        names = [its.name for its in facts.trace.program.functions if its.parent == site.function]
        if first is None or facts.times(first) or "__init__" in names or not _was_made(facts, function.name):
            continue
        visit = facts.visits(site, 1)
        yield Sighting(
            site.number,
            0.9,
            {"name": name, "class": function.name},
            (Evidence(visit[0] if visit else 0, f"“{name}” is defined, and never runs.", (NeverRan(first.number),)),),
        )


def _was_made(facts: Facts, name: str) -> bool:
    objects = facts.trace.objects
    return any(objects.types[number] == name for number in set(objects.type.tolist()))


KIND = Kind(
    "never-set-up",
    "Nothing sets the object up",
    "“{name}” (line {line}) of “{class}” never ran, though an object of it was made: Python calls only a method named"
    " “__init__” by itself. Was this one meant?",
    "a method whose name is nearly `__init__` never ran, and objects of its class were made",
    "strong",
    """\
class Tank:
    def _init_(self, litres): #!
        self.litres = litres

    def show(self):
        print("a tank")

tank = Tank()
tank.show()
""",
    """\
class Tank:
    def __init__(self, litres):
        self.litres = litres

    def show(self):
        print("a tank of", self.litres)

tank = Tank(20)
tank.show()
""",
    find,
)
