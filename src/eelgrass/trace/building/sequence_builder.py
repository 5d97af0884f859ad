"""The elements of lists that change elsewhere than at their end, while they are being filled.

An element of such a list is a *cell*: a slot of its own, which moves no more. What is put in between two others gets a
cell that stands between theirs in one order of all cells that the list ever had; what is taken out leaves its cell
empty for good. So a change writes what it changes, not every later element, and the list at any step is its filled
cells in that order. (Sequences whose elements are never forgotten but only marked as gone are common for texts that
many write at once: Roh, Jeon, Kim, Lee: Replicated abstract data types, 2011. Here there is one writer, but all times.)
"""

from __future__ import annotations

from collections import deque
from collections.abc import Collection
from itertools import islice

import numpy as np

from eelgrass.trace.columns import Ints

_NONE = -1


class CellOrder:
    """The order of all cells of all lists: for each cell the one after it."""

    def __init__(self) -> None:
        self._after: dict[int, int] = {}

    def follow(self, cell: int, new: int) -> None:
        """Puts a new cell right after another one."""
        self._after[new] = self._after[cell]
        self._after[cell] = new

    def start(self, new: int, before: int) -> None:
        """Puts a new cell first in its list, before the one that was."""
        self._after[new] = before

    def walk(self, cell: int) -> list[int]:
        """The cells of a list from its first one on."""
        found = []
        while cell != _NONE:
            found.append(cell)
            cell = self._after[cell]
        return found


class Sequence:
    """One list: its filled cells now, and where the order of all its cells begins and ends."""

    def __init__(self, order: CellOrder, cells: list[int], size: int) -> None:
        """`cells`: in their order so far; the first `size` of them are filled."""
        self._order = order
        self._first = self._last = _NONE
        self._ordered: Ints | None = None
        for cell in cells:
            self._put(cell, self._last)
        self.filled = deque(cells[:size])

    def _put(self, new: int, after: int) -> None:
        if after == _NONE:
            self._order.start(new, self._first)
            self._first = new
        else:
            self._order.follow(after, new)
        if after == self._last:
            self._last = new
        self._ordered = None

    def insert(self, place: int, cells: list[int]) -> None:
        """Puts new cells in before a place; what is put in at the end comes after all that there ever was."""
        at_end = place == len(self.filled)
        after = self._last if at_end else self.filled[place - 1] if place else _NONE
        for cell in cells:
            self._put(cell, after)
            after = cell
        if at_end:
            self.filled.extend(cells)
        elif not place:
            self.filled.extendleft(reversed(cells))
        else:
            for offset, cell in enumerate(cells):
                self.filled.insert(place + offset, cell)

    def remove(self, place: int, count: int) -> list[int]:
        """Takes out some cells, and gives them."""
        if place == 0:
            return [self.filled.popleft() for _ in range(count)]
        if place + count == len(self.filled):
            return [self.filled.pop() for _ in range(count)][::-1]
        gone = list(islice(self.filled, place, place + count))
        self.filled.rotate(-place)
        for _ in range(count):
            self.filled.popleft()
        self.filled.rotate(place)
        return gone

    @property
    def ordered(self) -> Ints:
        """All cells that there ever were, in their order."""
        if self._ordered is None:
            self._ordered = np.array(self._order.walk(self._first), np.int32)
        return self._ordered


def ranked(sequences: Collection[Sequence]) -> tuple[Ints, Ints]:
    """(all cells that some lists ever had; the place of each in the order of its list's)."""
    ordered = [its.ordered for its in sequences] or [np.zeros(0, np.int32)]
    return np.concatenate(ordered), np.concatenate([np.arange(len(its)) for its in ordered])


def alike_at_ends(before: list[int], now: list[int]) -> tuple[int, int]:
    """How many elements are the same at the beginning of two lists and, of the others, at their end."""
    shorter = min(len(before), len(now))
    front = next((place for place in range(shorter) if before[place] != now[place]), shorter)
    most = shorter - front
    return front, next((place for place in range(most) if before[-1 - place] != now[-1 - place]), most)
