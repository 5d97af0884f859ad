"""Texts of digits that are ordered as words."""

from __future__ import annotations

import ast
from collections.abc import Iterator
from typing import Any

from eelgrass.reading.clues.checks import Holds
from eelgrass.reading.clues.clue import Evidence, Kind, Sighting
from eelgrass.reading.clues.comparisons import comparisons
from eelgrass.reading.clues.facts import Facts, shown
from eelgrass.reading.clues.patterns import called, number_in
from eelgrass.reading.clues.program_text import source

_SIGNS = {ast.Lt: "<", ast.Gt: ">", ast.LtE: "<=", ast.GtE: ">="}


def find(facts: Facts) -> Iterator[Sighting]:
    """Of each comparison by size, `max`, `min`, `sorted` or `sort` of texts of digits: numbers would have come
    otherwise."""
    for its in comparisons(facts, *_SIGNS):
        one, other = number_in(its.left), number_in(its.right)
        sign = _SIGNS[type(its.node.ops[0])]
        if one is not None and other is not None and its.result is not _as_numbers(sign, one, other):
            check = Holds(
                f"({its.left_text} {sign} {its.right_text}) is {its.result!r}", facts.frame(its.visit), its.visit
            )
            yield Sighting(
                its.site.number,
                0.95,
                {"test": source(its.node), "what": f"{shown(its.left)} {sign} {shown(its.right)} is {its.result}"},
                (Evidence(its.visit, f"{shown(its.left)} and {shown(its.right)} are texts.", (check,)),),
            )
    for site, call in facts.all(ast.Call):
        held = _put_in_order(call)
        for visit in facts.visits(site, 6) if held is not None else ():
            texts: Any = facts.value(held, visit) if held is not None else None
            if isinstance(texts, (list, tuple, set)) and _comes_otherwise(called(call), list(texts)):
                by_text = sorted(texts)
                check = Holds(f"sorted({ast.unparse(held or call)}) == {by_text!r}", facts.frame(visit), visit)
                yield Sighting(
                    site.number,
                    0.95,
                    {"test": source(call), "what": f"{shown(by_text[0])} comes first, {shown(by_text[-1])} last"},
                    (Evidence(visit, f"{shown(list(texts))} are texts.", (check,)),),
                )
                break


def _put_in_order(call: ast.Call) -> ast.expr | None:
    """What a call sorts, or looks for the largest or smallest of; None for any other call."""
    if call.keywords:
        return None
    if called(call) == "sort" and isinstance(call.func, ast.Attribute):
        return call.func.value
    return call.args[0] if called(call) in ("max", "min", "sorted") and len(call.args) == 1 else None


def _comes_otherwise(function: str, texts: list[Any]) -> bool:
    """Whether a function would give something else for the numbers that some texts are written like."""
    if len(texts) < 2 or any(number_in(text) is None for text in texts):
        return False
    by_text, by_number = sorted(texts), sorted(texts, key=lambda text: number_in(text) or 0.0)
    if function in ("max", "min"):
        place = -1 if function == "max" else 0
        return number_in(by_text[place]) != number_in(by_number[place])
    return by_text != by_number


def _as_numbers(sign: str, one: float, other: float) -> bool:
    return {"<": one < other, ">": one > other, "<=": one <= other, ">=": one >= other}[sign]


KIND = Kind(
    "numbers-as-texts",
    "Numbers ordered as words",
    "“{test}” at line {line} orders texts letter by letter: {what}. As numbers, it would have come out otherwise. "
    "Which of the two are they meant to be?",
    "texts that are written like numbers are compared by size or sorted, and numbers would have come in another order",
    "strong",
    """\
one = input("First gauge? ")
other = input("Second gauge? ")
if one > other: #!
    print("the first is higher")
else:
    print("the second is higher")
""",
    """\
one = int(input("First gauge? "))
other = int(input("Second gauge? "))
if one > other:
    print("the first is higher")
else:
    print("the second is higher")
""",
    find,
    ("9", "10"),
)
