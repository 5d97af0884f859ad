"""What is different in a list or deque, told instead of all that is in it."""

from __future__ import annotations

from _collections import deque  # type: ignore[import-not-found]  # `collections` would take long to load
from collections.abc import Callable
from typing import Any

from eelgrass.recorder import wire
from eelgrass.recorder.hooks.changes.comparing import different, same_back, same_front
from eelgrass.recorder.hooks.log import Log

_APPEND, _SIZE, _INSERT, _CUT, _SET_INDEX = (
    kind * wire.FORMS for kind in (wire.APPEND, wire.SIZE, wire.INSERT, wire.CUT, wire.SET_INDEX)
)
#: Of lists up to this size all is told: looking for the difference would cost as much.
_SMALL = 16
#: And of those above this size, told as far as they are told at all: a copy would take too much.
MOST_COMPARED = 1_000_000
#: Functions of `heapq` that move elements on one way between the top and an end of a heap: by how much it grows.
HEAP_FUNCTIONS = {"heappush": 1, "heappop": -1, "heapreplace": 0, "heappushpop": 0}
#: Each method that says itself what it changes, and the name that a class would define it by.
_METHODS = {
    **{
        its: its
        for its in ("append", "appendleft", "pop", "popleft", "extend", "extendleft", "insert", "clear", "rotate")
    },
    **{"pop last": "pop", "del": "__delitem__"},
    **dict.fromkeys(HEAP_FUNCTIONS, "__setitem__"),
}
#: Of these, the ones that say it without what they are called with.
SAYING_ALL = frozenset(("append", "appendleft", "popleft", "extend", "extendleft", "clear"))
_most_in: Callable[[Any], int | None] = deque.__dict__["maxlen"].__get__
#: A way in a heap has so many elements more than the power of two of its size, before it is compared as a whole.
_MOST_ON_WAY = 128


class SequencePatching:
    """Tells of changes to lists, deques, and what derives from them.

    A method of the built-in types says itself what it changes; the size that was told before shows whether it was the
    only thing that happened. For all else a copy is kept, and compared by identity the next time: at the speed of C,
    and without asking any element whether it equals another. `sizes` and `copies` are by the lists' numbers.
    """

    def __init__(self, log: Log, sizes: dict[int, int]) -> None:
        self._log = log
        self._registry = log.registry
        self.copies = log.registry.copies
        self._sizes = sizes

    def append(self, owner: Any, number: int) -> None:
        """Tells the last element of a list to which it has been appended."""
        if number in self.copies:
            self._note(number, len(owner) - 1, 0, [owner[-1]])
        self._log.tell_of(_APPEND, (number,), owner[-1])

    def pop_last(self, owner: Any, number: int) -> None:
        """Tells that a list has lost its last elements."""
        if number in self.copies:
            del self.copies[number][len(owner) :]
        self._log.wholes += (number, len(owner))
        self._log.events.append(_SIZE)

    def tell(self, owner: Any, number: int, method: str, key: Any, certain: bool) -> bool:
        """Tells what a method, or anything for '', has changed; whether that was possible, and less than all of it.
        `certain`: the method is the built-in one."""
        base = _base_of(type(owner))
        now = base.__len__(owner)
        before = self._sizes.get(number)
        self._sizes[number] = now
        is_exact = method in _METHODS and (certain or self._registry.facts(type(owner)).keeps(_METHODS[method]))
        if is_exact and before is None and method not in HEAP_FUNCTIONS:
            return False  # the next time it will be enough to know how long it is
        if is_exact and before is not None and self._by_method(owner, number, before, method, key, base):
            return True
        return self._by_comparing(owner, number, base)

    def remember(self, owner: Any, number: int) -> None:
        """Keeps a copy also of a small list that is as it was told, to be compared with it."""
        elements = list(_base_of(type(owner)).__iter__(owner))
        if number not in self.copies and len(elements) <= _SMALL and self._registry.may_hold(elements):
            self.copies[number] = elements

    # By what the method does

    def _by_method(self, owner: Any, number: int, before: int, method: str, key: Any, base: Any) -> bool:
        now = base.__len__(owner)
        grown = now - before
        if method in HEAP_FUNCTIONS:
            copy = self.copies.get(number)
            if type(owner) is not list or grown != HEAP_FUNCTIONS[method] or copy is None or len(copy) != before:
                return False
            return self._on_the_way(owner, number, before)
        if base is deque and _most_in(owner) is not None:
            if method in ("extend", "extendleft"):
                return False
            if method in ("append", "appendleft") and grown == 0 and now == _most_in(owner) != 0:
                place, gone = (0, now - 1) if method == "appendleft" else (now - 1, 0)
                self._splice(number, gone, 1, [])
                self._splice(number, place, 0, [base.__getitem__(owner, place)])
                return True
        if method == "rotate" and grown == 0 and type(key) is int:
            by = key % now if now else 0
            gone, added, place = (now - by, by, 0) if 2 * by <= now else (0, now - by, by)
            if by:
                self._splice(number, gone, added, [])
                self._splice(number, place, 0, _items(owner, base, place, added))
            return True
        start = _place_of(method, key, before, grown)
        if start is None:
            return False
        if grown > self._registry.bounds.elements:
            return False
        if grown:
            self._splice(number, start, max(-grown, 0), _items(owner, base, start, grown))
        return True

    def _on_the_way(self, heap: list[Any], number: int, before: int) -> bool:
        """Tells what has changed on one way through a heap, which is where its functions move elements: up from the
        last place when one is put in; down from the top along the elements that moved up, when one is taken out."""
        copy = self.copies[number]
        size = len(heap)
        places: list[int] = []
        if size > before:
            place = size - 1
            while place > 0:
                place = (place - 1) >> 1
                places.append(place)
        else:
            waiting = [0] if size else []
            while waiting:
                place = waiting.pop()
                places.append(place)
                # An element that is in two places at once could have moved up from either.
                waiting += [its for its in (2 * place + 1, 2 * place + 2) if its < before and heap[place] is copy[its]]
                waiting = [its for its in waiting if its < size]
                if len(places) > _MOST_ON_WAY:
                    return False
        changed = [place for place in places if heap[place] is not copy[place]]
        if size < before:
            self.pop_last(heap, number)
        elif size > before:
            self.append(heap, number)
        for place in changed:
            value = copy[place] = heap[place]
            self._log.tell_of(_SET_INDEX, (number, place), value)
        return True

    # By comparing

    def _by_comparing(self, owner: Any, number: int, base: Any) -> bool:
        size, before = base.__len__(owner), self.copies.get(number)
        if size > MOST_COMPARED or (before is None and size <= _SMALL):
            self.copies.pop(number, None)
            return False
        now: list[Any] = owner if type(owner) is list else list(base.__iter__(owner))
        if not self._registry.may_hold(now):
            self.copies.pop(number, None)
            return False
        if before is None:
            self.copies[number] = now[:]
            return False
        shorter = min(len(before), size)
        front = same_front(now, before, shorter)
        back = same_back(now, before, shorter - front)
        gone, added = len(before) - front - back, now[front : size - back]
        places: list[int] = []
        if gone + len(added) > _SMALL:
            places += different(now, before, front, shorter, 0)
            places += range(len(before), size)
            if min(gone + len(added), len(places)) > min(size // 2 + 2, self._registry.bounds.elements):
                self.copies[number] = now[:]
                return False
        if places and len(places) + max(len(before) - size, 0) < gone + len(added):
            self.copies[number] = now[:]
            self._patch(number, size, places, [now[place] for place in places])
        elif gone or added:
            self._splice(number, front, gone, added)
        self._registry.tell_fields(owner, number)
        return True

    # Telling

    def _note(self, number: int, place: int, gone: int, added: list[Any]) -> None:
        copy = self.copies.get(number)
        if copy is not None:
            copy[place : place + gone] = added
            if not self._registry.may_hold(added):
                del self.copies[number]

    def _splice(self, number: int, place: int, gone: int, added: list[Any]) -> None:
        self._note(number, place, gone, added)
        if not added:
            self._log.wholes += (number, place, gone)
            self._log.events.append(_CUT)
        elif len(added) == 1 and not gone:
            self._log.tell_of(_INSERT, (number, place), added[0])
        else:
            self._registry.bounds.count(len(added))
            self._registry.report(wire.SPLICE, [number, place, gone, [self._registry.plain(its) for its in added]])

    def _patch(self, number: int, size: int | None, places: list[int], items: list[Any]) -> None:
        self._registry.bounds.count(len(items))
        self._registry.report(wire.PATCH, [number, size, places, [self._registry.plain(its) for its in items], []])


def _base_of(kind: type) -> Any:
    return list if issubclass(kind, list) else deque if issubclass(kind, deque) else bytearray


def _items(owner: Any, base: Any, place: int, count: int) -> list[Any]:
    """Some elements, one by one: a deque would be walked through from its beginning."""
    return [base.__getitem__(owner, its) for its in range(place, place + count)]


def _place_of(method: str, key: Any, before: int, grown: int) -> int | None:
    """Where a method that made a list so much longer has put or taken elements; None where that does not follow."""
    if method in ("append", "pop last") and grown == (1 if method == "append" else -1):
        return min(before, before + grown)
    if method in ("appendleft", "popleft") and grown == (1 if method == "appendleft" else -1):
        return 0
    if method in ("extend", "extendleft") and grown >= 0:
        return before if method == "extend" else 0
    if method == "clear" and grown == -before:
        return 0
    if type(key) is not int or (method, grown) not in (("pop", -1), ("del", -1), ("insert", 1)):
        return None
    place = key + before if key < 0 else key
    return min(max(place, 0), before) if method == "insert" else place if 0 <= place < before else None
