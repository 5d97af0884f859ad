"""What one `if` stored, the next `if` or its `else` overwrites."""

from __future__ import annotations

import ast
from collections.abc import Iterator
from itertools import pairwise

from eelgrass.reading.clues.checks import Ran
from eelgrass.reading.clues.clue import Evidence, Kind, Sighting
from eelgrass.reading.clues.facts import Facts, shown
from eelgrass.reading.clues.patterns import is_constant, stored_name
from eelgrass.reading.clues.program_text import Site


def find(facts: Facts) -> Iterator[Sighting]:
    """Of each two `if`s in a row that store the same name: both stored it, and nothing read it in between."""
    for body in _blocks(facts):
        for one, other in pairwise(body):
            if isinstance(one, ast.If) and isinstance(other, ast.If):
                stores, again = _stores(one), _stores(other)
                for first in stores:
                    name = stored_name(first)
                    for second in (its for its in again if stored_name(its) == name):
                        yield from _told(facts, facts.site_of(first), facts.site_of(second), facts.site_of(other), name)


def _blocks(facts: Facts) -> Iterator[list[ast.stmt]]:
    """The blocks of the text, those of modules included."""
    for site in facts.sites:
        for body in (getattr(site.node, field, None) for field in ("body", "orelse", "finalbody")):
            if isinstance(body, list):
                yield body
    for number, function in enumerate(facts.trace.program.functions):
        if function.kind == "module":
            yield [its.node for its in facts.children(None, number)]


def _stores(node: ast.If) -> list[ast.stmt]:
    """The statements of the branches of a chain that store constants or texts."""
    own: list[ast.stmt] = [
        its for its in node.body if stored_name(its) and isinstance(its, ast.Assign) and is_constant(its.value)
    ]
    for its in node.orelse:
        own += _stores(its) if isinstance(its, ast.If) else []
        own += [its] if stored_name(its) and isinstance(its, ast.Assign) and is_constant(its.value) else []
    return own


def _told(facts: Facts, one: Site | None, other: Site | None, asking: Site | None, name: str) -> Iterator[Sighting]:
    if one is None or other is None or asking is None:
        return
    for visit in facts.visits(one):
        frame = facts.frame(visit)
        asked = facts.in_frame(asking, frame, visit, len(facts.trace.steps))[:1]
        again = facts.in_frame(other, frame, visit, len(facts.trace.steps))[:1]
        if not asked or not again or 0 <= facts.next_read(name, frame, visit) < again[0]:
            continue
        if again[0] - asked[0] > 4 or len(facts.in_frame(one, frame, visit + 1, again[0])):
            continue
        stored, then = (facts.asked(name, facts.after(its), frame) for its in (visit, again[0]))
        if stored == then:
            continue
        yield Sighting(
            asking.number,
            0.85,
            {
                "name": name,
                "stored": shown(stored),
                "then": shown(then),
                "first": one.node.lineno,
                "again": other.node.lineno,
            },
            (
                Evidence(visit, f"“{name}” becomes {shown(stored)}.", (Ran(one.number, visit),)),
                Evidence(
                    again[0], f"“{name}” becomes {shown(then)}; nothing has read it.", (Ran(other.number, again[0]),)
                ),
            ),
        )
        return


KIND = Kind(
    "overwritten-by-next",
    "Decided twice",
    "Line {first} made “{name}” {stored}; then the “if” at line {line} was asked as well, and line {again} made it "
    "{then} before anything read it. Should only one of them decide?",
    "two `if`s in a row store one name, both in one go, and nothing reads it in between",
    "strong",
    """\
metres = 40
if metres > 30:
    water = "high"
if metres > 2: #!
    water = "low"
else:
    water = "dry"
print(water)
""",
    """\
metres = 40
if metres > 30:
    water = "high"
elif metres > 2:
    water = "low"
else:
    water = "dry"
print(water)
""",
    find,
)
