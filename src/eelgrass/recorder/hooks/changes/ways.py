"""Ways that lead into an object past every statement: methods of it that are kept, the dictionary of its fields."""

from __future__ import annotations

from _collections import deque  # type: ignore[import-not-found]  # `collections` would take long to load
from _operator import is_
from _weakref import ref as weak_reference
from collections.abc import Callable
from sys import getrefcount
from typing import Any

from eelgrass.recorder.hooks.objects.registry import Registry
from eelgrass.recorder.hooks.objects.versions import version

#: Containers that are quickly compared as a whole.
_FEW = 8
#: So many objects are looked at before each statement.
_MOST = 1_024
#: What methods that are kept do to a container: they do nothing but put something at its end, or nothing but take
#: away, or both of it to a list or deque, or may do anything.
GROWING, SHRINKING, AT_ENDS, ANYHOW = range(4)
_GROWING = frozenset(("append", "extend", "add", "setdefault"))
_AT_FRONT = frozenset(("appendleft", "extendleft"))
_SHRINKING = frozenset(("pop", "popleft", "popitem", "remove", "discard", "clear"))
_most_in: Callable[[Any], int | None] = deque.__dict__["maxlen"].__get__


class Way:
    """What leads to an object: methods that are alive, or its own fields' dictionary in somebody's hands.

    `owner()`: the object, or None when it has gone. `by`: what the methods do. `version`: of the dictionary when it was
    looked at.
    """

    __slots__ = ("by", "methods", "number", "owner", "version")

    def __init__(self, number: int, owner: Callable[[], Any], by: int) -> None:
        self.number = number
        self.owner = owner
        self.by = by
        self.methods: list[Callable[[], Any]] = []
        self.version = 0

    def has_methods(self) -> bool:
        """Whether some method is alive."""
        while self.methods and self.methods[-1]() is None:
            self.methods.pop()
        return bool(self.methods)


class Ways:
    """The ways that are open. `open` are in the order in which they opened; `watched`, by number: those to the objects
    that kept methods lead to. Of dictionaries among these `sizes` has to be right at all times."""

    def __init__(self, registry: Registry, sizes: dict[int, int]) -> None:
        self._registry = registry
        self._sizes = sizes
        self.open: list[Way] = []
        self.watched: dict[int, Way] = {}
        self._fields: dict[int, Way] = {}
        self._alone = self._holders_of(_Sample())

    def keep(self, method: Any, owner: Any, number: int) -> None:
        """A method of an object of this number is kept."""
        by = _what_it_does(method, owner)
        way = self.watched.get(number)
        if way is None:
            way = self._added(self.watched, Way(number, self._registry.lasting(owner, number), by))
        elif way.by != by:
            is_at_ends = ANYHOW not in (way.by, by) and type(owner) in (list, deque)
            way.by = AT_ENDS if is_at_ends else ANYHOW
        try:
            way.methods.append(weak_reference(method))
        except TypeError:  # some kinds allow none
            way.methods.append(lambda: method)

    def hand_out(self, owner: Any) -> bool:
        """The dictionary of an object's fields is handed out; whether nobody else had it before."""
        number = self._registry.ref(owner)
        if number in self._fields or self._registry.facts(type(owner)).field_dict is None:
            return False
        self._added(self._fields, Way(number, self._registry.lasting(owner, number), ANYHOW))
        return True

    def _added(self, kind: dict[int, Way], way: Way) -> Way:
        kind[way.number] = way
        self.open.append(way)
        if len(self.open) > _MOST:
            self._close(self.open.pop(0))
        return way

    def _close(self, way: Way) -> None:
        (self.watched if self.watched.get(way.number) is way else self._fields).pop(way.number, None)

    def changed(self) -> list[tuple[Any, int]]:
        """What may have been changed by these ways since this was asked the last time, and by what kind of methods."""
        found: list[tuple[Any, int]] = []
        closed: list[Way] = []
        for way in self.open:
            owner = way.owner()
            if owner is None:
                closed.append(way)
            elif way.methods:
                if not self._is_as_told(way, owner):
                    found.append((owner, way.by))
                if not way.has_methods():
                    closed.append(way)
            elif not self._is_handed_out(way, owner, found):
                closed.append(way)
        for way in closed:
            self._close(way)
            self.open.remove(way)
        return found

    def _is_as_told(self, way: Way, owner: Any) -> bool:
        """Whether a container is certainly as it was told: what only grows or only shrinks is, if it is as long. What
        does both is, if what was last put in is still there, and what is in the middle has not moved."""
        if way.by == ANYHOW or self._sizes.get(way.number) != len(owner):
            return False
        if way.by != AT_ENDS:
            return True
        copy = self._registry.copies.get(way.number)
        size = len(owner)
        if copy is None or len(copy) != size:
            return False
        if size < _FEW:
            return all(map(is_, copy, owner))
        middle = size // 2 if type(owner) is list else 1  # a deque is slow there
        return all([owner[place] is copy[place] for place in (0, 1, middle, -2, -1)])

    def _is_handed_out(self, way: Way, owner: Any, found: list[tuple[Any, int]]) -> bool:
        """Whether anybody but the object itself has the dictionary of its fields; both are added if they changed."""
        is_alone = self._holders_of(owner) <= self._alone
        fields = self._fields_of(owner)
        now = version(fields) if type(fields) is dict else 0
        if not now or now != way.version:
            way.version = now
            found.append((owner, ANYHOW))
            if self._registry.known(fields) is not None:
                found.append((fields, ANYHOW))
        return not is_alone

    def _holders_of(self, owner: Any) -> int:
        """How many have the dictionary of an object's fields, as counted here."""
        return getrefcount(self._fields_of(owner))

    def _fields_of(self, owner: Any) -> dict[str, Any]:
        fields = self._registry.facts(type(owner)).field_dict
        assert fields is not None
        return fields(owner)  # type: ignore[no-any-return]

    def clear(self) -> None:
        """Lets go of all."""
        self.open.clear()
        self.watched.clear()
        self._fields.clear()


class _Sample:
    def __init__(self) -> None:
        self.field = 0


def _what_it_does(method: Any, owner: Any) -> int:
    kind = type(owner)
    if kind is not list and kind is not set and kind is not dict and (kind is not deque or _most_in(owner) is not None):
        return ANYHOW
    name = method.__name__
    if name in _GROWING:
        return GROWING
    return SHRINKING if name in _SHRINKING else AT_ENDS if name in _AT_FRONT else ANYHOW
