"""The life of each thread over a run: when it was on, when it waited, when it slept."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from eelgrass.reading.state.thread_steps import ThreadSteps
from eelgrass.trace.columns import Ints

#: So many threads are told apart.
MOST_BANDS = 6


@dataclass(frozen=True)
class Band:
    """A thread: the steps at which its life begins and ends, and the stretches of steps in which it was `on`, `waits`
    for what another does, and `sleeps`, each as rows of (first, last)."""

    thread: int
    name: str
    first: int
    last: int
    on: Ints
    waits: Ints
    sleeps: Ints


def bands(threads: ThreadSteps) -> list[Band]:
    """The bands of the first threads; none for a run with one thread only."""
    numbers = threads.numbers
    return [_band(threads, number) for number in numbers[:MOST_BANDS]] if len(numbers) > 1 else []


def _band(threads: ThreadSteps, thread: int) -> Band:
    steps, end = threads.steps_of(thread), len(threads.trace.steps) - 1
    breaks = np.flatnonzero(np.diff(steps) > 1)
    on = np.stack((steps[np.append(0, breaks + 1)], steps[np.append(breaks, len(steps) - 1)]), axis=1)
    last = int(steps[-1]) if threads.has_ended(thread, end) else end
    started = threads.started_at(thread)
    turns, waiting = threads.trace.turns, []
    for what in (turns.WAITS, turns.SLEEPS):
        began = turns.step[(turns.thread == thread) & (turns.what == what)]
        places = np.searchsorted(steps, began, side="right")
        ends = np.where(places < len(steps), steps[np.minimum(places, len(steps) - 1)] - 1, last)
        waiting.append(np.stack((began + 1, ends), axis=1)[ends > began])
    first = int(steps[0]) if started < 0 else started
    return Band(thread, threads.names.get(thread, str(thread)), first, last, on, waiting[0], waiting[1])
