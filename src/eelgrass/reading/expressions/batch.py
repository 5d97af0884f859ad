"""One question at many moments at once.

Where all names of a question hold plain values, its answer depends on these alone, and each combination of them is
worked out once. Where one holds an object, every moment has to be worked out for itself, and there is a limit.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

import numpy as np
import numpy.typing as npt

from eelgrass.reading.expressions import compiled, safe_builtins
from eelgrass.reading.expressions.evaluator import Evaluator
from eelgrass.reading.expressions.expression import Expression
from eelgrass.reading.expressions.python_values import CannotAnswerError, Thing
from eelgrass.reading.progress import Progress
from eelgrass.reading.state.name_lookup import NO_SLOT, slots_of
from eelgrass.trace.columns import Ints, numbered
from eelgrass.trace.model import Trace
from eelgrass.trace.values import NOT_SET, Kind

#: So many moments are worked out one by one.
MOST_MOMENTS = 50_000
_TOLD_EVERY = 500
_PLAIN = (Kind.NONE, Kind.TRUTH, Kind.WHOLE, Kind.FLOAT, Kind.TEXT)


@dataclass(frozen=True)
class NoValue:
    """Why a question has no value at a moment: a sentence; `known` when it is an exception that the question raises."""

    text: str
    known: bool


@dataclass(frozen=True)
class Batch:
    """A question's answers just before `steps`, each in its frame: `which` has the place of each in `results`, where
    equal ones stand once. A result is a value or a NoValue. `is_whole` is false when it was too much, or given up:
    then there are answers only for the first of the steps."""

    steps: Ints
    frames: Ints
    which: Ints
    results: list[Any]
    is_whole: bool = True

    def truth(self) -> npt.NDArray[np.int8]:
        """For each step 1 (true), 0 (false), or -1 (there is no value, or not one that is known to count as true)."""
        told = [-1 if isinstance(its, (NoValue, Thing)) else int(bool(its)) for its in self.results]
        return np.array([*told, -1], np.int8)[self.which]


def evaluated(trace: Trace, asked: Expression, steps: Ints, frames: Ints, progress: Progress | None = None) -> Batch:
    """Asks a question just before each of some steps, in order, in the frames given for them."""
    return _Batcher(trace, asked, steps, frames, progress or Progress()).sweep()


def outcome(work_out: Callable[[], Any]) -> Any:
    """What a question gives: a value, or a NoValue that says why there is none."""
    try:
        return work_out()
    except CannotAnswerError as error:
        return NoValue(str(error), False)
    except NameError as error:
        return NoValue(f"Out of scope: {error}.", False)
    except RecursionError:
        return NoValue("This question is too deeply nested.", False)
    except Exception as error:  # what the expression raises, as it would in the program
        return NoValue(f"raises {type(error).__name__}: {error}", True)


class _Batcher:
    """One question on its way through the moments."""

    def __init__(self, trace: Trace, asked: Expression, steps: Ints, frames: Ints, progress: Progress) -> None:
        self.trace = trace
        self.asked = asked
        self.steps = steps
        self.frames = frames
        self.progress = progress
        self.results = _Results()
        self.which = np.full(len(steps), -1, np.int64)

    def sweep(self) -> Batch:
        """Asks at every moment, as long as somebody waits for it."""
        names, columns = self._columns()
        kinds = np.append(self.trace.values.kinds, Kind.NONE)  # which stands for NOT_SET
        is_plain = np.ones(len(self.steps), np.bool_)
        for column in columns:
            is_plain &= np.isin(kinds[column], _PLAIN)
        self._ask_plain(names, columns, np.flatnonzero(is_plain))
        self._ask_one_by_one(np.flatnonzero(~is_plain))
        left_out = np.flatnonzero(self.which < 0)
        end = int(left_out[0]) if len(left_out) else len(self.steps)
        return Batch(self.steps[:end], self.frames[:end], self.which[:end], self.results.found, not len(left_out))

    def _columns(self) -> tuple[list[str], list[Ints]]:
        """(the question's names that are the program's own, the numbers of their values at each moment)."""
        names, columns = [], []
        for name in self.asked.names:
            slots = slots_of(self.trace, self.frames, name)
            has = slots != NO_SLOT
            held = np.where(has, self.trace.histories.values_at(np.maximum(slots, 0), self.steps), NOT_SET)
            if has.any() or name not in safe_builtins.FUNCTIONS:
                names.append(name)
                columns.append(held)
        return names, columns

    def _ask_plain(self, names: list[str], columns: list[Ints], places: Ints) -> None:
        """Where all values are plain: each combination of them once."""
        columns = [column[places] for column in columns]
        combination, first = _combinations(columns, len(places))
        known = np.ones(len(first), np.bool_)
        for column in columns:
            known &= column[first] != NOT_SET
        function = compiled.compiled(self.asked.tree, names)
        held = [self.trace.values.plain(np.maximum(column[first], 0)) for column in columns]
        rows = list(zip(*held, strict=True)) if held else [()] * len(first)
        found = np.full(len(first), -1, np.int64)
        for count, (row, is_known, place) in enumerate(zip(rows, known.tolist(), first.tolist(), strict=True)):
            if count % _TOLD_EVERY == 0 and not self.progress.goes_on(count / len(first)):
                break
            if function is not None and is_known:
                found[count] = self.results.place(outcome(lambda row=row: function(*row)))  # type: ignore[misc]
            else:
                found[count] = self._at(int(places[place]))
        self.which[places] = found[combination]

    def _ask_one_by_one(self, places: Ints) -> None:
        for count, place in enumerate(places[:MOST_MOMENTS].tolist()):
            if count % _TOLD_EVERY == 0 and not self.progress.goes_on(count / len(places)):
                break
            self.which[place] = self._at(place)

    def _at(self, place: int) -> int:
        """The place in the results of the answer at one moment."""
        evaluator = Evaluator(self.trace, int(self.frames[place]), int(self.steps[place]))
        return self.results.place(outcome(lambda: evaluator.value(self.asked.tree)))


def _combinations(columns: list[Ints], length: int) -> tuple[Ints, Ints]:
    """(for each row the number of its combination, for each combination a row that has it)."""
    numbers = np.zeros(length, np.int64)
    first = np.zeros(min(length, 1), np.int64)
    for column in columns:
        distinct, values = numbered(column.astype(np.int64) + 1)
        _, numbers = numbered(numbers * len(distinct) + values)
    if columns and length:
        first = np.zeros(int(np.max(numbers)) + 1, np.int64)
        first[numbers[::-1]] = np.arange(length)[::-1]
    return numbers, first


class _Results:
    """Results, equal ones once. Equal are those that are written alike: 1 and True are not, nor -0.0 and 0.0."""

    def __init__(self) -> None:
        self.found: list[Any] = []
        self._places: dict[Any, int] = {}

    def place(self, result: Any) -> int:
        """The place of a result among all."""
        kind = type(result)
        key = (kind, result if kind in (int, str, bool, NoValue) else repr(result))
        place = self._places.setdefault(key, len(self.found))
        if place == len(self.found):
            self.found.append(result)
        return place
