"""Lists while they are being filled: their elements by places, or, once something was put in between, by cells."""

from __future__ import annotations

from eelgrass.trace.building.object_slots import ObjectSlots
from eelgrass.trace.building.sequence_builder import CellOrder, Sequence, alike_at_ends, ranked
from eelgrass.trace.building.slot_builder import SlotBuilder
from eelgrass.trace.building.stream import StreamError
from eelgrass.trace.building.told import IMPOSSIBLE_LENGTH, SHAPES
from eelgrass.trace.columns import Ints
from eelgrass.trace.histories import Part
from eelgrass.trace.values import NOT_SET, Kind, ValueTable

LIST = SHAPES.index("list")


class ListBuilder(ObjectSlots):
    """Takes what changes in lists: of those that are known only in part, as far as it is certain what is where."""

    def __init__(self, values: ValueTable, slots: SlotBuilder) -> None:
        super().__init__(values, slots)
        self._order = CellOrder()
        self._sequences: dict[int, Sequence] = {}
        self._partial: set[int] = set()  # containers of which only the beginning has been told

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
        if self._shape[number] != LIST or not (0 <= place <= size and 0 <= count <= size - place):
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
