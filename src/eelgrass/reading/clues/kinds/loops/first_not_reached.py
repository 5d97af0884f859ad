"""A loop over places that begins behind the first one."""

from __future__ import annotations

from collections.abc import Iterator

from eelgrass.reading.clues.checks import Holds
from eelgrass.reading.clues.clue import Evidence, Kind, Sighting
from eelgrass.reading.clues.facts import Facts, shown
from eelgrass.reading.clues.index_loops import goes_by_length, index_rounds, is_read_elsewhere, would_change


def find(facts: Facts) -> Iterator[Sighting]:
    """Of each loop over the places of a list: all but the first one were reached, and nothing else reads that."""
    for found in index_rounds(facts):
        places, size = sorted(found.places), found.size
        if places not in ([*range(1, size)], [*range(1, size + 1)]) or is_read_elsewhere(facts, found, 0):
            continue
        does, its = would_change(facts, found, 0), found.its
        element = facts.asked(f"{found.sequence}[0]", its.first, its.frame)
        begins = Holds(f"{found.index} == {found.places[0]}", its.frame, facts.after(its.starts[0]))
        likely = {True: 0.9, None: 0.65, False: 0.5}[does]
        yield Sighting(
            its.loop.number,
            likely if goes_by_length(found) and element else min(likely, 0.4),
            {"index": found.index, "sequence": found.sequence, "element": shown(element), "begins": found.places[0]}
            | {"more": " It would have counted." if does else ""},
            (
                Evidence(
                    its.starts[0], f"The first pass begins: “{found.index}” becomes {found.places[0]}.", (begins,)
                ),
                Evidence(
                    its.past,
                    f"“{found.sequence}[0]” is {shown(element)} and was not looked at.",
                    (Holds(f"len({found.sequence}) == {size}", its.frame, its.past),),
                ),
            ),
        )


KIND = Kind(
    "first-not-reached",
    "The first element is not reached",
    "The loop at line {line} begins with “{index}” at {begins}, so “{sequence}[0]”, which is {element}, is never "
    "looked at.{more} Is that what was meant?",
    "a loop takes all places of a list but the first one, by its plain index, and nothing else reads that element",
    "strong where the element would have counted; less where that is not known; weak where the loop does not go by a "
    "length, or the element is nothing",
    """\
counts = [4, 7, 2]
total = 0
for place in range(1, len(counts)): #!
    total += counts[place]
print("shoots:", total)
""",
    """\
counts = [4, 7, 2]
most = counts[0]
for place in range(1, len(counts)):
    if counts[place] > most:
        most = counts[place]
print("most:", most)
""",
    find,
)
