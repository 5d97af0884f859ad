"""The course of a question's answer over the run, to be drawn small: numbers as a line, others as bands."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from eelgrass.reading.expressions.batch import NoValue
from eelgrass.reading.watches.watch import WatchHistory
from eelgrass.trace.columns import Ints
from eelgrass.trace.model import Trace


@dataclass(frozen=True)
class Series:
    """Equal stretches of the run, each with the lowest and highest number (NaN: none), or, where not all answers are
    numbers, with the place of its last answer in `results` (-1: none). `least` and `most` are those of all numbers."""

    low: list[float]
    high: list[float]
    last: list[int]
    is_numbers: bool
    least: float
    most: float


def series(trace: Trace, over: WatchHistory, stretches: int) -> Series:
    """The course of the answers over the whole run."""
    return series_of(trace, over, 0, len(trace.steps), stretches)


def series_of(trace: Trace, over: WatchHistory, first_step: int, end_step: int, stretches: int) -> Series:
    """The course of the answers between two steps, in `stretches` parts. An answer stands until the next one, or until
    its frame ends."""
    edges = np.linspace(first_step, end_step, stretches + 1).astype(np.int64)
    numbers = _numbers(over)
    is_known = np.array([not isinstance(its, NoValue) or its.known for its in over.results], np.bool_)
    last_steps = trace.frames.last[over.frames]
    until = np.where(last_steps < 0, len(trace.steps), last_steps.astype(np.int64) + 1)
    low, high, last = [], [], []
    for first, end in zip(edges[:-1].tolist(), edges[1:].tolist(), strict=True):
        its = _standing(over.steps, until, first, max(end, first + 1))
        its = its[is_known[over.which[its]]] if len(its) else its
        held = numbers[over.which[its]] if len(its) else numbers[:0]
        low.append(float(np.min(held)) if len(held) else float("nan"))
        high.append(float(np.max(held)) if len(held) else float("nan"))
        last.append(int(over.which[its[-1]]) if len(its) else -1)
    used = np.unique(over.which)
    is_numbers = bool(len(used)) and not np.isnan(numbers[used[is_known[used]]]).any()
    told = [number for number in (*low, *high) if not np.isnan(number)]
    return Series(low, high, last, is_numbers, min(told, default=0.0), max(told, default=0.0))


def _numbers(over: WatchHistory) -> np.ndarray[tuple[int], np.dtype[np.float64]]:
    found = [float(its) if type(its) in (int, float) and abs(its) < 1e300 else float("nan") for its in over.results]
    return np.array(found, np.float64)


def _standing(steps: Ints, until: Ints, first: int, end: int) -> Ints:
    """The places of the answers that stand somewhere in a stretch: those given in it, and the one before."""
    low, high = int(steps.searchsorted(first)), int(steps.searchsorted(end))
    if low and until[low - 1] > first:
        low -= 1
    return np.arange(low, high)
