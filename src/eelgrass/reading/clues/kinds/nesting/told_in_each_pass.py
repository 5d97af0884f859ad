"""What a loop collects is printed in each of its passes."""

from __future__ import annotations

import ast
from collections.abc import Iterator

from eelgrass.reading.clues.checks import Printed
from eelgrass.reading.clues.clue import EITHER_WAY, Evidence, Kind, Sighting
from eelgrass.reading.clues.facts import Facts
from eelgrass.reading.clues.patterns import called, collects, mentions, stored_name
from eelgrass.reading.clues.program_text import Site


def find(facts: Facts) -> Iterator[Sighting]:
    """Of each `print` in the body of a loop that prints a name which the loop adds to or stores: its first two
    visits."""
    for site, node in facts.all(ast.Expr):
        loop = facts.loop_around(site)
        if loop is None or called(node.value) != "print" or facts.parent(site) is not loop:
            continue
        name = _collected(facts, loop, node)
        for its in facts.rounds(loop, 2) if name else ():
            visits = facts.all_in_frame(site, its.frame, its.first, its.past + 1).tolist()
            if len(visits) < 2:
                continue
            yield Sighting(
                site.number,
                EITHER_WAY,
                {"name": name, "times": len(visits), "passes": len(its.starts), "loop": loop.node.lineno},
                tuple(
                    Evidence(visit, "It is printed.", (Printed(visit, facts.printed(visit)),)) for visit in visits[:2]
                ),
            )
            break


def _collected(facts: Facts, loop: Site, node: ast.Expr) -> str:
    for its in facts.all_in(loop):
        name = stored_name(its.node)
        if name and mentions(node, name) and (collects(its.node, name) or isinstance(its.node, ast.Assign)):
            return name
    lists = {part.id for part in ast.walk(node) if isinstance(part, ast.Name)}
    return next((name for name in sorted(lists) for its in facts.all_in(loop) if collects(its.node, name)), "")


KIND = Kind(
    "told-in-each-pass",
    "Printed in each pass",
    "Line {line} prints “{name}” in {times} of {passes} passes of the loop at line {loop}, which is still at work on "
    "it. Should it be printed once, when the loop is over?",
    "a loop prints in its body what it collects",
    "nothing by itself: many programs mean it",
    """\
total = 0
for weight in [12, 30, 25]:
    total += weight
    print("grams:", total) #!
""",
    """\
total = 0
for weight in [12, 30, 25]:
    total += weight
print("grams:", total)
""",
    find,
    is_seen_alone=False,
)
