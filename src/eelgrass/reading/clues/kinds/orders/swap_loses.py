"""An exchange of two values that loses one of them."""

from __future__ import annotations

import ast
from collections.abc import Iterator

from eelgrass.reading.clues.checks import Holds, Ran
from eelgrass.reading.clues.clue import Evidence, Kind, Sighting
from eelgrass.reading.clues.facts import UNKNOWN, Facts, shown
from eelgrass.reading.clues.program_text import Site


def find(facts: Facts) -> Iterator[Sighting]:
    """Of each `a = b` with `b = a` right behind it: they were different, and are equal now."""
    by_place: dict[tuple[int, str], list[tuple[Site, ast.Assign]]] = {}
    for site, node in facts.all(ast.Assign):
        if len(node.targets) == 1:
            by_place.setdefault((site.function, ast.unparse(node.targets[0])), []).append((site, node))
    for site, node in facts.all(ast.Assign):
        target = ast.unparse(node.targets[0])
        for other, again in by_place.get((site.function, ast.unparse(node.value)), []):
            is_behind = again.lineno == (node.end_lineno or node.lineno) + 1 and again.col_offset == node.col_offset
            if (
                is_behind
                and ast.unparse(again.value) == target
                and isinstance(node.value, (ast.Name, ast.Subscript, ast.Attribute))
            ):
                yield from _told(facts, site, node, other)


def _told(facts: Facts, site: Site, node: ast.Assign, other: Site) -> Iterator[Sighting]:
    one, two = ast.unparse(node.targets[0]), ast.unparse(node.value)
    for visit in facts.visits(site):
        frame = facts.frame(visit)
        before, kept = facts.asked(one, visit, frame), facts.asked(two, visit, frame)
        second = facts.after(visit)
        if before is UNKNOWN or kept is UNKNOWN or before == kept or second >= len(facts.trace.steps):
            continue
        yield Sighting(
            other.number,
            0.95,
            {"one": one, "two": two, "lost": shown(before), "kept": shown(kept), "first": node.lineno},
            (
                Evidence(visit, f"“{one}” is {shown(before)}, “{two}” is {shown(kept)}.", (Ran(site.number, visit),)),
                Evidence(
                    second,
                    f"Both are {shown(kept)}: {shown(before)} is gone.",
                    (Holds(f"({one}) == ({two})", frame, second),),
                ),
            ),
        )
        return


KIND = Kind(
    "swap-loses",
    "An exchange that loses one",
    "Line {first} makes “{one}” what “{two}” is, {kept}; line {line} wants to give “{two}” what “{one}” was, {lost}, "
    "but that is gone. Where could it be kept meanwhile?",
    "two assignments, one behind the other, that would exchange two values; the values were different, and are equal "
    "now",
    "strong",
    """\
near = 7
far = 3
near = far
far = near #!
print("near", near, "far", far)
""",
    """\
near = 7
far = 3
near, far = far, near
print("near", near, "far", far)
""",
    find,
)
