"""A container that is changed while a loop goes through it."""

from __future__ import annotations

import ast
from collections.abc import Iterator
from typing import Any

from eelgrass.reading.clues.checks import Changed, Over, Ran, worth
from eelgrass.reading.clues.clue import Evidence, Kind, Sighting
from eelgrass.reading.clues.facts import UNKNOWN, Facts, Round, shown
from eelgrass.reading.clues.patterns import called, changes, length_of, range_of
from eelgrass.reading.clues.program_text import Site

_SHORTER = ("remove", "pop", "insert", "popitem", "discard", "clear")


def find(facts: Facts) -> Iterator[Sighting]:
    """Of each loop through a name whose body takes out of it or puts in at the front: what was skipped."""
    for loop, node in facts.all(ast.For):
        sequence = _gone_through(node)
        inside = facts.all_in(loop) if sequence else []
        taking = [its for its in inside if _takes(its.node, sequence)]
        for its in facts.rounds(loop) if taking else ():
            yield from _of_round(facts, its, sequence, taking)
    for path, visit in facts.failures:
        if path.type == "RuntimeError" and "changed size" in path.message:
            site = facts.site_at(visit)
            if site is not None and isinstance(site.node, ast.For):
                yield Sighting(
                    site.number,
                    0.9,
                    {
                        "sequence": ast.unparse(site.node.iter),
                        "at": site.node.lineno,
                        "what": "has another size than before",
                    },
                    (Evidence(visit, "The next element is to be taken.", (Ran(site.number, visit),)),),
                )


def _gone_through(node: ast.For) -> str:
    """The name that a loop goes through, itself or by its places."""
    its = node.iter
    if called(its) in ("enumerate", "reversed") and isinstance(its, ast.Call) and its.args:
        if called(its) == "reversed":
            return ""
        its = its.args[0]
    if isinstance(its, ast.Name):
        return its.id
    arguments = range_of(node)
    return length_of(arguments[-1]) if arguments and len(arguments) <= 2 else ""


def _takes(node: ast.stmt, sequence: str) -> bool:
    if isinstance(node, (ast.If, ast.For, ast.While, ast.With, ast.Try)) or not changes(node, sequence):
        return False
    if isinstance(node, ast.Delete):
        return True
    return any(called(its) in _SHORTER for its in ast.walk(node) if isinstance(its, ast.Call))


def _of_round(facts: Facts, its: Round, sequence: str, taking: list[Site]) -> Iterator[Sighting]:
    before: Any = facts.asked(sequence, its.first, its.frame)
    number = facts.object_named(sequence, its.frame, its.first)
    visits = sorted(visit for site in taking for visit in facts.in_frame(site, its.frame, its.first, its.past + 1))
    if number is None or not isinstance(before, list) or not visits:
        return
    changing = next((v for v in visits if facts.trace.histories.written_inside(number, v, facts.after(v))), -1)
    if changing < 0 or (facts.ended_early(its) and not facts.ended_by_exception(its)):
        return
    passes = len(its.starts)
    left_out = max(len(before) - passes, 0)
    if (
        not left_out
        and facts.asked(sequence, its.past, its.frame) is not UNKNOWN
        and _all_were_seen(facts, its, before)
    ):
        return
    site = facts.site_at(changing)
    if site is not None:
        what = f"of {len(before)} elements, {passes} were looked at"
        yield Sighting(
            site.number,
            0.9,
            {"sequence": sequence, "at": its.loop.node.lineno, "what": what},
            (
                Evidence(its.first, f"“{sequence}” is {shown(before)}.", worth(sequence, before, its.frame, its.first)),
                Evidence(changing, f"“{sequence}” is changed.", (Changed(number, changing, facts.after(changing)),)),
                Evidence(
                    its.past,
                    f"After {passes} passes, the loop is over.",
                    (Over(its.loop.number, its.first, its.past, passes),),
                ),
            ),
        )


def _all_were_seen(facts: Facts, its: Round, before: list[Any]) -> bool:
    node = its.loop.node
    if not isinstance(node, ast.For) or not isinstance(node.target, ast.Name) or range_of(node):
        return True
    seen = [facts.asked(node.target.id, facts.after(step), its.frame) for step in its.starts.tolist()]
    return seen[: len(before)] == before


KIND = Kind(
    "changed-meanwhile",
    "Changed while it is gone through",
    "Line {line} changes “{sequence}” while the loop at line {at} goes through it: {what}. Should the loop go through"
    " something that stays as it is?",
    "a loop's body takes elements out of what the loop goes through, and elements were passed over, or Python refused"
    " to go on",
    "strong",
    """\
readings = [3, -1, -1, 5]
for reading in readings:
    if reading < 0:
        readings.remove(reading) #!
print(readings)
""",
    """\
readings = [3, -1, -1, 5]
for reading in readings[:]:
    if reading < 0:
        readings.remove(reading)
print(readings)
""",
    find,
)
