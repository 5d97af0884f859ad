"""Loops: which pass a step belongs to, and the steps at which passes begin.

A loop's *round* is one execution of the whole loop statement: the passes from its beginning to its end in one frame.
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache

import numpy as np
import numpy.typing as npt

from eelgrass.reading.stepping.stepping import Stepping
from eelgrass.reading.stepping.visits import Visits
from eelgrass.trace.columns import Ints, Wides, find
from eelgrass.trace.model import Trace
from eelgrass.trace.program import EXPRESSION

LOOPS = ("for", "while", "asyncfor")
_KEPT = 64


@dataclass(frozen=True)
class Pass:
    """Pass `number`, from 1, of `in_all`; at the visit that ends the loop, `number` is 0."""

    number: int
    in_all: int


@dataclass(frozen=True)
class _Headers:
    """Every visit of one loop's header, sorted by frame and then time: `keys` has frame and step in one number;
    `enters`: whether a pass begins there; `start` and `end` of the visit's round, as places in these columns; `passes`:
    how many passes have begun up to it, counted from the first visit of all."""

    keys: Wides
    steps: Ints
    enters: npt.NDArray[np.bool_]
    start: Ints
    end: Ints
    passes: Ints


class Loops:
    """The loops of one recording."""

    def __init__(self, trace: Trace, stepping: Stepping, visits: Visits) -> None:
        self.trace = trace
        self.stepping = stepping
        self.visits = visits
        self._headers = lru_cache(_KEPT)(self._read_headers)

    def around(self, step: int) -> list[int]:
        """The loops that a step stands in, or at the header of, as statements; the innermost first."""
        statements = self.trace.program.statements
        statement = int(self.trace.steps.statement[step])
        found = []
        came_from = statement
        while statement >= 0:
            its = statements[statement]
            if its.kind in LOOPS and (statement == came_from or statements[came_from].arm == 0):
                found.append(statement)
            if its.arm == EXPRESSION:
                break  # a frame of its own
            came_from, statement = statement, its.parent
        return found

    def pass_at(self, step: int, loop: int | None = None) -> Pass | None:
        """Which pass of a loop (the innermost one around, unless another is named) a step belongs to; None where the
        step is in no such loop."""
        loop = next(iter(self.around(step)), None) if loop is None else loop
        place = -1 if loop is None else self._place(step, loop)
        if place < 0 or loop is None:
            return None
        its = self._headers(loop)
        before, last = self._passes_before(its, place), int(its.end[place]) - 1
        number = int(its.passes[place]) - before
        return Pass(number if its.enters[place] else 0, int(its.passes[last]) - before)

    def starts(self, step: int, loop: int) -> Ints:
        """The header visits at which the passes of the round that a step belongs to begin, in order."""
        place = self._place(step, loop)
        if place < 0:
            return np.zeros(0, np.int32)
        its = self._headers(loop)
        whole = slice(int(its.start[place]), int(its.end[place]))
        return its.steps[whole][its.enters[whole]]

    def ends(self, step: int, loop: int) -> Ints:
        """The steps at which the passes of the round that a step belongs to are over: the next visit of the header, or
        where the frame goes on after the loop has been left."""
        starts = self.starts(step, loop).astype(np.int64)
        headers = self.visits.of_statement(loop)
        headers = headers[self.trace.steps.frame[headers] == self.stepping.frame_of(step)]
        if not len(starts):
            return starts
        past = self.past(step, loop)
        after = np.append(headers, past)[headers.searchsorted(starts + 1)]
        return np.where(after < max(past, 1), after, past)

    def to_pass(self, step: int, loop: int, number: int) -> int:
        """The first step inside pass `number` (from 1; -1 is the last one) of the round that a step belongs to; the
        same step where there is no such pass."""
        starts = self.starts(step, loop)
        place = number - 1 if number > 0 else len(starts) + number
        return self.stepping.next_in_frame(int(starts[place])) if 0 <= place < len(starts) else step

    def another_pass(self, step: int, by: int) -> int:
        """The same line in the next (`by` 1) or previous (-1) pass of the innermost loop around; where that pass does
        not reach it, the pass's beginning. At a loop's header: the header's visit. The same step where there is no
        such pass."""
        loop = next(iter(self.around(step)), None)
        place = -1 if loop is None else self._place(step, loop)
        if loop is None or place < 0:
            return step
        its = self._headers(loop)
        other = place + by
        if not int(its.start[place]) <= other < int(its.end[place]):
            return step
        header = int(its.steps[other])
        if not its.enters[other] or int(self.trace.steps.statement[step]) == loop:
            return header
        end = int(its.steps[other + 1]) if other + 1 < int(its.end[place]) else self.past(step, loop)
        frame = self.stepping.stops_of(self.stepping.frame_of(step))
        within = frame[find(frame, header + 1) : find(frame, end)]
        same = within[self.trace.steps.statement[within] == self.trace.steps.statement[step]]
        return int(same[0]) if len(same) else self.stepping.next_in_frame(header)

    def past(self, step: int, loop: int) -> int:
        """The step of the frame that comes after the round of a loop that a step belongs to; the frame's last one
        where the loop ends the frame."""
        place = self._place(step, loop)
        if place < 0:
            return step
        its = self._headers(loop)
        here = int(its.steps[int(its.end[place]) - 1])
        while True:
            after = self.stepping.next_in_frame(here)
            if after < 0:
                return here
            if not inside(self.trace, int(self.trace.steps.statement[after]), loop):
                return after
            here = after

    def rounds(self, loop: int) -> Ints:
        """The steps at which the loop begins, over the whole run, in order."""
        its = self._headers(loop)
        return np.sort(its.steps[np.unique(its.start)])

    def _place(self, step: int, loop: int) -> int:
        """The place of the latest visit of the loop's header, in the step's frame and up to it; -1 for none."""
        its, frame = self._headers(loop), self.stepping.frame_of(step)
        place = find(its.keys, (frame << 32) + step + 1) - 1
        return place if place >= 0 and int(its.keys[place]) >> 32 == frame else -1

    def _passes_before(self, its: _Headers, place: int) -> int:
        first = int(its.start[place])
        return int(its.passes[first]) - int(its.enters[first])

    def _read_headers(self, loop: int) -> _Headers:
        steps = self.visits.of_statement(loop)
        frames = self.trace.steps.frame[steps]
        order = np.argsort(frames, kind="stable")
        steps, frames = steps[order], frames[order]
        before, after = self.stepping.neighbours(steps)
        enters, comes_back = self._are_inside(after, loop), self._are_inside(before, loop)
        comes_back[:1] = False
        comes_back[1:] &= frames[1:] == frames[:-1]
        starts = np.flatnonzero(~comes_back)
        which = np.cumsum(~comes_back) - 1
        ends = np.append(starts[1:], len(steps))
        return _Headers(
            frames.astype(np.int64) << 32 | steps,
            steps,
            enters,
            starts[which].astype(np.int32),
            ends[which].astype(np.int32),
            np.cumsum(enters).astype(np.int32),
        )

    def _are_inside(self, steps: Ints, loop: int) -> npt.NDArray[np.bool_]:
        """Which of some steps (-1: none) stand in the body of a loop."""
        statements, which = np.unique(np.where(steps >= 0, self.trace.steps.statement[steps], -1), return_inverse=True)
        table = [inside(self.trace, number, loop) for number in statements.tolist()]
        result: npt.NDArray[np.bool_] = np.array(table, np.bool_)[which]
        return result


def inside(trace: Trace, statement: int, loop: int) -> bool:
    """Whether a statement stands, at any depth, in the body of another."""
    while statement >= 0:
        around = trace.program.statements[statement].parent
        if around == loop:
            return trace.program.statements[statement].arm == 0
        statement = around
    return False
