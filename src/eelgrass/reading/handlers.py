"""Handlers: functions of the program that something outside of it calls, once for each thing that happens."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from eelgrass.reading.progress import Progress
from eelgrass.reading.recording import Recording
from eelgrass.reading.state.call_stack import handed_back
from eelgrass.reading.state.caused_frames import caused_frames
from eelgrass.reading.state.value_text import brief
from eelgrass.trace.columns import between, find
from eelgrass.trace.histories import Part
from eelgrass.trace.values import NOT_SET

_CHARACTERS, _MOST_CHANGES = 24, 4


@dataclass(frozen=True)
class HandlerCall:
    """One call of a handler: the frame, its first stop and its last step (-1: still open), the name of the function,
    how often it has been called by then, and in all, why, in words, and its arguments, changes and result as text."""

    frame: int
    first: int
    last: int
    function: str
    number: int
    times: int
    cause: str
    arguments: str
    changes: str
    result: str


def handler_calls(recording: Recording, progress: Progress | None = None) -> list[HandlerCall]:
    """All of them, in order: those for which a cause was told. The first ones only, if it is given up."""
    progress, handlers, found = progress or Progress(), _Handlers(recording), list[HandlerCall]()
    caused = caused_frames(recording.trace)
    for count, (frame, cause) in enumerate(caused):
        if not progress.goes_on(count / len(caused)):
            break
        found.append(handlers.told(frame, cause))
    return found


class _Handlers:
    """What does not depend on the call is found once."""

    def __init__(self, recording: Recording) -> None:
        self.recording = recording
        self._trace = recording.trace
        steps = self._trace.slots.write_step
        self._by_time = np.argsort(steps, kind="stable")
        self._steps = steps[self._by_time]
        self._slots = self._trace.slots.write_slot[self._by_time]

    def told(self, frame: int, cause: str) -> HandlerCall:
        """One call in words."""
        trace, calls, facts = self._trace, self.recording.calls, self.recording.calls.facts(frame)
        given = [
            f"{its.name} = {brief(trace, its.value, facts.first + 1, _CHARACTERS)}"
            for its in facts.arguments
            if its.name != "self"
        ]
        frames = calls.of_function(int(trace.frames.function[frame]))
        gave = handed_back(trace, frame, facts.last) if facts.last >= 0 else NOT_SET
        return HandlerCall(
            frame,
            self.recording.stepping.nearest(facts.first),
            facts.last,
            facts.function,
            find(frames, frame) + 1,
            len(frames),
            cause,
            ", ".join(given),
            self._changes(frame, facts.first, facts.last),
            "" if gave == NOT_SET or trace.values.get(gave) is None else brief(trace, gave, facts.last, _CHARACTERS),
        )

    def _changes(self, frame: int, first: int, last: int) -> str:
        """What a call has changed that outlives it."""
        trace = self._trace
        end = last + 1 if last >= 0 else len(trace.steps)
        found: dict[int, None] = {}
        for slot in self._slots[between(self._steps, first, end)].tolist():
            owner, part = int(trace.slots.owner[slot]), int(trace.slots.part[slot])
            is_kept = owner < frame if part == Part.NAME else part != Part.SIZE and trace.objects.first[owner] < first
            if is_kept and trace.histories.value_at(slot, first) != trace.histories.value_at(slot, end):
                found[slot] = None
        told, at = [], min(end, len(trace.steps) - 1)
        for slot in found:
            name = self.recording.references.name_of_slot(slot, frame, at)
            if name:
                value = trace.histories.value_at(slot, end)
                told.append(f"{name} ← {'gone' if value == NOT_SET else brief(trace, value, at, _CHARACTERS)}")
        more = len(told) - _MOST_CHANGES
        return ", ".join(told[:_MOST_CHANGES]) + (f" and {more} more" if more > 0 else "")
