"""What each thread is doing at a step, and whether they wait for one another in a circle: a deadlock.

A circle of threads, each of which waits for what the next one holds, is what Coffman, Elphick and Shoshani (System
Deadlocks, 1971) call the circular wait.
"""

from __future__ import annotations

import ast
from dataclasses import dataclass, field
from typing import Literal

from eelgrass.reading.recording import Recording
from eelgrass.reading.state.thread_names import ThreadName, thread_names
from eelgrass.reading.threads.locks import HELD, Held, Lock, Locks, calls_of_locks
from eelgrass.trace.model import Turns

#: Types of what can be waited for; classes that are derived from Thread come with the locks of theirs.
_WAITED_FOR = frozenset(
    ("lock", "_RLock", "Thread", "Condition", "Semaphore", "Event", "Queue", "SimpleQueue", "Barrier")
)
State = Literal["running", "waiting", "not started", "ended"]


@dataclass(frozen=True)
class ThreadState:
    """A thread just before a step: where it stands (line 0: nowhere) and its latest step (-1: none), what it waits for
    and by whom that is held (its place among the threads; -1: nobody), what it holds, and whether it only sleeps."""

    its: ThreadName
    state: State
    last: int = -1
    file: str = ""
    line: int = 0
    waits_for: Lock | None = None
    held_by: int = -1
    holds: list[Held] = field(default_factory=list)
    sleeps: bool = False


@dataclass(frozen=True)
class Threads:
    """All threads just before a step; `deadlock` has the places of those that wait in a circle, in its order."""

    step: int
    states: list[ThreadState]
    deadlock: list[int]

    @property
    def text(self) -> str:
        """In a sentence, who waits for what; '' where nobody does."""
        told = self.deadlock or [place for place, its in enumerate(self.states) if its.state == "waiting"]
        told = [place for place in told if not self.states[place].sleeps]
        waits = "; ".join(f"“{self.states[place].its.name}” {self.wait(place)}" for place in told)
        if not waits:
            return ""
        return f"A deadlock, in which nobody can go on: {waits}." if self.deadlock else f"{waits}."

    def wait(self, place: int) -> str:
        """What a thread waits for, in words; '' for one that does not wait."""
        its = self.states[place]
        if its.waits_for is None:
            does = "sleeps" if its.sleeps else "waits"
            return f"{does} at line {its.line}" if its.state == "waiting" else ""
        if its.waits_for.kind == "thread":
            return f"waits at line {its.line} for “{self.states[its.held_by].its.name}” to end"
        what = f"waits at line {its.line} for {its.waits_for.name}"
        if its.held_by < 0:
            return what
        holder = self.states[its.held_by]
        line = next((held.line for held in holder.holds if held.lock.object == its.waits_for.object), 0)
        return f"{what}, held by “{holder.its.name}” since line {line}"


def waiting_at_the_end(recording: Recording) -> Threads:
    """The threads at the end of what is recorded; none where there is nothing that could be waited for."""
    if not len(recording.trace.steps) or _WAITED_FOR.isdisjoint(recording.trace.objects.types):
        return Threads(-1, [], [])
    return threads_at(recording, len(recording.trace.steps) - 1)


def threads_at(recording: Recording, step: int) -> Threads:
    """What each thread is doing just before a step."""
    return ThreadReader(recording).at(step)


class ThreadReader:
    """The threads of one recording; what does not depend on the step is found once."""

    def __init__(self, recording: Recording) -> None:
        self.recording = recording
        self._names = thread_names(recording.trace)
        self._calls = calls_of_locks(recording)
        self._objects: dict[tuple[int, ast.expr], int] = {}
        self._steps = recording.thread_steps

    def at(self, step: int) -> Threads:
        """All threads that have been made, or have begun, just before a step."""
        its = self.recording
        first_seen = its.trace.objects.first
        last = {one: self._steps.last(one.thread, step) for one in self._names}
        names = [
            one for one in self._names if last[one] >= 0 or (one.object >= 0 and int(first_seen[one.object]) <= step)
        ]
        lasts = [last[one] for one in names]
        locks = Locks(its, step, self._calls, self._objects)
        ended = [self._steps.has_ended(one.thread, step) for one in names]
        holds = [locks.held(last) if last >= 0 and not over else [] for last, over in zip(lasts, ended, strict=True)]
        waits = [self._steps.waits(one.thread, step) for one in names]
        states = [
            _state(its, locks, names, place, lasts[place], ended, holds, waits[place]) for place in range(len(names))
        ]
        return Threads(step, states, _circle([one.held_by for one in states]))


def _state(
    recording: Recording,
    locks: Locks,
    names: list[ThreadName],
    place: int,
    last: int,
    ended: list[bool],
    holds: list[list[Held]],
    waits: int | None,
) -> ThreadState:
    its = names[place]
    if last < 0:
        return ThreadState(its, "not started")
    if ended[place]:
        at = recording.place_at(last)
        return ThreadState(its, "ended", last, at.file, at.line)
    at = recording.place_at(recording.thread_steps.stands_at(its.thread, locks.step))
    may_wait = last < locks.step or _is_end(recording, locks.step)
    if waits == Turns.SLEEPS:
        return ThreadState(its, "waiting", last, at.file, at.line, holds=holds[place], sleeps=True)
    wanted = locks.waited_for(last) if may_wait and waits != -1 else None
    by = _holder(names, wanted, ended, holds) if wanted is not None else -1
    is_its_own = by == place and wanted is not None and wanted.kind != "Lock"  # which it can take again
    if waits == Turns.WAITS:
        return ThreadState(its, "waiting", last, at.file, at.line, None if is_its_own else wanted, by, holds[place])
    if wanted is None or is_its_own or (by < 0 and wanted.kind in (*HELD, "thread")):
        stands = recording.thread_steps.stands_at(its.thread, locks.step)
        return ThreadState(its, "running", stands, at.file, at.line, holds=holds[place])
    return ThreadState(its, "waiting", last, at.file, at.line, wanted, by, holds[place])


def _holder(names: list[ThreadName], wanted: Lock, ended: list[bool], holds: list[list[Held]]) -> int:
    """The place of the thread that holds what another waits for, or, where that is a thread that has not ended, its
    own."""
    if wanted.kind == "thread":
        return next((n for n, its in enumerate(names) if its.object == wanted.object and not ended[n]), -1)
    return next((n for n, its in enumerate(holds) if any(held.lock.object == wanted.object for held in its)), -1)


def _is_end(recording: Recording, step: int) -> bool:
    return step >= len(recording.trace.steps) - 1


def _circle(held_by: list[int]) -> list[int]:
    """The first circle of threads, each held up by the next; empty where there is none."""
    for start in range(len(held_by)):
        seen: list[int] = []
        here = start
        while here >= 0 and here not in seen:
            seen.append(here)
            here = held_by[here]
        if here >= 0:
            return seen[seen.index(here) :]
    return []
