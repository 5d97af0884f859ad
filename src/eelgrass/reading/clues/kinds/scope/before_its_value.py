"""A name of a function that is read before it has a value, since the function stores it later."""

from __future__ import annotations

from collections.abc import Iterator

from eelgrass.reading.clues.checks import Raised
from eelgrass.reading.clues.clue import Evidence, Kind, Sighting
from eelgrass.reading.clues.facts import Facts
from eelgrass.reading.state.name_lookup import module_frame
from eelgrass.trace.values import NOT_SET


def find(facts: Facts) -> Iterator[Sighting]:
    """Of each UnboundLocalError: the line that makes the name the function's own, and the value outside."""
    for site, name, visit, step in facts.unknown_names("UnboundLocalError"):
        frame = facts.frame(visit)
        stores = [its.node.lineno for its in facts.stores(site.function, name)]
        outer = facts.named(name, module_frame(facts.trace, site.function, frame), visit)
        told = f"; outside, there is another “{name}”" if outer != NOT_SET else ""
        yield Sighting(
            site.number,
            0.95,
            {"name": name, "function": facts.trace.program.functions[site.function].name, "outside": told}
            | {"stores": min(stores, default=site.node.lineno)},
            (Evidence(step, f"“{name}” has no value here.", (Raised(step),)),),
        )


KIND = Kind(
    "before-its-value",
    "Read before it has a value",
    "Since line {stores} stores “{name}” in “{function}”, it is the function's own name, and has no value yet when "
    "line {line} reads it{outside}. Which “{name}” was meant?",
    "an UnboundLocalError",
    "strong",
    """\
aboard = 3

def board():
    aboard = aboard + 1 #!

board()
print(aboard)
""",
    """\
aboard = 3

def board(people):
    return people + 1

aboard = board(aboard)
print(aboard)
""",
    find,
)
