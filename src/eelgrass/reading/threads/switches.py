"""Where in a run another thread could have gone on, the likeliest to matter first."""

from __future__ import annotations

import ast
from collections import Counter
from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np

from eelgrass.reading.recording import Recording
from eelgrass.reading.threads.accesses import shared_accesses
from eelgrass.trace.columns import Ints
from eelgrass.trace.model import StepKind

#: Methods by which threads have to do with one another.
_MEETING = frozenset(("acquire", "release", "put", "get", "wait", "wait_for", "notify", "notify_all", "set", "clear"))
#: How much later a place is tried that matters less, in visits of its statement.
_WRITES_AFTER_READING, _TOUCHES, _NOTHING = 0, 2, 12


@dataclass(frozen=True)
class Switch:
    """That thread goes on at a place, which counts the steps of statements before it; the less the cost, the sooner it
    is worth trying."""

    place: int
    thread: int
    cost: int


def places(recording: Recording) -> Ints:
    """The steps at which threads hand over, in order: a step's place is its place in here. What passes within a
    statement is none."""
    trace = recording.trace
    is_inner = np.array([its.name.startswith("<") and its.kind != "module" for its in trace.program.functions], bool)
    within = is_inner[trace.frames.function[trace.steps.frame]] if len(is_inner) else np.zeros(0, bool)
    return np.flatnonzero((trace.steps.kind == StepKind.LINE) & ~within)


def switches(recording: Recording, after: int = -1) -> list[Switch]:
    """The switches that a run leaves open behind a place, the most promising first."""
    steps, threads = places(recording), recording.thread_steps.of_step
    lasts = {thread: int(np.flatnonzero(threads == thread)[-1]) for thread in np.unique(threads).tolist()}
    if len(lasts) < 2:
        return []
    first = int(np.flatnonzero(threads != 0)[0])
    costs, seen = _costs(recording), Counter[tuple[int, int]]()
    found = []
    for place, step in enumerate(steps.tolist()):
        on, statement = int(threads[step]), int(recording.trace.steps.statement[step])
        seen[on, statement] += 1
        if place <= after or (step < first and place + 1 < len(steps) and steps[place + 1] < first):
            continue
        cost = costs.get(step, _NOTHING) + seen[on, statement]
        found += [Switch(place, thread, cost) for thread, last in lasts.items() if thread != on and last > step]
    return sorted(found, key=lambda its: (its.cost, its.place, its.thread))


def _costs(recording: Recording) -> dict[int, int]:
    """By step, what makes a place worth trying."""
    found = dict.fromkeys(_meetings(recording), _TOUCHES)
    read: set[tuple[int, int]] = set()
    for its in shared_accesses(recording):
        frame = recording.stepping.frame_of(its.visit)
        if its.writes and (frame, its.slot) in read:
            found[its.visit] = _WRITES_AFTER_READING
        else:
            found.setdefault(its.visit, _TOUCHES)
        if not its.writes:
            read.add((frame, its.slot))
    return found


def _meetings(recording: Recording) -> Iterator[int]:
    """The visits of statements that take locks, and the like."""
    for number in range(len(recording.trace.program.statements)):
        node = recording.worked_lines.syntax.statement(number)
        if node is None:
            continue
        own = [node] if not hasattr(node, "body") else [its.context_expr for its in getattr(node, "items", [])]
        calls = (part for each in own for part in ast.walk(each) if isinstance(part, ast.Call))
        names = {call.func.attr for call in calls if isinstance(call.func, ast.Attribute)}
        if isinstance(node, (ast.With, ast.AsyncWith)) or names & _MEETING:
            yield from recording.visits.of_statement(number).tolist()
