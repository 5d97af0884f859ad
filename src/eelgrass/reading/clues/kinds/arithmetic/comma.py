"""A comma that makes several of one."""

from __future__ import annotations

import ast
from collections.abc import Iterator

from eelgrass.reading.clues.checks import Holds
from eelgrass.reading.clues.clue import Evidence, Kind, Sighting
from eelgrass.reading.clues.facts import UNKNOWN, Facts, shown
from eelgrass.reading.clues.patterns import stored_name


def find(facts: Facts) -> Iterator[Sighting]:
    """Of each `name = a,` and `name = 3,50` without brackets."""
    for site, node in facts.all(ast.Assign):
        name = stored_name(node)
        if not name or not isinstance(node.value, ast.Tuple) or not node.value.elts:
            continue
        lines = facts.recording.worked_lines.syntax.lines(site.number)
        if lines[node.value.lineno - 1].encode()[node.value.col_offset : node.value.col_offset + 1] == b"(":
            continue
        parts = node.value.elts
        is_number = len(parts) == 2 and all(isinstance(its, ast.Constant) and type(its.value) is int for its in parts)
        if len(parts) != 1 and not is_number:
            continue
        for visit in facts.visits(site, 2):
            frame, after = facts.frame(visit), facts.after(visit)
            value = facts.asked(name, after, frame)
            if value is not UNKNOWN and after < len(facts.trace.steps):
                yield Sighting(
                    site.number,
                    0.9 if len(parts) == 1 else 0.7,
                    {"name": name, "value": shown(value)},
                    (
                        Evidence(
                            after,
                            f"“{name}” is {shown(value)}.",
                            (Holds(f"len({name}) == {len(parts)}", frame, after),),
                        ),
                    ),
                )
                break


KIND = Kind(
    "comma",
    "A comma makes a tuple",
    "The comma at line {line} makes “{name}” a tuple: {value}. Was one value meant?",
    "a name gets a tuple without brackets: of one part, or of two whole numbers",
    "strong for one part; middling for two numbers",
    """\
litres = 2,50 #!
print(litres * 2)
""",
    """\
litres = 2.50
print(litres * 2)
""",
    find,
)
