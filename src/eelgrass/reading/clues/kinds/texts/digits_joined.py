"""Digits that are joined, or repeated, where numbers would be worked with."""

from __future__ import annotations

import ast
from collections.abc import Iterator

from eelgrass.reading.clues.checks import Holds
from eelgrass.reading.clues.clue import Evidence, Kind, Sighting
from eelgrass.reading.clues.facts import Facts, shown
from eelgrass.reading.clues.patterns import number_in
from eelgrass.reading.clues.program_text import Site, source


def find(facts: Facts) -> Iterator[Sighting]:
    """Of each `+` of two texts of digits, and each `*` of one with a number."""
    seen = set()
    nodes: list[tuple[Site, ast.BinOp | ast.AugAssign]] = [*facts.all(ast.BinOp), *facts.all(ast.AugAssign)]
    for site, node in nodes:
        if not isinstance(node.op, (ast.Add, ast.Mult)) or site.number in seen:
            continue
        left: ast.expr = node.left if isinstance(node, ast.BinOp) else node.target
        right = node.right if isinstance(node, ast.BinOp) else node.value
        if isinstance(left, ast.Constant) or (isinstance(right, ast.Constant) and isinstance(node.op, ast.Add)):
            continue
        left = ast.copy_location(ast.Name(left.id, ast.Load()), left) if isinstance(left, ast.Name) else left
        for visit in facts.visits(site, 8):
            one, other = facts.value(left, visit), facts.value(right, visit)
            texts = [its for its in (one, other) if number_in(its) is not None]
            are_joined = isinstance(node.op, ast.Add) and len(texts) == 2
            is_repeated = isinstance(node.op, ast.Mult) and len(texts) == 1 and int in (type(one), type(other))
            if are_joined or is_repeated:
                seen.add(site.number)
                gave = one + other if are_joined else one * other
                word = "joins" if are_joined else "repeats"
                check = Holds(f"({ast.unparse(left)}) == {one!r}", facts.frame(visit), visit)
                yield Sighting(
                    site.number,
                    0.85,
                    {"text": source(node), "one": shown(one), "other": shown(other), "gave": shown(gave), "word": word},
                    (Evidence(visit, f"{shown(one)} and {shown(other)} give {shown(gave)}.", (check,)),),
                )
                break


KIND = Kind(
    "digits-joined",
    "Digits joined, not added",
    "Line {line} {word} texts: {one} and {other} give {gave}. Are they meant as numbers?",
    "two texts that are written like numbers were joined, or one was repeated by a number",
    "strong",
    """\
north = input("North bed? ")
south = input("South bed? ")
print("together:", north + south) #!
""",
    """\
north = int(input("North bed? "))
south = int(input("South bed? "))
print("together:", north + south)
""",
    find,
    ("12", "30"),
)
