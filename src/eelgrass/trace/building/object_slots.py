"""What is known of each object while it is being filled: the latest value of each of its slots."""

from __future__ import annotations

from collections.abc import Collection, Iterable

import numpy as np

from eelgrass.trace.building.slot_builder import SlotBuilder
from eelgrass.trace.building.stream import StreamError
from eelgrass.trace.building.told import NEVER_DESCRIBED, LastTold
from eelgrass.trace.columns import Column, Ints
from eelgrass.trace.values import ValueTable

#: More elements than this are written a column at a time.
FEW = 32


class ObjectSlots:
    """Keeps the latest value of each slot of an object, so that only what changed is written."""

    def __init__(self, values: ValueTable, slots: SlotBuilder) -> None:
        self._values = values
        self._slots = slots
        self._shape = Column("u1")
        self._inside: list[dict[tuple[int, int], int]] = []  # by object: (part, key) → slot
        self._now: dict[int, int] = {}  # by slot: its latest value
        self.last_told = LastTold()

    def store(self, number: int, part: int, key: int, value: int, step: int) -> None:
        """Writes one slot of an object."""
        known = self._known(number)
        slot = known.get((part, key))
        if slot is None:
            slot = known[part, key] = self._slots.slot(part, number, key)
        self._write(slot, value, step)

    def store_all(self, part: int, numbers: Ints, keys: Ints, values: Ints, steps: Ints) -> None:
        """Writes many slots, in order of time."""
        if int(np.min(numbers)) < 0 or int(np.max(numbers)) >= len(self._inside):
            raise StreamError(NEVER_DESCRIBED)
        self.last_told.changed(numbers)
        slots, new = self._slots.slots(part, numbers, keys)
        for slot in new:
            owner, key = self._slots.place(slot)
            self._inside[owner][part, key] = slot
        self._now.update(zip(slots.tolist(), values.tolist(), strict=True))
        self._slots.write_all(slots, steps, values)

    def _fill(self, number: int, part: int, keys: Iterable[int], values: Collection[int], step: int) -> None:
        """Writes slots of an object of which nothing was known."""
        if len(values) > FEW:
            every, steps = np.full(len(values), number, np.int32), np.full(len(values), step)
            self.store_all(part, every, np.fromiter(keys, np.int32), np.fromiter(values, np.int32), steps)
            return
        for key, value in zip(keys, values, strict=True):
            self.store(number, part, key, value, step)

    def _write(self, slot: int, value: int, step: int) -> None:
        self._now[slot] = value
        self._slots.write(slot, step, value)

    def _known(self, number: int) -> dict[tuple[int, int], int]:
        if type(number) is not int or not 0 <= number < len(self._inside):
            raise StreamError(NEVER_DESCRIBED)
        self.last_told.forget(number)
        return self._inside[number]
