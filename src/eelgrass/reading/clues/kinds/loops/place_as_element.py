"""A place that is used instead of the element there."""

from __future__ import annotations

import ast
from collections.abc import Iterator

from eelgrass.reading.clues.checks import Holds
from eelgrass.reading.clues.clue import Evidence, Kind, Sighting
from eelgrass.reading.clues.facts import Facts, shown
from eelgrass.reading.clues.patterns import is_name, length_of, range_of
from eelgrass.reading.clues.program_text import Site


def find(facts: Facts) -> Iterator[Sighting]:
    """Of each loop over `range(len(sequence))` that never reads the sequence but works with the place itself."""
    for site, node in facts.all(ast.For):
        arguments = range_of(node)
        sequence = length_of(arguments[-1]) if arguments and len(arguments) <= 2 else ""
        if not sequence or not isinstance(node.target, ast.Name):
            continue
        inside = facts.all_in(site)
        if any(its in facts.loads(site.function, sequence) for its in inside):
            continue
        using = next((its for its in inside if _works_with(its.node, node.target.id)), None)
        if using is not None:
            yield from _told(facts, site, using, node.target.id, sequence)


def _works_with(node: ast.stmt, name: str) -> bool:
    """Whether a statement adds a plain name to another, compares it, or puts it into a list."""
    if isinstance(node, ast.AugAssign) or (isinstance(node, ast.Assign) and isinstance(node.value, ast.BinOp)):
        part = node.value
        return any(is_name(its, name) for its in [part, *ast.iter_child_nodes(part)])
    if isinstance(node, ast.If) and isinstance(node.test, ast.Compare):
        sides = [node.test.left, *node.test.comparators]
        others = [its for its in sides if isinstance(its, ast.Name) and its.id != name]
        return any(is_name(its, name) for its in sides) and bool(others)
    return False


def _told(facts: Facts, loop: Site, using: Site, name: str, sequence: str) -> Iterator[Sighting]:
    for visit in facts.visits(using, 6):
        frame = facts.frame(visit)
        place, held = facts.asked(name, visit, frame), facts.asked(sequence, visit, frame)
        if type(place) is int and isinstance(held, (list, tuple)) and place < len(held) and held[place] != place:
            check = Holds(f"{name} != {sequence}[{name}]", frame, visit)
            yield Sighting(
                using.number,
                0.8,
                {
                    "name": name,
                    "sequence": sequence,
                    "place": place,
                    "element": shown(held[place]),
                    "loop": loop.node.lineno,
                },
                (Evidence(visit, f"“{name}” is {place}, “{sequence}[{place}]” is {shown(held[place])}.", (check,)),),
            )
            return


KIND = Kind(
    "place-as-element",
    "A place used as an element",
    "“{name}” goes through the places of “{sequence}” (line {loop}); line {line} works with the place {place} itself,"
    " and “{sequence}” is not looked at in the loop, where {element} stands. Which of the two is meant?",
    "a loop over the places of a list adds or compares the place, and never reads the list",
    "strong",
    """\
weights = [12, 30, 25]
total = 0
for number in range(len(weights)):
    total = total + number #!
print("grams:", total)
""",
    """\
weights = [12, 30, 25]
total = 0
for number in range(len(weights)):
    total = total + weights[number]
print("grams:", total)
""",
    find,
)
