"""A method or field that is named without the object that it belongs to."""

from __future__ import annotations

import ast
from collections.abc import Iterator

from eelgrass.reading.clues.checks import Raised
from eelgrass.reading.clues.clue import Evidence, Kind, Sighting
from eelgrass.reading.clues.facts import Facts


def find(facts: Facts) -> Iterator[Sighting]:
    """Of each NameError in a method: the class has a method, or the program a field, of that name."""
    functions = facts.trace.program.functions
    fields = {node.attr for _, node in facts.all(ast.Attribute)}
    for site, name, _, step in facts.unknown_names("NameError"):
        function = functions[site.function]
        in_class = function.parent >= 0 and functions[function.parent].kind == "class"
        methods = {its.name for its in functions if its.parent == function.parent}
        if in_class and (name in methods or name in fields):
            what = "method" if name in methods else "field"
            yield Sighting(
                site.number,
                0.95,
                {"name": name, "what": what, "class": functions[function.parent].name},
                (Evidence(step, f"“{name}” alone is not known.", (Raised(step),)),),
            )


KIND = Kind(
    "method-without-self",
    "Of which object?",
    "Line {line} names “{name}” alone, and there is no such name: it is a {what}, in “{class}”. Of which object is it"
    " meant?",
    "a NameError in a method, of a name that is a method of its class or a field",
    "strong",
    """\
class Ferry:
    def __init__(self):
        self.aboard = 0

    def board(self):
        self.aboard += 1

    def board_two(self):
        board() #!
        board()

ferry = Ferry()
ferry.board_two()
print(ferry.aboard)
""",
    """\
class Ferry:
    def __init__(self):
        self.aboard = 0

    def board(self):
        self.aboard += 1

    def board_two(self):
        self.board()
        self.board()

ferry = Ferry()
ferry.board_two()
print(ferry.aboard)
""",
    find,
)
