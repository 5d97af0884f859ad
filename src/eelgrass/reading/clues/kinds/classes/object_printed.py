"""An object that is printed as its address."""

from __future__ import annotations

import re
from collections.abc import Iterator

from eelgrass.reading.clues.checks import Printed
from eelgrass.reading.clues.clue import Evidence, Kind, Sighting
from eelgrass.reading.clues.facts import Facts
from eelgrass.trace.model import Texts

_OBJECT = re.compile(r"<__main__\.([\w.]+) object at 0x[0-9a-f]+>")
_MOST = 2_000


def find(facts: Facts) -> Iterator[Sighting]:
    """Of each printed text with the address of an object of an own class in it."""
    for piece in facts.recording.output[:_MOST]:
        told = _OBJECT.search(piece.text) if piece.channel == Texts.OUTPUT else None
        visit = facts.owner_visit(piece.step) if told and 0 <= piece.step < len(facts.trace.steps) else -1
        site = facts.site_at(visit) if visit >= 0 else None
        if told is not None and site is not None:
            yield Sighting(
                site.number,
                0.8,
                {"class": told.group(1)},
                (Evidence(visit, "An address is printed.", (Printed(visit, told.group(0)),)),),
            )


KIND = Kind(
    "object-printed",
    "An object printed as an address",
    "Line {line} printed an object of “{class}” as the place where it lies in memory: the class does not say how it "
    "is written. What of it should be printed?",
    "the address of an object of an own class was printed",
    "strong",
    """\
class Crab:
    def __init__(self, name):
        self.name = name

crab = Crab("Nip")
print(crab) #!
""",
    """\
class Crab:
    def __init__(self, name):
        self.name = name

crab = Crab("Nip")
print(crab.name)
""",
    find,
)
