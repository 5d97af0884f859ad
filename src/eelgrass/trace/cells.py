"""Lists whose elements are cells: what they hold at a step, without looking at all that they ever held.

Each stay of a value in a cell is a stretch of steps. Every now and then, after as many changes as the list has
elements, the stretches that are open are kept; those that hold at a step are among the ones kept before it and those
that began since. So a look costs about as much as the list is long, however often it has changed, and all that is kept
is proportional to the number of changes. (Checkpoints after a number of changes in proportion to the size: the
amortisation of Driscoll, Sarnak, Sleator, Tarjan: Making data structures persistent, 1989, section 2.)
"""

from __future__ import annotations

from bisect import bisect_left, insort
from dataclasses import dataclass
from functools import lru_cache

import numpy as np

from eelgrass.trace.columns import Ints, Wides
from eelgrass.trace.histories import Histories, Inside, Part, Slots
from eelgrass.trace.values import NOT_SET

#: So many lists are kept ready, and so many answers about them.
_KEPT = 512
#: Checkpoints are at least so many stretches apart.
_FEWEST = 1024
_NEVER = np.iinfo(np.int64).max


@dataclass(frozen=True)
class _Checkpoint:
    step: int
    begun: int  # how many stretches have begun by then
    open: Ints  # the places of those that are still open


class _List:
    """One list: its cells in their order, and the stretches for which they held something."""

    def __init__(self, cells: Ints, keys: Ints, histories: Histories) -> None:
        self.cells = cells
        self.keys = keys
        self.cell, self.begin, self.end = _stretches(cells, histories)
        self._checkpoints = list(self._kept())
        self._when = np.array([its.step for its in self._checkpoints], np.int64)

    def _kept(self) -> list[_Checkpoint]:
        kept = [_Checkpoint(-_NEVER, 0, np.zeros(0, np.int64))]
        begun = 0
        while begun < len(self.begin):
            last = min(begun + max(_FEWEST, len(kept[-1].open)), len(self.begin)) - 1
            step = int(self.begin[last])
            until = int(self.begin.searchsorted(step, "right"))
            these = np.concatenate((kept[-1].open, np.arange(begun, until)))
            kept.append(_Checkpoint(step, until, these[self.end[these] > step]))
            begun = until
        return kept

    def filled(self, step: int) -> Ints:
        """The places in `cells` of those that hold something just before a step, in order."""
        its = self._checkpoints[int(self._when.searchsorted(step)) - 1]  # the first one is before all steps
        begun = int(self.begin.searchsorted(step))
        these = np.concatenate((its.open, np.arange(its.begun, begun)))
        places: Ints = np.sort(self.cell[these[self.end[these] >= step]])
        return places


def _stretches(cells: Ints, histories: Histories) -> tuple[Ints, Wides, Wides]:
    """(the place of the cell, the step during which it was filled, the one during which it was emptied) for each time
    that one of some cells held something, in order of their beginning."""
    everything = np.full(len(cells), _NEVER >> 1)
    rows, steps, values = histories.writes_between(cells, np.full(len(cells), -1), np.minimum(everything, 1 << 30))
    has = values != NOT_SET
    first = np.append(True, rows[1:] != rows[:-1])[: len(rows)]
    had = np.append(False, has[:-1])[: len(rows)] & ~first
    begins, ends = np.flatnonzero(has & ~had), np.flatnonzero(~has & had)
    end = np.full(len(begins), _NEVER)
    # The end of a stretch is the first one after its beginning, if it is of the same cell.
    after = ends.searchsorted(begins)
    closed = after < len(ends)
    closed[closed] = rows[ends[after[closed]]] == rows[begins[closed]]
    end[closed] = steps[ends[after[closed]]]
    lasting = np.flatnonzero(end > steps[begins])  # the others came and went within one step
    order = lasting[np.argsort(steps[begins][lasting], kind="stable")]
    return rows[begins][order], steps[begins][order].astype(np.int64), end[order]


class Cells:
    """The lists of a recording whose elements are cells."""

    def __init__(self, slots: Slots, histories: Histories, payloads: Wides) -> None:
        self._slots = slots
        self._histories = histories
        self._payloads = payloads
        self._owners = frozenset(np.unique(slots.owner[slots.part == Part.CELL]).tolist())
        self._list = lru_cache(_KEPT)(self._made)
        self.inside = lru_cache(_KEPT)(self._inside)
        self.course = lru_cache(_KEPT)(self._course)

    def __contains__(self, number: int) -> bool:
        return number in self._owners

    def _made(self, number: int) -> _List:
        cells = self._histories.of_object(number)
        cells = cells[self._slots.part[cells] == Part.CELL]
        keys = self._slots.key[cells]
        order = np.argsort(self._payloads[keys], kind="stable")
        return _List(cells[order], keys[order], self._histories)

    def _inside(self, number: int, step: int) -> Inside:
        """What a list held just before a step: cells, value numbers of their places at that step, and values."""
        its = self._list(number)
        cells = its.cells[its.filled(step)]
        # The cells' own keys are the numbers from 0 on, so the first of them are the places of what is there.
        return Inside(cells, its.keys[: len(cells)], self._histories.values_at(cells, step))

    def place_of(self, cell: int, step: int) -> int:
        """The place of a cell just before a step; where it is empty, the place that it would have."""
        its = self._list(int(self._slots.owner[cell]))
        return int(its.filled(step).searchsorted(np.flatnonzero(its.cells == cell)[0]))

    def _course(self, number: int, place: int) -> tuple[Ints, Ints]:
        """(steps, values) of every change of what a list holds at a place, whether written there or moved there; in
        order, with NOT_SET where there is nothing."""
        its = self._list(number)
        closed = its.end < _NEVER
        when = np.concatenate((its.begin, its.end[closed]))
        which = np.concatenate((its.cell, its.cell[closed]))
        comes = np.arange(len(when)) < len(its.begin)
        order = np.lexsort((comes, when))
        filled: list[int] = []
        spans: list[tuple[int, int]] = []  # (step, the cell that is at the place from then on, or -1)
        for row, (step, cell) in enumerate(zip(when[order].tolist(), which[order].tolist(), strict=True)):
            if comes[order[row]]:
                insort(filled, cell)
            elif (at := bisect_left(filled, cell)) < len(filled) and filled[at] == cell:
                del filled[at]
            here = filled[place] if place < len(filled) else -1
            if spans and spans[-1][0] == step:
                spans[-1] = step, here
            elif here != (spans[-1][1] if spans else -1):
                spans.append((step, here))
        return self._values_over(its, spans)

    def _values_over(self, its: _List, spans: list[tuple[int, int]]) -> tuple[Ints, Ints]:
        steps: list[int] = []
        values: list[int] = []
        ends = [*(step for step, _ in spans[1:]), 1 << 30][: len(spans)]
        for (since, here), until in zip(spans, ends, strict=True):
            written = self._histories.columns_of(int(its.cells[here])) if here >= 0 else None
            steps.append(since)
            values.append(NOT_SET if here < 0 else self._histories.value_at(int(its.cells[here]), since + 1))
            if written is not None:
                during = (written[0] > since) & (written[0] < until)
                steps += written[0][during].tolist()
                values += written[1][during].tolist()
        return np.array(steps, np.int64), np.array(values, np.int32)
