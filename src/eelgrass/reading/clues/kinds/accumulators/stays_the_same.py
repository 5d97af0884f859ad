"""What should grow in a loop is set to the same in each pass."""

from __future__ import annotations

import ast
from collections.abc import Iterator

import numpy as np

from eelgrass.reading.clues.checks import Holds, Reads
from eelgrass.reading.clues.clue import Evidence, Kind, Sighting
from eelgrass.reading.clues.facts import UNKNOWN, Facts, Round, shown
from eelgrass.reading.clues.patterns import stored_name
from eelgrass.reading.clues.program_text import Site
from eelgrass.trace.columns import between

#: So many decisions about the name are passed over for what works with it.
_READS = 4
_GROW = (int, float, str)


def find(facts: Facts) -> Iterator[Sighting]:
    """Of each name that began as one number, is set to another, always the same, in a loop, and is worked with after
    it: not only asked about, as a mark that something was found is."""
    for site, node in facts.all(ast.Assign):
        name, loop = stored_name(node), facts.loop_around(site)
        outer = facts.loop_around(loop) if loop is not None else None
        if not name or isinstance(node.value, (ast.Call, ast.Subscript, ast.Attribute)):
            continue
        loops = [its for its in (outer, loop) if its is not None and _is_only_set(facts, its, site, name)]
        for its in facts.rounds(loops[0], 4) if loops else ():
            found = _of_round(facts, its, site, name)
            if found is not None:
                yield found
                break


def _is_only_set(facts: Facts, loop: Site, site: Site, name: str) -> bool:
    """Whether a loop does nothing with a name but set it in a statement."""
    inside = [loop, *facts.all_in(loop)]
    stores, loads = facts.stores(site.function, name), facts.loads(site.function, name)
    return not any(its in loads or (its in stores and its is not site) for its in inside)


def _of_round(facts: Facts, its: Round, site: Site, name: str) -> Sighting | None:
    visits = facts.all_in_frame(site, its.frame, its.first, its.past + 1)
    read = _worked_with(facts, its, name)
    if len(visits) < 2 or read < 0 or facts.begun_by(name, its.frame, its.first) is None:
        return None
    steps, stored = facts.name_writes(name, its.frame)
    numbers = np.unique(stored[between(steps, int(visits[0]), its.past)])
    start, value = (
        facts.asked(name, its.first, its.frame),
        facts.plain(int(numbers[0])) if len(numbers) == 1 else UNKNOWN,
    )
    if type(start) not in _GROW or type(value) not in _GROW or isinstance(start, str) != isinstance(value, str):
        return None
    if start == value:
        return None
    if facts.read_by_others(name, its.frame, int(visits[0]) + 1, its.past) >= 0:
        return None
    first, last = int(visits[0]), int(visits[-1])
    return Sighting(
        site.number,
        0.8,
        {"name": name, "start": shown(start), "value": shown(value), "times": len(visits)} | {"read": facts.line(read)},
        (
            Evidence(
                first,
                f"“{name}” becomes {shown(value)}.",
                (Holds(f"{name} == {value!r}", its.frame, facts.after(first)),),
            ),
            Evidence(last, "It is set to the same again.", (Holds(f"{name} == {value!r}", its.frame, last),)),
            Evidence(read, f"It is still {shown(value)}.", (Reads(name, read),)),
        ),
    )


def _worked_with(facts: Facts, its: Round, name: str) -> int:
    """The first visit after a round that does more with a name than decide; -1 for none."""
    read = its.past - 1
    for _ in range(_READS):
        read = facts.next_read(name, its.frame, read)
        site = facts.site_at(read) if read >= 0 else None
        if site is None or not isinstance(site.node, (ast.If, ast.While, ast.Assert)):
            return read if site is not None else -1
    return -1


KIND = Kind(
    "stays-the-same",
    "Set to the same in each pass",
    "“{name}” was {start}; line {line} set it to {value} {times} times, so that it was still {value} at line {read}. "
    "Should it grow each time?",
    "a name that began as a number is set to another number, always the same, several times in a loop, and is worked "
    "with after it",
    "strong",
    """\
crabs = 0
for catch in ["crab", "kelp", "crab"]:
    if catch == "crab":
        crabs = 1 #!
print("crabs:", crabs)
""",
    """\
crabs = 0
for catch in ["crab", "kelp", "crab"]:
    if catch == "crab":
        crabs = crabs + 1
print("crabs:", crabs)
""",
    find,
)
