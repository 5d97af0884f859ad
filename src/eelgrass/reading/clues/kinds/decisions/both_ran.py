"""What one `if` did, the `else` of the next one did as well."""

from __future__ import annotations

import ast
from collections.abc import Iterator

from eelgrass.reading.clues.checks import Ran
from eelgrass.reading.clues.clue import EITHER_WAY, Evidence, Kind, Sighting
from eelgrass.reading.clues.facts import Facts
from eelgrass.reading.clues.program_text import Site, source


def find(facts: Facts) -> Iterator[Sighting]:
    """Of each `if` without an `else`, right before one with branches: both ran something in one go."""
    for site, node in facts.all(ast.If):
        after = facts.neighbour(site, 1)
        if after is None or node.orelse or not isinstance(after.node, ast.If) or not after.node.orelse:
            continue
        body, arms = facts.site_of(node.body[0]), list(_first_of_arms(facts, after.node))
        for visit in facts.visits(body) if body is not None else ():
            frame = facts.frame(visit)
            asked = facts.in_frame(after, frame, visit, len(facts.trace.steps))[:1]
            behind = facts.after(asked[0]) if asked else -1
            ran = next(
                (its for its in arms if behind >= 0 and facts.in_frame(its, frame, behind, behind + _SOON)), None
            )
            if body is None or ran is None or len(facts.in_frame(site, frame, visit, asked[0])):
                continue  # the first `if` was asked again before the second one was
            then = facts.in_frame(ran, frame, behind, behind + _SOON)[0]
            yield Sighting(
                after.number,
                EITHER_WAY,
                {"first": site.node.lineno, "test": source(node.test), "then": ran.node.lineno},
                (
                    Evidence(visit, f"Line {body.node.lineno} runs.", (Ran(body.number, visit),)),
                    Evidence(then, f"Line {ran.node.lineno} runs as well.", (Ran(ran.number, then),)),
                ),
            )
            break


#: So many steps behind a decision, its branch has begun.
_SOON = 6


def _first_of_arms(facts: Facts, node: ast.If) -> Iterator[Site]:
    for arm in filter(None, (node.body, node.orelse)):
        site = facts.site_of(arm[0])
        if isinstance(arm[0], ast.If) and arm is node.orelse:
            yield from _first_of_arms(facts, arm[0])
        elif site is not None:
            yield site


KIND = Kind(
    "both-ran",
    "Two decisions in a row",
    "“{test}” at line {first} was true, and still the “if” at line {line} was asked, and line {then} ran as well. "
    "Should only one of the two decide?",
    "two `if`s in a row, of which the second has branches, both ran something in one go",
    "nothing by itself: many programs mean it",
    """\
for n in range(1, 6):
    told = []
    if n % 3 == 0:
        told.append("three")
    if n % 2 == 0: #!
        told.append("two")
    else:
        told.append(n)
    print(told)
""",
    """\
for n in range(1, 6):
    told = []
    if n % 3 == 0:
        told.append("three")
    elif n % 2 == 0:
        told.append("two")
    else:
        told.append(n)
    print(told)
""",
    find,
    is_seen_alone=False,
)
