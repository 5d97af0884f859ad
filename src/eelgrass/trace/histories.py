"""Slots and their histories.

A slot is a place that can hold a value: a name in a frame, an element or a field of an object. Its history is the
list of its writes. State at a step is one binary search in the history of each slot on view; there are no snapshots.
"""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from eelgrass.trace.columns import Bytes, Ints, Wides
from eelgrass.trace.values import NOT_SET


class Part:
    """What of its owner a slot is. NAME belongs to frames, the others to objects; SIZE is a list's or set's length.

    Plain numbers: an enumeration's members take long to look up, and these are looked up for every slot on view.
    """

    NAME = 0
    ITEM = 1
    FIELD = 2
    SIZE = 3
    COUNT = 4


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
    """The writes sorted by slot and time, and the slots by owner, for binary search.

    Slot and step are packed into one number, so that one search answers for many slots at once.
    """

    def __init__(self, slots: Slots) -> None:
        order = np.argsort(slots.write_slot, kind="stable")
        self._when = _packed(slots.write_slot[order], slots.write_step[order])
        self._value = slots.write_value[order]
        self._with_gaps = frozenset(slots.write_slot[slots.write_value == NOT_SET].tolist())
        of_frame = slots.part == Part.NAME
        self._frame_slots = _by_owner(slots.owner, of_frame)
        self._object_slots = _by_owner(slots.owner, ~of_frame)

    def of_frame(self, frame: int) -> Ints:
        """Numbers of the frame's slots, in the order in which they were first written."""
        return _pick(self._frame_slots, frame)

    def of_object(self, number: int) -> Ints:
        """Numbers of the object's slots, in the order in which they were first written."""
        return _pick(self._object_slots, number)

    def _places(self, slots: Ints, step: int) -> tuple[Ints, npt.NDArray[np.bool_]]:
        """(place of each slot's last write before `step`, whether there is one)."""
        places = self._when.searchsorted(_packed(slots, step)) - 1
        if not len(self._when):
            return places, np.zeros(len(slots), np.bool_)
        return places, (places >= 0) & (self._when[places] >> 32 == slots)

    def values_at(self, slots: Ints, step: int) -> Ints:
        """The numbers of the values that the slots hold just before `step`; NOT_SET for none."""
        places, found = self._places(slots, step)
        return np.where(found, self._value[places], NOT_SET) if len(self._when) else places * 0 + NOT_SET

    def written_at(self, slots: Ints, step: int) -> Ints:
        """The steps of the slots' last writes before `step`; -2 for slots that have not been written by then."""
        places, found = self._places(slots, step)
        return np.where(found, (self._when[places] & 0xFFFFFFFF) - 1, -2) if len(self._when) else places * 0 - 2

    def value_at(self, slot: int, step: int) -> int:
        """The number of the value that one slot holds just before `step`, or NOT_SET."""
        return int(self.values_at(np.array([slot]), step)[0])

    def all_writes(self, slot: int) -> list[Write]:
        """Every write of the slot, in order of time."""
        start, end = self._when.searchsorted([slot << 32, (slot + 1) << 32])
        steps = (self._when[start:end] & 0xFFFFFFFF) - 1
        return [Write(*pair) for pair in zip(steps.tolist(), self._value[start:end].tolist(), strict=True)]

    def have_gaps(self, slots: Iterable[int]) -> bool:
        """Whether any of the slots is ever without a value again once it has had one."""
        return not self._with_gaps.isdisjoint(slots)

    def set_since(self, slot: int, step: int) -> int:
        """The step of the write from which a slot that has a value just before `step` has had one without a gap."""
        since, held = -2, False
        for write in self.all_writes(slot):
            if write.step >= step:
                break
            if not held:
                since = write.step
            held = write.value != NOT_SET
        return since


def _packed(slots: Ints, steps: Ints | int) -> Wides:
    return slots.astype(np.int64) << 32 | (np.asarray(steps, np.int64) + 1)


def _by_owner(owner: Ints, chosen: np.typing.NDArray[np.bool_]) -> tuple[Ints, Ints]:
    numbers = np.flatnonzero(chosen).astype(np.int32)
    order = np.argsort(owner[numbers], kind="stable")
    return numbers[order], owner[numbers][order]


def _pick(table: tuple[Ints, Ints], owner: int) -> Ints:
    numbers, owners = table
    low, high = owners.searchsorted([owner, owner + 1])
    return numbers[low:high]
