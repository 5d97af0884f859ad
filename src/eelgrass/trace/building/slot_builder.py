"""Slots while they are being filled."""

from __future__ import annotations

import numpy as np

from eelgrass.trace.columns import Column, Ints
from eelgrass.trace.histories import Part, Slots

_KEY_BITS = 32
_KEY_MASK = (1 << _KEY_BITS) - 1


class SlotBuilder:
    """Gives slots their numbers and collects the writes. Those of one slot have to come in order of time."""

    def __init__(self) -> None:
        self._columns = {
            "part": Column("u1"),
            "owner": Column("i4"),
            "key": Column("i4"),
            "write_slot": Column("i4"),
            "write_step": Column("i4"),
            "write_value": Column("i4"),
        }
        self._numbers: tuple[dict[int, int], ...] = tuple({} for _ in range(Part.COUNT))
        self._pending: tuple[list[int], list[int], list[int]] = ([], [], [])

    def slot(self, part: int, owner: int, key: int) -> int:
        """The slot's number."""
        numbers = self._numbers[part]
        packed = owner << _KEY_BITS | key
        number = numbers.get(packed)
        if number is None:
            number = numbers[packed] = len(self._columns["part"])
            for name, value in (("part", part), ("owner", owner), ("key", key)):
                self._columns[name].append(value)
        return number

    def cell(self, owner: int) -> int:
        """A new slot for an element of a list, whose place among the others is told when the run is looked at."""
        number = len(self._columns["part"])
        for name, value in (("part", Part.CELL), ("owner", owner), ("key", 0)):
            self._columns[name].append(value)
        return number

    def slots(self, part: int, owners: Ints, keys: Ints) -> tuple[Ints, list[int]]:
        """(the numbers of many slots, the numbers of those of them that are new)."""
        numbers = self._numbers[part]
        packed, first, which = np.unique(
            owners.astype(np.int64) << _KEY_BITS | keys, return_index=True, return_inverse=True
        )
        found = np.array([numbers.get(key, -1) for key in packed.tolist()], np.int32)
        new = np.flatnonzero(found < 0)
        if len(new):
            new = new[np.argsort(first[new])]  # slots keep the order in which they were first written
            found[new] = len(self._columns["part"]) + np.arange(len(new))
            keys_of_new = packed[new]
            numbers.update(zip(keys_of_new.tolist(), found[new].tolist(), strict=True))
            self._columns["part"].extend(np.full(len(new), part))
            self._columns["owner"].extend(keys_of_new >> _KEY_BITS)
            self._columns["key"].extend(keys_of_new & _KEY_MASK)
        return found[which], found[new].tolist()

    def place(self, slot: int) -> tuple[int, int]:
        """(owner, key) of a slot."""
        return self._columns["owner"][slot], self._columns["key"][slot]

    def write(self, slot: int, step: int, value: int) -> None:
        """Adds one write."""
        slots, steps, values = self._pending
        slots.append(slot)
        steps.append(step)
        values.append(value)

    def write_all(self, slots: Ints, steps: Ints, values: Ints) -> None:
        """Adds many writes."""
        for name, column in (("write_slot", slots), ("write_step", steps), ("write_value", values)):
            self._columns[name].extend(column)

    def names(self, frames: Ints, names: Ints, steps: Ints, values: Ints) -> None:
        """Adds writes of names, given as columns; `names` are value numbers of texts."""
        self.write_all(self.slots(Part.NAME, frames, names)[0], steps, values)

    def settle(self) -> None:
        """Puts the writes that came one by one among the others; to be called before writes of many to their slots."""
        if self._pending[0]:
            self.write_all(*(np.array(column, np.int32) for column in self._pending))
            for column in self._pending:
                column.clear()

    def view(self, cells: Ints, keys: Ints) -> Slots:
        """Slots and writes as they stand; `cells` are slots that are elements of lists, with their keys as of now."""
        self.settle()
        columns = {name: column.view() for name, column in self._columns.items()}
        if len(cells):
            columns |= {name: columns[name].copy() for name in ("part", "key")}
            columns["part"][cells] = Part.CELL
            columns["key"][cells] = keys
        return Slots.of(**columns)
