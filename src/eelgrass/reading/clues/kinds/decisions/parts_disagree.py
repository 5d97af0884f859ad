"""Two conditions joined by `and` or `or`, of which only one was true: the other word would have decided otherwise."""

from __future__ import annotations

import ast
from collections.abc import Iterator

from eelgrass.reading.clues.checks import Ran, part_worth
from eelgrass.reading.clues.clue import EITHER_WAY, Evidence, Kind, Sighting
from eelgrass.reading.clues.facts import UNKNOWN, Facts
from eelgrass.reading.clues.program_text import source


def find(facts: Facts) -> Iterator[Sighting]:
    """Of each `and` and `or` of comparisons: the first visit at which one part was true and another was not."""
    for site, node in facts.all(ast.BoolOp):
        if not all(isinstance(its, (ast.Compare, ast.Name, ast.BoolOp, ast.UnaryOp)) for its in node.values):
            continue
        for visit in facts.visits(site, 6):
            parts = [facts.value(its, visit) for its in node.values]
            truths = [bool(its) for its in parts if its is not UNKNOWN]
            if len(truths) < len(parts) or len(set(truths)) < 2:
                continue
            places = [truths.index(its) for its in (True, False)]
            yes, no = (ast.unparse(node.values[its]) for its in places)
            checks = [
                check for its in places for check in part_worth(node.values[its], parts[its], facts.frame(visit), visit)
            ]
            is_or = isinstance(node.op, ast.Or)
            yield Sighting(
                site.number,
                EITHER_WAY,
                {"test": source(node), "yes": yes, "no": no, "word": "or" if is_or else "and"}
                | {"outcome": "true" if is_or else "false"},
                (Evidence(visit, f"“{yes}” is true, “{no}” is not.", (Ran(site.number, visit), *checks)),),
            )
            break


KIND = Kind(
    "parts-disagree",
    "One of two conditions",
    "At line {line}, “{yes}” was true and “{no}” was not; joined by “{word}”, they are {outcome}. Should one of them "
    "be enough, or are both needed?",
    "of conditions joined by `and` or `or` one was true and one false",
    "nothing by itself: the run cannot say what was meant",
    """\
for wind, wave in [(3, 0.5), (8, 0.4), (9, 2.5)]:
    if wind > 6 or wave > 1: #!
        print("the ferry stays in")
    else:
        print("the ferry leaves")
""",
    """\
for wind, wave in [(3, 0.5), (8, 0.4), (9, 2.5)]:
    if wind > 6 and wave > 1:
        print("the ferry stays in")
    else:
        print("the ferry leaves")
""",
    find,
    is_seen_alone=False,
)
