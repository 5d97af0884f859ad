"""`=+` where `+=` may be meant."""

from __future__ import annotations

import ast
from collections.abc import Iterator

from eelgrass.reading.clues.checks import Ran
from eelgrass.reading.clues.clue import Evidence, Kind, Sighting
from eelgrass.reading.clues.facts import UNKNOWN, Facts, shown
from eelgrass.reading.clues.patterns import stored_name


def find(facts: Facts) -> Iterator[Sighting]:
    """Of each `name =+ value`: the name had a value before, which is lost."""
    for site, node in facts.all(ast.Assign):
        name = stored_name(node)
        if not name or not isinstance(node.value, ast.UnaryOp) or not isinstance(node.value.op, (ast.UAdd, ast.USub)):
            continue
        lines = facts.recording.worked_lines.syntax.lines(site.number)
        written = lines[node.lineno - 1].encode()[: node.value.col_offset + 1].decode(errors="replace")
        sign = written[-2:]
        if sign not in ("=+", "=-"):
            continue
        for visit in facts.visits(site, 6):
            before = facts.asked(name, visit, facts.frame(visit))
            after = facts.asked(name, facts.after(visit), facts.frame(visit))
            if before is not UNKNOWN and before != after:
                yield Sighting(
                    site.number,
                    0.9 if sign == "=+" else 0.7,
                    {"name": name, "before": shown(before), "after": shown(after), "sign": sign},
                    (
                        Evidence(
                            visit,
                            f"“{name}” is {shown(before)}, and becomes {shown(after)}.",
                            (Ran(site.number, visit),),
                        ),
                    ),
                )
                break


KIND = Kind(
    "plus-behind",
    "Stored, not added",
    "“{sign}” at line {line} stores: “{name}” was {before} and became {after}, whatever it was. Was it meant to be "
    "counted on from what it was?",
    "a sign stands right behind `=`, and the name had another value before",
    "strong; less for a minus, which may belong to the number",
    """\
tagged = 0
for crabs in [4, 6, 3]:
    tagged =+ crabs #!
print("tagged:", tagged)
""",
    """\
tagged = 0
for crabs in [4, 6, 3]:
    tagged += crabs
print("tagged:", tagged)
""",
    find,
)
