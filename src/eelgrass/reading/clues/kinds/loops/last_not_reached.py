"""A loop over places that ends before the last one."""

from __future__ import annotations

from collections.abc import Iterator

from eelgrass.reading.clues.checks import Holds
from eelgrass.reading.clues.clue import Evidence, Kind, Sighting
from eelgrass.reading.clues.facts import Facts, shown
from eelgrass.reading.clues.index_loops import goes_by_length, index_rounds, is_read_elsewhere, would_change


def find(facts: Facts) -> Iterator[Sighting]:
    """Of each loop over the places of a list: all places but the last one were reached, and nothing else reads that."""
    for found in index_rounds(facts):
        last = found.size - 1
        if sorted(found.places) not in ([*range(last)], [*range(1, last)]) or is_read_elsewhere(facts, found, last):
            continue
        does = would_change(facts, found, last)
        its = found.its
        element = facts.asked(f"{found.sequence}[{last}]", its.past, its.frame)
        holds = Holds(f"len({found.sequence}) == {found.size}", its.frame, its.past)
        yield Sighting(
            its.loop.number,
            {True: 0.95, None: 0.7, False: 0.55}[does] if goes_by_length(found) or does else 0.4,
            {"index": found.index, "sequence": found.sequence, "last": last, "element": shown(element)}
            | {"reached": max(found.places), "more": " It would have counted." if does else ""},
            (
                Evidence(
                    its.starts[-1],
                    f"The last pass begins: “{found.index}” becomes {max(found.places)}.",
                    (Holds(f"{found.index} == {max(found.places)}", its.frame, facts.after(its.starts[-1])),),
                ),
                Evidence(its.past, f"“{found.sequence}[{last}]” is {shown(element)} and was not looked at.", (holds,)),
            ),
        )


KIND = Kind(
    "last-not-reached",
    "The last element is not reached",
    "The loop at line {line} ends with “{index}” at {reached}, so “{sequence}[{last}]”, which is {element}, is never "
    "looked at.{more} Is that what was meant?",
    "a loop takes all places of a list but the last one, by its plain index, and nothing else reads that element",
    "strong where the element would have counted; less where that is not known; weak where the loop does not go by a "
    "length",
    """\
depths = [3, 8, 5, 9]
deepest = 0
for place in range(len(depths) - 1): #!
    if depths[place] > deepest:
        deepest = depths[place]
print("deepest:", deepest)
""",
    """\
depths = [3, 8, 5, 9]
rises = 0
for place in range(len(depths) - 1):
    if depths[place + 1] > depths[place]:
        rises += 1
print("rises:", rises)
""",
    find,
)
