"""What is different in a container, told instead of all that is in it."""

from __future__ import annotations

from _operator import is_not
from itertools import compress
from typing import Any

from eelgrass.recorder import wire
from eelgrass.recorder.contract import BY_KEY
from eelgrass.recorder.hooks.log import Log
from eelgrass.recorder.hooks.objects import is_unmistakable

_APPEND, _SIZE = wire.APPEND * wire.FORMS, wire.SIZE * wire.FORMS

#: Sets up to this size are told whole, with the order in which the program would meet their elements.
SMALL_SET = 64
#: Sets up to this size are told whole, with the order in which the program would meet their elements.
SMALL_SET = 64
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
        return (method in BY_KEY or method == "pop last") and self._by_key(owner, number, method, key, result)

    def _by_key(self, owner: Any, number: int, method: str, key: Any, result: Any) -> bool:
        """Tells what one of the methods `BY_KEY` has done; whether that was possible."""
        kind = type(owner)
        if kind is set and len(owner) <= SMALL_SET:
            return False
        if kind is set and method == "pop last":
            key = result
        elif not is_unmistakable(key) or number in self._registry.mixed:
            return False
        if kind is set:
            is_there = method == "add" or (method != "pop last" and key in owner)
            self._patch(number, None, [key] if is_there else [], [key] if is_there else [], [] if is_there else [key])
            return True
        if kind is dict and method in ("pop", "setdefault"):
            held = [owner[key]] if method == "setdefault" else []
            self._patch(number, None, [key] if held else [], held, [] if held else [key])
            return True
        return False

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
