"""A float whose rounding is seen in what is printed."""

from __future__ import annotations

import re
from collections.abc import Iterator

from eelgrass.reading.clues.checks import Printed
from eelgrass.reading.clues.clue import Evidence, Kind, Sighting
from eelgrass.reading.clues.facts import Facts
from eelgrass.trace.model import Texts

_LONG = re.compile(r"\d+\.\d{14,}")
_NEAR = 1e-11
_MOST = 2_000


def find(facts: Facts) -> Iterator[Sighting]:
    """Of each printed number of very many digits that is a short one but for its last ones."""
    for piece in facts.recording.output[:_MOST]:
        for number in _LONG.findall(piece.text) if piece.channel == Texts.OUTPUT else ():
            value, short = float(number), round(float(number), 6)
            visit = facts.owner_visit(piece.step) if 0 <= piece.step < len(facts.trace.steps) else -1
            if value == short or abs(value - short) > _NEAR * max(abs(value), 1):
                continue
            if visit < 0 or number not in facts.printed(visit):
                continue
            yield Sighting(
                int(facts.trace.steps.statement[visit]),
                0.6,
                {"number": number, "short": f"{short:g}"},
                (Evidence(visit, f"{number} is printed.", (Printed(visit, number),)),),
            )
            break


KIND = Kind(
    "rounding-shows",
    "The rounding of floats shows",
    "Line {line} printed {number}, which is {short} but for the rounding of floats. With how many places should it be"
    " shown?",
    "a number is printed with very many digits, and is a short one but for the last of them",
    "middling",
    """\
litres = 0
for _ in range(3):
    litres += 0.1
print(litres, "litres") #!
""",
    """\
litres = 0
for _ in range(3):
    litres += 0.1
print(round(litres, 1), "litres")
""",
    find,
)
