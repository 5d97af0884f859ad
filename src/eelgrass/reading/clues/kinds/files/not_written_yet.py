"""A file that is read while what was written into it is still on its way."""

from __future__ import annotations

import ast
from collections.abc import Iterator

from eelgrass.reading.clues.checks import Ran
from eelgrass.reading.clues.clue import Evidence, Kind, Sighting
from eelgrass.reading.clues.facts import Facts
from eelgrass.reading.clues.patterns import called, mentions, stored_name
from eelgrass.reading.clues.program_text import Site


def find(facts: Facts) -> Iterator[Sighting]:
    """Of each file that a name was opened for writing with: the same file was opened again before it was closed."""
    opening = [(site, call) for site, call in facts.all(ast.Call) if called(call) == "open" and call.args]
    for site, call in opening:
        name = stored_name(site.node)
        mode = call.args[1] if len(call.args) > 1 else None
        if not name or not isinstance(mode, ast.Constant) or str(mode.value)[:1] not in ("w", "a"):
            continue
        for visit in facts.visits(site, 2):
            file = facts.value(call.args[0], visit)
            closed = _closed(facts, site, name, visit)
            for again, other in opening:
                visits = [its for its in facts.visits(again, 4) if visit < its < closed] if again is not site else []
                is_reading = len(other.args) < 2 or (
                    isinstance(other.args[1], ast.Constant) and str(other.args[1].value)[:1] == "r"
                )
                if visits and is_reading and type(file) is str and facts.value(other.args[0], visits[0]) == file:
                    yield Sighting(
                        again.number,
                        0.85,
                        {"file": file, "name": name, "opened": site.node.lineno},
                        (
                            Evidence(visit, f"“{file}” is opened to write.", (Ran(site.number, visit),)),
                            Evidence(
                                visits[0], f"It is read, and “{name}” is still open.", (Ran(again.number, visits[0]),)
                            ),
                        ),
                    )


def _closed(facts: Facts, site: Site, name: str, visit: int) -> int:
    """The step at which a file was closed or flushed; past the end where it was not."""
    closing = [
        site for site, call in facts.all(ast.Call) if called(call) in ("close", "flush") and mentions(call, name)
    ]
    steps = [step for its in closing for step in facts.visits(its) if step > visit]
    return min(steps, default=len(facts.trace.steps))


KIND = Kind(
    "not-written-yet",
    "Read before it is written",
    "Line {line} reads “{file}” while “{name}” (line {opened}) still has it open: what was written may not be in the "
    "file yet. When is it done?",
    "a file is opened for reading while a name that writes into it was neither closed nor flushed",
    "strong",
    """\
log = open("tide.txt", "w")
log.write("high water at noon\\n")
print(open("tide.txt").read()) #!
""",
    """\
log = open("tide.txt", "w")
log.write("high water at noon\\n")
log.close()
print(open("tide.txt").read())
""",
    find,
)
