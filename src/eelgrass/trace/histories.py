"""Slots and their histories.

A slot is a place that can hold a value: a name in a frame, an element or a field of an object. Its history is the
list of its writes. State at a step is one binary search in the history of each slot on view; there are no snapshots.
"""

from __future__ import annotations

from dataclasses import dataclass
from enum import IntEnum

import numpy as np

from eelgrass.trace.columns import Bytes, Ints
from eelgrass.trace.values import NOT_SET


class Part(IntEnum):
    """What of its owner a slot is. NAME belongs to frames, the others to objects; SIZE is a list's or set's length."""

    NAME = 0
    ITEM = 1
    FIELD = 2
    SIZE = 3


@dataclass(frozen=True)
class Slots:
    """The slots (`part`, `owner`, `key` by slot number) and all writes in order of time.

    `owner` is a frame's or an object's number. `key` is the value number of a text (names, fields), of an index or of
    a dictionary's key; 0 for SIZE. A write of NOT_SET deletes. A write that happens during step t is
    seen from step t+1 on.
    """

    part: Bytes
    owner: Ints
    key: Ints
    write_slot: Ints
    write_step: Ints
    write_value: Ints

    def __len__(self) -> int:
        return len(self.part)


@dataclass(frozen=True)
class Write:
    """One write: the step during which it happened and the value's number."""

    step: int
    value: int


class Histories:
    """The writes sorted by slot, and the slots by owner, for binary search."""

    def __init__(self, slots: Slots) -> None:
        self._slots = slots
        order = np.argsort(slots.write_slot, kind="stable")
        self._step = slots.write_step[order]
        self._value = slots.write_value[order]
        self._start = np.searchsorted(slots.write_slot[order], np.arange(len(slots) + 1))
        of_frame = slots.part == Part.NAME
        self._frame_slots = _by_owner(slots.owner, of_frame)
        self._object_slots = _by_owner(slots.owner, ~of_frame)

    def of_frame(self, frame: int) -> Ints:
        """Numbers of the frame's slots, in the order in which they were first written."""
        return _pick(self._frame_slots, frame)

    def of_object(self, number: int) -> Ints:
        """Numbers of the object's slots, in the order in which they were first written."""
        return _pick(self._object_slots, number)

    def _place(self, slot: int, step: int) -> tuple[int, int]:
        """(start of the slot's history, end of the part of it that is seen at `step`)."""
        start, end = int(self._start[slot]), int(self._start[slot + 1])
        return start, start + int(np.searchsorted(self._step[start:end], step, "left"))

    def last_write(self, slot: int, step: int) -> Write | None:
        """The write that set what the slot holds just before `step`; None when it has never been written by then."""
        start, end = self._place(slot, step)
        return Write(int(self._step[end - 1]), int(self._value[end - 1])) if end > start else None

    def value_at(self, slot: int, step: int) -> int:
        """The number of the value that the slot holds just before `step`, or NOT_SET."""
        start, end = self._place(slot, step)
        return int(self._value[end - 1]) if end > start else NOT_SET

    def all_writes(self, slot: int) -> list[Write]:
        """Every write of the slot, in order of time."""
        start, end = int(self._start[slot]), int(self._start[slot + 1])
        return [
            Write(*pair) for pair in zip(self._step[start:end].tolist(), self._value[start:end].tolist(), strict=True)
        ]

    def set_since(self, slot: int, step: int) -> int:
        """The step of the write from which the slot has had a value without a gap; -1 when it has none at `step`."""
        start, end = self._place(slot, step)
        values = self._value[start:end]
        if not len(values) or values[-1] == NOT_SET:
            return -1
        gaps = np.flatnonzero(values == NOT_SET)
        return int(self._step[start + (int(gaps[-1]) + 1 if len(gaps) else 0)])


def _by_owner(owner: Ints, chosen: np.typing.NDArray[np.bool_]) -> tuple[Ints, Ints]:
    numbers = np.flatnonzero(chosen).astype(np.int32)
    order = np.argsort(owner[numbers], kind="stable")
    return numbers[order], owner[numbers][order]


def _pick(table: tuple[Ints, Ints], owner: int) -> Ints:
    numbers, owners = table
    low, high = np.searchsorted(owners, [owner, owner + 1])
    return numbers[low:high]
