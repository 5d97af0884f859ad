"""The None of a method that changes its list, kept instead of the list."""

from __future__ import annotations

import ast
from collections.abc import Iterator

from eelgrass.reading.clues.checks import Holds, Ran
from eelgrass.reading.clues.clue import Evidence, Kind, Sighting
from eelgrass.reading.clues.facts import Facts
from eelgrass.reading.clues.patterns import stored_name
from eelgrass.reading.clues.program_text import source
from eelgrass.reading.lines.call_values import gives_nothing


def find(facts: Facts) -> Iterator[Sighting]:
    """Of each `append`, `sort`, … whose result is stored, given back, printed or gone through."""
    for site, call in facts.all(ast.Call):
        if not isinstance(call.func, ast.Attribute) or (isinstance(site.node, ast.Expr) and site.node.value is call):
            continue
        for visit in facts.visits(site, 4):
            owner = facts.value(call.func.value, visit)
            if not gives_nothing(owner, call.func.attr) or facts.gave(visit).frame_called(call) is not None:
                continue
            name, frame = stored_name(site.node), facts.frame(visit)
            checks = (
                (Holds(f"{name} is None", frame, facts.after(visit)),)
                if name and facts.after(visit) < len(facts.trace.steps)
                else (Ran(site.number, visit),)
            )
            yield Sighting(
                site.number,
                0.95,
                {
                    "call": source(call),
                    "method": call.func.attr,
                    "owner": source(call.func.value),
                    "kind": type(owner).__name__,
                },
                (
                    Evidence(
                        facts.after(visit) if name and facts.after(visit) < len(facts.trace.steps) else visit,
                        "What it gave is None.",
                        checks,
                    ),
                ),
            )
            break


KIND = Kind(
    "changing-gives-nothing",
    "A method that changes, and gives nothing",
    "“{call}” at line {line} changes “{owner}” itself and gives None, and the None is what is kept. Which of the two "
    "was wanted?",
    "the result of a method that changes its container and gives nothing is stored, given back or worked with",
    "strong",
    """\
names = ["reef", "pier", "cove"]
names = names.sort() #!
print(names)
""",
    """\
names = ["reef", "pier", "cove"]
names.sort()
print(names)
""",
    find,
)
