"""A name of the program that is read before the line that gives it its first value."""

from __future__ import annotations

from collections.abc import Iterator

from eelgrass.reading.clues.checks import Raised
from eelgrass.reading.clues.clue import Evidence, Kind, Sighting
from eelgrass.reading.clues.facts import Facts
from eelgrass.reading.clues.program_text import Site
from eelgrass.reading.state.name_lookup import module_frame


def find(facts: Facts) -> Iterator[Sighting]:
    """Of each NameError: the lines of the module that would store the name, none of which has run."""
    for site, name, visit, step in facts.unknown_names("NameError"):
        module = module_frame(facts.trace, site.function, facts.frame(visit))
        number = int(facts.trace.frames.function[module])
        stores = [
            its.node.lineno for its in (*facts.stores(number, name), *facts.definitions) if _gives(its, number, name)
        ]
        if not stores or len(facts.name_writes(name, module)[0]):
            continue
        yield Sighting(
            site.number,
            0.95,
            {"name": name, "stores": min(stores)},
            (Evidence(step, f"“{name}” has no value yet.", (Raised(step),)),),
        )


def _gives(site: Site, function: int, name: str) -> bool:
    """Whether a statement of a function stores a name, or defines it."""
    return site.function == function and getattr(site.node, "name", name) == name


KIND = Kind(
    "not-yet-set",
    "Read before its first value",
    "Line {line} reads “{name}” before line {stores} has given it its first value. What should it be until then?",
    "a NameError for a name that the program stores somewhere else",
    "strong",
    """\
for weight in [12, 30, 25]:
    total = total + weight #!
print("grams:", total)
""",
    """\
total = 0
for weight in [12, 30, 25]:
    total = total + weight
print("grams:", total)
""",
    find,
)
