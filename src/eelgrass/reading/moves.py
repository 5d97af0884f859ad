"""Every move of the reader in one table: from the step that is shown to the one to show next."""

from __future__ import annotations

from collections.abc import Callable

from eelgrass.reading.recording import Recording
from eelgrass.trace.model import StepKind

#: Gives the step to show next; the same one, or -1, where the move leads nowhere.
Move = Callable[[Recording, int], int]


def _line(recording: Recording, step: int) -> tuple[int, int]:
    return recording.module_at(step), recording.trace.line_of(step)


def _function(recording: Recording, step: int) -> int:
    return int(recording.trace.frames.function[recording.stepping.frame_of(step)])


def _loop(recording: Recording, step: int) -> int:
    return next(iter(recording.loops.around(step)), -1)


def _to_pass(recording: Recording, step: int, number: int) -> int:
    loop = _loop(recording, step)
    return step if loop < 0 else recording.loops.to_pass(step, loop, number)


def _past_loop(recording: Recording, step: int) -> int:
    loop = _loop(recording, step)
    return step if loop < 0 else recording.loops.past(step, loop)


def _to_thread(recording: Recording, step: int, way: int) -> int:
    """Where the next thread stands that has begun and not ended, in the order of their numbers, round and round."""
    threads = recording.thread_steps
    here = threads.numbers.index(int(threads.of_step[step]))
    others = threads.numbers[here + 1 :] + threads.numbers[:here]
    places = (threads.stands_at(thread, step) for thread in others[::way])
    return next((recording.stepping.nearest(place) for place in places if place >= 0), step)


MOVES: dict[str, Move] = {
    "first": lambda its, _step: its.stepping.first(),
    "last": lambda its, _step: its.stepping.last(),
    "next_line": lambda its, step: its.stepping.next_line(step),
    "previous_line": lambda its, step: its.stepping.previous_line(step),
    "into": lambda its, step: its.stepping.into(step),
    "out": lambda its, step: its.stepping.out(step),
    "call_of": lambda its, step: its.stepping.call_of(step),
    "next_any": lambda its, step: its.stepping.next_any(step),
    "previous_any": lambda its, step: its.stepping.previous_any(step),
    "next_pass": lambda its, step: its.loops.another_pass(step, 1),
    "previous_pass": lambda its, step: its.loops.another_pass(step, -1),
    "first_pass": lambda its, step: _to_pass(its, step, 1),
    "last_pass": lambda its, step: _to_pass(its, step, -1),
    "past_loop": _past_loop,
    "next_visit": lambda its, step: its.visits.next_visit(*_line(its, step), step),
    "previous_visit": lambda its, step: its.visits.latest(*_line(its, step), step),
    "next_call": lambda its, step: its.calls.next_of_function(_function(its, step), step),
    "previous_call": lambda its, step: its.calls.previous_of_function(_function(its, step), step),
    "next_thread": lambda its, step: _to_thread(its, step, 1),
    "previous_thread": lambda its, step: _to_thread(its, step, -1),
    "next_exception": lambda its, step: its.calls.next_of_kind(StepKind.RAISE, step),
    "previous_exception": lambda its, step: its.calls.previous_of_kind(StepKind.RAISE, step),
}
