"""A text whose letters were added to a list, one by one."""

from __future__ import annotations

import ast
from collections.abc import Iterator

from eelgrass.reading.clues.checks import Holds
from eelgrass.reading.clues.clue import Evidence, Kind, Sighting
from eelgrass.reading.clues.facts import Facts, shown
from eelgrass.reading.clues.patterns import called
from eelgrass.reading.clues.program_text import Site, source


def find(facts: Facts) -> Iterator[Sighting]:
    """Of each `list += text` and `list.extend(text)`: the text has several letters."""
    for site, held, added in _added(facts):
        for visit in facts.visits(site, 6):
            into, text = facts.value(held, visit), facts.value(added, visit)
            if isinstance(into, list) and type(text) is str and len(text) > 1:
                check = Holds(f"len({ast.unparse(added)}) == {len(text)}", facts.frame(visit), visit)
                yield Sighting(
                    site.number,
                    0.85,
                    {"text": shown(text), "list": source(held), "count": len(text)},
                    (Evidence(visit, f"{shown(text)} has {len(text)} letters.", (check,)),),
                )
                break


def _added(facts: Facts) -> Iterator[tuple[Site, ast.expr, ast.expr]]:
    """(statement, the list, what is added to it)."""
    for site, node in facts.all(ast.AugAssign):
        if isinstance(node.op, ast.Add) and isinstance(node.target, ast.Name):
            yield site, ast.copy_location(ast.Name(node.target.id, ast.Load()), node.target), node.value
    for site, call in facts.all(ast.Call):
        if called(call) == "extend" and isinstance(call.func, ast.Attribute) and len(call.args) == 1:
            yield site, call.func.value, call.args[0]


KIND = Kind(
    "letters-added",
    "Letters added, not the text",
    "Line {line} adds the text {text} to the list “{list}” letter by letter: {count} elements come to it. Was one "
    "meant?",
    "a text of several letters was added to a list by `+=` or `extend`",
    "strong",
    """\
crew = ["Ada"]
crew += "Ben" #!
print(crew)
""",
    """\
crew = ["Ada"]
crew += ["Ben"]
print(crew)
""",
    find,
)
