"""Questions: any expression, at one moment or over the whole run.

A question is asked of frames. Over the run it is answered where its answer can have changed: when one of the names in
it, or something inside of what these hold, was written. So it costs as much as has changed, not as much as has run.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, replace
from functools import lru_cache
from typing import Any

import numpy as np

from eelgrass.reading.expressions.batch import NoValue, evaluated, outcome
from eelgrass.reading.expressions.evaluator import Evaluator
from eelgrass.reading.expressions.expression import Expression
from eelgrass.reading.expressions.python_values import Thing, type_word
from eelgrass.reading.progress import Progress
from eelgrass.reading.recording import Recording
from eelgrass.reading.state.history import steps_written
from eelgrass.reading.state.name_lookup import NO_SLOT, slots_of
from eelgrass.trace.columns import Ints, between, distinct
from eelgrass.trace.values import NOT_SET, Kind

_MOST_CHARACTERS = 2000


@dataclass(frozen=True)
class WatchValue:
    """What an expression gives at a step in a frame. `known` is false where the recording does not say; then, and where
    the expression raises an exception, `text` is a sentence and `type_word` ''. `is_true` only for values."""

    step: int
    frame: int
    text: str
    type_word: str
    known: bool
    is_true: bool


@dataclass(frozen=True)
class WatchHistory:
    """Every change of a question's answer, in order of time: the steps, the frames, and for each the place of the
    answer in `results`. `moments` were looked at; `is_whole` is false when there were too many."""

    steps: Ints
    frames: Ints
    which: Ints
    results: list[Any]
    moments: int
    is_whole: bool

    def __len__(self) -> int:
        return len(self.steps)

    def __getitem__(self, place: int) -> WatchValue:
        return _answer(int(self.steps[place]), int(self.frames[place]), self.results[int(self.which[place])])

    def text(self, result: int) -> str:
        """The text of a result, by its place in `results`."""
        return _answer(0, 0, self.results[result]).text

    def __iter__(self) -> Iterator[WatchValue]:
        return (self[place] for place in range(len(self)))

    @property
    def true(self) -> Ints:
        """The places of the changes to an answer that counts as true."""
        true = [not isinstance(its, (NoValue, Thing)) and bool(its) for its in self.results]
        return np.flatnonzero(np.array([*true, False], np.bool_)[self.which])

    def narrowed(self, of_frames: Ints, function: int) -> WatchHistory:
        """The changes in the frames of one function; `of_frames` says of each frame which function it is of."""
        places = np.flatnonzero(of_frames[self.frames] == function)
        return replace(self, steps=self.steps[places], frames=self.frames[places], which=self.which[places])

    @property
    def is_yes_or_no(self) -> bool:
        """Whether all known answers are True or False."""
        return all(isinstance(its, bool) for its in self.results if not isinstance(its, NoValue))


def at(recording: Recording, asked: Expression, frame: int, step: int) -> WatchValue:
    """The answer just before a step, as seen from a frame."""
    evaluator = Evaluator(recording.trace, frame, step)
    return _answer(step, frame, outcome(lambda: evaluator.value(asked.tree)))


def over(recording: Recording, asked: Expression, progress: Progress | None = None) -> WatchHistory:
    """Every change of the answer over the run. Where a name belongs to a function, the question is asked in each of its
    frames, else in the module. Given up or too much, it ends early."""
    steps, frames = moments(recording, asked)
    told = evaluated(recording.trace, asked, steps, frames, progress)
    order = np.argsort(told.frames, kind="stable")
    which, frames = told.which[order], told.frames[order]
    known = np.array([not isinstance(its, NoValue) or its.known for its in told.results], np.bool_)
    begins = np.append(True, frames[1:] != frames[:-1])[: len(order)]
    changed = begins | np.append(True, which[1:] != which[:-1])[: len(order)]
    # Before its names are there, a question has no answer that could change.
    so_far = np.cumsum(known[which])
    at_beginning = np.maximum.accumulate(np.where(begins, so_far - known[which], 0))
    changed &= so_far > at_beginning
    places = np.sort(order[changed])
    return WatchHistory(
        told.steps[places], told.frames[places], told.which[places], told.results, len(order), told.is_whole
    )


def moments(recording: Recording, asked: Expression) -> tuple[Ints, Ints]:
    """(the steps before which the answer can be another than before, in order; the frames that it is then asked in)."""
    trace = recording.trace
    frames = _frames(recording, asked)
    first = trace.frames.first[frames].astype(np.int64)
    last = trace.frames.last[frames].astype(np.int64)
    end = np.where(last >= 0, last, len(trace.steps) - 1)
    inside = lru_cache(None)(lambda number: _steps_inside(recording, number))
    found_steps, found_frames = [first + 1], [frames]
    for name in asked.names:
        slots = slots_of(trace, frames, name)
        held = np.where(slots == NO_SLOT, NOT_SET, trace.histories.values_at(np.maximum(slots, 0), first + 1))
        rows, when, written = trace.histories.writes_between(slots, first, end)
        found_steps.append(when + 1)
        found_frames.append(frames[rows])
        for row, number in _objects(recording, np.concatenate((np.arange(len(frames)), rows)), [*held, *written]):
            steps = inside(number)
            steps = steps[between(steps, int(first[row]), int(end[row]))] + 1
            found_steps.append(steps)
            found_frames.append(np.full(len(steps), frames[row]))
    packed = distinct(np.concatenate(found_steps).astype(np.int64) << 32 | np.concatenate(found_frames))
    return packed >> 32, packed & 0xFFFFFFFF


def _objects(recording: Recording, rows: Ints, held: list[Any]) -> list[tuple[int, int]]:
    """The objects among some values, with the row that each stands in; every pair once."""
    values = np.array(held, np.int64)
    kinds = np.append(recording.trace.values.kinds, Kind.NONE)
    its = np.flatnonzero(kinds[values] == Kind.REF)
    packed = np.unique(rows[its].astype(np.int64) << 32 | recording.trace.values.payloads[values[its]])
    return list(zip((packed >> 32).tolist(), (packed & 0xFFFFFFFF).tolist(), strict=True))


def _steps_inside(recording: Recording, number: int) -> Ints:
    """All steps during which something inside an object was written."""
    slots = recording.trace.histories.of_object(number).tolist()
    found = steps_written(recording.trace, slots, 0, len(recording.trace.steps), follow=lambda _number: True)
    return np.array(sorted(found), np.int64)


def _frames(recording: Recording, asked: Expression) -> Ints:
    """The frames that a question is asked in over the run: those of functions that one of its names belongs to, and the
    module where each such name is one of the module's, too; without any, the module."""
    functions = recording.trace.program.functions
    own = [
        number
        for number, function in enumerate(functions)
        if function.kind != "module" and not set(asked.names).isdisjoint(function.local)
    ]
    modules = [number for number, function in enumerate(functions) if function.kind == "module"][:1]
    of_functions = set(asked.names) & {name for number in own for name in functions[number].local}
    of_module = [number for number in modules if of_functions <= set(functions[number].local)]
    wanted = own + of_module if own else modules
    return np.flatnonzero(np.isin(recording.trace.frames.function, wanted))


def _answer(step: int, frame: int, result: Any) -> WatchValue:
    if isinstance(result, NoValue):
        return WatchValue(step, frame, result.text, "", result.known, False)
    is_true = not isinstance(result, Thing) and bool(result)
    return WatchValue(step, frame, _text(result), type_word(result), True, is_true)


def _text(value: Any) -> str:
    try:
        text = repr(value)
    except ValueError:
        return "a whole number with more digits than Python writes"
    return text if len(text) <= _MOST_CHARACTERS else text[: _MOST_CHARACTERS - 1] + "…"
