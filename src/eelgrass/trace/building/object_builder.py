"""Objects while they are being filled: new ones, and what changes inside them."""

from __future__ import annotations

from collections.abc import Collection, Iterable
from typing import Any

import numpy as np

from eelgrass.recorder import wire
from eelgrass.trace.building.sequence_builder import CellOrder, Sequence, alike_at_ends, ranked
from eelgrass.trace.building.slot_builder import SlotBuilder
from eelgrass.trace.building.stream import StreamError
from eelgrass.trace.building.told import IMPOSSIBLE_LENGTH, NEVER_DESCRIBED, SHAPES, LastTold, Parts, Patch
from eelgrass.trace.columns import Column, Ints
from eelgrass.trace.histories import Part
from eelgrass.trace.model import Objects
from eelgrass.trace.values import NOT_SET, Kind, ValueTable

_SET, _LIST = SHAPES.index("set"), SHAPES.index("list")
_BY_PLACE = (_LIST, SHAPES.index("tuple"))
#: What was in an object when it was first seen counts as having been there all along: no earlier step leads to it.
_ALWAYS = -1
#: More elements than this are written a column at a time.
_FEW = 32


class ObjectBuilder:
    """Keeps the latest value of each slot of an object, so that only what changed is written."""

    def __init__(self, values: ValueTable, slots: SlotBuilder) -> None:
        self._values = values
        self._slots = slots
        self._shape, self._type, self._first = Column("u1"), Column("i4"), Column("i4")
        self._types: dict[str, int] = {}
        self._inside: list[dict[tuple[int, int], int]] = []  # by object: (part, key) → slot
        self._now: dict[int, int] = {}  # by slot: its latest value
        self._awaited: dict[int, tuple[int, int, list[Any] | Parts, int]] = {}
        self._told_types: list[tuple[int, int]] = []  # (shape, type)
        self._places: list[int] = []  # the value numbers of the whole numbers from 0 on
        self._ordered: dict[int, list[Any]] = {}  # the keys of dictionaries whose order has been told
        self._order = CellOrder()
        self._sequences: dict[int, Sequence] = {}
        self.last_told = LastTold()
        self._partial: set[int] = set()  # containers of which only the beginning has been told
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
        if not known and len(now) > _FEW:
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
        elif was_partial or self._shape[number] != _LIST or not self._known(number):
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

    def _fill(self, number: int, part: int, keys: Iterable[int], values: Collection[int], step: int) -> None:
        """Writes slots of an object of which nothing was known."""
        if len(values) > _FEW:
            every, steps = np.full(len(values), number, np.int32), np.full(len(values), step)
            self.store_all(part, every, np.fromiter(keys, np.int32), np.fromiter(values, np.int32), steps)
            return
        for key, value in zip(keys, values, strict=True):
            self.store(number, part, key, value, step)

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

    # Lists

    def append(self, number: int, value: int, step: int) -> None:
        """Writes a new last element of a list."""
        size = self._size(number)
        if number in self._sequences:
            self.splice(number, size, 0, [value], step)
        else:
            self.store(number, Part.ITEM, self._values.number(size), value, step)
            self._resize(number, size + 1, step)

    def shorten(self, number: int, size: int, step: int) -> None:
        """Takes the last elements of a list away, down to `size`."""
        before = self._size(number)
        if number in self._sequences:
            self.splice(number, size, before - size, [], step)
            return
        known = self._known(number)
        for place in range(size, before) if before - size <= len(known) else self._told_from(number, size):
            slot = known.get((Part.ITEM, self._values.number(place)))
            if slot is not None:  # of a list that is not known whole, it may never have been
                self._write(slot, NOT_SET, step)
        self._resize(number, size, step)

    def _told_from(self, number: int, first: int) -> list[int]:
        """The places of a list, from one on, of which something is known."""
        payload, known = self._values.payloads, self._known(number)
        return [payload[key] for part, key in known if part == Part.ITEM and payload[key] >= first]

    def set_item(self, number: int, place: int, value: int, step: int) -> None:
        """Writes an element of a list."""
        self.last_told.forget(number)
        sequence = self._sequences.get(number)
        if sequence is None:
            self.store(number, Part.ITEM, self._values.number(place), value, step)
        elif type(place) is int and 0 <= place < len(sequence.filled):
            self._write(sequence.filled[place], value, step)
        elif number not in self._partial:
            raise StreamError(IMPOSSIBLE_LENGTH)

    def splice(self, number: int, place: int, count: int, items: list[int], step: int) -> None:
        """Takes `count` elements out of a list from a place on, and puts others in there."""
        size = self._size(number)
        if self._shape[number] != _LIST or not (0 <= place <= size and 0 <= count <= size - place):
            raise StreamError(IMPOSSIBLE_LENGTH)
        if number in self._partial:
            self._splice_told(number, place, count, items, step)
            return
        if place + count == size and number not in self._sequences:
            if count:
                self.shorten(number, place, step)
            for value in items:
                self.append(number, value, step)
            return
        sequence = self._sequence(number, size)
        for cell in sequence.remove(place, count):
            self._write(cell, NOT_SET, step)
        cells = [self._slots.cell(number) for _ in items]
        sequence.insert(place, cells)
        for cell, value in zip(cells, items, strict=True):
            self._write(cell, value, step)
        if len(items) != count:
            self._resize(number, size + len(items) - count, step)

    def _splice_told(self, number: int, place: int, count: int, items: list[int], step: int) -> None:
        """As `splice`, for a list of which the beginning is known: it stays known up to where that is certain."""
        size = self._size(number)
        sequence = self._sequences.get(number) or self._begun_again(number, step)
        known = len(sequence.filled)
        if place <= known:
            for cell in sequence.remove(place, min(count, known - place)):
                self._write(cell, NOT_SET, step)
            cells = [self._slots.cell(number) for _ in items]
            sequence.insert(place, cells)
            for cell, value in zip(cells, items, strict=True):
                self._write(cell, value, step)
        self._resize(number, size + len(items) - count, step)

    def _begun_again(self, number: int, step: int) -> Sequence:
        """Puts what is known of the beginning of a list into cells, and forgets what is known further on."""
        known = self._inside[number]
        slots = {self._values.payloads[key]: slot for (part, key), slot in known.items() if part == Part.ITEM}
        held = {place: self._now[slot] for place, slot in slots.items() if self._now[slot] != NOT_SET}
        for place in held:
            self._write(slots[place], NOT_SET, step)
        self._inside[number] = {place: slot for place, slot in known.items() if place[0] != Part.ITEM}
        begins = next(place for place in range(len(held) + 1) if place not in held)
        cells = [self._slots.cell(number) for _ in range(begins)]
        for place, cell in enumerate(cells):
            self._write(cell, held[place], step)
        sequence = self._sequences[number] = Sequence(self._order, cells, begins)
        return sequence

    def _sequence(self, number: int, size: int) -> Sequence:
        sequence = self._sequences.get(number)
        if sequence is None:
            known = self._inside[number]
            payload = self._values.payloads
            cells = sorted((payload[key], slot) for (part, key), slot in known.items() if part == Part.ITEM)
            self._inside[number] = {place: slot for place, slot in known.items() if place[0] != Part.ITEM}
            sequence = Sequence(self._order, [slot for _, slot in cells], size)
            self._sequences[number] = sequence
        return sequence

    def _respliced(self, number: int, now: list[int], step: int) -> bool:
        """Whether a list's elements, told whole, were best written as a splice, which is then done."""
        known, size = self._known(number), self._size(number)
        sequence = self._sequences.get(number)
        slots = list(sequence.filled) if sequence else self._item_slots(known, size)
        before = [self._now[slot] for slot in slots]
        front, back = alike_at_ends(before, now)
        count, items = size - front - back, now[front : len(now) - back]
        if sequence is not None and count == len(items):
            for place, value in enumerate(items, front):
                if before[place] != value:
                    self._write(sequence.filled[place], value, step)
            return True
        writes = sum(map(int.__ne__, before[front:], now[front:])) + abs(size - len(now))
        if sequence is None and writes <= count + len(items):
            return False
        self.splice(number, front, count, items, step)
        return True

    def _item_slots(self, known: dict[tuple[int, int], int], size: int) -> list[int]:
        slots = [known.get((Part.ITEM, self._values.number(place)), -1) for place in range(size)]
        if -1 in slots:
            raise StreamError(IMPOSSIBLE_LENGTH)
        return slots

    def _resize(self, number: int, size: int, step: int) -> None:
        self.store(number, Part.SIZE, 0, self._values.number(size), step)

    def _write(self, slot: int, value: int, step: int) -> None:
        self._now[slot] = value
        self._slots.write(slot, step, value)

    @property
    def with_cells(self) -> list[int]:
        """The lists whose elements are cells."""
        return list(self._sequences)

    def cells(self) -> tuple[Ints, Ints]:
        """(the cells of all lists that have such; their keys: the value number of their place in the order of all cells
        that their list ever had)."""
        cells, ranks = ranked(self._sequences.values())
        return cells, self._values.distinct(Kind.WHOLE, ranks)

    def _size(self, number: int) -> int:
        known = self._known(number)
        if number in self._sequences and number not in self._partial:
            return len(self._sequences[number].filled)
        value = self._now.get(known.get((Part.SIZE, 0), -1), NOT_SET)
        size = self._values.whole(value)
        if size is None or size < 0 or (size > len(known) and number not in self._partial):
            raise StreamError(IMPOSSIBLE_LENGTH)
        return size

    def _known(self, number: int) -> dict[tuple[int, int], int]:
        if type(number) is not int or not 0 <= number < len(self._inside):
            raise StreamError(NEVER_DESCRIBED)
        self.last_told.forget(number)
        return self._inside[number]

    def view(self) -> Objects:
        """The objects as they stand."""
        return Objects(self._shape.view(), self._type.view(), self._first.view(), list(SHAPES), list(self._types))
