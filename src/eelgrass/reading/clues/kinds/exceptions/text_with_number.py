"""A calculation with a text that is written like a number."""

from __future__ import annotations

import ast
from collections.abc import Iterator

from eelgrass.reading.clues.checks import Raised, Ran, worth
from eelgrass.reading.clues.clue import Evidence, Kind, Sighting
from eelgrass.reading.clues.facts import Facts, shown
from eelgrass.reading.clues.patterns import called
from eelgrass.reading.clues.program_text import source


def find(facts: Facts) -> Iterator[Sighting]:
    """Of each TypeError: an operator between a number and a text."""
    for path, visit in facts.failures:
        site = facts.site_at(visit) if path.type == "TypeError" else None
        if site is None:
            continue
        for left, right in _pairs(site.node):
            one, other = facts.value(left, visit), facts.value(right, visit)
            text, number = (one, other) if isinstance(one, str) else (other, one)
            if type(text) is not str or type(number) not in (int, float):
                continue
            which = left if isinstance(one, str) else right
            yield Sighting(
                site.number,
                0.9,
                {
                    "which": source(which),
                    "text": shown(text),
                    "number": shown(number),
                    "other": source(right if which is left else left),
                },
                (
                    Evidence(
                        visit,
                        f"“{source(which)}” is the text {shown(text)}.",
                        worth(ast.unparse(which), text, facts.frame(visit), visit)
                        if isinstance(which, (ast.Name, ast.Attribute, ast.Subscript))
                        else (Ran(site.number, visit),),
                    ),
                    Evidence(path.stations[0].step, "They do not go together.", (Raised(path.stations[0].step),)),
                ),
            )
            break


def _pairs(node: ast.stmt) -> Iterator[tuple[ast.expr, ast.expr]]:
    if isinstance(node, ast.AugAssign):
        yield (
            ast.copy_location(ast.Name(node.target.id, ast.Load()), node.target)
            if isinstance(node.target, ast.Name)
            else node.target,
            node.value,
        )
    for its in ast.walk(node):
        if isinstance(its, ast.BinOp):
            yield its.left, its.right
        elif isinstance(its, ast.Compare) and len(its.ops) == 1:
            yield its.left, its.comparators[0]
        elif isinstance(its, ast.Call) and called(its) == "range" and its.args:
            yield its.args[-1], ast.Constant(0)


KIND = Kind(
    "text-with-number",
    "A text among numbers",
    "At line {line}, “{which}” is the text {text}, not a number, and “{other}” is {number}: Python does not put the "
    "two together. Which of them should be what the other is?",
    "a TypeError of an operator between a number and a text",
    "strong",
    """\
aboard = input("Aboard? ")
free = 12 - aboard #!
print("free:", free)
""",
    """\
aboard = int(input("Aboard? "))
free = 12 - aboard
print("free:", free)
""",
    find,
    ("5",),
)
