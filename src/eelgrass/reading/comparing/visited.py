"""One of two runs that are compared: its visits of matched statements, and what these wrote."""

from __future__ import annotations

from functools import cached_property
from typing import NamedTuple

import numpy as np
import numpy.typing as npt

from eelgrass.reading.comparing.matched_statements import matched_statements
from eelgrass.reading.recording import Recording
from eelgrass.reading.trails.visits_of_writes import visit_at, visit_in
from eelgrass.trace.columns import Ints, Wides
from eelgrass.trace.histories import Part
from eelgrass.trace.model import FrameEnd, StepKind
from eelgrass.trace.program import Program
from eelgrass.trace.values import NOT_SET

#: What a frame gave back, among the parts that are written.
GIVEN = Part.COUNT
#: What a part of a statement gave.
RESULT = GIVEN + 1


class Visited:
    """One of two runs: its visits of matched statements, by the numbers of the first text, and its writes."""

    def __init__(self, recording: Recording, numbers: dict[int, int]) -> None:
        self.recording = recording
        trace = self.trace = recording.trace
        #: By statement, its number in the first text; -1 where it has none, and last.
        table = self.number_of = np.full(len(trace.program.statements) + 1, -1, np.int64)
        table[list(numbers)] = list(numbers.values())
        kept_frames = self._kept_frames(table)
        steps = trace.steps
        lines = steps.kind == StepKind.LINE
        self.is_kept: npt.NDArray[np.bool_] = kept_frames[steps.frame] & ~(lines & (table[steps.statement] < 0))
        self.steps = np.flatnonzero(lines & self.is_kept)
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

    @cached_property
    def _by_frame(self) -> tuple[Wides, Ints]:
        """(frame and step of the kept visits as one number each, sorted; the places of these visits)."""
        keys = self._keys_of(self.trace.steps.frame[self.steps], self.steps)
        order = np.argsort(keys, kind="stable")
        return keys[order], order

    @cached_property
    def _resumes(self) -> tuple[Wides, Ints]:
        """The same of the times at which generators went on; their rows."""
        keys = self._keys_of(self.trace.resumes.frame, self.trace.resumes.step)
        order = np.argsort(keys, kind="stable")
        return keys[order], order

    def _keys_of(self, frames: Ints, steps: Ints) -> Wides:
        return frames.astype(np.int64) * (len(self.trace.steps) + 1) + steps

    def visit_at(self, frames: Ints, steps: Ints) -> Ints:
        """The places of the latest kept visits in frames, up to steps; -1 where there is none."""
        return np.where(steps >= 0, self._latest(*self._by_frame, frames, steps), -1)

    def _latest(self, keys: Wides, rows: Ints, frames: Ints, steps: Ints) -> Ints:
        """Of rows by their sorted keys, the latest ones of frames up to steps; -1 where there is none."""
        if not len(keys):
            return np.full(len(frames), -1, np.int64)
        found = np.maximum(np.searchsorted(keys, self._keys_of(frames, steps), "right") - 1, 0)
        of_frame = keys[found] // (len(self.trace.steps) + 1) == frames
        return np.where((frames >= 0) & of_frame & (keys[found] <= self._keys_of(frames, steps)), rows[found], -1)

    def visits_of(self, steps: Ints) -> Ints:
        """The places of the visits at work at steps, -1 where there is none. As a call ends, its caller's goes on."""
        trace = self.trace
        frames = trace.steps.frame[steps]
        ends = trace.steps.kind[steps] == StepKind.RETURN
        callers = trace.frames.caller[frames].copy()
        latest = self._latest(*self._resumes, frames, steps)
        callers[latest >= 0] = trace.resumes.caller[latest[latest >= 0]]
        return self.visit_at(np.where(ends, callers, frames), steps)

    def visits_of_events(self, events: Events) -> Ints:
        """The places of the visits that made events, -1 where there is none. What a frame gives back, and what a part
        of a statement of the frame at work gave, is that frame's."""
        trace, program = self.trace, self.trace.program
        frames = trace.steps.frame[events.step]
        functions = np.array([_function_of(program, its.statement) for its in program.expressions] + [-1], np.int64)
        is_result = events.part == RESULT
        is_own = (events.part == GIVEN) | (
            is_result & (functions[np.where(is_result, events.scope, -1)] == trace.frames.function[frames])
        )
        return np.where(is_own, self.visit_at(frames, events.step), self.visits_of(events.step))

    def step_before(self, place: int) -> int:
        """The step of the visit before a place of the sequence; -1 at its beginning."""
        return int(self.steps[place - 1]) if place else -1

    def visit(self, event: Event) -> int:
        """The visit that made an event."""
        if event.part == GIVEN:
            return visit_in(self.recording, int(self.trace.steps.frame[event.step]), event.step)
        found = visit_at(self.recording, event.step)
        return found if found >= 0 else self.step_before(event.place)

    def events(self, places: int, with_results: bool = False) -> Events:
        """All writes of kept visits, and what frames gave back, in the order of time, up to a place; with what parts of
        statements gave, where that was told."""
        trace, slots, frames = self.trace, self.trace.slots, self.trace.frames
        end = int(self.steps[places]) if places < len(self.steps) else len(trace.steps)
        told, which = slots.write_step, slots.write_slot
        chosen = (told >= 0) & (told < end) & (slots.part[which] != Part.SIZE)
        chosen[chosen] = self.is_kept[told[chosen]]
        step, which, value = told[chosen], which[chosen], slots.write_value[chosen]
        part, is_cell = slots.part[which].astype(np.int64), slots.part[which] == Part.CELL
        is_name = part == Part.NAME
        owner = slots.owner[which]
        scope = np.where(is_name, frames.function[np.where(is_name, owner, 0)], -1)
        gave = np.flatnonzero((frames.end == FrameEnd.RETURNED) & (frames.last >= 0) & (frames.last < end))
        gives = np.array([its.kind not in ("module", "class") for its in trace.program.functions], np.bool_)
        gave = gave[self.is_kept[frames.last[gave]] & gives[frames.function[gave]]]
        its = trace.results
        told_results = np.flatnonzero((its.step < end) & self.is_kept[its.step] & with_results)
        nothing = np.full(len(gave) + len(told_results), NOT_SET)
        columns = (
            np.concatenate((step, frames.last[gave], its.step[told_results])),
            np.concatenate((np.where(is_cell, Part.ITEM, part), GIVEN + (np.arange(len(nothing)) >= len(gave)))),
            np.concatenate((scope, frames.function[gave], its.expression[told_results])),
            np.concatenate((np.where(is_cell, NOT_SET, slots.key[which]), nothing)),
            np.concatenate((value, frames.value[gave], its.value[told_results])),
            np.concatenate((np.where(is_name, NOT_SET, owner), nothing)),
            np.concatenate((np.where(is_name, owner, NOT_SET), nothing)),
        )
        order = np.lexsort((columns[1] >= GIVEN, columns[0]))
        step, *others = (column[order].astype(np.int64) for column in columns)
        return Events(np.searchsorted(self.steps, step, "right"), step, *others)


class Pair:
    """Two runs whose statements are matched: `statements` has for those of the first text those of the second."""

    def __init__(self, a: Recording, b: Recording) -> None:
        self.statements = matched_statements(a, b)
        self.ours = Visited(a, {number: number for number in self.statements})
        self.theirs = Visited(b, {theirs: ours for ours, theirs in self.statements.items()})

    @property
    def has_nothing_in_common(self) -> bool:
        """Whether something ran, and no statement that either run came to is one of the other's text."""
        runs = self.ours, self.theirs
        ran = any(len(its.recording.stepping.stops) for its in runs)
        return ran and not any(len(its.steps) for its in runs)


class Events(NamedTuple):
    """Events as columns, as `Event` has one."""

    place: Wides
    step: Wides
    part: Wides
    scope: Wides
    key: Wides
    value: Wides
    owner: Wides
    frame: Wides

    def at(self, row: int) -> Event:
        """One of them."""
        return Event(*(int(column[row]) for column in self))


class Event(NamedTuple):
    """Something stored, changed, given back (`part` GIVEN) or come to by a part of a statement (RESULT): the place of
    the visit before, the step, the function whose name it is (or the expression), the key, the value, and the object
    or, for a name, the frame that it is in (-1: none)."""

    place: int
    step: int
    part: int
    scope: int
    key: int
    value: int
    owner: int
    frame: int


def _function_of(program: Program, statement: int) -> int:
    return program.statements[statement].function if statement >= 0 else -1
