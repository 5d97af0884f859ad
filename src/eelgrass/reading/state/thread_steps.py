"""The steps of each thread: where it stands at any moment, also while another is on."""

from __future__ import annotations

from functools import cached_property, lru_cache

import numpy as np

from eelgrass.reading.state.call_stack import stack_at
from eelgrass.reading.state.thread_names import thread_names
from eelgrass.trace.columns import Ints, find
from eelgrass.trace.model import FrameEnd, StepKind, Trace


def takes_turns(trace: Trace) -> bool:
    """Whether the threads of a run took turns by an order."""
    taken = trace.case.get("turns_taken")
    return isinstance(taken, dict) and "threads" in taken


class ThreadSteps:
    """Threads of one recording."""

    def __init__(self, trace: Trace) -> None:
        self.trace = trace
        self.steps_of = lru_cache(64)(self._steps_of)

    @cached_property
    def numbers(self) -> list[int]:
        """The threads that ran, in the order of their numbers."""
        found: list[int] = np.unique(self.trace.frames.thread).tolist()
        return found

    @cached_property
    def names(self) -> dict[int, str]:
        """Their names."""
        return {its.thread: its.name for its in thread_names(self.trace)}

    @cached_property
    def of_step(self) -> Ints:
        """The thread of each step."""
        return self.trace.frames.thread[self.trace.steps.frame]

    def _steps_of(self, thread: int) -> Ints:
        return np.flatnonzero(self.of_step == thread).astype(np.int32)

    def last(self, thread: int, step: int) -> int:
        """The latest step of a thread up to a step; -1 where there is none yet."""
        steps = self.steps_of(thread)
        place = find(steps, step + 1) - 1
        return int(steps[place]) if place >= 0 else -1

    def next(self, thread: int, step: int) -> int:
        """The next step of a thread after a step; -1 where there is none."""
        steps = self.steps_of(thread)
        place = find(steps, step + 1)
        return int(steps[place]) if place < len(steps) else -1

    def waits(self, thread: int, step: int) -> int | None:
        """One of `Turns.WAITS` and `SLEEPS` where a thread was waiting just before a step; -1 where it was not; None
        where that was not told. At the end of a run, it is at the end."""
        turns = self.trace.turns
        if not takes_turns(self.trace):
            return None
        end = step + 1 if step >= len(self.trace.steps) - 1 else step
        rows = self._turns_of(thread)
        place = find(turns.step[rows], end) - 1
        if place < 0 or turns.step[rows[place]] < self.last(thread, step):
            return -1
        return int(turns.what[rows[place]])

    @cached_property
    def _rows(self) -> dict[int, Ints]:
        turns = self.trace.turns
        plain = turns.what != turns.STARTS
        return {thread: np.flatnonzero(plain & (turns.thread == thread)) for thread in np.unique(turns.thread).tolist()}

    def _turns_of(self, thread: int) -> Ints:
        return self._rows.get(thread, np.zeros(0, np.int64))

    def has_ended(self, thread: int, step: int) -> bool:
        """Whether all frames that a thread began with are over by a step; the main thread's is over with the run."""
        frames = self.trace.frames
        own = self._roots.get(thread, [])
        own = [frame for frame in own if frames.first[frame] <= step]
        lasts = [int(frames.last[frame]) for frame in own]
        ended = all(
            0 <= last <= step and frames.end[frame] != FrameEnd.OPEN for frame, last in zip(own, lasts, strict=True)
        )
        return bool(own) and thread > 0 and ended

    @cached_property
    def _roots(self) -> dict[int, list[int]]:
        frames = self.trace.frames
        found: dict[int, list[int]] = {}
        for frame in np.flatnonzero((frames.caller < 0) & (frames.thread > 0)).tolist():
            found.setdefault(int(frames.thread[frame]), []).append(frame)
        return found

    def stands_at(self, thread: int, step: int) -> int:
        """The step at which a thread stands while `step` is shown: the one that it is about to make, or the one within
        which it waits; -1 where it has not begun, or has ended."""
        last = self.last(thread, step)
        if last == step or last < 0 or self.has_ended(thread, step):
            return last if last == step else -1
        following = self.next(thread, step)
        if following < 0 or self.waits(thread, step) in (self.trace.turns.WAITS, self.trace.turns.SLEEPS):
            return last
        is_line = self.trace.steps.kind[following] == StepKind.LINE
        return following if is_line and self.waits(thread, step) is not None else last

    def stack(self, thread: int, step: int) -> list[tuple[int, int]]:
        """A thread's call stack while `step` is shown, as `stack_at` gives it; empty where it has none."""
        place = self.stands_at(thread, step)
        return stack_at(self.trace, place) if place >= 0 else []

    def started_at(self, thread: int) -> int:
        """The step of the statement that started a thread; -1 where that is not known."""
        turns = self.trace.turns
        rows = np.flatnonzero((turns.what == turns.STARTS) & (turns.other == thread))
        return int(turns.step[rows[0]]) if len(rows) else -1
