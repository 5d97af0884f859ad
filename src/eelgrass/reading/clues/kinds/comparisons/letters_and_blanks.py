"""Texts that are equal but for capitals and blanks."""

from __future__ import annotations

import ast
from collections.abc import Iterator

from eelgrass.reading.clues.checks import Holds
from eelgrass.reading.clues.clue import Evidence, Kind, Sighting
from eelgrass.reading.clues.comparisons import comparisons
from eelgrass.reading.clues.facts import Facts, shown
from eelgrass.reading.clues.program_text import Site, source


def find(facts: Facts) -> Iterator[Sighting]:
    """Of each `==`, `!=`, `in` or `not in` of texts, and of each key that is not there: another one is nearly equal."""
    for its in comparisons(facts, ast.Eq, ast.NotEq, ast.In, ast.NotIn):
        others = list(its.right)[:200] if isinstance(its.right, (list, tuple, set, dict)) else [its.right]
        is_equality = isinstance(its.node.ops[0], (ast.Eq, ast.NotEq))
        near = next((other for other in others if is_near(its.left, other)), None)
        if near is None or its.left in others or (is_equality and isinstance(its.right, (list, tuple, set, dict))):
            continue
        if not is_equality and isinstance(its.right, str):
            continue
        check = Holds(f"{its.left_text} != {near!r}", facts.frame(its.visit), its.visit)
        yield _told(its.site, its.visit, source(its.node), its.left, near, check, is_equality)
    for path, visit in facts.failures:
        site = facts.site_at(visit)
        if path.type == "KeyError" and site is not None:
            yield from _missing_key(facts, site, visit)


def _missing_key(facts: Facts, site: Site, visit: int) -> Iterator[Sighting]:
    for node in (its for its in ast.walk(site.node) if isinstance(its, ast.Subscript)):
        key, held = facts.value(node.slice, visit), facts.value(node.value, visit)
        near = next((its for its in held if is_near(key, its)), None) if isinstance(held, dict) else None
        if near is not None and isinstance(held, dict) and key not in held:
            check = Holds(f"({ast.unparse(node.slice)}) != {near!r}", facts.frame(visit), visit)
            yield _told(site, visit, source(node), key, near, check, True)


def is_near(one: object, other: object) -> bool:
    """Whether two texts of more than one letter differ in capitals and blanks around them only."""
    if type(one) is not str or type(other) is not str or one == other or len(one.strip()) < 1:
        return False
    is_same_letters = one.strip() == other.strip()
    return one.strip().casefold() == other.strip().casefold() and (is_same_letters or len(one.strip()) > 1)


def _told(site: Site, visit: int, text: str, one: object, other: object, check: Holds, is_sure: bool) -> Sighting:
    blanks = str(one).strip() == str(other).strip()
    what = (
        "blanks or line ends around them"
        if blanks
        else "capitals"
        if str(one).strip() == str(one)
        else "capitals and blanks"
    )
    return Sighting(
        site.number,
        0.85 if is_sure or blanks else 0.7,
        {"test": text, "one": shown(one), "other": shown(other), "what": what},
        (Evidence(visit, f"{shown(one)} and {shown(other)} are not equal.", (check,)),),
    )


KIND = Kind(
    "capitals-and-blanks",
    "Equal but for capitals or blanks",
    "“{test}” at line {line} took {one} and {other} for different: they differ in {what} only. Should the text be "
    "prepared before it is compared?",
    "two texts that were compared, or looked up as a key, differ in capitals or in blanks around them only",
    "strong; a little less where one of several was looked for",
    """\
answer = input("Cast off? ")
if answer == "yes": #!
    print("cast off")
else:
    print("stay")
""",
    """\
answer = input("Cast off? ").strip().lower()
if answer == "yes":
    print("cast off")
else:
    print("stay")
""",
    find,
    ("Yes ",),
)
