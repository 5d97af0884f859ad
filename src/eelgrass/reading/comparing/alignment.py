"""Two runs along one time: which visits of the one are which of the other."""

from __future__ import annotations

from bisect import bisect_left
from copy import copy
from functools import cached_property

import numpy as np
import numpy.typing as npt

from eelgrass.reading.comparing.execution_index import Indexes
from eelgrass.reading.comparing.fitting import fitted
from eelgrass.reading.comparing.matched_names import MatchedNames
from eelgrass.reading.comparing.visited import Pair
from eelgrass.reading.recording import Recording
from eelgrass.trace.columns import Ints, find
from eelgrass.trace.model import StepKind


class Alignment:
    """Two runs held against each other. `here` and `there` are the steps of visits that are the same one, ascending;
    `places` are the places of these among the visits of each run."""

    def __init__(self, a: Recording, b: Recording, pair: Pair | None = None) -> None:
        pair = pair or Pair(a, b)
        self.a, self.b, self._statements = a, b, pair.statements
        self.has_nothing_in_common = pair.has_nothing_in_common
        self.runs = pair.ours, pair.theirs
        ours, theirs = a.trace.program.statements, b.trace.program.statements
        functions = {ours[one].function: theirs[other].function for one, other in pair.statements.items()}
        same = {function: function for function in functions.values()}
        if np.array_equal(pair.ours.visited, pair.theirs.visited):
            self.places: tuple[Ints, Ints] = (np.arange(len(pair.ours.steps)),) * 2
        else:
            self.places = _joined(*fitted(Indexes(pair.ours, functions), Indexes(pair.theirs, same)))
        self.here: Ints = pair.ours.steps[self.places[0]]
        self.there: Ints = pair.theirs.steps[self.places[1]]

    def counterpart(self, step: int) -> int:
        """The step at which the other run stands while this one is at `step`: where one has more to do, the other
        waits."""
        if self.a.trace.steps.kind[step] == StepKind.RETURN:
            frame = self.frames.get(int(self.a.trace.steps.frame[step]), -1)
            if frame >= 0 and self.b.trace.frames.last[frame] >= 0:
                return int(self.b.trace.frames.last[frame])
        there = self.there_by(step)
        return there if there >= 0 else int(self.there[0]) if len(self.there) else 0

    def there_by(self, step: int) -> int:
        """Of the visits that both make, the latest one up to a step of this run: its step in the other; -1 for none."""
        place = find(self.here, step + 1) - 1
        return int(self.there[place]) if place >= 0 else -1

    def here_by(self, step: int) -> int:
        """The same the other way round: up to a step of the other run, the step in this one."""
        place = find(self.there, step + 1) - 1
        return int(self.here[place]) if place >= 0 else -1

    def is_apart(self, step: int) -> bool:
        """Whether a step belongs to visits that the other run does not make."""
        visits = self.runs[0].steps
        place, visit = find(self.here, step + 1) - 1, find(visits, step + 1) - 1
        return place < 0 or visit < 0 or int(visits[visit]) != int(self.here[place])

    @cached_property
    def frames(self) -> dict[int, int]:
        """For frames of this run, those of the other that are the same."""
        ours, theirs = self.a.trace.steps.frame[self.here], self.b.trace.steps.frame[self.there]
        frames, first = np.unique(ours, return_index=True)
        return dict(zip(frames.tolist(), theirs[first].tolist(), strict=True))

    @cached_property
    def names(self) -> MatchedNames:
        """What names of this run's text are called in the other's."""
        return MatchedNames(self.a, self.b, self._statements)

    @cached_property
    def alone(self) -> tuple[Ints, Ints]:
        """How many visits each run makes of its own: before the first that both make, and after each of these."""
        found = []
        for run, places in zip(self.runs, self.places, strict=True):
            edges = np.concatenate(([-1], places, [len(run.steps)]))
            found.append(np.diff(edges) - 1)
        return found[0], found[1]

    @cached_property
    def is_parting(self) -> npt.NDArray[np.bool_]:
        """Whether the runs go on otherwise: from their beginning, and after each visit that both make."""
        parting: npt.NDArray[np.bool_] = (self.alone[0] > 0) | (self.alone[1] > 0)
        return parting

    @cached_property
    def gaps(self) -> npt.NDArray[np.int64]:
        """What only one of the runs does, a row each: first step and step after the last of this run, then of the
        other; either may be empty."""
        columns = []
        for run, places, recording in zip(self.runs, self.places, (self.a, self.b), strict=True):
            steps = np.append(run.steps, len(recording.trace.steps))
            columns += [steps[np.concatenate(([-1], places)) + 1], np.append(steps[places], steps[-1])]
        rows: npt.NDArray[np.int64] = np.stack(columns, axis=1)[self.is_parting].astype(np.int64)
        return rows

    def turned(self) -> Alignment:
        """The same with the runs in each other's places."""
        other = copy(self)
        for name in ("frames", "names", "alone", "is_parting", "gaps"):  # which are worked out when they are asked for
            vars(other).pop(name, None)
        other.a, other.b = self.b, self.a
        other._statements = {there: here for here, there in self._statements.items()}
        other.runs, other.places = self.runs[::-1], self.places[::-1]
        other.here, other.there = self.there, self.here
        return other


def _joined(ours: npt.NDArray[np.uint64], theirs: npt.NDArray[np.uint64]) -> tuple[Ints, Ints]:
    """The places of numbers that both have, ascending in both: the longest such sequence."""
    _, mine, its = np.intersect1d(ours, theirs, return_indices=True)
    order = np.argsort(mine, kind="stable")
    mine, its = mine[order], its[order]
    if len(its) > 1 and (np.diff(its) <= 0).any():
        kept = _ascending(its.tolist())
        mine, its = mine[kept], its[kept]
    return mine, its


def _ascending(numbers: list[int]) -> list[int]:
    """The places of the longest ascending part of a sequence (Fredman, On computing the length of longest increasing
    subsequences, 1975)."""
    ends: list[int] = []
    at: list[int] = []
    before: list[int] = []
    for place, number in enumerate(numbers):
        length = bisect_left(ends, number)
        before.append(at[length - 1] if length else -1)
        ends[length : length + 1] = [number]
        at[length : length + 1] = [place]
    found = []
    place = at[-1]
    while place >= 0:
        found.append(place)
        place = before[place]
    return found[::-1]
