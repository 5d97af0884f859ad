"""Columns that grow while a program runs."""

from __future__ import annotations

from typing import Any

import numpy as np
import numpy.typing as npt

Ints = npt.NDArray[np.signedinteger[Any]]
Bytes = npt.NDArray[np.uint8]
Wides = npt.NDArray[np.int64]

#: Numbers up to here are counted in a table rather than sorted.
_MOST_COUNTED = 1 << 22


def find(column: npt.NDArray[Any], value: int) -> int:
    """The first place of a sorted column whose number is not below `value`, by binary search. (NumPy would convert
    the whole column first if the value were not of the column's own type.)"""
    return int(column.searchsorted(column.dtype.type(value)))


def between(column: npt.NDArray[Any], low: int, end: int) -> slice:
    """Where a sorted column has numbers from `low` up to, not including, `end`."""
    return slice(find(column, low), find(column, end))


def grouped(column: Ints) -> tuple[Ints, Ints]:
    """(the places of a column's numbers in the order of these, as they come within one; the numbers in that order)."""
    order = np.argsort(column, kind="stable").astype(np.int32)
    return order, column[order]


def distinct(column: Ints) -> Ints:
    """The distinct numbers of a column, in order; quick where it is in order already, as most of ours are."""
    if len(column) < 2:
        return column
    ordered: Ints = column if bool((column[1:] >= column[:-1]).all()) else np.sort(column)
    first: Ints = ordered[np.append(True, ordered[1:] != ordered[:-1])]
    return first


def numbered(column: Ints) -> tuple[Ints, Ints]:
    """(the distinct numbers of a column, none below 0, in order; for each row the place of its number among them)."""
    highest = int(np.max(column, initial=0))
    if highest > max(_MOST_COUNTED, 4 * len(column)):
        distinct, places = np.unique(column, return_inverse=True)
        return distinct, places
    present = np.zeros(highest + 1, np.bool_)
    present[column] = True
    return np.flatnonzero(present), (np.cumsum(present) - 1)[column]


def narrow(column: Ints) -> Ints:
    """The same numbers in two bytes each, where they fit."""
    fits = not len(column) or (int(np.min(column)) >= -(1 << 15) and int(np.max(column)) < 1 << 15)
    return column.astype(np.int16) if fits else column


class Column:
    """One growing array. `view` costs nothing and stays true while the column grows further."""

    def __init__(self, dtype: npt.DTypeLike) -> None:
        self._data: npt.NDArray[Any] = np.empty(256, dtype)
        self._size = 0

    def __len__(self) -> int:
        return self._size

    def extend(self, values: npt.ArrayLike) -> None:
        """Adds values at the end."""
        added = np.asarray(values, self._data.dtype)
        end = self._size + len(added)
        if end > len(self._data):
            larger = np.empty(max(end, 2 * len(self._data)), self._data.dtype)
            larger[: self._size] = self._data[: self._size]
            self._data = larger
        self._data[self._size : end] = added
        self._size = end

    def append(self, value: int) -> None:
        """Adds one value at the end."""
        if self._size == len(self._data):
            self.extend([value])
            return
        self._data[self._size] = value
        self._size += 1

    def put(self, places: Ints, values: npt.ArrayLike) -> None:
        """Sets values at places; of several for one place, the last counts."""
        if len(places):
            self._data[: self._size][places] = values

    def view(self) -> npt.NDArray[Any]:
        """The values so far. Values that were set stay; use `set` only where the views' readers expect it."""
        view = self._data[: self._size]
        view.flags.writeable = False
        return view

    def __getitem__(self, index: int) -> int:
        if not 0 <= index < self._size:
            raise IndexError(index)
        return int(self._data[index])

    def __setitem__(self, index: int, value: int) -> None:
        if not 0 <= index < self._size:
            raise IndexError(index)
        self._data[index] = value
