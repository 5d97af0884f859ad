"""Passes of loops that go over other things in another run: where their counts differ, they are matched by what they
go over, and by number only where that fits as well."""

from __future__ import annotations

from difflib import SequenceMatcher

import numpy as np

from eelgrass.reading.comparing.execution_index import Indexes, Numbers, Passes
from eelgrass.reading.comparing.visited import Visited
from eelgrass.trace.columns import Ints, find
from eelgrass.trace.histories import Part
from eelgrass.trace.values import Ref

#: Calls in passes, and loops in loops, are looked at again when those around them have been matched.
_ROUNDS = 3
#: So many passes of one loop are matched by what they go over, between what both begin and end with.
_MOST = 2_000
#: Passes that the other run does not make are counted from here on.
_ALONE = 1 << 24


def fitted(ours: Indexes, theirs: Indexes) -> tuple[Numbers, Numbers]:
    """The indexes of both runs, with the passes of the second one counted as those of the first that they are."""
    done: set[tuple[int, int]] = set()
    for _ in range(_ROUNDS):
        if not _fit(ours, theirs, done):
            break
    return ours.numbers(), theirs.numbers()


def _fit(ours: Indexes, theirs: Indexes, done: set[tuple[int, int]]) -> bool:
    """Counts passes anew; whether any are counted otherwise than before."""
    there = {loop.number: loop for loop in theirs.loops}
    has_changed, otherwise = False, set[int]()  # loops whose passes are counted otherwise than the indexes have it
    for loop in ours.loops:
        other = there.get(loop.number)
        if other is None or len(loop.headers) == len(other.headers) == 1:
            continue
        if otherwise & loop.around:
            theirs.recount()
            otherwise.clear()
        mine, its = (_instances(run, passes) for run, passes in ((ours, loop), (theirs, other)))
        for key in mine.keys() & its.keys():
            if len(mine[key]) != len(its[key]) and (loop.number, key) not in done:
                done.add((loop.number, key))
                if _count_anew(ours.run, theirs.run, loop, other, mine[key], its[key]):
                    otherwise.add(loop.number)
        has_changed |= loop.number in otherwise
    theirs.recount()
    return has_changed


def _instances(run: Indexes, loop: Passes) -> dict[int, Ints]:
    """By what an instance of a loop is the same by in both runs: the places of its headers."""
    if not len(loop.headers):
        return {}
    begins = np.flatnonzero(np.diff(loop.instances, prepend=-1))
    keys = run.instances(loop)[begins].tolist()
    return dict(zip(keys, np.split(loop.headers, begins[1:]), strict=True))


def _count_anew(ours: Visited, theirs: Visited, loop: Passes, other: Passes, mine: Ints, its: Ints) -> bool:
    counted = _matched(_gone_over(ours, loop, mine), _gone_over(theirs, other, its))
    if counted is None:
        return False
    ends = np.append(other.headers, len(other.of))[find(other.headers, int(its[0])) + 1 :]
    before = 0
    for first, end, number in zip(its.tolist(), ends.tolist(), counted, strict=False):
        other.of[first] = before + 1  # a header is where the pass before ends, and the loop goes on or not
        other.of[first + 1 : end] = before = number
    return True


def _gone_over(run: Visited, loop: Passes, headers: Ints) -> list[object]:
    """What the headers of a loop set its names to."""
    trace, found = run.trace, list[object]()
    for step in run.steps[loop.visits[headers]].tolist():
        told = []
        for slot, value in trace.histories.writes_during(step):
            if trace.slots.part[slot] == Part.NAME:
                its = trace.values.get(value)
                told.append(trace.objects.shape_of(its.number) if isinstance(its, Ref) else repr(its))
        found.append(tuple(told))
    return found


def _matched(ours: list[object], theirs: list[object]) -> list[int] | None:
    """For each pass of the other run, the pass of this one that it is, from 1; none where numbers fit as well."""
    first = next((place for place, pair in enumerate(zip(ours, theirs, strict=False)) if pair[0] != pair[1]), 0)
    pairs = [(place, place) for place in range(first)]
    last, shift = len(theirs), len(ours) - len(theirs)
    while last > first - min(shift, 0) and theirs[last - 1] == ours[last - 1 + shift]:
        last -= 1
    middle = ours[first : last + shift], theirs[first:last]
    if max(map(len, middle)) <= _MOST:
        blocks = SequenceMatcher(None, *middle, autojunk=False).get_matching_blocks()
        pairs += [(first + a + n, first + b + n) for a, b, size in blocks for n in range(size)]
    pairs += [(place + shift, place) for place in range(last, len(theirs))]
    by_number = sum(one == other for one, other in zip(ours, theirs, strict=False))
    if len(pairs) <= by_number:
        return None
    passes = {there: here + 1 for here, there in pairs}
    return [passes.get(place, _ALONE + place) for place in range(len(theirs))]
