"""A function that gives nothing back, though its caller makes something of it."""

from __future__ import annotations

import ast
from collections.abc import Iterator

from eelgrass.reading.clues.checks import GaveNothing, Ran
from eelgrass.reading.clues.clue import Evidence, Kind, Sighting
from eelgrass.reading.clues.facts import Facts
from eelgrass.reading.clues.results import OwnCall, is_used, returned_calls, returns_in


def find(facts: Facts) -> Iterator[Sighting]:
    """Of each function without a `return` of a value: its None was used."""
    for its in returned_calls(facts):
        function = its.function
        if not its.gave_nothing or not is_used(its) or returns_in(facts, function):
            continue
        definition = facts.definition_of(function)
        if definition is None or _is_empty(definition.node) or _is_passed_on(its):
            continue
        name = facts.trace.program.functions[function].name
        last = int(facts.trace.frames.last[its.frame])
        yield Sighting(
            definition.number,
            0.9,
            {"function": name, "call": its.site.node.lineno},
            (
                Evidence(
                    its.visit,
                    f"“{name}” is called, and something is to be made of what it gives.",
                    (Ran(its.site.number, its.visit),),
                ),
                Evidence(last, f"“{name}” ends and gives None.", (GaveNothing(its.frame),)),
            ),
        )


def _is_empty(node: ast.stmt) -> bool:
    """Whether a function only stands for one that is still to come."""
    body = getattr(node, "body", [])
    return all(
        isinstance(its, ast.Pass) or (isinstance(its, ast.Expr) and isinstance(its.value, ast.Constant)) for its in body
    )


def _is_passed_on(its: OwnCall) -> bool:
    """Whether the None of a call is only passed on as the result of another, or tested."""
    node = its.site.node
    if isinstance(node, ast.Return) and node.value is its.call:
        return True
    return isinstance(node, (ast.If, ast.While)) and "None" in ast.unparse(node.test)


KIND = Kind(
    "gives-nothing",
    "Nothing is given back",
    "“{function}” (line {line}) has no “return” with a value: line {call} calls it and gets None. What should it give"
    " back?",
    "a function that never returns a value was called where something is made of its result",
    "strong",
    """\
def average(depths): #!
    result = sum(depths) / len(depths)
    print(result)

print("average:", average([4, 6, 8]))
""",
    """\
def average(depths):
    result = sum(depths) / len(depths)
    return result

print("average:", average([4, 6, 8]))
""",
    find,
)
