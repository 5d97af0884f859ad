"""A key that a dictionary does not have."""

from __future__ import annotations

import ast
from collections.abc import Iterator

from eelgrass.reading.clues.checks import Holds, Raised
from eelgrass.reading.clues.clue import Evidence, Kind, Sighting
from eelgrass.reading.clues.facts import Facts, shown
from eelgrass.reading.clues.program_text import source


def find(facts: Facts) -> Iterator[Sighting]:
    """Of each KeyError that nothing caught: the key and what there is."""
    for path, visit in facts.failures:
        site = facts.site_at(visit) if path.type == "KeyError" else None
        if site is None or path.is_caught:
            continue
        for node in (its for its in ast.walk(site.node) if isinstance(its, ast.Subscript)):
            key, held = facts.value(node.slice, visit), facts.value(node.value, visit)
            if not isinstance(held, dict) or key in held:
                continue
            counts = isinstance(site.node, ast.AugAssign)
            what = "it is to be counted on from what is not there yet" if counts else f"there are {shown(list(held))}"
            check = Holds(f"({ast.unparse(node.slice)}) not in {ast.unparse(node.value)}", facts.frame(visit), visit)
            yield Sighting(
                site.number,
                0.8,
                {"part": source(node), "key": shown(key), "held": source(node.value), "what": what},
                (
                    Evidence(visit, f"{shown(key)} is not among the keys of “{source(node.value)}”.", (check,)),
                    Evidence(path.stations[0].step, "It is asked for.", (Raised(path.stations[0].step),)),
                ),
            )
            break


KIND = Kind(
    "key-not-there",
    "A key that is not there",
    "“{part}” at line {line} asks “{held}” for the key {key}, which it does not have: {what}. What should be there "
    "before?",
    "a KeyError that nothing caught, with the key",
    "strong",
    """\
counts = {}
for crab in ["shore", "spider", "shore"]:
    counts[crab] += 1 #!
print(counts)
""",
    """\
counts = {}
for crab in ["shore", "spider", "shore"]:
    counts[crab] = counts.get(crab, 0) + 1
print(counts)
""",
    find,
)
