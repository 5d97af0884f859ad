"""A text that cannot be made a number."""

from __future__ import annotations

import ast
from collections.abc import Iterator

from eelgrass.reading.clues.checks import Raised
from eelgrass.reading.clues.clue import Evidence, Kind, Sighting
from eelgrass.reading.clues.facts import Facts, shown
from eelgrass.reading.clues.patterns import called, number_in
from eelgrass.reading.clues.program_text import source


def find(facts: Facts) -> Iterator[Sighting]:
    """Of each ValueError of `int` or `float`: what the text was."""
    for path, visit in facts.failures:
        site = facts.site_at(visit) if path.type == "ValueError" else None
        if site is None or path.is_caught:
            continue
        for call in (
            its
            for its in ast.walk(site.node)
            if isinstance(its, ast.Call) and called(its) in ("int", "float") and its.args
        ):
            text = facts.value(call.args[0], visit)
            if type(text) is not str:
                continue
            what = (
                "it has a fraction"
                if number_in(text) is not None
                else "it is empty"
                if not text.strip()
                else "not all of it is a number"
            )
            yield Sighting(
                site.number,
                0.8,
                {"call": source(call), "text": shown(text), "what": what},
                (Evidence(path.stations[0].step, f"The text is {shown(text)}.", (Raised(path.stations[0].step),)),),
            )
            break


KIND = Kind(
    "not-a-number",
    "A text that is no number",
    "“{call}” at line {line} was given the text {text}: {what}. What should happen with such a text?",
    "a ValueError of `int` or `float` that nothing caught, with the text",
    "strong",
    """\
lines = ["12 crabs", "7 crabs"]
total = 0
for line in lines:
    total += int(line) #!
print(total)
""",
    """\
lines = ["12 crabs", "7 crabs"]
total = 0
for line in lines:
    total += int(line.split()[0])
print(total)
""",
    find,
)
