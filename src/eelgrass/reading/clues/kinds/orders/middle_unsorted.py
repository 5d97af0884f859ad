"""The middle of a list that is not in order, taken for its median; and a place found by halves in such a list."""

from __future__ import annotations

import ast
from collections.abc import Iterator

from eelgrass.reading.clues.checks import Holds
from eelgrass.reading.clues.clue import Evidence, Kind, Sighting
from eelgrass.reading.clues.facts import Facts, shown
from eelgrass.reading.clues.patterns import called, stored_name
from eelgrass.reading.clues.program_text import Site


def find(facts: Facts) -> Iterator[Sighting]:
    """Of each element at half the length that is called a median, and each call of `bisect`: the list is not sorted."""
    for site, name in _looked_into(facts):
        for visit in facts.visits(site, 6):
            held, frame = facts.asked(name, visit, facts.frame(visit)), facts.frame(visit)
            if not isinstance(held, list) or len(held) < 3 or {type(its) for its in held} - {int, float}:
                continue
            if held != sorted(held) and held != sorted(held, reverse=True):
                yield Sighting(
                    site.number,
                    0.85,
                    {"name": name, "values": shown(held)},
                    (
                        Evidence(
                            visit, f"“{name}” is {shown(held)}.", (Holds(f"sorted({name}) != {name}", frame, visit),)
                        ),
                    ),
                )
                break


def _looked_into(facts: Facts) -> Iterator[tuple[Site, str]]:
    """(statement, the list's name)."""
    for site, node in facts.all(ast.Subscript):
        function = facts.trace.program.functions[site.function].name
        if "median" not in (stored_name(site.node) + function).lower() or not isinstance(node.value, ast.Name):
            continue
        if (
            "// 2" in ast.unparse(node.slice)
            or "middle" in ast.unparse(node.slice)
            or "half" in ast.unparse(node.slice)
        ):
            yield site, node.value.id
    for site, call in facts.all(ast.Call):
        if called(call).startswith(("bisect", "insort")) and call.args and isinstance(call.args[0], ast.Name):
            yield site, call.args[0].id


KIND = Kind(
    "middle-unsorted",
    "The middle of what is not in order",
    "Line {line} looks into the middle of “{name}” as if it were in order: it is {values}. In which order should it "
    "be?",
    "the element at half the length is called a median, or `bisect` is used, and the list is not sorted",
    "strong",
    """\
def median(depths):
    return depths[len(depths) // 2] #!

print(median([9, 1, 4, 30, 2]))
""",
    """\
def median(depths):
    depths = sorted(depths)
    return depths[len(depths) // 2]

print(median([9, 1, 4, 30, 2]))
""",
    find,
)
