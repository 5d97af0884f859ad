"""A file that each pass begins anew."""

from __future__ import annotations

import ast
from collections.abc import Iterator

from eelgrass.reading.clues.checks import Ran
from eelgrass.reading.clues.clue import Evidence, Kind, Sighting
from eelgrass.reading.clues.facts import UNKNOWN, Facts
from eelgrass.reading.clues.patterns import called

_WRITING = frozenset(("write", "writelines", "dump", "writerow", "writerows"))
#: So many visits of each statement that writes are looked at.
_LOOKED_AT = 200


def find(facts: Facts) -> Iterator[Sighting]:
    """Of each `open(…, "w")`: it opened one file again, and not all that was written into it at first was written
    again."""
    for site, call in facts.all(ast.Call):
        if called(call) != "open" or not call.args:
            continue
        mode = (
            call.args[1]
            if len(call.args) > 1
            else next((its.value for its in call.keywords if its.arg == "mode"), None)
        )
        if not isinstance(mode, ast.Constant) or not str(mode.value).startswith("w"):
            continue
        opened: dict[str, int] = {}
        for visit in facts.visits(site):
            name = facts.value(call.args[0], visit)
            if name is UNKNOWN or type(name) is not str:
                continue
            if name in opened and not _is_written_again(facts, opened[name], visit):
                yield Sighting(
                    site.number,
                    0.85,
                    {"file": name},
                    (
                        Evidence(opened[name], f"“{name}” is opened to write.", (Ran(site.number, opened[name]),)),
                        Evidence(visit, "It is opened to write again, and is empty then.", (Ran(site.number, visit),)),
                    ),
                )
                break
            opened[name] = visit


def _is_written_again(facts: Facts, first: int, again: int) -> bool:
    """Whether what was written between two openings is known, and is written again after the second: the file of a
    list that has grown, say."""
    before, after = set[str](), set[str]()
    for site, call in facts.all(ast.Call):
        to_file = called(call) in _WRITING or any(its.arg == "file" for its in call.keywords)
        if to_file and call.args:
            steps = facts.recording.visits.between(site.number, first, len(facts.trace.steps))
            for visit in steps[:_LOOKED_AT].tolist():
                (before if visit < again else after).update(_parts(facts.value(call.args[0], visit)))
    return bool(before) and before <= after


def _parts(written: object) -> set[str]:
    return {repr(its) for its in written} if isinstance(written, (list, tuple, dict)) else {repr(written)}


KIND = Kind(
    "begun-anew",
    "A file that is begun anew",
    "Line {line} opened “{file}” to write more than once: each time, what was in it is gone. What should be in it in "
    "the end?",
    "one place in the text opens the same file for writing more than once",
    "strong",
    """\
for name in ["reef", "pier"]:
    with open("places.txt", "w") as file: #!
        file.write(name + "\\n")
print(open("places.txt").read())
""",
    """\
with open("places.txt", "w") as file:
    for name in ["reef", "pier"]:
        file.write(name + "\\n")
print(open("places.txt").read())
""",
    find,
)
