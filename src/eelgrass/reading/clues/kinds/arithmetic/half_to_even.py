"""A half that is rounded down."""

from __future__ import annotations

import ast
import math
from collections.abc import Iterator

from eelgrass.reading.clues.checks import Holds
from eelgrass.reading.clues.clue import Evidence, Kind, Sighting
from eelgrass.reading.clues.facts import Facts, shown
from eelgrass.reading.clues.patterns import called
from eelgrass.reading.clues.program_text import source


def find(facts: Facts) -> Iterator[Sighting]:
    """Of each `round` of a number that lies in the middle: it went down."""
    for site, call in facts.all(ast.Call):
        if called(call) != "round" or not isinstance(call.func, ast.Name) or len(call.args) != 1:
            continue
        for visit in facts.visits(site):
            number, gave = facts.value(call.args[0], visit), facts.value(call, visit)
            if (
                type(number) is float
                and type(gave) is int
                and number - math.floor(number) == 0.5
                and gave == math.floor(number)
            ):
                check = Holds(f"round({ast.unparse(call.args[0])}) == {gave!r}", facts.frame(visit), visit)
                yield Sighting(
                    site.number,
                    0.6,
                    {"call": source(call), "number": shown(number), "gave": gave},
                    (Evidence(visit, f"{shown(number)} becomes {gave}.", (check,)),),
                )
                break


KIND = Kind(
    "half-to-even",
    "A half is rounded to the even number",
    "“{call}” at line {line} made {gave} of {number}: Python rounds a half to the even number beside it. Should it be"
    " rounded up?",
    "a number that lies in the middle between two was rounded down",
    "middling",
    """\
grams = 2.5
print(round(grams), "portions") #!
""",
    """\
grams = 2.6
print(round(grams), "portions")
""",
    find,
)
