"""Objects while they are being filled: new ones, and what changes inside them."""

from __future__ import annotations

from typing import Any

from eelgrass.trace.columns import Column
from eelgrass.trace.histories import Part
from eelgrass.trace.model import Objects
from eelgrass.trace.slots import SlotBuilder
from eelgrass.trace.stream import StreamError
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
)


#: What was in an object when it was first seen counts as having been there all along: no earlier step leads to it.
_ALWAYS = -1


class ObjectBuilder:
    """Keeps, for each object, the latest value of each of its slots, so that only what changed is written."""

    def __init__(self, values: ValueTable, slots: SlotBuilder) -> None:
        self._values = values
        self._slots = slots
        self._shape, self._type, self._first = Column("u1"), Column("i4"), Column("i4")
        self._types: dict[str, int] = {}
        self._inside: list[dict[tuple[int, int], int]] = []
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
            places = range(len(items)) if keys is None else keys
            now = {(Part.ITEM, value(key)): value(item) for key, item in zip(places, items, strict=False)}
            if keys is None:
                now[Part.SIZE, 0] = value(len(items))
        if fields is not None:
            now.update({(Part.FIELD, value(name)): value(item) for name, item in fields.items()})
        for place in [place for place, its in known.items() if its != NOT_SET and place not in now]:
            self.store(number, *place, NOT_SET, step)
        for place, its in now.items():
            if known.get(place) != its:
                self.store(number, *place, its, step)

    def store(self, number: int, part: int, key: int, value: int, step: int) -> None:
        """Writes one slot of an object; a list's size follows."""
        known = self._known(number)
        known[part, key] = value
        self._slots.write(self._slots.slot(part, number, key), step, value)
        size = known.get((Part.SIZE, 0))
        if part == Part.ITEM and value != NOT_SET and size is not None:
            table = self._values.view()
            index, length = table.get(key), table.get(size)
            if type(index) is int and type(length) is int and index >= length:
                self.store(number, Part.SIZE, 0, self._values.number(index + 1), step)

    def append(self, number: int, value: int, step: int) -> None:
        """Writes a new last element of a list."""
        self.store(number, Part.ITEM, self._values.number(self._size(number)), value, step)

    def shorten(self, number: int, size: int, step: int) -> None:
        """Takes the last elements of a list away, down to `size`."""
        for place in range(size, self._size(number)):
            self.store(number, Part.ITEM, self._values.number(place), NOT_SET, step)
        self.store(number, Part.SIZE, 0, self._values.number(size), step)

    def _size(self, number: int) -> int:
        size = self._values.view().get(self._known(number).get((Part.SIZE, 0), NOT_SET))
        if type(size) is not int or not 0 <= size <= len(self._known(number)):
            raise StreamError("The recorded program's event stream changes the length of what has none.")
        return size

    def _known(self, number: int) -> dict[tuple[int, int], int]:
        if type(number) is not int or not 0 <= number < len(self._inside):
            raise StreamError("The recorded program's event stream speaks of an object that it never described.")
        return self._inside[number]

    def view(self) -> Objects:
        """The objects as they stand."""
        return Objects(self._shape.view(), self._type.view(), self._first.view(), list(SHAPES), list(self._types))
