"""A name of a method that was meant to be a field."""

from __future__ import annotations

from collections.abc import Iterator

from eelgrass.reading.clues.checks import Ran
from eelgrass.reading.clues.clue import Evidence, Kind, Sighting
from eelgrass.reading.clues.facts import Facts, shown
from eelgrass.reading.clues.patterns import stored_name
from eelgrass.reading.clues.program_text import Site


def find(facts: Facts) -> Iterator[Sighting]:
    """Of each name that a method stores and never reads: a field of its name is read somewhere."""
    functions = facts.trace.program.functions
    for site in facts.sites:
        name, function = stored_name(site.node), functions[site.function]
        is_method = function.kind == "function" and function.parent >= 0 and functions[function.parent].kind == "class"
        if (
            not name
            or not is_method
            or name not in function.local
            or not function.params
            or function.params[0] != "self"
        ):
            continue
        if name not in facts.fields_read or _is_read(facts, site, name):
            continue
        for visit in facts.visits(site, 2):
            frame, after = facts.frame(visit), facts.after(visit)
            value = facts.asked(name, after, frame)
            yield Sighting(
                site.number,
                0.9,
                {
                    "name": name,
                    "method": function.name,
                    "value": shown(value),
                    "class": functions[function.parent].name,
                },
                (Evidence(visit, f"“{name}” becomes {shown(value)}.", (Ran(site.number, visit),)),),
            )
            break


def _is_read(facts: Facts, site: Site, name: str) -> bool:
    return any(its.node.lineno != site.node.lineno for its in facts.loads(site.function, name)) or (
        any(its is site for its in facts.loads(site.function, name)) and len(facts.stores(site.function, name)) > 1
    )


KIND = Kind(
    "without-self",
    "Stored, but not in the object",
    "Line {line} stores {value} in “{name}”, a name of “{method}” alone, where nothing reads it; a field “{name}” is "
    "read elsewhere. Should the object of “{class}” have it?",
    "a method stores a name that it never reads, and a field of that name is read",
    "strong",
    """\
class Buoy:
    def __init__(self):
        self.depth = 0

    def sink(self, metres):
        depth = self.depth + metres #!

buoy = Buoy()
buoy.sink(3)
print(buoy.depth)
""",
    """\
class Buoy:
    def __init__(self):
        self.depth = 0

    def sink(self, metres):
        self.depth = self.depth + metres

buoy = Buoy()
buoy.sink(3)
print(buoy.depth)
""",
    find,
)
