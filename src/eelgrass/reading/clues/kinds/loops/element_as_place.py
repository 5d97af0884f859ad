"""An element that is used as the place of another."""

from __future__ import annotations

import ast
from collections.abc import Iterator

from eelgrass.reading.clues.checks import Holds
from eelgrass.reading.clues.clue import Evidence, Kind, Sighting
from eelgrass.reading.clues.facts import Facts, shown


def find(facts: Facts) -> Iterator[Sighting]:
    """Of each `sequence[name]` inside of `for name in sequence`: the name is an element, not a place."""
    for site, node in facts.all(ast.Subscript):
        loop = facts.loop_around(site)
        while loop is not None and not _goes_through(loop.node, node):
            loop = facts.loop_around(loop)
        if loop is None or not isinstance(node.slice, ast.Name) or not isinstance(node.value, ast.Name):
            continue
        for visit in facts.visits(site, 4):
            element, held = facts.value(node.slice, visit), facts.value(node.value, visit)
            if type(element) is int and isinstance(held, list) and element in held:
                size, frame = len(held), facts.frame(visit)
                check = Holds(f"{node.slice.id} in {node.value.id}", frame, visit)
                yield Sighting(
                    site.number,
                    0.85,
                    {
                        "name": node.slice.id,
                        "sequence": node.value.id,
                        "value": shown(element),
                        "part": ast.unparse(node),
                    }
                    | {"loop": loop.node.lineno},
                    (Evidence(visit, f"“{node.slice.id}” is {element}; the list has {size} elements.", (check,)),),
                )
                break


def _goes_through(loop: ast.stmt, node: ast.Subscript) -> bool:
    return (
        isinstance(loop, ast.For)
        and isinstance(loop.target, ast.Name)
        and isinstance(node.slice, ast.Name)
        and loop.target.id == node.slice.id
        and isinstance(node.value, ast.Name)
        and isinstance(loop.iter, ast.Name)
        and loop.iter.id == node.value.id
    )


KIND = Kind(
    "element-as-place",
    "An element used as a place",
    "“{name}” is an element of “{sequence}” (line {loop}), here {value}; “{part}” at line {line} uses it as a place "
    "in the same list. Is it meant as the element or as its place?",
    "inside of a loop over a list, the list is asked for the place that the element's value is",
    "strong",
    """\
counts = [2, 0, 1]
total = 0
for count in counts:
    total += counts[count] #!
print(total)
""",
    """\
counts = [2, 0, 1]
total = 0
for place in range(len(counts)):
    total += counts[place]
print(total)
""",
    find,
)
