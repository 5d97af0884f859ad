"""Two runs along one time: which visits of the one are which of the other, and everything in which they differ."""

from __future__ import annotations

from bisect import bisect_left
from collections.abc import Callable
from copy import copy
from dataclasses import dataclass
from enum import StrEnum
from functools import cached_property

import numpy as np
import numpy.typing as npt

from eelgrass.reading.comparing.alike import Alike
from eelgrass.reading.comparing.execution_index import indexes
from eelgrass.reading.comparing.matched_statements import matched_statements
from eelgrass.reading.comparing.visited import GIVEN, RESULT, Event, Events, Visited
from eelgrass.reading.recording import Recording
from eelgrass.trace.columns import Ints, find
from eelgrass.trace.model import StepKind
from eelgrass.trace.values import NOT_SET

#: So many differences of value are told apart at most.
_MOST_VALUES = 20_000


class Kind(StrEnum):
    """What is different: the way, a value, or what was printed."""

    PATH = "path"
    VALUE = "value"
    OUTPUT = "output"


#: In which order they are told that come to be seen at the same step.
_ORDER = (Kind.VALUE, Kind.OUTPUT, Kind.PATH)


@dataclass(frozen=True)
class Apart:
    """A difference: the visits in both runs at which it is (-1: before the first), and `when`, at which steps, it
    comes to be seen. `what`: the name, field or place, with the numbers of both values and of the objects
    that they are in (-1: none); or the texts that were
    printed; or how many visits of its own each run makes after it."""

    kind: Kind
    when: int
    when_there: int
    here: int
    there: int
    what: str = ""
    value_here: int = NOT_SET
    value_there: int = NOT_SET
    what_there: str = ""
    owner_here: int = NOT_SET
    owner_there: int = NOT_SET
    text_here: str = ""
    text_there: str = ""
    more_here: int = 0
    more_there: int = 0

    @property
    def is_there_alone(self) -> bool:
        """Whether only the other run wrote or printed something."""
        written = self.kind == Kind.VALUE and self.value_here == NOT_SET
        return written or (self.kind == Kind.OUTPUT and not self.text_here)

    def turned(self) -> Apart:
        """The same, seen from the other run."""
        return Apart(
            *(self.kind, self.when_there, self.when, self.there, self.here, self.what_there or self.what),
            *(self.value_there, self.value_here, self.what, self.owner_there, self.owner_here),
            *(self.text_there, self.text_here, self.more_there, self.more_here),
        )


def _in_order(found: list[Apart]) -> list[Apart]:
    return sorted(found, key=lambda its: (its.when, its.is_there_alone, _ORDER.index(its.kind), -its.here))


class Alignment:
    """Two runs held against each other. `here` and `there` are the steps of visits that are the same one, ascending."""

    def __init__(self, a: Recording, b: Recording) -> None:
        matched = matched_statements(a, b)
        self.a, self.b = a, b
        self._ours = Visited(a, {number: number for number in matched})
        self._theirs = Visited(b, {theirs: ours for ours, theirs in matched.items()})
        ours, theirs = a.trace.program.statements, b.trace.program.statements
        functions = {ours[one].function: theirs[other].function for one, other in matched.items()}
        same = {function: function for function in functions.values()}
        if np.array_equal(self._ours.visited, self._theirs.visited):
            places: tuple[Ints, Ints] = (np.arange(len(self._ours.steps)),) * 2
        else:
            places = _joined(indexes(self._ours, functions), indexes(self._theirs, same))
        self._our_places, self._their_places = places
        self.here: Ints = self._ours.steps[places[0]]
        self.there: Ints = self._theirs.steps[places[1]]

    def counterpart(self, step: int) -> int:
        """The step at which the other run stands while this one is at `step`: where one has more to do, the other
        waits."""
        if self.a.trace.steps.kind[step] == StepKind.RETURN:
            frame = self.frames.get(int(self.a.trace.steps.frame[step]), -1)
            if frame >= 0 and self.b.trace.frames.last[frame] >= 0:
                return int(self.b.trace.frames.last[frame])
        place = find(self.here, step + 1) - 1
        if place < 0:
            return int(self.there[0]) if len(self.there) else 0
        return int(self.there[place])

    def is_apart(self, step: int) -> bool:
        """Whether a step belongs to visits that the other run does not make."""
        place = find(self.here, step + 1) - 1
        visit = find(self._ours.steps, step + 1) - 1
        return place < 0 or visit < 0 or int(self._ours.steps[visit]) != int(self.here[place])

    @cached_property
    def frames(self) -> dict[int, int]:
        """For frames of this run, those of the other that are the same."""
        ours, theirs = self.a.trace.steps.frame[self.here], self.b.trace.steps.frame[self.there]
        frames, first = np.unique(ours, return_index=True)
        return dict(zip(frames.tolist(), theirs[first].tolist(), strict=True))

    @cached_property
    def gaps(self) -> list[tuple[int, int, int, int]]:
        """What only one of the runs does: (first step, step after the last) of this run and of the other; either may be
        empty."""
        lengths = len(self.a.trace.steps), len(self.b.trace.steps)
        found = []
        for pair in np.flatnonzero(self._is_parting()).tolist():
            begins = (self._ours.steps, self._our_places[pair] + 1), (self._theirs.steps, self._their_places[pair] + 1)
            first, there = (
                int(steps[place]) if place < len(steps) else length
                for (steps, place), length in zip(begins, lengths, strict=True)
            )
            is_last = pair + 1 == len(self.here)
            end, there_end = lengths if is_last else (int(self.here[pair + 1]), int(self.there[pair + 1]))
            found.append((first, end, there, there_end))
        return found

    def turned(self) -> Alignment:
        """The same with the runs in each other's places."""
        other = copy(self)
        other.gaps = [(there, there_end, first, end) for first, end, there, there_end in self.gaps]
        other.frames = {theirs: ours for ours, theirs in self.frames.items()}
        other.differences = _in_order([its.turned() for its in self.differences])
        other.a, other.b = self.b, self.a
        other.here, other.there = self.there, self.here
        other._ours, other._theirs = self._theirs, self._ours
        other._our_places, other._their_places = self._their_places, self._our_places
        return other

    # Differences

    @cached_property
    def differences(self) -> list[Apart]:
        """All of them, by the step of this run."""
        return _in_order([*self._paths(), *self._values(), *self._printed()])

    def _paths(self) -> list[Apart]:
        """Where, after the same visit, the runs go on otherwise."""
        ends = len(self._ours.steps), len(self._theirs.steps)
        ours, theirs = (
            np.concatenate(([-1], places, [end]))
            for places, end in zip((self._our_places, self._their_places), ends, strict=True)
        )
        more = np.diff(ours) - 1, np.diff(theirs) - 1
        found = []
        for gap in np.flatnonzero((more[0] > 0) | (more[1] > 0)).tolist():
            at = (int(self.here[gap - 1]), int(self.there[gap - 1])) if gap else (-1, -1)
            found.append(Apart(Kind.PATH, *at, *at, more_here=int(more[0][gap]), more_there=int(more[1][gap])))
        return found

    def _is_parting(self) -> npt.NDArray[np.bool_]:
        """By pair of visits: whether the runs go on otherwise after it."""
        places = (self._our_places, self._their_places)
        ends = (len(self._ours.steps), len(self._theirs.steps))
        gaps = [np.diff(its, append=end) > 1 for its, end in zip(places, ends, strict=True)]
        parting: npt.NDArray[np.bool_] = gaps[0] | gaps[1]
        return parting

    def _values(self) -> list[Apart]:
        """What the same visits wrote otherwise."""
        ours, theirs = self._events(self._ours, self._our_places), self._events(self._theirs, self._their_places)
        keys, alike, parting = (ours[1], theirs[1]), Alike(self.a, self.b), self._is_parting()
        _, mine, its = np.intersect1d(*keys, assume_unique=True, return_indices=True)
        unlike = self._unlike(alike, ours[0], theirs[0], mine, its)
        told = {int(ours[0].place[mine[row]]) for row in unlike if ours[0].part[mine[row]] != RESULT}
        told |= {int(ours[0].step[mine[row]]) for row in unlike if ours[0].part[mine[row]] == GIVEN}
        found = []
        for row in unlike:
            one = int(mine[row])
            repeats = {int(ours[0].place[one]), int(ours[0].step[one])} & told
            if ours[0].part[one] != RESULT or not repeats:
                found.append(self._apart(alike, ours[0], theirs[0], one, int(its[row])))
        for side, (events, joined) in enumerate(((ours[0], mine), (theirs[0], its))):
            alone = np.ones(len(events.step), np.bool_)
            alone[joined] = False
            alone &= ~parting[events.place] & (
                events.part != RESULT
            )  # what follows from the way is no difference of its own
            found += [self._alone(events, row, side) for row in np.flatnonzero(alone)[:_MOST_VALUES].tolist()]
        return found

    def _events(self, run: Visited, places: Ints) -> tuple[Events, Ints]:
        """(the writes of the same visits, each with the number of its pair as its place; what each is known by: pair,
        part, and how many of that part came before in the pair)."""
        events = run.events(len(run.steps), with_results=True)
        pair_of = np.full(len(run.steps) + 1, -1, np.int64)
        pair_of[places] = np.arange(len(places))
        frames = run.trace.steps.frame[events.step]
        own = run.visit_at(frames, events.step)
        is_own = (events.part == GIVEN) | _is_of_frame(run, events, frames)
        pairs = pair_of[np.where(is_own, own, run.visits_of(events.step))]
        chosen = np.flatnonzero((pairs >= 0) & _is_last(pairs, *events[2:5], events.owner))
        events = Events(pairs[chosen], *(column[chosen] for column in events[1:]))
        group = events.place * 16 + events.part
        order = np.argsort(group, kind="stable")
        begins = np.diff(group[order], prepend=-1) != 0
        count = np.arange(len(order))
        nth = np.empty(len(order), np.int64)
        nth[order] = count - np.maximum.accumulate(np.where(begins, count, 0))
        return events, (group << 20) + np.minimum(nth, (1 << 20) - 1)

    def _unlike(self, alike: Alike, ours: Events, theirs: Events, mine: Ints, its: Ints) -> list[int]:
        """The rows of joined events that do not stand for the same. They are looked at in the order of time, since
        those objects are the same that met first; of rows with the same owners or keys, the first one."""
        doubtful = ~alike.at_a_glance(ours.value[mine], theirs.value[its])
        owners = _Groups(ours.owner[mine], theirs.owner[its])
        keys = _Groups(ours.part[mine], ours.scope[mine], ours.key[mine], theirs.key[its])
        looked_at = np.unique(np.concatenate((np.flatnonzero(doubtful), owners.first, keys.first)))
        looked_at = looked_at[np.argsort(ours.step[mine[looked_at]], kind="stable")]
        known: dict[tuple[int, int], bool] = {}
        found, left = np.zeros(len(mine), np.bool_), _MOST_VALUES
        for row in looked_at.tolist():
            if not left:
                break
            one, other = ours.at(int(mine[row])), theirs.at(int(its[row]))
            owners.judge(row, alike.owners, one, other)
            keys.judge(row, alike.keys, one, other)
            pair = one.value, other.value
            if doubtful[row] and pair not in known:
                same = alike.values(one, other)
                found[row] = not same
                if not alike.has_objects(one.value):
                    known[pair] = same
            elif doubtful[row]:
                found[row] = not known[pair]
            left -= int(found[row])
        rows: list[int] = np.flatnonzero(found | owners.unlike() | keys.unlike())[:_MOST_VALUES].tolist()
        return rows

    def _apart(self, alike: Alike, ours: Events, theirs: Events, one: int, other: int) -> Apart:
        pair = int(ours.place[one])
        what, what_there = alike.what(ours.at(one)), Alike(self.b, self.a).what(theirs.at(other))
        at = int(self.here[pair]), int(self.there[pair])
        when = int(ours.step[one]), int(theirs.step[other])
        owners = int(ours.owner[one]), int(theirs.owner[other])
        return Apart(Kind.VALUE, *when, *at, what, int(ours.value[one]), int(theirs.value[other]), what_there, *owners)

    def _alone(self, events: Events, row: int, side: int) -> Apart:
        """Something that only one of the two runs wrote."""
        runs = (self.a, self.b) if side == 0 else (self.b, self.a)
        pair, value = int(events.place[row]), int(events.value[row])
        at = int(self.here[pair]), int(self.there[pair])
        values = (value, NOT_SET) if side == 0 else (NOT_SET, value)
        step = int(events.step[row])
        ours, theirs = (self.here, self.there) if side == 0 else (self.there, self.here)
        meanwhile = int(theirs[find(ours, step + 1) - 1])
        when = (step, meanwhile) if side == 0 else (meanwhile, step)
        return Apart(Kind.VALUE, *when, *at, Alike(*runs).what(events.at(row)), *values)

    def _printed(self) -> list[Apart]:
        """What the same visits printed otherwise."""
        ours, theirs = _texts(self._ours, self._our_places), _texts(self._theirs, self._their_places)
        found = []
        for pair in sorted({*ours, *theirs}):
            at = int(self.here[pair]), int(self.there[pair])
            (when, text), (when_there, other) = ours.get(pair, (-1, "")), theirs.get(pair, (-1, ""))
            when = when if when >= 0 else int(self.here[find(self.there, when_there + 1) - 1])
            when_there = when_there if when_there >= 0 else int(self.there[find(self.here, when + 1) - 1])
            if text != other:
                found.append(Apart(Kind.OUTPUT, when, when_there, *at, text_here=text, text_there=other))
        return found


def _is_of_frame(run: Visited, events: Events, frames: Ints) -> npt.NDArray[np.bool_]:
    """Which events are what a part of a statement gave, of the function that is at work: what a generator hands out is
    told as it waits."""
    program = run.trace.program
    functions = np.array(
        [*(program.statements[its.statement].function if its.statement >= 0 else -2 for its in program.expressions), -2]
    )
    is_result = events.part == RESULT
    found: npt.NDArray[np.bool_] = is_result & (
        functions[np.where(is_result, events.scope, -1)] == run.trace.frames.function[frames]
    )
    return found


def _is_last(*columns: Ints) -> npt.NDArray[np.bool_]:
    """Of rows that are about the same name, field or place in the same visit, the last; of all others, each."""
    mixed = np.zeros(len(columns[0]), np.int64)
    for column in columns:
        mixed = mixed * np.int64(1_000_003) + column + 1
    part, key = columns[1], columns[3]
    found: npt.NDArray[np.bool_] = (key == NOT_SET) | (part >= GIVEN)
    _, last = np.unique(mixed[::-1], return_index=True)
    found[len(mixed) - 1 - last] = True
    return found


class _Groups:
    """Rows that have the same numbers in some columns, of which one is judged for all."""

    def __init__(self, *columns: Ints) -> None:
        mixed = np.zeros(len(columns[0]), np.int64)
        for column in columns:
            mixed = mixed * np.int64(1_000_003) + column + 1
        _, self.first, self._group = np.unique(mixed, return_index=True, return_inverse=True)
        self._is_alike: list[bool | None] = [None] * len(self.first)

    def judge(self, row: int, is_alike: Callable[[Event, Event], bool], one: Event, other: Event) -> None:
        """Judges the group of a row, if that has not been done."""
        group = int(self._group[row])
        if self._is_alike[group] is None:
            self._is_alike[group] = is_alike(one, other)

    def unlike(self) -> npt.NDArray[np.bool_]:
        """The rows of the groups that are not alike."""
        wrong = np.array([its is False for its in self._is_alike], np.bool_)
        rows: npt.NDArray[np.bool_] = wrong[self._group] if len(wrong) else np.zeros(len(self._group), np.bool_)
        return rows


def _texts(run: Visited, places: Ints) -> dict[int, tuple[int, str]]:
    """By pair: at which step its visit first printed on standard output, and what."""
    texts = run.trace.texts
    chosen = np.flatnonzero((texts.channel == 1) & (texts.step >= 0))
    pair_of = np.full(len(run.steps) + 1, -1, np.int64)
    pair_of[places] = np.arange(len(places))
    found: dict[int, tuple[int, str]] = {}
    for row, pair in zip(chosen.tolist(), pair_of[run.visits_of(texts.step[chosen])].tolist(), strict=True):
        if pair >= 0:
            first, before = found.get(pair, (int(texts.step[row]), ""))
            found[pair] = first, before + texts.pieces[row]
    return found


def _joined(ours: npt.NDArray[np.uint64], theirs: npt.NDArray[np.uint64]) -> tuple[Ints, Ints]:
    """The places of numbers that both have, ascending in both: the longest such sequence."""
    _, mine, its = np.intersect1d(ours, theirs, return_indices=True)
    order = np.argsort(mine, kind="stable")
    mine, its = mine[order], its[order]
    if len(its) > 1 and (np.diff(its) <= 0).any():
        kept = _ascending(its.tolist())
        mine, its = mine[kept], its[kept]
    return mine, its


def _ascending(numbers: list[int]) -> list[int]:
    """The places of the longest ascending part of a sequence (Fredman, On computing the length of longest increasing
    subsequences, 1975)."""
    ends: list[int] = []
    at: list[int] = []
    before: list[int] = []
    for place, number in enumerate(numbers):
        length = bisect_left(ends, number)
        before.append(at[length - 1] if length else -1)
        ends[length : length + 1] = [number]
        at[length : length + 1] = [place]
    found = []
    place = at[-1]
    while place >= 0:
        found.append(place)
        place = before[place]
    return found[::-1]
