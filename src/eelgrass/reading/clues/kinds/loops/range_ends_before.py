"""A range that ends just before the number that was meant to be the last."""

from __future__ import annotations

import ast
from collections.abc import Iterator

from eelgrass.reading.clues.checks import Holds
from eelgrass.reading.clues.clue import Evidence, Kind, Sighting
from eelgrass.reading.clues.facts import Facts
from eelgrass.reading.clues.patterns import called, is_name, mentions, range_of
from eelgrass.reading.clues.program_text import source


def find(facts: Facts) -> Iterator[Sighting]:
    """Of each `for n in range(1, end)` that adds up, multiplies or prints `n` itself, whatever it is."""
    for site, node in facts.all(ast.For):
        arguments = range_of(node)
        if len(arguments) != 2 or not isinstance(arguments[0], ast.Constant) or arguments[0].value != 1:
            continue
        if not isinstance(arguments[1], ast.Name) or not isinstance(node.target, ast.Name):
            continue
        if not any(_uses(its, node.target.id) for its in node.body):
            continue
        for its in facts.rounds(site, 2):
            end = facts.value(arguments[1], its.first)
            if type(end) is int and len(its.starts) == end - 1 and end > 1 and not facts.ended_early(its):
                check = Holds(f"{node.target.id} == {end - 1}", its.frame, its.past)
                yield Sighting(
                    site.number,
                    0.55,
                    {"name": node.target.id, "end": source(arguments[1]), "value": end, "last": end - 1},
                    (Evidence(its.past, f"The last “{node.target.id}” was {end - 1}.", (check,)),),
                )
                break


def _uses(node: ast.stmt, name: str) -> bool:
    if isinstance(node, ast.AugAssign):
        return is_name(node.value, name)
    if isinstance(node, ast.Assign):
        return isinstance(node.value, ast.BinOp) and any(
            is_name(its, name) for its in (node.value.left, node.value.right)
        )
    return isinstance(node, ast.Expr) and called(node.value) == "print" and mentions(node, name)


KIND = Kind(
    "range-ends-before",
    "The end of a range is not in it",
    "At line {line}, “{name}” goes from 1 to {last}; “{end}” is {value}, and {value} itself does not come. Should it?",
    "a name goes from 1 to just before the value of another name, and each of its values counts",
    "middling: the run cannot say what was meant",
    """\
days = 4
total = 0
for day in range(1, days): #!
    total += day
print("crabs tagged in", days, "days:", total)
""",
    """\
days = 4
total = 0
for day in range(1, days + 1):
    total += day
print("crabs tagged in", days, "days:", total)
""",
    find,
)
