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
from eelgrass.trace.columns import Ints
from eelgrass.trace.histories import Part
from eelgrass.trace.model import FrameEnd, StepKind, Trace
from eelgrass.trace.values import NOT_SET, Ref

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

    def events(self, places: int) -> list[_Event]:
        """All writes of kept visits, and what frames gave back, in the order of time, up to a place."""
        trace, slots, frames = self.trace, self.trace.slots, self.trace.frames
        end = int(self.steps[places]) if places < len(self.steps) else len(trace.steps)
        told = slots.write_step
        order = np.argsort(told, kind="stable")
        order = order[(told[order] >= 0) & (told[order] < end)]
        order = order[self._is_kept[told[order]]]
        order = order[slots.part[slots.write_slot[order]] != Part.SIZE]
        which, step = slots.write_slot[order], told[order]
        is_name = slots.part[which] == Part.NAME
        scope = np.where(is_name, frames.function[np.where(is_name, slots.owner[which], 0)], -1)
        place = np.searchsorted(self.steps, step, "right")
        part = np.where(slots.part[which] == Part.CELL, Part.ITEM, slots.part[which])
        key = np.where(slots.part[which] == Part.CELL, NOT_SET, slots.key[which])
        columns = (place, step, part, scope, key, slots.write_value[order])
        found = [_Event(*row) for row in zip(*(column.tolist() for column in columns), strict=True)]
        gave = np.flatnonzero((frames.end == FrameEnd.RETURNED) & (frames.last >= 0) & (frames.last < end))
        gave = gave[self._is_kept[frames.last[gave]]]
        last = frames.last[gave]
        place = np.searchsorted(self.steps, last, "right")
        rows = zip(
            place.tolist(), last.tolist(), frames.function[gave].tolist(), frames.value[gave].tolist(), strict=True
        )
        found += [_Event(place, step, _GIVEN, scope, NOT_SET, value) for place, step, scope, value in rows]
        return sorted(found, key=lambda its: (its.place, its.step, its.part == _GIVEN))


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
    for mine, its in zip(ours, theirs, strict=False):
        if (mine.place, mine.part) != (its.place, its.part) or not alike.events(mine, its):
            return Difference(one.visit(mine), other.visit(its), alike.what(mine), mine.value, its.value)
    if len(ours) > len(theirs):
        event = ours[len(theirs)]
        return Difference(one.visit(event), other.step_before(event.place), alike.what(event), event.value)
    if len(theirs) > len(ours):
        event = theirs[len(ours)]
        what = _Alike(other.recording, one.recording).what(event)
        return Difference(one.step_before(event.place), other.visit(event), what, NOT_SET, event.value)
    return None


class _Alike:
    """Whether names and values of two runs stand for each other: names and objects as they first met."""

    def __init__(self, a: Recording, b: Recording) -> None:
        self._a, self._b = a.trace, b.trace
        self._names: dict[tuple[int, str], str] = {}
        self._objects: dict[int, int] = {}
        self._known: dict[tuple[int, int], bool] = {}
        self._step = -1, -1

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
    if trace.objects.shape_of(number) in ("function", "class", "module"):
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
