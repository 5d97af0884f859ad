"""A condition that cannot be false, or cannot be true."""

from __future__ import annotations

import ast
from collections.abc import Iterator

from eelgrass.reading.clues.checks import Ran
from eelgrass.reading.clues.clue import Evidence, Kind, Sighting
from eelgrass.reading.clues.facts import Facts
from eelgrass.reading.clues.program_text import source

_BELOW, _ABOVE = (ast.Lt, ast.LtE), (ast.Gt, ast.GtE)


def find(facts: Facts) -> Iterator[Sighting]:
    """Of each `x != a or x != b`, `x == a and x == b`, `x < a and x > b` that has only one outcome, and had it."""
    for site, node in facts.all(ast.BoolOp):
        pairs = [_one_sided(its) for its in node.values]
        if len(pairs) != 2 or None in pairs or not isinstance(site.node, (ast.If, ast.While)):
            continue
        (left, op, value), (other, other_op, other_value) = (its for its in pairs if its is not None)
        if left != other or value == other_value:
            continue
        outcome = _outcome(node, (op, value), (other_op, other_value))
        visits = facts.visits(site)
        if outcome is None or not visits or any(facts.value(node, its) is not outcome for its in visits):
            continue
        yield Sighting(
            site.number,
            0.95,
            {"test": source(node), "left": left, "outcome": "true" if outcome else "false"},
            (Evidence(visits[0], f"It is {'true' if outcome else 'false'}.", (Ran(site.number, visits[0]),)),),
        )


def _one_sided(node: ast.expr) -> tuple[str, ast.cmpop, object] | None:
    if isinstance(node, ast.Compare) and len(node.ops) == 1 and isinstance(node.comparators[0], ast.Constant):
        return ast.unparse(node.left), node.ops[0], node.comparators[0].value
    return None


def _outcome(node: ast.BoolOp, one: tuple[ast.cmpop, object], other: tuple[ast.cmpop, object]) -> bool | None:
    """The only outcome that a condition about one thing can have; None where it can have both."""
    (op, value), (other_op, other_value) = one, other
    is_or = isinstance(node.op, ast.Or)
    if isinstance(op, ast.NotEq) and isinstance(other_op, ast.NotEq):
        return True if is_or else None
    if isinstance(op, ast.Eq) and isinstance(other_op, ast.Eq):
        return None if is_or else False
    if type(value) not in (int, float) or type(other_value) not in (int, float):
        return None
    low, high = float(value), float(other_value)  # type: ignore[arg-type]  # both are numbers
    if isinstance(op, _ABOVE) and isinstance(other_op, _BELOW):
        low, high, op, other_op = high, low, other_op, op
    if not (isinstance(op, _BELOW) and isinstance(other_op, _ABOVE)):
        return None
    # x below `low` and above `high`
    if is_or:
        return True if high < low else None
    return False if high >= low else None


KIND = Kind(
    "never-both",
    "Always the same outcome",
    "“{test}” at line {line} was {outcome}, and would be for every “{left}”. Which of the values should it tell apart?",
    "two comparisons of one thing, joined so that they have one outcome only; the run had no other",
    "strong",
    """\
for wind in ["north", "west", "east"]:
    if wind != "north" or wind != "west": #!
        print(wind, "no ferry")
""",
    """\
for wind in ["north", "west", "east"]:
    if wind != "north" and wind != "west":
        print(wind, "no ferry")
""",
    find,
)
