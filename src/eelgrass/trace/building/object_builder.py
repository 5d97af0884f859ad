"""Objects while they are being filled: new ones, and what changes inside them."""

from __future__ import annotations

from typing import Any, NamedTuple

import numpy as np

from eelgrass.recorder import wire
from eelgrass.trace.building.slot_builder import SlotBuilder
from eelgrass.trace.building.stream import StreamError
from eelgrass.trace.columns import Column, Ints
from eelgrass.trace.histories import Part
from eelgrass.trace.model import Objects
from eelgrass.trace.values import NOT_SET, ValueTable

SHAPES = (
    "list",
    "dict",
    "set",
    "tuple",
    "instance",
    "exception",
    "function",
    "class",
    "module",
    "opaque",
    "array",
)


_SET = SHAPES.index("set")
#: What was in an object when it was first seen counts as having been there all along: no earlier step leads to it.
_ALWAYS = -1
#: More elements than this are written a column at a time.
_FEW = 32
_IMPOSSIBLE_LENGTH = "The recorded program's event stream gives something a length that it cannot have."
_NEVER_DESCRIBED = "The recorded program's event stream speaks of an object that it never described."


class Patch(NamedTuple):
    """What is different in an object: its length, if that is told; keys and what they hold; keys that it has no
    longer."""

    size: int | None
    keys: list[Any]
    items: list[Any]
    gone: list[Any]


class ObjectBuilder:
    """Keeps the latest value of each slot of an object, so that only what changed is written."""

    def __init__(self, values: ValueTable, slots: SlotBuilder) -> None:
        self._values = values
        self._slots = slots
        self._shape, self._type, self._first = Column("u1"), Column("i4"), Column("i4")
        self._types: dict[str, int] = {}
        self._inside: list[dict[tuple[int, int], int]] = []  # by object: (part, key) → slot
        self._now: dict[int, int] = {}  # by slot: its latest value
        self._awaited: dict[int, tuple[list[Any], int]] = {}

    def new(self, description: list[Any], step: int) -> None:
        """Takes an object's first description: [number, shape, type, items, keys, fields]."""
        number, shape, type_, *inside = description
        if type(number) is not int or shape not in SHAPES or type(type_) is not str or not 0 <= number < 1 << 31:
            raise StreamError("The recorded program's event stream describes an object that cannot be.")
        self._awaited[number] = (description, step)
        # Descriptions may come a little out of order, since an object is described after those that lead to it.
        while len(self._shape) in self._awaited:
            (number, shape, type_, *inside), seen = self._awaited.pop(len(self._shape))
            self._shape.append(SHAPES.index(shape))
            self._type.append(self._types.setdefault(type_, len(self._types)))
            self._first.append(seen)
            self._inside.append({})
            self.contents(number, inside, _ALWAYS)

    def contents(self, number: int, inside: list[Any], step: int) -> None:
        """Takes what is in an object now, as [items, keys, fields], and writes what is different."""
        items, keys, fields = inside
        known = self._known(number)
        now: dict[tuple[int, int], int] = {}
        value = self._values.number
        if items is not None:
            is_set = self._shape[number] == _SET
            places = items if is_set else range(len(items)) if keys is None else keys
            now = {(Part.ITEM, value(key)): value(item) for key, item in zip(places, items, strict=False)}
            if is_set and len(items) <= wire.MOST_ORDERED:
                now[Part.SIZE, 0] = value(["tuple", *items])
            elif keys is None and not is_set:
                now[Part.SIZE, 0] = value(len(items))
        if fields is not None:
            now.update({(Part.FIELD, value(name)): value(item) for name, item in fields.items()})
        if not known and len(now) > _FEW:
            self._fill(number, now, step)
            return
        gone = [place for place, slot in known.items() if place not in now and self._now[slot] != NOT_SET]
        for place in gone:
            self.store(number, *place, NOT_SET, step)
        for place, its in now.items():
            slot = known.get(place)
            if slot is None or self._now[slot] != its:
                self.store(number, *place, its, step)

    def patch(self, number: int, told: Patch, step: int) -> None:
        """Takes what is different in an object. A set's elements are their own keys."""
        size, keys, items, gone = told
        known, value = self._known(number), self._values.number
        order = known.get((Part.SIZE, 0)) if self._shape[number] == _SET else None
        if order is not None and self._now[order] != NOT_SET:
            self.store(number, Part.SIZE, 0, NOT_SET, step)
        for key, item in zip(map(value, keys), map(value, items), strict=True):
            slot = known.get((Part.ITEM, key))
            if slot is None or self._now[slot] != item:
                self.store(number, Part.ITEM, key, item, step)
        for key in map(value, gone):
            slot = known.get((Part.ITEM, key))
            if slot is not None and self._now[slot] != NOT_SET:
                self.store(number, Part.ITEM, key, NOT_SET, step)
        if size is not None and size != self._size(number):
            if size > len(known):
                raise StreamError(_IMPOSSIBLE_LENGTH)
            self.shorten(number, size, step)

    def _fill(self, number: int, now: dict[tuple[int, int], int], step: int) -> None:
        """Writes what is in an object of which nothing was known."""
        for part in {part for part, _ in now}:
            rows = [(key, value) for (its, key), value in now.items() if its == part]
            keys, values = np.array(rows, np.int32).T
            self.store_all(part, np.full(len(rows), number, np.int32), keys, values, np.full(len(rows), step))

    def store(self, number: int, part: int, key: int, value: int, step: int) -> None:
        """Writes one slot of an object."""
        known = self._known(number)
        slot = known.get((part, key))
        if slot is None:
            slot = known[part, key] = self._slots.slot(part, number, key)
        self._now[slot] = value
        self._slots.write(slot, step, value)

    def store_all(self, part: int, numbers: Ints, keys: Ints, values: Ints, steps: Ints) -> None:
        """Writes many slots, in order of time."""
        if int(numbers.min()) < 0 or int(numbers.max()) >= len(self._inside):
            raise StreamError(_NEVER_DESCRIBED)
        slots, new = self._slots.slots(part, numbers, keys)
        for slot in new:
            owner, key = self._slots.place(slot)
            self._inside[owner][part, key] = slot
        self._now.update(zip(slots.tolist(), values.tolist(), strict=True))
        self._slots.write_all(slots, steps, values)

    def append(self, number: int, value: int, step: int) -> None:
        """Writes a new last element of a list."""
        size = self._size(number)
        self.store(number, Part.ITEM, self._values.number(size), value, step)
        self.store(number, Part.SIZE, 0, self._values.number(size + 1), step)

    def shorten(self, number: int, size: int, step: int) -> None:
        """Takes the last elements of a list away, down to `size`."""
        for place in range(size, self._size(number)):
            self.store(number, Part.ITEM, self._values.number(place), NOT_SET, step)
        self.store(number, Part.SIZE, 0, self._values.number(size), step)

    def _size(self, number: int) -> int:
        known = self._known(number)
        value = self._now.get(known.get((Part.SIZE, 0), -1), NOT_SET)
        size = self._values.whole(value)
        if size is None or not 0 <= size <= len(known):
            raise StreamError(_IMPOSSIBLE_LENGTH)
        return size

    def _known(self, number: int) -> dict[tuple[int, int], int]:
        if type(number) is not int or not 0 <= number < len(self._inside):
            raise StreamError(_NEVER_DESCRIBED)
        return self._inside[number]

    def view(self) -> Objects:
        """The objects as they stand."""
        return Objects(self._shape.view(), self._type.view(), self._first.view(), list(SHAPES), list(self._types))
