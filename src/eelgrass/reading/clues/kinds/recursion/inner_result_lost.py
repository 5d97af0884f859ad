"""A function that calls itself and does not make anything of what the inner call gave."""

from __future__ import annotations

import ast
from collections.abc import Iterator

from eelgrass.reading.clues.checks import GaveNothing, Ran
from eelgrass.reading.clues.clue import Evidence, Kind, Sighting
from eelgrass.reading.clues.facts import Facts, shown
from eelgrass.reading.clues.results import returned_calls, returns_in


def find(facts: Facts) -> Iterator[Sighting]:
    """Of each call of itself that is a statement of its own: the inner call gave a value, the outer one None."""
    for its in returned_calls(facts):
        function = its.function
        outer = facts.frame(its.visit)
        if its.site.function != function or not isinstance(its.site.node, ast.Expr) or its.gave_nothing:
            continue
        value = int(facts.trace.frames.value[outer])
        inner = facts.plain(int(facts.trace.frames.value[its.frame]))
        if not returns_in(facts, function) or value < 0 or facts.trace.values.get(value) is not None:
            continue
        last = int(facts.trace.frames.last[outer])
        yield Sighting(
            its.site.number,
            0.95,
            {"function": facts.trace.program.functions[function].name, "inner": shown(inner)},
            (
                Evidence(its.visit, f"The inner call gives {shown(inner)}.", (Ran(its.site.number, its.visit),)),
                Evidence(last, "The outer one gives None.", (GaveNothing(outer),)),
            ),
        )


KIND = Kind(
    "inner-result-lost",
    "What the inner call gave is lost",
    "Line {line} calls “{function}” from inside of itself; the inner call gave {inner}, which goes nowhere, and the "
    "outer one gave None. What should become of the inner result?",
    "a function calls itself in a statement of its own; the inner call gave a value, the outer one gave None",
    "strong",
    """\
def steps_down(depth, steps):
    if depth <= 0:
        return steps
    steps_down(depth - 2, steps + 1) #!

print(steps_down(5, 0))
""",
    """\
def steps_down(depth, steps):
    if depth <= 0:
        return steps
    return steps_down(depth - 2, steps + 1)

print(steps_down(5, 0))
""",
    find,
)
