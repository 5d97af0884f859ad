"""A loop inside of another that counts with the same name."""

from __future__ import annotations

import ast
from collections.abc import Iterator

from eelgrass.reading.clues.checks import Holds
from eelgrass.reading.clues.clue import Evidence, Kind, Sighting
from eelgrass.reading.clues.facts import Facts, shown


def find(facts: Facts) -> Iterator[Sighting]:
    """Of each loop inside of another of the same name: after the inner one, the name has another value than before."""
    for site, node in facts.all(ast.For):
        if not isinstance(node.target, ast.Name) or node.target.id == "_":
            continue
        outer = facts.loop_around(site)
        while outer is not None and not (
            isinstance(outer.node, ast.For) and _name(outer.node.target) == node.target.id
        ):
            outer = facts.loop_around(outer)
        for its in facts.rounds(site, 4) if outer is not None else ():
            name = node.target.id
            before, after = (facts.plain(facts.named(name, its.frame, step)) for step in (its.first, its.past))
            if (
                outer is not None
                and len(its.starts)
                and before != after
                and type(before) is type(after)
                and type(after) in (int, str)
            ):
                read = facts.next_read(name, its.frame, its.past - 1)
                yield Sighting(
                    site.number,
                    0.9 if read >= 0 and facts.inside_at(read, outer) else 0.7,
                    {"name": name, "outer": outer.node.lineno, "before": shown(before), "after": shown(after)},
                    (
                        Evidence(
                            its.first,
                            f"“{name}” is {shown(before)}.",
                            (Holds(f"{name} == {before!r}", its.frame, its.first),),
                        ),
                        Evidence(
                            its.past,
                            f"“{name}” is {shown(after)}.",
                            (Holds(f"{name} == {after!r}", its.frame, its.past),),
                        ),
                    ),
                )
                break


def _name(node: ast.expr) -> str:
    return node.id if isinstance(node, ast.Name) else ""


KIND = Kind(
    "same-name-inside",
    "Two loops, one name",
    "The loops at lines {outer} and {line} both count with “{name}”: it was {before} before the inner loop and is "
    "{after} after it. Should each have a name of its own?",
    "a loop inside of another stores into the other's name, which has another value afterwards",
    "strong where the name is read later in the same pass",
    """\
for day in range(2):
    for day in range(3): #!
        print("  reading", day)
    print("day", day)
""",
    """\
for day in range(2):
    for hour in range(3):
        print("  reading", hour)
    print("day", day)
""",
    find,
)
