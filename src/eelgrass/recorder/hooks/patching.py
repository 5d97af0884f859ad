"""What is different in a container, told instead of all that is in it."""

from __future__ import annotations

from _operator import is_not
from itertools import compress
from typing import Any

from eelgrass.recorder import wire
from eelgrass.recorder.hooks.log import Log
from eelgrass.recorder.hooks.objects import is_unmistakable

_APPEND, _SIZE, _KEY, _SET_KEY, _REMOVE = (
    kind * wire.FORMS for kind in (wire.APPEND, wire.SIZE, wire.KEY, wire.SET_KEY, wire.REMOVE)
)
#: By how much a set's size may differ after a method that did nothing else.
_ONE_STEP = {"add": (0, 1), "discard": (0, -1), "remove": (-1,), "pop last": (-1,)}

#: Of containers up to this size all is told: looking for the difference would cost as much.
_SMALL = 16


class Patching:
    """Tells of changes by what they changed.

    Of lists that code which is not woven has changed, a copy is kept, and compared by identity the next time: at the
    speed of C, and without asking any element whether it equals another. Whoever tells of a change to such a list in
    another way says so in `copies`, which has them by the lists' numbers.
    """

    def __init__(self, log: Log) -> None:
        self._log = log
        self._registry = log.registry
        self.copies: dict[int, list[Any]] = self._registry.copies
        self.sizes: dict[int, int] = {}  # of sets, and of what derives from dictionaries, by number

    def tell(self, owner: Any, number: int, method: str, key: Any, result: Any) -> bool:
        """Tells what a method, or anything for '', has changed in a known object; whether that was possible. What
        may be another object by now than when it was numbered is told whole."""
        kind = type(owner)
        if kind is list and method == "append" and owner:
            if number in self.copies:
                self.copies[number].append(owner[-1])
            self._log.tell_of(_APPEND, (number,), owner[-1])
            return True
        if kind is list and method == "pop last":
            if number in self.copies:
                del self.copies[number][len(owner) :]
            self._log.wholes += (number, len(owner))
            self._log.events.append(_SIZE)
            return True
        if self._registry.numbers.get(id(owner)) != number:
            return False
        if kind is list:
            return self._by_comparing(owner, number)
        if kind is set:
            before, self.sizes[number] = self.sizes.get(number), len(owner)
            return (
                before is not None
                and len(owner) > wire.MOST_ORDERED
                and self._of_set(owner, number, before, method, key, result)
            )
        return kind is dict and self._of_dict(owner, number, method, key)

    def _of_set(self, owner: set[Any], number: int, before: int, method: str, key: Any, result: Any) -> bool:
        """Tells what a method has done to a larger set that had `before` elements; whether that was possible."""
        if method == "pop last":
            key = result
        elif method not in _ONE_STEP or not is_unmistakable(key) or number in self._registry.mixed:
            return False
        if len(owner) - before not in _ONE_STEP[method]:
            return False
        if len(owner) == before:
            return True
        if len(owner) == wire.MOST_ORDERED + 1:  # from now on, or again, their order is not told
            there, gone = ([key], []) if method == "add" else ([], [key])
            self._patch(number, None, there, there, gone)
        elif method == "add":
            self._registry.plain(key)
            self._log.tell(_KEY, key)
            self._log.tell_of(_SET_KEY, (number,), key)
        else:
            self._log.tell(_KEY, key)
            self._log.wholes.append(number)
            self._log.events.append(_REMOVE)
        return True

    def _of_dict(self, owner: dict[Any, Any], number: int, method: str, key: Any) -> bool:
        """Tells what a method has done to a dictionary; whether that was possible."""
        if method not in ("pop", "setdefault") or not is_unmistakable(key) or number in self._registry.mixed:
            return False
        held = [owner[key]] if method == "setdefault" else []
        self._patch(number, None, [key] if held else [], held, [] if held else [key])
        return True

    def _by_comparing(self, owner: list[Any], number: int) -> bool:
        """Tells what is different in a list; whether that was possible, and less than all of it."""
        if len(owner) <= _SMALL and number not in self.copies:
            return False
        before, now = self.copies.get(number), list(owner)
        self.copies[number] = now
        if before is None:
            return False
        places = list(compress(range(len(now)), map(is_not, now, before)))
        places += range(len(before), len(now))
        if 2 * len(places) > len(now) + 2:
            return False
        if places or len(now) != len(before):
            self._patch(number, len(now), places, [now[place] for place in places], [])
        return True

    def _patch(self, number: int, size: int | None, keys: list[Any], items: list[Any], gone: list[Any]) -> None:
        parts = [[self._registry.plain(part) for part in its] for its in (keys, items, gone)]
        self._registry.report(wire.PATCH, [number, size, *parts])
