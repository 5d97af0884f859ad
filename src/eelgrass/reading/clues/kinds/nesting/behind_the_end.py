"""A statement that nothing can reach, behind one that leaves."""

from __future__ import annotations

import ast
from collections.abc import Iterator
from itertools import pairwise

from eelgrass.reading.clues.checks import NeverRan, Ran
from eelgrass.reading.clues.clue import Evidence, Kind, Sighting
from eelgrass.reading.clues.facts import Facts


def find(facts: Facts) -> Iterator[Sighting]:
    """Of each `return`, `break`, `continue` or `raise` that ran: the statement behind it in its block, which never
    did."""
    for site in facts.sites:
        for body in (getattr(site.node, field, None) for field in ("body", "orelse", "finalbody")):
            for before, behind in pairwise(body if isinstance(body, list) else []):
                leaves, missed = facts.site_of(before), facts.site_of(behind)
                if leaves is None or missed is None or facts.times(missed):
                    continue
                if isinstance(before, (ast.Return, ast.Break, ast.Continue, ast.Raise)) and facts.times(leaves):
                    visit = facts.visits(leaves, 2)[0]
                    checks = (Ran(leaves.number, visit), NeverRan(missed.number))
                    yield Sighting(
                        missed.number,
                        0.75,
                        {"what": type(before).__name__.lower(), "leaves": before.lineno},
                        (Evidence(visit, f"The “{type(before).__name__.lower()}” leaves.", checks),),
                    )


KIND = Kind(
    "behind-the-end",
    "Behind the end",
    "Line {line} never ran, and cannot: the “{what}” at line {leaves} stands before it in the same block. Which of "
    "them should come first?",
    "a statement that leaves ran, and the one behind it in the same block never did",
    "strong",
    """\
def litres(grams):
    return grams / 1000
    print("worked out") #!
print(litres(2500))
""",
    """\
def litres(grams):
    if grams < 0:
        return 0
    print("worked out")
    return grams / 1000
print(litres(2500))
""",
    find,
)
