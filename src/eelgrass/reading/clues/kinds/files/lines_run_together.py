"""Lines that are written into a file without an end."""

from __future__ import annotations

import ast
from collections.abc import Iterator

from eelgrass.reading.clues.checks import Ran
from eelgrass.reading.clues.clue import Evidence, Kind, Sighting
from eelgrass.reading.clues.facts import Facts, shown
from eelgrass.reading.clues.patterns import called
from eelgrass.reading.clues.program_text import source


def find(facts: Facts) -> Iterator[Sighting]:
    """Of each `file.write(text)` in a loop: none of the texts ends a line, begins with one, or is a part of one."""
    for site, call in facts.all(ast.Call):
        if called(call) != "write" or len(call.args) != 1 or facts.loop_around(site) is None:
            continue
        texts = [(visit, facts.value(call.args[0], visit)) for visit in facts.visits(site, 12)]
        told = [(visit, text) for visit, text in texts if type(text) is str and text]
        around = facts.loop_around(site)
        others = [its for its, other in facts.all(ast.Call) if called(other) == "write" and its is not site]
        if len(told) < 2 or any(not text[-1:].isalnum() or not text[:1].isalnum() for _, text in told):
            continue
        if around is None or any(facts.inside(its, around) for its in others):
            continue
        (first, one), (second, other) = told[:2]
        file = call.func.value if isinstance(call.func, ast.Attribute) else call.func
        if facts.object_of(file, first) != facts.object_of(file, second):
            continue
        yield Sighting(
            site.number,
            0.7,
            {"call": source(call), "one": shown(one), "other": shown(other)},
            (
                Evidence(first, f"{shown(one)} is written.", (Ran(site.number, first),)),
                Evidence(second, f"{shown(other)} is written right behind it.", (Ran(site.number, second),)),
            ),
        )


KIND = Kind(
    "lines-run-together",
    "Written without an end of line",
    "“{call}” at line {line} writes {one}, then {other} right behind it, with nothing in between. Where should a line"
    " end?",
    "several texts are written into a file by one place in a loop, and none of them ends a line",
    "middling to strong",
    """\
with open("names.txt", "w") as file:
    for name in ["Ada", "Ben"]:
        file.write(name) #!
print(open("names.txt").read())
""",
    """\
with open("names.txt", "w") as file:
    for name in ["Ada", "Ben"]:
        file.write(name + "\\n")
print(open("names.txt").read())
""",
    find,
)
