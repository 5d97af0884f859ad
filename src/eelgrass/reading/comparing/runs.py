"""Two runs along one time, and the first differences of path, of value and of output.

The runs are followed by their visits of matched statements; what statements did that only one text has, and the calls
that these made, is left out. As long as both visit the same statements in the same order, their writes can be held
against each other, objects by the order in which they come to be (a simple form of execution indexing: Xin, Sumner and
Zhang, Efficient program execution indexing, 2008, where the index is the place in the matched sequence).
"""

from __future__ import annotations

import json
from dataclasses import dataclass
from typing import Any, NamedTuple

import numpy as np
import numpy.typing as npt

from eelgrass.reading.comparing.matched_statements import matched_statements
from eelgrass.reading.recording import Recording
from eelgrass.reading.state import insides, value_text
from eelgrass.reading.trails.visits_of_writes import visit_at, visit_in
from eelgrass.trace.columns import Ints, Wides
from eelgrass.trace.histories import Part
from eelgrass.trace.model import FrameEnd, StepKind, Trace
from eelgrass.trace.values import NOT_SET, Kind, Ref

_OUTPUT = 1


@dataclass(frozen=True)
class Difference:
    """Where two runs differ: the steps in both (-1: no such moment), what differs, and its values (their numbers)."""

    step_a: int
    step_b: int
    what: str = ""
    value_a: int = NOT_SET
    value_b: int = NOT_SET


@dataclass(frozen=True)
class OutputDifference:
    """The first character of standard output that differs, a little text from there on, and the steps that printed."""

    character: int
    text_a: str
    text_b: str
    step_a: int
    step_b: int


@dataclass(frozen=True)
class Comparison:
    """`path`: the decision after which the runs go to different statements; `value`: the first thing that was stored,
    changed, handed over or given back otherwise before that; `aligned` visits are the same."""

    path: Difference | None
    value: Difference | None
    output: OutputDifference | None
    aligned: int

    @property
    def is_same(self) -> bool:
        """Whether the runs did the same throughout."""
        return self.path is None and self.value is None and self.output is None


def compare(a: Recording, b: Recording) -> Comparison:
    """The first differences of two runs."""
    matched = matched_statements(a, b)
    one = _Run(a, {number: number for number in matched})
    other = _Run(b, {theirs: ours for ours, theirs in matched.items()})
    common = _common(one.visited, other.visited)
    path = None
    if common < max(len(one.visited), len(other.visited)):
        steps = (one.step_before(common), other.step_before(common))
        path = Difference(*steps)
    value = _first_value(one, other, common)
    return Comparison(path, value, _first_output(a, b), common)


def _common(one: Ints, other: Ints) -> int:
    """How many of the first visits are the same."""
    most = min(len(one), len(other))
    unlike = np.flatnonzero(one[:most] != other[:most])
    return int(unlike[0]) if len(unlike) else most


class _Run:
    """One of two runs: its visits of matched statements, by the numbers of the first text, and its writes."""

    def __init__(self, recording: Recording, numbers: dict[int, int]) -> None:
        self.recording = recording
        trace = self.trace = recording.trace
        table = np.full(len(trace.program.statements) + 1, -1, np.int64)
        table[list(numbers)] = list(numbers.values())
        kept_frames = self._kept_frames(table)
        steps = trace.steps
        lines = steps.kind == StepKind.LINE
        self._is_kept: npt.NDArray[np.bool_] = kept_frames[steps.frame] & ~(lines & (table[steps.statement] < 0))
        self.steps = np.flatnonzero(lines & self._is_kept)
        self.visited: Ints = table[steps.statement[self.steps]]

    def _kept_frames(self, table: npt.NDArray[np.int64]) -> npt.NDArray[np.bool_]:
        """Which frames were called by matched statements, in kept frames."""
        its, statement = self.trace.frames, self.trace.steps.statement
        kept = np.ones(len(its), np.bool_)
        callers, calls = its.caller.tolist(), its.call_step.tolist()
        for frame, (caller, call) in enumerate(zip(callers, calls, strict=True)):
            if caller >= 0 and call >= 0:
                kept[frame] = kept[caller] and table[statement[call]] >= 0
        return kept

    def step_before(self, place: int) -> int:
        """The step of the visit before a place of the sequence; -1 at its beginning."""
        return int(self.steps[place - 1]) if place else -1

    def visit(self, event: _Event) -> int:
        """The visit that made an event."""
        if event.part == _GIVEN:
            return visit_in(self.recording, int(self.trace.steps.frame[event.step]), event.step)
        found = visit_at(self.recording, event.step)
        return found if found >= 0 else self.step_before(event.place)

    def events(self, places: int) -> _Events:
        """All writes of kept visits, and what frames gave back, in the order of time, up to a place."""
        trace, slots, frames = self.trace, self.trace.slots, self.trace.frames
        end = int(self.steps[places]) if places < len(self.steps) else len(trace.steps)
        told, which = slots.write_step, slots.write_slot
        chosen = (told >= 0) & (told < end) & (slots.part[which] != Part.SIZE)
        chosen[chosen] = self._is_kept[told[chosen]]
        step, which, value = told[chosen], which[chosen], slots.write_value[chosen]
        part, is_cell = slots.part[which].astype(np.int64), slots.part[which] == Part.CELL
        is_name = part == Part.NAME
        scope = np.where(is_name, frames.function[np.where(is_name, slots.owner[which], 0)], -1)
        gave = np.flatnonzero((frames.end == FrameEnd.RETURNED) & (frames.last >= 0) & (frames.last < end))
        gave = gave[self._is_kept[frames.last[gave]]]
        nothing = np.full(len(gave), NOT_SET)
        columns = (
            np.concatenate((step, frames.last[gave])),
            np.concatenate((np.where(is_cell, Part.ITEM, part), np.full(len(gave), _GIVEN))),
            np.concatenate((scope, frames.function[gave])),
            np.concatenate((np.where(is_cell, NOT_SET, slots.key[which]), nothing)),
            np.concatenate((value, frames.value[gave])),
        )
        order = np.lexsort((columns[1] == _GIVEN, columns[0]))
        step, *others = (column[order].astype(np.int64) for column in columns)
        return _Events(np.searchsorted(self.steps, step, "right"), step, *others)


class _Events(NamedTuple):
    """Events as columns, as `_Event` has one."""

    place: Wides
    step: Wides
    part: Wides
    scope: Wides
    key: Wides
    value: Wides

    def at(self, row: int) -> _Event:
        """One of them."""
        return _Event(*(int(column[row]) for column in self))


class _Event(NamedTuple):
    """Something stored, changed or given back (`part` _GIVEN): the place of the visit before, the step, the function
    whose name it is, the key and the value."""

    place: int
    step: int
    part: int
    scope: int
    key: int
    value: int


_GIVEN = Part.COUNT


def _first_value(one: _Run, other: _Run, common: int) -> Difference | None:
    """The first event up to a place that is another one."""
    alike = _Alike(one.recording, other.recording)
    ours, theirs = one.events(common), other.events(common)
    counts = len(ours.step), len(theirs.step)
    row = _first_unlike(alike, ours, theirs, min(counts))
    if row < min(counts):
        mine, its = ours.at(row), theirs.at(row)
        return Difference(one.visit(mine), other.visit(its), alike.what(mine), mine.value, its.value)
    if counts[0] > counts[1]:
        event = ours.at(counts[1])
        return Difference(one.visit(event), other.step_before(event.place), alike.what(event), event.value)
    if counts[1] > counts[0]:
        event = theirs.at(counts[0])
        what = _Alike(other.recording, one.recording).what(event)
        return Difference(one.step_before(event.place), other.visit(event), what, NOT_SET, event.value)
    return None


def _first_unlike(alike: _Alike, ours: _Events, theirs: _Events, count: int) -> int:
    """The first row of both that does not stand for the same; `count` where all do. Looked at are only rows with a pair
    of keys, or of values, that is not the same at a glance and has not come before."""
    unlike = np.flatnonzero((ours.place[:count] != theirs.place[:count]) | (ours.part[:count] != theirs.part[:count]))
    count = int(unlike[0]) if len(unlike) else count
    pairs = (ours.part[:count], ours.scope[:count], ours.key[:count], theirs.key[:count])
    fresh = _first_rows(*pairs)
    doubtful = np.flatnonzero(~alike.at_a_glance(ours.value[:count], theirs.value[:count]))
    values = doubtful[_first_rows(ours.value[doubtful], theirs.value[doubtful])]
    for row in np.union1d(fresh, values).tolist():
        if not alike.events(ours.at(row), theirs.at(row)):
            return int(row)
    return count


def _first_rows(*columns: Wides) -> Wides:
    """The rows at which a combination of numbers comes for the first time, in order."""
    if not len(columns[0]):
        return np.zeros(0, np.int64)
    order = np.lexsort(columns)
    different = np.zeros(len(order), np.bool_)
    different[0] = True
    for column in columns:
        different[1:] |= column[order][1:] != column[order][:-1]
    starts = np.flatnonzero(different)
    found: Wides = np.sort(np.minimum.reduceat(order, starts))
    return found


class _Alike:
    """Whether names and values of two runs stand for each other: names and objects as they first met."""

    def __init__(self, a: Recording, b: Recording) -> None:
        self._a, self._b = a.trace, b.trace
        self._names: dict[tuple[int, str], str] = {}
        self._objects: dict[int, int] = {}
        self._known: dict[tuple[int, int], bool] = {}
        self._step = -1, -1

    def at_a_glance(self, ours: Wides, theirs: Wides) -> npt.NDArray[np.bool_]:
        """Where two values are the same number or truth value, or both none: without a look at either."""
        plain = (Kind.NONE, Kind.TRUTH, Kind.WHOLE, Kind.FLOAT)
        there = (ours != NOT_SET) & (theirs != NOT_SET)
        found: npt.NDArray[np.bool_] = ~there & (ours == theirs)
        a, b = ours[there], theirs[there]
        kinds = self._a.values.kinds[a]
        same = (kinds == self._b.values.kinds[b]) & (self._a.values.payloads[a] == self._b.values.payloads[b])
        found[there] = same & np.isin(kinds, plain)
        return found

    def what(self, event: _Event) -> str:
        """The name, field or place that an event of the first run is about."""
        if event.part == _GIVEN:
            return self._a.program.functions[event.scope].name
        return "" if event.key == NOT_SET else str(self._a.values.get(event.key))

    def events(self, mine: _Event, its: _Event) -> bool:
        """Whether two events are about the same name, field or place, and the values are alike."""
        self._step = mine.step, its.step
        return self._keys(mine, its) and self._values(mine.value, its.value)

    def _keys(self, mine: _Event, its: _Event) -> bool:
        if NOT_SET in (mine.key, its.key):  # an element of a list whose places move
            return True
        ours, theirs = self._a.values.get(mine.key), self._b.values.get(its.key)
        if mine.part == Part.NAME:
            return self._names.setdefault((mine.scope, str(ours)), str(theirs)) == str(theirs)
        return self._same(ours, theirs)

    def _values(self, ours: int, theirs: int) -> bool:
        if ours == NOT_SET or theirs == NOT_SET:
            return ours == theirs
        known = self._known.get((ours, theirs))
        if known is None:
            known = self._same(self._a.values.get(ours), self._b.values.get(theirs))
            if not self._has_objects(ours):
                self._known[ours, theirs] = known
        return known

    def _has_objects(self, value: int) -> bool:
        return isinstance(self._a.values.get(value), (Ref, list))

    def _same(self, ours: Any, theirs: Any) -> bool:
        if isinstance(ours, Ref) or isinstance(theirs, Ref):
            if not (isinstance(ours, Ref) and isinstance(theirs, Ref)):
                return False
            return self._same_objects(ours.number, theirs.number)
        if isinstance(ours, list) and isinstance(theirs, list):
            return len(ours) == len(theirs) and all(map(self._same_part, ours, theirs))
        return type(ours) is type(theirs) and (ours == theirs or json.dumps(ours) == json.dumps(theirs))

    def _same_part(self, ours: Any, theirs: Any) -> bool:
        number, other = value_text.object_in(ours), value_text.object_in(theirs)
        if number is not None and other is not None:
            return self._same_objects(number, other)
        return self._same(ours, theirs)

    def _same_objects(self, ours: int, theirs: int) -> bool:
        """Whether two objects stand for each other: of one shape, met together before, or now, with the same in them
        when they came to be."""
        if ours in self._objects:
            return self._objects[ours] == theirs
        if self._a.objects.shape_of(ours) != self._b.objects.shape_of(theirs):
            return False
        self._objects[ours] = theirs
        mine, its = _inside(self._a, ours, self._step[0] + 1), _inside(self._b, theirs, self._step[1] + 1)
        return len(mine) == len(its) and all(
            self._values(key, their_key) and self._values(value, held)
            for (key, value), (their_key, held) in zip(mine, its, strict=True)
        )


def _inside(trace: Trace, number: int, step: int) -> list[tuple[int, int]]:
    """(key, value) of what an object holds; nothing of functions, classes and modules, whose parts have other names in
    other texts."""
    if trace.objects.shape_of(number) in insides.DEFINITIONS:
        return []
    held = insides.fields(trace, number, step)
    return [
        *insides.items(trace, number, step),
        *((trace.values.number_of_text(name), value) for name, value in held),
    ]


def _first_output(a: Recording, b: Recording) -> OutputDifference | None:
    texts = ["".join(piece.text for piece in its.output if piece.channel == _OUTPUT) for its in (a, b)]
    if texts[0] == texts[1]:
        return None
    shorter = min(map(len, texts))
    place = next((place for place in range(shorter) if texts[0][place] != texts[1][place]), shorter)
    ends = [text[place : place + 40].split("\n")[0] for text in texts]
    return OutputDifference(place, ends[0], ends[1], _printed_by(a, place), _printed_by(b, place))


def _printed_by(recording: Recording, character: int) -> int:
    for piece in recording.output:
        if piece.channel == _OUTPUT:
            if character < len(piece.text):
                return piece.step
            character -= len(piece.text)
    return -1
