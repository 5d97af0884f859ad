"""`&` and `|` where `and` and `or` are meant."""

from __future__ import annotations

import ast
from collections.abc import Iterator

from eelgrass.parsing import parsed_expression
from eelgrass.reading.clues.checks import Holds
from eelgrass.reading.clues.clue import Evidence, Kind, Sighting
from eelgrass.reading.clues.facts import UNKNOWN, Facts, shown
from eelgrass.reading.clues.program_text import source

_WORDS: dict[type[ast.operator], tuple[str, str]] = {ast.BitAnd: ("&", "and"), ast.BitOr: ("|", "or")}


def find(facts: Facts) -> Iterator[Sighting]:
    """Of each comparison with `&` or `|` of numbers in it: it has another outcome than with `and` or `or`."""
    for site, node in facts.all(ast.Compare):
        signs = [
            _WORDS[type(its.op)] for its in ast.walk(node) if isinstance(its, ast.BinOp) and type(its.op) in _WORDS
        ]
        if not signs or len(node.ops) < 2 or not isinstance(site.node, (ast.If, ast.While)):
            continue
        sign, word = signs[0]
        text = ast.unparse(node)
        other = parsed_expression(text.replace(f" {sign} ", f" {word} "))
        for visit in facts.visits(site):
            is_, would = facts.value(node, visit), facts.value(other, visit)
            if is_ is not UNKNOWN and would is not UNKNOWN and bool(is_) is not bool(would):
                frame = facts.frame(visit)
                yield Sighting(
                    site.number,
                    0.9,
                    {"test": source(node), "sign": sign, "word": word, "is": shown(is_), "would": shown(would)},
                    (
                        Evidence(
                            visit, f"“{source(node)}” is {shown(is_)}.", (Holds(f"({text}) == {is_!r}", frame, visit),)
                        ),
                    ),
                )
                break


KIND = Kind(
    "single-and",
    "A sign between numbers",
    "“{sign}” in “{test}” at line {line} works on the numbers beside it before anything is compared: the result is "
    "{is}, where “{word}” would have given {would}. Which of the two is meant?",
    "a comparison with `&` or `|` in it, which gave another result than with `and` or `or`",
    "strong",
    """\
depth = 3
wind = 2
if depth > 3 & wind < 5: #!
    print("go")
else:
    print("stay")
""",
    """\
depth = 3
wind = 2
if depth > 3 and wind < 5:
    print("go")
else:
    print("stay")
if depth & 1 == 1:
    print("odd")
""",
    find,
)
