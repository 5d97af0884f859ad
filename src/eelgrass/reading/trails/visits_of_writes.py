"""Which statement's visit wrote a slot: writes are told at steps, some of which belong to calls that a visit made."""

from __future__ import annotations

from dataclasses import dataclass

from eelgrass.reading.progress import give_way
from eelgrass.reading.recording import Recording
from eelgrass.trace.columns import find
from eelgrass.trace.histories import Part
from eelgrass.trace.model import StepKind

#: A write that is there from an object's beginning on.
_NEVER_WRITTEN = -2


@dataclass(frozen=True)
class Write:
    """A slot's write: the visit that made it, the step at which it was told, and the frame that a parameter was handed
    to (-1: it is none)."""

    visit: int
    step: int
    callee: int = -1


def last_write(recording: Recording, slot: int, step: int) -> Write | None:
    """The last write of a slot before a step; None where there is none, or no visit made it."""
    give_way()
    trace = recording.trace
    told = trace.histories.set_by(slot, step)
    if told == _NEVER_WRITTEN:
        return None
    owner = int(trace.slots.owner[slot])
    if trace.slots.part[slot] == Part.NAME:
        name = str(trace.values.get(int(trace.slots.key[slot])))
        function = trace.function_of_frame(owner)
        first = int(trace.frames.first[owner])
        is_handed = told < first and name in function.params
        if is_handed:
            call = int(trace.frames.call_step[owner])
            visit = visit_at(recording, call) if call >= 0 else visit_before(recording, first)
            return Write(visit, told, owner) if visit >= 0 else None
        visit = visit_at(recording, told)
        if visit < 0 or not _may_store(recording, visit, owner, name):
            visit = visit_in(recording, owner, told)
        return Write(visit, told) if visit >= 0 else None
    if told < 0:
        told = int(trace.objects.first[owner])
    visit = visit_at(recording, told)
    return Write(visit, told) if visit >= 0 else None


def _may_store(recording: Recording, visit: int, frame: int, name: str) -> bool:
    """Whether a visit may store a name of a frame: in this frame, or in one that shares the name. A write may be told
    at a step of another thread."""
    visiting = recording.stepping.frame_of(visit)
    function = recording.trace.function_of_frame(visiting)
    return visiting == frame or name in function.free or name in function.global_


def visit_before(recording: Recording, step: int) -> int:
    """The latest visit before a step, in whatever frame; -1 where there is none. So a thread's first frame began."""
    while step > 0:
        step -= 1
        if recording.trace.steps.kind[step] == StepKind.LINE:
            return step
    return -1


def visit_in(recording: Recording, frame: int, step: int) -> int:
    """The latest visit of a statement in a frame, up to a step; -1 where there is none."""
    stops = recording.stepping.stops_of(frame)
    place = find(stops, step + 1) - 1
    while place >= 0 and recording.trace.steps.kind[stops[place]] != StepKind.LINE:
        place -= 1
    return int(stops[place]) if place >= 0 else -1


def visit_at(recording: Recording, step: int) -> int:
    """The visit at work at a step; -1 where there is none. As a call ends, its caller's statement goes on."""
    trace = recording.trace
    if not 0 <= step < len(trace.steps):
        return -1
    if trace.steps.kind[step] == StepKind.RETURN:
        call = recording.stepping.call_of(step)
        return call if call != step else -1
    return visit_in(recording, int(trace.steps.frame[step]), step)
