"""Slots and their histories.

A slot is a place that can hold a value: a name in a frame, an element or a field of an object. Its history is the
list of its writes. State at a step is one binary search in the history of each slot on view; there are no snapshots.
"""

from __future__ import annotations

from bisect import bisect_left
from dataclasses import dataclass
from functools import cached_property, lru_cache

import numpy as np
import numpy.typing as npt

from eelgrass.trace.columns import Bytes, Ints, Wides
from eelgrass.trace.values import NOT_SET

_STEP_BITS = 32
_STEP_MASK = (1 << _STEP_BITS) - 1
#: So many answers about objects are kept.
_KEPT = 512


class Part:
    """What of its owner a slot is. NAME belongs to frames, the others to objects; SIZE is a list's or set's length.
    A list's elements are ITEMs by their places, or CELLs (`trace/cells.py`), never both at one time.

    Plain numbers: an enumeration's members take long to look up, and these are looked up for every slot on view.
    """

    NAME = 0
    ITEM = 1
    FIELD = 2
    SIZE = 3
    CELL = 4
    COUNT = 5


#: What of an object changes as elements come and go.
ELEMENTS = (Part.ITEM, Part.CELL, Part.SIZE)


@dataclass(frozen=True)
class Slots:
    """The slots (`part`, `owner`, `key` by slot number) and all writes, sorted by slot and, within one, by time.

    `owner` is a frame's or an object's number. `key` is the value number of a text (names, fields), of an index, of a
    dictionary's key, or (CELL) of the place among all cells that the list ever had; 0 for SIZE. `when` has slot and
    step of a write packed into one number, `write_value`
    the number of the value written; NOT_SET deletes. A write that happens during step t is seen from step t+1 on.
    """

    part: Bytes
    owner: Ints
    key: Ints
    when: Wides
    write_value: Ints

    @staticmethod
    def of(part: Bytes, owner: Ints, key: Ints, write_slot: Ints, write_step: Ints, write_value: Ints) -> Slots:
        """From writes in order of time, each with its slot, the step during which it happened, and its value."""
        when = pack(write_slot, write_step)
        if (when[1:] < when[:-1]).any():
            order = np.argsort(write_slot, kind="stable")
            return Slots(part, owner, key, when[order], write_value[order])
        return Slots(part, owner, key, when, write_value)

    def __len__(self) -> int:
        return len(self.part)

    @property
    def write_slot(self) -> Ints:
        """The slot of each write."""
        return (self.when >> _STEP_BITS).astype(np.int32)

    @property
    def write_step(self) -> Ints:
        """The step of each write."""
        return ((self.when & _STEP_MASK) - 1).astype(np.int32)


@dataclass(frozen=True)
class Inside:
    """What an object held just before a step, for one part of it: slots, keys and values (value numbers) of the slots
    that held something, in the order in which these were first written."""

    slots: Ints
    keys: Ints
    values: Ints

    def __len__(self) -> int:
        return len(self.slots)


class Histories:
    """Look-ups in the writes, by binary search; since slot and step are packed into one number, one search answers
    for many slots at once. What was looked up last is kept, since views ask for the same again and again."""

    def __init__(self, slots: Slots) -> None:
        self._slots = slots
        self._when = slots.when
        self._value = slots.write_value
        of_frame = slots.part == Part.NAME
        self._frame_slots = _by_owner(slots.owner, of_frame)
        self._object_slots = _by_owner(slots.owner, ~of_frame)
        self.of_frame = lru_cache(_KEPT)(self._of_frame)
        self.of_object = lru_cache(_KEPT)(self._of_object)
        self.of_name = lru_cache(_KEPT)(self._of_name)
        self.inside = lru_cache(_KEPT)(self._inside)

    def _of_frame(self, frame: int) -> Ints:
        """Numbers of the frame's slots, in the order in which they were first written."""
        return _pick(self._frame_slots, self._slots.owner, frame)

    def _of_object(self, number: int) -> Ints:
        """Numbers of the object's slots, in the order in which they were first written."""
        return _pick(self._object_slots, self._slots.owner, number)

    def of_name_in(self, frame: int, key: int) -> int:
        """The slot of one of a frame's names, whose text is the value `key`; -1 when it never had one."""
        slots = self.of_frame(frame)
        found = slots[self._slots.key[slots] == key]
        return int(found[0]) if len(found) else -1

    def _of_name(self, key: int) -> tuple[Ints, Ints]:
        """(the frames that ever hold a name, in order; the slots of these)."""
        slots = np.flatnonzero((self._slots.key == key) & (self._slots.part == Part.NAME)).astype(np.int32)
        slots = slots[np.argsort(self._slots.owner[slots], kind="stable")]
        return self._slots.owner[slots], slots

    def _inside(self, number: int, part: int, step: int) -> Inside:
        """What the object's slots of one part hold just before `step`."""
        slots = self.of_object(number)
        slots = slots[self._slots.part[slots] == part]
        now = self.values_at(slots, step)
        has = now != NOT_SET
        return Inside(slots[has], self._slots.key[slots[has]], now[has])

    def _places(self, slots: Ints, step: int | Ints) -> tuple[Ints, npt.NDArray[np.bool_]]:
        """(place of each slot's last write before `step`, whether there is one)."""
        wide = slots.astype(np.int64)
        # Packed steps are one higher, so this leads behind the last write before `step`.
        places = self._when.searchsorted((wide << _STEP_BITS) + (step + 1)) - 1
        if not len(self._when):
            return places, np.zeros(len(slots), np.bool_)
        return places, (places >= 0) & (self._when[places] >> _STEP_BITS == wide)

    def look(self, slots: Ints, step: int | Ints) -> tuple[Ints, npt.NDArray[np.bool_]]:
        """(the numbers of the values that the slots hold just before `step`, NOT_SET for none; whether they have been
        written by then)."""
        places, found = self._places(slots, step)
        return (np.where(found, self._value[places], NOT_SET) if len(self._when) else places * 0 + NOT_SET), found

    def values_at(self, slots: Ints, step: int | Ints) -> Ints:
        """The numbers of the values that the slots hold just before `step`, or each before its own; NOT_SET for
        none."""
        return self.look(slots, step)[0]

    def written_at(self, slots: Ints, step: int) -> Ints:
        """The steps of the slots' last writes before `step`; -2 for slots that have not been written by then."""
        places, found = self._places(slots, step)
        return np.where(found, (self._when[places] & _STEP_MASK) - 1, -2) if len(self._when) else places * 0 - 2

    def written_inside(self, number: int, since: int, step: int) -> bool:
        """Whether anything was written into an object during the steps from `since` up to, not including, `step`."""
        slots = self.of_object(number)
        return bool((self.written_at(slots, step) >= since).any())

    def value_at(self, slot: int, step: int) -> int:
        """The number of the value that one slot holds just before `step`, or NOT_SET."""
        place = int(self._when.searchsorted((slot << _STEP_BITS) + step + 1)) - 1
        return int(self._value[place]) if place >= 0 and int(self._when[place]) >> _STEP_BITS == slot else NOT_SET

    def set_by(self, slot: int, step: int) -> int:
        """The step of the slot's last write before `step`; -2 when there is none."""
        place = int(self._when.searchsorted((slot << _STEP_BITS) + step + 1)) - 1
        its = place >= 0 and int(self._when[place]) >> _STEP_BITS == slot
        return (int(self._when[place]) & _STEP_MASK) - 1 if its else -2

    def _range(self, slot: int) -> tuple[int, int]:
        low, high = self._when.searchsorted([slot << _STEP_BITS, (slot + 1) << _STEP_BITS]).tolist()
        return low, high

    def columns_of(self, slot: int) -> tuple[Ints, Ints]:
        """The steps and the values of every write of the slot, in order of time, as columns."""
        low, high = self._range(slot)
        return (self._when[low:high] & _STEP_MASK) - 1, self._value[low:high]

    def writes_between(self, slots: Ints, first: Ints, end: Ints) -> tuple[Ints, Ints, Ints]:
        """All writes of each of some slots (-1: none) during the steps from its own `first` up to, not including, its
        `end`: the places of the slots among those given, the steps, and the values."""
        wide = slots.astype(np.int64) << _STEP_BITS
        low, high = (self._when.searchsorted(wide + steps + 1) for steps in (first, end))
        counts = np.where(slots < 0, 0, high - low)
        rows = np.repeat(np.arange(len(slots)), counts)
        places = np.arange(len(rows)) - np.repeat(np.cumsum(counts) - counts, counts) + np.repeat(low, counts)
        return rows, (self._when[places] & _STEP_MASK) - 1, self._value[places]

    @cached_property
    def _by_time(self) -> Ints:
        """The places of all writes in order of their steps."""
        return np.argsort(self._slots.write_step, kind="stable").astype(np.int32)

    def writes_during(self, step: int) -> list[tuple[int, int]]:
        """The writes during a step, as (slot, value): slot by slot, those of one in order of time."""
        places = self._places_during(step, step + 1)
        slots = self._when[places] >> _STEP_BITS
        return list(zip(slots.tolist(), self._value[places].tolist(), strict=True))

    def _places_during(self, first: int, end: int) -> Ints:
        low, high = self._times.searchsorted(np.array((first, end), np.int32)).tolist()  # of the same type: no copy
        return self._by_time[low:high]

    @cached_property
    def _times(self) -> Ints:
        """The steps of all writes in that order."""
        return ((self._when[self._by_time] & _STEP_MASK) - 1).astype(np.int32)

    @cached_property
    def _with_gaps(self) -> Ints:
        return np.unique(self._when[self._value == NOT_SET] >> _STEP_BITS)

    def have_gaps(self, slots: Ints) -> bool:
        """Whether any of the slots is ever without a value again once it has had one."""
        places = self._with_gaps.searchsorted(slots)
        found = np.append(self._with_gaps, -1)[places] == slots
        return bool(found.any())

    def set_since(self, slot: int, step: int) -> int:
        """The step of the write from which a slot that has a value just before `step` has had one without a gap."""
        steps, values = self.columns_of(slot)
        end = int(steps.searchsorted(step))
        gaps = np.flatnonzero(values[:end] == NOT_SET)
        return int(steps[int(gaps[-1]) + 1 if len(gaps) else 0])


def pack(slots: Ints, steps: Ints) -> Wides:
    """Slot and step of a write as one number, so that order is by slot and then by time."""
    return slots.astype(np.int64) << _STEP_BITS | (np.asarray(steps, np.int64) + 1)


def _by_owner(owner: Ints, chosen: npt.NDArray[np.bool_]) -> Ints:
    """The chosen slots sorted by owner, as they come within one."""
    numbers = np.flatnonzero(chosen).astype(np.int32)
    order = np.argsort(owner[numbers], kind="stable")
    return numbers[order]


def _pick(numbers: Ints, owners: Ints, owner: int) -> Ints:
    low, high = (bisect_left(numbers, number, key=lambda slot: int(owners[slot])) for number in (owner, owner + 1))
    return numbers[low:high]
