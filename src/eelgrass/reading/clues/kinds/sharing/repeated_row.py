"""Rows of a grid, or entries of a dictionary, that are one list."""

from __future__ import annotations

import ast
from collections.abc import Iterator

from eelgrass.reading.clues.checks import Changed, Holds
from eelgrass.reading.clues.clue import Evidence, Kind, Sighting
from eelgrass.reading.clues.facts import Facts
from eelgrass.reading.clues.patterns import called, stored_name
from eelgrass.reading.clues.program_text import Site
from eelgrass.reading.state import insides

_SHAPES = ("list", "dict", "set")


def find(facts: Facts) -> Iterator[Sighting]:
    """Of each `[[…]] * n` and `dict.fromkeys(…, [])`: the one inner list is changed."""
    for site, node in facts.all(ast.BinOp):
        if isinstance(node.op, ast.Mult) and isinstance(node.left, ast.List) and len(node.left.elts) == 1:
            yield from _stored(facts, site)
    for site, call in facts.all(ast.Call):
        if called(call) == "fromkeys" and len(call.args) == 2:
            yield from _stored(facts, site)


def _stored(facts: Facts, site: Site) -> Iterator[Sighting]:
    name = stored_name(site.node)
    for visit in facts.visits(site, 4) if name else ():
        frame, begins = facts.frame(visit), facts.after(visit)
        outer = facts.object_named(name, frame, begins)
        rows = [] if outer is None else insides.items(facts.trace, outer, begins, 0, 2)
        inner = {facts.trace.values.object_of(value) for _, value in rows}
        number = next(iter(inner), None)
        if len(rows) < 2 or len(inner) != 1 or number is None or facts.trace.objects.shape_of(number) not in _SHAPES:
            continue
        changes = facts.changes_of(number, begins, len(facts.trace.steps))
        if changes:
            one, other = (facts.trace.values.get(key) for key, _ in rows)
            changing = facts.owner_visit(changes[0])
            same = Holds(f"{name}[{one!r}] is {name}[{other!r}]", frame, begins)
            yield Sighting(
                site.number,
                0.95,
                {
                    "name": name,
                    "changed": facts.line(changing),
                    "one": f"{name}[{one!r}]",
                    "other": f"{name}[{other!r}]",
                },
                (
                    Evidence(visit, f"“{name}[{one!r}]” and “{name}[{other!r}]” are one object from here on.", (same,)),
                    Evidence(changing, "It is changed.", (Changed(number, changing, changes[0] + 1),)),
                ),
            )


KIND = Kind(
    "repeated-row",
    "One row, many times",
    "“{one}” and “{other}” are the same object since line {line}: what line {changed} changed in one of them is seen "
    "in all. Was each meant to be one of its own?",
    "an inner list stands in several places of a new list or dictionary, and is changed",
    "strong",
    """\
plots = [[0] * 3] * 2 #!
plots[0][1] = 7
print(plots)
""",
    """\
plots = [[0] * 3 for _ in range(2)]
plots[0][1] = 7
print(plots)
""",
    find,
)
