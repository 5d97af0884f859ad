"""A built-in function whose name was given to something else, and then called."""

from __future__ import annotations

import ast
import builtins
from collections.abc import Iterator

from eelgrass.reading.clues.checks import Raised, Ran
from eelgrass.reading.clues.clue import Evidence, Kind, Sighting
from eelgrass.reading.clues.facts import Facts, shown

_NAMES = frozenset(
    its for its in dir(builtins) if its.islower() and callable(getattr(builtins, its)) and not its.startswith("_")
)


def find(facts: Facts) -> Iterator[Sighting]:
    """Of each TypeError of a call whose function's name is a built-in one that the program stored."""
    for path, visit in facts.failures:
        site = facts.site_at(visit)
        if path.type != "TypeError" or "not callable" not in path.message or site is None:
            continue
        for call in (
            its for its in ast.walk(site.node) if isinstance(its, ast.Call) and isinstance(its.func, ast.Name)
        ):
            name = call.func.id if isinstance(call.func, ast.Name) else ""
            stores = [
                its for (_, id_, is_load), sites in facts.names.items() if id_ == name and not is_load for its in sites
            ]
            if name in _NAMES and stores:
                first = min(stores, key=lambda its: its.node.lineno)
                value = facts.asked(name, visit, facts.frame(visit))
                before = [step for step in facts.visits(first) if step < visit]
                seen = (
                    (Evidence(before[0], f"“{name}” is given to something else.", (Ran(first.number, before[0]),)),)
                    if before
                    else ()
                )
                yield Sighting(
                    first.number,
                    0.95,
                    {"name": name, "value": shown(value), "call": site.node.lineno},
                    (*seen, Evidence(path.stations[0].step, "It cannot be called.", (Raised(path.stations[0].step),))),
                )
                break


KIND = Kind(
    "hidden-built-in",
    "A built-in name is taken",
    "Since line {line}, “{name}” is {value} and no longer Python's own function: line {call} calls it, and cannot. "
    "What else could it be called?",
    "a call failed since the name of the built-in function holds a value of the program's",
    "strong",
    """\
list = ["reef", "pier"] #!
print(len(list))
letters = list("cove")
print(letters)
""",
    """\
places = ["reef", "pier"]
print(len(places))
letters = list("cove")
print(letters)
""",
    find,
)
