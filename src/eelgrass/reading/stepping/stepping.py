"""Where one can stand in a recording, and the moves between those places.

A *stop* is a step one can stand at: every step but those at which a frame only begins. Standing at a step means that
its statement is about to run.
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property

import numpy as np

from eelgrass.reading.state.thread_steps import ThreadSteps
from eelgrass.trace.columns import Ints, between, find, grouped
from eelgrass.trace.model import StepKind, Trace


@dataclass(frozen=True)
class Call:
    """A frame called or resumed, with the first and last step (-1: none yet) until it ended or waited."""

    frame: int
    first: int
    last: int


class Stepping:
    """The moves of one recording. Each takes the step one stands at and gives the one to stand at next; where there
    is nothing to move to, the same step."""

    def __init__(self, trace: Trace) -> None:
        self.trace = trace
        self.threads = ThreadSteps(trace)

    @cached_property
    def stops(self) -> Ints:
        """All stops, in order."""
        return np.flatnonzero(self.trace.steps.kind != StepKind.CALL).astype(np.int32)

    @cached_property
    def _by_frame(self) -> tuple[Ints, Ints]:
        """(stops sorted by frame and then time, start of each frame's part)."""
        frames = self.trace.steps.frame[self.stops]
        order = np.argsort(frames, kind="stable")
        starts = np.searchsorted(frames[order], np.arange(len(self.trace.frames) + 1)).astype(np.int32)
        return self.stops[order], starts

    @cached_property
    def _called(self) -> tuple[Ints, Ints]:
        """(stretches sorted by the step that called or resumed them, those steps)."""
        return grouped(self.trace.stretches.call_step)

    def frame_of(self, step: int) -> int:
        """The frame that a step belongs to."""
        return int(self.trace.steps.frame[step])

    def stops_of(self, frame: int) -> Ints:
        """A frame's stops, in order."""
        steps, starts = self._by_frame
        return steps[starts[frame] : starts[frame + 1]]

    def first(self) -> int:
        """The first stop; 0 in a recording without any."""
        return int(self.stops[0]) if len(self.stops) else 0

    def last(self) -> int:
        """The last stop."""
        return int(self.stops[-1]) if len(self.stops) else 0

    def nearest(self, step: int) -> int:
        """The stop at `step` or, where that is none, the next one; the last one beyond the end."""
        place = find(self.stops, step)
        return int(self.stops[place]) if place < len(self.stops) else self.last()

    def next_any(self, step: int) -> int:
        """The next stop on whatever level: every single line."""
        return _after(self.stops, step, step)

    def previous_any(self, step: int) -> int:
        """The stop before on whatever level."""
        return _before(self.stops, step, step)

    def next_line(self, step: int) -> int:
        """The next stop on this level; after the frame's last one, or where it waits, the caller's next."""
        after = _after(self.stops_of(self.frame_of(step)), step, -1)
        return after if after >= 0 and self._stretch(after) == self._stretch(step) else self._out_of_call(step)

    def previous_line(self, step: int) -> int:
        """The stop before on this level; before the frame's first one, or the first since it waited, the call."""
        before = _before(self.stops_of(self.frame_of(step)), step, -1)
        return before if before >= 0 and self._stretch(before) == self._stretch(step) else self._call_of(step)

    def _stretch(self, step: int) -> int:
        return self.trace.stretches.row_at(self.frame_of(step), step)

    def next_in_frame(self, step: int) -> int:
        """The next stop of the same frame, or -1."""
        return _after(self.stops_of(self.frame_of(step)), step, -1)

    def previous_in_frame(self, step: int) -> int:
        """The stop before of the same frame, or -1."""
        return _before(self.stops_of(self.frame_of(step)), step, -1)

    def neighbours(self, steps: Ints) -> tuple[Ints, Ints]:
        """(the stop before, the stop after) each of some stops, in its own frame; -1 where there is none."""
        its, starts = self._by_frame
        frames = self.trace.steps.frame[steps]
        place_of = self._place_in_frames
        places = place_of[steps]
        before = np.where(places > starts[frames], its[places - 1], -1)
        after = np.where(places + 1 < starts[frames + 1], np.append(its, -1)[places + 1], -1)
        return before, after

    @property
    def _place_in_frames(self) -> Ints:
        """By step: its place among the stops sorted by frame. Not kept, since it is as long as the run."""
        its, _ = self._by_frame
        places = np.zeros(len(self.trace.steps), np.int32)
        places[its] = np.arange(len(its), dtype=np.int32)
        return places

    def calls_made(self, step: int) -> list[Call]:
        """What the statement at `step` called or resumed directly, in order."""
        return self._calls(step, step + 1, self.frame_of(step))

    def calls_of(self, frame: int) -> list[Call]:
        """What a frame called or resumed directly, in order."""
        return self._calls(*self.trace.frames.clipped(frame, 0, len(self.trace.steps)), frame)

    def _calls(self, first: int, end: int, frame: int) -> list[Call]:
        order, steps = self._called
        inside = between(steps, first, end)
        its = self.trace.stretches
        rows = order[inside][self.trace.steps.frame[steps[inside]] == frame]
        return [Call(int(its.frame[row]), int(its.first[row]), int(its.last[row])) for row in rows.tolist()]

    def waits_at(self, step: int) -> bool:
        """Whether `step` is where a frame hands out a value and waits, to go on later."""
        frame = self.frame_of(step)
        its = self.trace.stretches
        return bool(its.last[its.row_at(frame, step)] == step) and int(self.trace.frames.last[frame]) != step

    def goes_on_at(self, step: int) -> int:
        """The step at which a frame that waits at `step` is resumed; -1 if it never is."""
        its, frame = self.trace.stretches, self.frame_of(step)
        row = its.row_at(frame, step) + 1
        return int(its.first[row]) if row < len(its.frame) and its.frame[row] == frame else -1

    def into(self, step: int) -> int:
        """The first stop in the first call that the statement makes; the next line where it makes none."""
        for call in self.calls_made(step):
            inside = _after(self.stops_of(call.frame), call.first, -1)
            if inside >= 0:
                return inside
        return self.next_line(step)

    def out(self, step: int) -> int:
        """The stop at which the caller goes on after this frame has ended, or waits; from where a thread began, the one
        that started it."""
        after = self._out_of_call(step)
        return self._started_at(step) if after == step else after

    def _out_of_call(self, step: int) -> int:
        its, row = self.trace.stretches, self._stretch(step)
        while (caller := int(its.caller[row])) >= 0:
            last = int(its.last[row])
            if last < 0:
                return step
            after = _after(self.stops_of(caller), last, -1)
            outer = its.row_at(caller, int(its.call_step[row]))
            if after >= 0 and its.row_at(caller, after) == outer:
                return after
            row = outer
        return step

    def call_of(self, step: int) -> int:
        """The caller's step that made the call which this frame is, or that resumed it; or that started its thread."""
        call = self._call_of(step)
        return self._started_at(step) if call == step else call

    def _started_at(self, step: int) -> int:
        """The step that started a thread, where a step is in the frame that the thread began with; else the same."""
        frame = self.frame_of(step)
        thread = int(self.trace.frames.thread[frame])
        start = self.threads.started_at(thread) if thread and self.trace.frames.caller[frame] < 0 else -1
        return start if start >= 0 else step

    def _call_of(self, step: int) -> int:
        call = int(self.trace.stretches.call_step[self._stretch(step)])
        return call if call >= 0 else step


def _after(steps: Ints, step: int, otherwise: int) -> int:
    place = find(steps, step + 1)
    return int(steps[place]) if place < len(steps) else otherwise


def _before(steps: Ints, step: int, otherwise: int) -> int:
    place = find(steps, step)
    return int(steps[place - 1]) if place > 0 else otherwise
