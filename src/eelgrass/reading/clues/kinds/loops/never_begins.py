"""A counted loop that has no passes."""

from __future__ import annotations

import ast
from collections.abc import Iterator

from eelgrass.reading.clues.checks import NeverRan, Ran
from eelgrass.reading.clues.clue import Evidence, Kind, Sighting
from eelgrass.reading.clues.facts import Facts
from eelgrass.reading.clues.patterns import range_of
from eelgrass.reading.clues.program_text import source


def find(facts: Facts) -> Iterator[Sighting]:
    """Of each loop over a range whose step leads away from its end: it never has a pass."""
    for site, node in facts.all(ast.For):
        arguments = range_of(node)
        body = facts.site_of(node.body[0])
        if len(arguments) < 1 or body is None or not facts.times(site) or facts.times(body):
            continue
        visit = facts.visits(site)[0]
        values = [facts.value(its, visit) for its in arguments]
        if not all(type(its) is int for its in values):
            continue
        start, end, by = (0, *values, 1) if len(values) == 1 else (*values, 1)[:3]
        if (end - start) * by < 0:
            yield Sighting(
                site.number,
                0.85,
                {"range": source(node.iter), "start": start, "end": end, "by": f"{by:+d}"},
                (Evidence(visit, "The loop begins, and is over.", (Ran(site.number, visit), NeverRan(body.number))),),
            )


KIND = Kind(
    "never-begins",
    "A loop without passes",
    "The loop at line {line} never had a pass: “{range}” begins at {start} and goes by {by}, away from {end}. Which "
    "way should it count?",
    "a loop over a range that leads away from its end, none of whose passes ever ran",
    "strong",
    """\
for minute in range(5, 0): #!
    print(minute, "to high water")
print("high water")
""",
    """\
for minute in range(5, 0, -1):
    print(minute, "to high water")
print("high water")
""",
    find,
)
