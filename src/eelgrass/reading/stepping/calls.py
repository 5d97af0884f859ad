"""Call frames over the whole run: who called whom, with what, and how it ended."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property

import numpy as np

from eelgrass.reading.state.call_stack import Binding, bindings_of
from eelgrass.trace.columns import Ints, between, find, grouped
from eelgrass.trace.model import FrameEnd, StepKind, Trace


@dataclass(frozen=True)
class FrameFacts:
    """One frame: its function's name, the parameters with the values that it was called with, its first and last step
    (-1: still open), how it ended, and the value number handed back or of the exception (NOT_SET: none)."""

    frame: int
    function: str
    arguments: list[Binding]
    first: int
    last: int
    end: FrameEnd
    value: int


class Calls:
    """The frames of one recording."""

    def __init__(self, trace: Trace) -> None:
        self.trace = trace

    @cached_property
    def _by_caller(self) -> tuple[Ints, Ints]:
        """(frames sorted by caller and then time, their callers)."""
        return grouped(self.trace.frames.caller)

    @cached_property
    def _by_function(self) -> tuple[Ints, Ints]:
        """(frames sorted by function and then time, their functions)."""
        return grouped(self.trace.frames.function)

    def of_function(self, function: int) -> Ints:
        """All frames of a function, in order."""
        frames, functions = self._by_function
        return frames[between(functions, function, function + 1)]

    def facts(self, frame: int) -> FrameFacts:
        """What is to be known of a frame as a whole."""
        its, function = self.trace.frames, self.trace.function_of_frame(frame)
        first = int(its.first[frame])
        bound = {binding.name: binding for binding in bindings_of(self.trace, frame, first)}
        arguments = [bound[name] for name in function.params if name in bound]
        end, value = FrameEnd(int(its.end[frame])), int(its.value[frame])
        return FrameFacts(frame, function.name, arguments, first, int(its.last[frame]), end, value)

    def next_of_function(self, function: int, step: int) -> int:
        """The first step of the next frame of a function that begins after `step`, or -1."""
        firsts = self.trace.frames.first[self.of_function(function)]
        place = find(firsts, step + 1)
        return int(firsts[place]) if place < len(firsts) else -1

    def previous_of_function(self, function: int, step: int) -> int:
        """The first step of the latest frame of a function that begins before `step`, or -1."""
        firsts = self.trace.frames.first[self.of_function(function)]
        place = find(firsts, step)
        return int(firsts[place - 1]) if place else -1

    @cached_property
    def _steps_by_kind(self) -> list[Ints]:
        kinds = self.trace.steps.kind
        rare = (StepKind.CALL, StepKind.RETURN, StepKind.RAISE)
        return [np.zeros(0, np.int32), *(np.flatnonzero(kinds == kind).astype(np.int32) for kind in rare)]

    def next_of_kind(self, kind: StepKind, step: int) -> int:
        """The next step of a kind (not LINE) after `step`, or -1."""
        steps = self._steps_by_kind[kind]
        place = find(steps, step + 1)
        return int(steps[place]) if place < len(steps) else -1

    def previous_of_kind(self, kind: StepKind, step: int) -> int:
        """The latest step of a kind (not LINE) before `step`, or -1."""
        steps = self._steps_by_kind[kind]
        place = find(steps, step)
        return int(steps[place - 1]) if place else -1
