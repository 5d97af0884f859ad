"""Objects while they are being filled: new ones, and what changes inside them."""

from __future__ import annotations

from typing import Any

from eelgrass.recorder import wire
from eelgrass.trace.building.list_builder import LIST, ListBuilder
from eelgrass.trace.building.object_slots import FEW
from eelgrass.trace.building.slot_builder import SlotBuilder
from eelgrass.trace.building.stream import StreamError
from eelgrass.trace.building.told import IMPOSSIBLE_LENGTH, SHAPES, Parts, Patch
from eelgrass.trace.columns import Column
from eelgrass.trace.histories import Part
from eelgrass.trace.model import Objects
from eelgrass.trace.values import NOT_SET, ValueTable

_SET = SHAPES.index("set")
_BY_PLACE = (LIST, SHAPES.index("tuple"))
#: What was in an object when it was first seen counts as having been there all along: no earlier step leads to it.
_ALWAYS = -1


class ObjectBuilder(ListBuilder):
    """Takes descriptions of objects, whole or of what is different in them."""

    def __init__(self, values: ValueTable, slots: SlotBuilder) -> None:
        super().__init__(values, slots)
        self._type, self._first = Column("i4"), Column("i4")
        self._types: dict[str, int] = {}
        self._awaited: dict[int, tuple[int, int, list[Any] | Parts, int]] = {}
        self._told_types: list[tuple[int, int]] = []  # (shape, type)
        self._places: list[int] = []  # the value numbers of the whole numbers from 0 on
        self._ordered: dict[int, list[Any]] = {}  # the keys of dictionaries whose order has been told
        self._lengths: dict[int, int] = {}  # of those that are awaited

    def type_told(self, description: list[Any]) -> None:
        """Takes a type: [number, shape, name]."""
        number, shape, name = description
        if number != len(self._told_types) or shape not in SHAPES or type(name) is not str:
            raise StreamError("The recorded program's event stream describes a type that cannot be.")
        self._told_types.append((SHAPES.index(shape), self._types.setdefault(name, len(self._types))))

    def made(self, number: int, type_: int, parts: Parts, step: int) -> None:
        """Takes a new object of a type that has been told, with what is in it."""
        if not (0 <= type_ < len(self._told_types) and 0 <= number < 1 << 31):
            raise StreamError("The recorded program's event stream describes an object that cannot be.")
        self._awaited[number] = (*self._told_types[type_], parts, step)
        self._take_awaited()

    def new(self, description: list[Any], step: int) -> None:
        """Takes an object's first description: [number, shape, type, items, keys, fields]."""
        number, shape, type_, *inside = description
        if type(number) is not int or shape not in SHAPES or type(type_) is not str or not 0 <= number < 1 << 31:
            raise StreamError("The recorded program's event stream describes an object that cannot be.")
        its_type = self._types.setdefault(type_, len(self._types))
        self._awaited[number] = SHAPES.index(shape), its_type, inside, step
        self._take_awaited()

    def _take_awaited(self) -> None:
        """Objects may be told a little out of order, since one is told after those that lead to it."""
        while len(self._shape) in self._awaited:
            number = len(self._shape)
            shape, type_, inside, seen = self._awaited.pop(number)
            self._shape.append(shape)
            self._type.append(type_)
            self._first.append(seen)
            self._inside.append({})
            if isinstance(inside, Parts):
                self._fill_parts(number, inside)
            else:
                self.contents(number, inside, _ALWAYS)
            if number in self._lengths:
                self.length(number, self._lengths.pop(number), _ALWAYS)

    def length(self, number: int, size: int, step: int) -> None:
        """Takes the length of a container of which less has been told, or of one that is known not to be told whole."""
        if not 0 <= size < 1 << 31:
            raise StreamError(IMPOSSIBLE_LENGTH)
        if number in self._awaited:
            self._lengths[number] = size
            return
        self._known(number)
        self._partial.add(number)
        told = self._values.number(size if self._shape[number] in _BY_PLACE else ["size", size])
        self.store(number, Part.SIZE, 0, told, step)

    def _fill_parts(self, number: int, parts: Parts) -> None:
        shape = self._shape[number]
        keys = parts.keys
        if shape in _BY_PLACE:
            while len(self._places) < len(parts.items):
                self._places.append(self._values.number(len(self._places)))
            keys = self._places[: len(parts.items)]
            self.store(number, Part.SIZE, 0, self._values.number(len(keys)), _ALWAYS)
        for part, its_keys, values in ((Part.ITEM, keys, parts.items), (Part.FIELD, parts.names, parts.fields)):
            self._fill(number, part, its_keys, values, _ALWAYS)

    def contents(self, number: int, inside: list[Any], step: int) -> None:
        """Takes what is in an object now, as [items, keys, fields], and writes what is different."""
        items, keys, fields = inside
        known = self._known(number)
        if items is not None:
            if self._whole_again(number, list(map(self._values.number, items)), step):
                items = None
            self._ordered.pop(number, None)
        if items is None:  # as they were
            known = {place: slot for place, slot in known.items() if place[0] == Part.FIELD}
        now = self._told(number, items, keys, fields)
        if not known and len(now) > FEW:
            self._slots.settle()  # of keys that are gone, the last write may still be waiting
            for part in {part for part, _ in now}:
                its_keys, its_values = zip(*((key, its) for (of, key), its in now.items() if of == part), strict=True)
                self._fill(number, part, its_keys, its_values, step)
            return
        gone = [place for place, slot in known.items() if place not in now and self._now[slot] != NOT_SET]
        for place in gone:
            self._take_out(number, place, step)
        for place, its in now.items():
            slot = known.get(place)
            if slot is None or self._now[slot] != its:
                self.store(number, *place, its, step)

    def _told(
        self, number: int, items: list[Any] | None, keys: list[Any] | None, fields: dict[str, Any] | None
    ) -> dict[tuple[int, int], int]:
        """What a description says of each slot."""
        value, shape = self._values.number, self._shape[number]
        now: dict[tuple[int, int], int] = {}
        if items is not None:
            places = items if shape == _SET else range(len(items)) if keys is None else keys
            now = {(Part.ITEM, value(key)): value(item) for key, item in zip(places, items, strict=False)}
            if shape == _SET and len(items) <= wire.MOST_ORDERED:
                now[Part.SIZE, 0] = value(["tuple", *items])
            elif keys is None and shape != _SET:
                now[Part.SIZE, 0] = value(len(items))
        if fields is not None:
            now.update({(Part.FIELD, value(name)): value(item) for name, item in fields.items()})
        return now

    def _whole_again(self, number: int, now: list[int], step: int) -> bool:
        """Whether elements that are told whole were best written as a splice of a list, which is then done."""
        was_partial = number in self._partial
        self._partial.discard(number)
        if was_partial and number in self._sequences:
            self._resize(number, len(self._sequences[number].filled), step)
        elif was_partial or self._shape[number] != LIST or not self._known(number):
            return False
        return self._respliced(number, now, step)

    def patch(self, number: int, told: Patch, step: int) -> None:
        """Takes what is different in an object. A set's elements are their own keys."""
        size, keys, items, gone = told
        known, value = self._known(number), self._values.number
        if number in self._sequences:
            for key, item in zip(keys, items, strict=True):
                if key == self._size(number):
                    self.append(number, value(item), step)
                else:
                    self.set_item(number, key, value(item), step)
            keys = items = []
        order = known.get((Part.SIZE, 0)) if self._shape[number] == _SET else None
        if order is not None and self._now[order] != NOT_SET:
            self.store(number, Part.SIZE, 0, NOT_SET, step)
        for key, item in zip(map(value, keys), map(value, items), strict=True):
            slot = known.get((Part.ITEM, key))
            if slot is None or self._now[slot] != item:
                self.store(number, Part.ITEM, key, item, step)
        for key in map(value, gone):
            self.remove(number, key, step)
        if size is not None and size != self._size(number):
            if size > len(known) and number not in self._sequences and number not in self._partial:
                raise StreamError(IMPOSSIBLE_LENGTH)
            self.shorten(number, size, step)

    def remove(self, number: int, key: int, step: int) -> None:
        """Takes a key or element away, if it is there."""
        slot = self._known(number).get((Part.ITEM, key))
        if slot is not None and self._now[slot] != NOT_SET:
            self._take_out(number, (Part.ITEM, key), step)
            keys = self._ordered.get(number)
            if keys is not None:
                self.order(number, [its for its in keys if self._values.number(its) != key], step)

    def _take_out(self, number: int, place: tuple[int, int], step: int) -> None:
        """Writes that there is nothing any more. Keys that are gone are known again when they come back."""
        known = self._inside[number]
        self._write(known[place], NOT_SET, step)
        if self._shape[number] not in _BY_PLACE:
            del known[place]

    def order(self, number: int, keys: list[Any], step: int) -> None:
        """Takes the order of a dictionary's keys, where it is another one than that in which they came to be."""
        if type(keys) is not list or self._known(number) is None:
            raise StreamError("The recorded program's event stream gives an order that cannot be.")
        self._ordered[number] = keys
        self.store(number, Part.SIZE, 0, self._values.number(["tuple", *keys]), step)

    def view(self) -> Objects:
        """The objects as they stand."""
        return Objects(self._shape.view(), self._type.view(), self._first.view(), list(SHAPES), list(self._types))
