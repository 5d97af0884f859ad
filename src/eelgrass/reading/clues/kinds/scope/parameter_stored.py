"""A parameter that a function stores anew, as if its caller would see that."""

from __future__ import annotations

import ast
from collections.abc import Iterator

from eelgrass.reading.clues.checks import Holds, Ran
from eelgrass.reading.clues.clue import Evidence, Kind, Sighting
from eelgrass.reading.clues.facts import UNKNOWN, Facts, shown
from eelgrass.reading.clues.patterns import stored_name
from eelgrass.reading.clues.results import returned_calls, returns_in


def find(facts: Facts) -> Iterator[Sighting]:
    """Of each call that is a statement of its own: the function stores a parameter last of all and gives nothing, and
    the caller reads the name that it handed over, which is as it was."""
    for its in returned_calls(facts):
        function = its.function
        if not isinstance(its.site.node, ast.Expr) or returns_in(facts, function):
            continue
        params = facts.trace.program.functions[function].params
        for param, given in zip(params, its.call.args, strict=False):
            stores = [site for site in facts.stores(function, param) if stored_name(site.node) == param]
            if not isinstance(given, ast.Name) or not stores:
                continue
            last = stores[-1]
            visits = facts.all_in_frame(last, its.frame, 0, len(facts.trace.steps))[-1:].tolist()
            if not visits or facts.next_read(param, its.frame, visits[-1]) >= 0:
                continue
            frame = facts.frame(its.visit)
            read = facts.next_read(given.id, frame, its.visit)
            inside, outside = (
                facts.asked(param, facts.after(visits[-1]), its.frame),
                facts.asked(given.id, max(read, 0), frame),
            )
            if (
                read < 0
                or outside is UNKNOWN
                or inside is UNKNOWN
                or inside == outside
                or type(outside) not in (int, float, str, list)
            ):
                continue
            yield Sighting(
                last.number,
                0.85,
                {"param": param, "function": facts.trace.program.functions[function].name, "inside": shown(inside)}
                | {"given": given.id, "outside": shown(outside), "read": facts.line(read)},
                (
                    Evidence(visits[-1], f"“{param}” becomes {shown(inside)}.", (Ran(last.number, visits[-1]),)),
                    Evidence(
                        read, f"“{given.id}” is {shown(outside)}.", (Holds(f"{given.id} == {outside!r}", frame, read),)
                    ),
                ),
            )


KIND = Kind(
    "parameter-stored",
    "A parameter is a name of its own",
    "Line {line} makes “{param}” {inside}, but that is a name of “{function}” alone: “{given}”, which was handed over"
    " for it, is {outside} at line {read}. How should the new value come out?",
    "a function stores a parameter last of all and gives nothing back, and the caller reads what it handed over, "
    "unchanged",
    "strong",
    """\
def add_fuel(litres):
    litres = litres + 20 #!

tank = 5
add_fuel(tank)
print("in the tank:", tank)
""",
    """\
def add_fuel(litres):
    litres = litres + 20
    return litres

tank = 5
tank = add_fuel(tank)
print("in the tank:", tank)
""",
    find,
)
