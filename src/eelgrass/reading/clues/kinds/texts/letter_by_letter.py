"""A text that is gone through letter by letter where its words or lines are meant."""

from __future__ import annotations

import ast
import re
from collections.abc import Iterator
from typing import Any

from eelgrass.reading.clues.checks import Holds
from eelgrass.reading.clues.clue import Evidence, Kind, Sighting
from eelgrass.reading.clues.facts import Facts, shown
from eelgrass.reading.clues.program_text import source

_LETTERS = re.compile(
    r"^(c|ch|char|chars|character|letter|letters|l|s|x|i|sign|symbol|digit|d|base|bit|z|key|ziffer)$", re.I
)
_FEWEST = 3


def find(facts: Facts) -> Iterator[Sighting]:
    """Of each loop over a text with blanks, commas or line ends in it whose name is not that of a letter."""
    for site, node in facts.all(ast.For):
        if (
            not isinstance(node.target, ast.Name)
            or _LETTERS.match(node.target.id)
            or "letter" in node.target.id.lower()
        ):
            continue
        for its in facts.rounds(site, 2):
            through: Any = facts.value(node.iter, its.first) if len(its.starts) else None
            if type(through) is not str or len(through) < _FEWEST or not re.search(r"\w[\s,;]\s*\w", through):
                continue
            inside = facts.after(int(its.starts[0]))
            first = facts.asked(node.target.id, inside, its.frame)
            check = Holds(f"len({node.target.id}) == 1", its.frame, inside)
            yield Sighting(
                site.number,
                0.75,
                {"name": node.target.id, "text": source(node.iter), "value": shown(through), "first": shown(first)},
                (Evidence(inside, f"“{node.target.id}” is {shown(first)}.", (check,)),),
            )
            break


KIND = Kind(
    "letter-by-letter",
    "Letter by letter",
    "The loop at line {line} goes through the text {value} letter by letter: “{name}” is {first} first. Is each word,"
    " number or line of it meant?",
    "a loop over a text with blanks or commas in it, by a name that is not that of a letter",
    "middling to strong",
    """\
places = "reef pier cove"
count = 0
for place in places: #!
    count += 1
print(count, "places")
""",
    """\
places = "reef pier cove"
count = 0
for place in places.split():
    count += 1
print(count, "places")
""",
    find,
)
