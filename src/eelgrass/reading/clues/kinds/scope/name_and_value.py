"""A name that speaks of another kind of value than it holds."""

from __future__ import annotations

import re
from collections.abc import Iterator

from eelgrass.reading.clues.checks import Holds
from eelgrass.reading.clues.clue import Evidence, Kind, Sighting
from eelgrass.reading.clues.facts import UNKNOWN, Facts, shown
from eelgrass.reading.clues.patterns import number_in, stored_name

_TRUTH = re.compile(r"^(is|has|can|was|should)_[a-z]")
_MANY = re.compile(r"^(names|words|lines|numbers|items|readings|stations|crabs)$|_list$")
_NUMBER = re.compile(r"^(number|count|total|sum|age|amount|price|seats|length|width|height)$")


def find(facts: Facts) -> Iterator[Sighting]:
    """Of each name that is stored: `is_…` holds numbers, `names` one text or number, `total` a text."""
    seen = set()
    for site in facts.sites:
        name = stored_name(site.node)
        told = _speaks_of(name) if (site.function, name) not in seen else ""
        for visit in facts.visits(site, 6) if told else ():
            frame, after = facts.frame(visit), facts.after(visit)
            value = facts.asked(name, after, frame) if after < len(facts.trace.steps) else UNKNOWN
            if _contradicts(told, value):
                seen.add((site.function, name))
                yield Sighting(
                    site.number,
                    0.35,
                    {"name": name, "value": shown(value), "told": told},
                    (Evidence(after, f"“{name}” is {shown(value)}.", (Holds(f"{name} == {value!r}", frame, after),)),),
                )
                break


def _speaks_of(name: str) -> str:
    """What a name speaks of, in words; '' where it says nothing."""
    if _TRUTH.match(name):
        return "something that is true or false"
    if _MANY.search(name):
        return "several things"
    return "a number" if _NUMBER.match(name) else ""


def _contradicts(told: str, value: object) -> bool:
    if told == "a number":
        return type(value) is str and number_in(value) is not None
    if told == "several things":
        return type(value) in (int, float) or (type(value) is str and 0 < len(value) < 20 and " " not in value)
    return type(value) in (int, float, str) and bool(told)


KIND = Kind(
    "name-and-value",
    "A name that says something else",
    "Since line {line}, “{name}” is {value}, though its name speaks of {told}. Is it what it should be?",
    "a name that speaks of a truth value, a number or several things was given another kind of value",
    "weak: names are only names",
    """\
readings = [4, 0, 7]
is_low = 0 #!
for reading in readings:
    if reading < 3:
        is_low = is_low + 1
print(is_low)
""",
    """\
readings = [4, 0, 7]
is_low = False
for reading in readings:
    if reading < 3:
        is_low = True
print(is_low)
""",
    find,
)
