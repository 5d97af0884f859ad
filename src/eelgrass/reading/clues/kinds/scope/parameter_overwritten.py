"""A parameter that gets another value before anybody has looked at what was handed over."""

from __future__ import annotations

import ast
from collections.abc import Iterator

from eelgrass.reading.clues.checks import Ran
from eelgrass.reading.clues.clue import Evidence, Kind, Sighting
from eelgrass.reading.clues.facts import UNKNOWN, Facts, shown
from eelgrass.reading.clues.patterns import mentions, stored_name


def find(facts: Facts) -> Iterator[Sighting]:
    """Of each parameter whose first use in the text of its function is a plain store: another value was handed over."""
    for number, function in enumerate(facts.trace.program.functions):
        for param in function.params if function.kind == "function" else ():
            uses = [*facts.stores(number, param), *facts.loads(number, param)]
            first = min(uses, key=lambda its: its.node.lineno, default=None)
            value = getattr(first.node, "value", None) if first is not None else None
            if first is None or stored_name(first.node) != param or value is None or mentions(value, param):
                continue
            if isinstance(first.node, ast.AugAssign):  # which reads it
                continue
            if facts.parent(first) is not None and facts.parent(first) not in facts.definitions:
                continue
            for visit in facts.visits(first, 6):
                frame = facts.frame(visit)
                handed, stored = (facts.asked(param, step, frame) for step in (visit, facts.after(visit)))
                if handed is not UNKNOWN and stored is not UNKNOWN and handed is not None and handed != stored:
                    yield Sighting(
                        first.number,
                        0.8,
                        {"param": param, "function": function.name, "handed": shown(handed), "stored": shown(stored)},
                        (
                            Evidence(
                                visit,
                                f"“{param}” is {shown(handed)}, and becomes {shown(stored)}.",
                                (Ran(first.number, visit),),
                            ),
                        ),
                    )
                    break


KIND = Kind(
    "parameter-overwritten",
    "What was handed over is not looked at",
    "Line {line} makes “{param}” {stored} before “{function}” has looked at what was handed over for it, {handed}. "
    "Which of the two should it work with?",
    "the first thing that a function does with a parameter is to store another value in it",
    "strong",
    """\
def fare(people):
    people = 2 #!
    return people * 4

print(fare(5))
""",
    """\
def fare(people):
    people = max(people, 1)
    return people * 4

print(fare(5))
""",
    find,
)
