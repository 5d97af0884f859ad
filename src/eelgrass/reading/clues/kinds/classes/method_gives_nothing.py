"""A special method, which Python asks for a value, gives none."""

from __future__ import annotations

from collections.abc import Iterator

from eelgrass.reading.clues.checks import GaveNothing
from eelgrass.reading.clues.clue import Evidence, Kind, Sighting
from eelgrass.reading.clues.facts import Facts

#: What each special method is asked for.
_ASKED_FOR = {
    **dict.fromkeys(("__str__", "__repr__", "__format__"), "a text"),
    **dict.fromkeys(("__eq__", "__ne__", "__lt__", "__le__", "__gt__", "__ge__", "__contains__", "__bool__"), "a bool"),
    **dict.fromkeys(("__add__", "__radd__", "__sub__", "__mul__", "__truediv__", "__neg__"), "a result"),
    **dict.fromkeys(("__len__", "__int__", "__float__", "__hash__", "__index__"), "a number"),
    "__iter__": "what gives the elements",
}


def find(facts: Facts) -> Iterator[Sighting]:
    """Of each special method that gives a value: a frame of it that came to its end without one."""
    functions = facts.trace.program.functions
    for number, function in enumerate(functions):
        asked, definition = _ASKED_FOR.get(function.name), facts.definition_of(number)
        parent = functions[function.parent].kind if function.parent >= 0 else ""
        if asked is None or definition is None or function.waits or parent != "class":
            continue
        frame = next((its for its in facts.frames_of(number) if GaveNothing(its).holds(facts)), None)
        if frame is None:
            continue
        last = int(facts.trace.frames.last[frame])
        yield Sighting(
            definition.number,
            0.9,
            {"method": function.name, "asked": asked},
            (Evidence(last, f"“{function.name}” ends and gives None.", (GaveNothing(frame),)),),
        )


KIND = Kind(
    "method-gives-nothing",
    "A special method gives nothing",
    "Python asks “{method}” (line {line}) for {asked}, and it gave None. What should it give back?",
    "a special method that is asked for a value ended without one",
    "strong",
    """\
class Crab:
    def __init__(self, name):
        self.name = name
    def __str__(self): #!
        print(self.name)

crabs = [Crab("Ada"), Crab("Ben")]
print(len(crabs))
print(str(crabs[0]))
""",
    """\
class Crab:
    def __init__(self, name):
        self.name = name
    def __str__(self):
        return self.name

crabs = [Crab("Ada"), Crab("Ben")]
print(len(crabs))
print(str(crabs[0]))
""",
    find,
)
