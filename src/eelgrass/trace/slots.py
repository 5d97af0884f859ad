"""Slots while they are being filled."""

from __future__ import annotations

import numpy as np

from eelgrass.trace.columns import Column, Ints
from eelgrass.trace.histories import Part, Slots
from eelgrass.trace.values import ValueTable


class SlotBuilder:
    """Gives slots their numbers and collects the writes, in order of time."""

    def __init__(self, values: ValueTable) -> None:
        self._columns = {
            "part": Column("u1"),
            "owner": Column("i4"),
            "key": Column("i4"),
            "write_slot": Column("i4"),
            "write_step": Column("i4"),
            "write_value": Column("i4"),
        }
        self._numbers: dict[tuple[int, int, int], int] = {}
        self._name_numbers: dict[int, int] = {}
        self._values = values

    def slot(self, part: int, owner: int, key: int) -> int:
        """The slot's number."""
        wanted = (part, owner, key)
        number = self._numbers.get(wanted)
        if number is None:
            number = self._numbers[wanted] = self._new(part, owner, key)
        return number

    def _new(self, part: int, owner: int, key: int) -> int:
        for name, value in (("part", part), ("owner", owner), ("key", key)):
            self._columns[name].append(value)
        return len(self._columns["part"]) - 1

    def write(self, slot: int, step: int, value: int) -> None:
        """Adds one write."""
        self._columns["write_slot"].append(slot)
        self._columns["write_step"].append(step)
        self._columns["write_value"].append(value)

    def names(self, frames: Ints, names: Ints, steps: Ints, values: Ints) -> None:
        """Adds writes of names, given as columns; `names` are value numbers of texts."""
        packed = frames.astype(np.int64) << 32 | names
        distinct, which = np.unique(packed, return_inverse=True)
        numbers = np.array([self._name_slot(key) for key in distinct.tolist()], np.int32)
        self._columns["write_slot"].extend(numbers[which])
        self._columns["write_step"].extend(steps)
        self._columns["write_value"].extend(values)

    def _name_slot(self, packed: int) -> int:
        number = self._name_numbers.get(packed)
        if number is None:
            number = self._name_numbers[packed] = self._new(Part.NAME, packed >> 32, packed & 0xFFFFFFFF)
        return number

    def view(self) -> Slots:
        """Slots and writes as they stand."""
        return Slots(**{name: column.view() for name, column in self._columns.items()})
