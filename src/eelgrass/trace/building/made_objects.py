"""New objects, told by their parts: a MADE event says how many there are, and HELD events bring them."""

from __future__ import annotations

import numpy as np

from eelgrass.recorder import wire
from eelgrass.trace.building.frame_builder import Events
from eelgrass.trace.building.object_builder import ObjectBuilder
from eelgrass.trace.building.stream import impossible
from eelgrass.trace.building.told import Parts

_MOST_PARTS = 1 << 31


class _Incoming:
    """The values of one kind of event in a chunk, taken in order."""

    def __init__(self, kind: int) -> None:
        self._kind = kind
        self._keys: list[int] = []
        self._values: list[int] = []
        self._taken = 0

    def chunk(self, events: Events) -> None:
        """The next chunk has come."""
        if self._taken < len(self._values):
            impossible("a part belongs to no object")
        places = np.flatnonzero(events.kinds == self._kind)
        self._keys, self._values = events.keys[places].tolist(), events.values[places].tolist()
        self._taken = 0

    def take(self, count: int) -> tuple[list[int], list[int]]:
        """(keys, values) of the next ones: at most so many, and no more than have come."""
        first = self._taken
        self._taken = min(first + count, len(self._values))
        return self._keys[first : self._taken], self._values[first : self._taken]


class MadeObjects:
    """Puts new objects together. One whose parts have not all come yet waits for the next chunk."""

    def __init__(self, objects: ObjectBuilder) -> None:
        self._objects = objects
        self._items, self._fields = _Incoming(wire.HELD), _Incoming(wire.HELD_FIELD)
        self._waiting: tuple[list[int], Parts, int] | None = None

    def chunk(self, events: Events) -> None:
        """A chunk begins: what belongs to the object that waits comes first in it."""
        self._items.chunk(events)
        self._fields.chunk(events)
        if self._waiting is not None:
            told, parts, step = self._waiting
            self._waiting = None
            self._take(told, parts, step)

    def begin(self, told: list[int], step: int) -> None:
        """Takes a MADE event: [number, type, how many elements, how many fields]."""
        if self._waiting is not None or not all(0 <= count < _MOST_PARTS for count in told[2:]):
            impossible("an object has an impossible number of parts")
        self._take(told, Parts([], [], [], []), step)

    def _take(self, told: list[int], parts: Parts, step: int) -> None:
        number, type_, items, fields = told
        for incoming, count, keys, values in (
            (self._items, items, parts.keys, parts.items),
            (self._fields, fields, parts.names, parts.fields),
        ):
            if count > len(values):
                more_keys, more = incoming.take(count - len(values))
                keys += more_keys
                values += more
        if len(parts.items) < items or len(parts.fields) < fields:
            self._waiting = told, parts, step
        else:
            self._objects.made(number, type_, parts, step)
