"""What is different in a set or dictionary, told instead of all that is in it."""

from __future__ import annotations

from _collections import OrderedDict  # type: ignore[import-not-found]  # `collections` would take long to load
from collections.abc import Container
from typing import Any

from eelgrass.recorder import wire
from eelgrass.recorder.hooks.changes.comparing import different, same_back, same_front
from eelgrass.recorder.hooks.changes.sequence_patching import MOST_COMPARED
from eelgrass.recorder.hooks.log import Log
from eelgrass.recorder.hooks.objects.keys import KEY_OF, VALUE_OF, is_unmistakable, pairs_of

_KEY, _SET_KEY, _REMOVE = (kind * wire.FORMS for kind in (wire.KEY, wire.SET_KEY, wire.REMOVE))
#: By how much a set's size may differ after a method that did nothing else.
_ONE_STEP = {"add": (0, 1), "discard": (0, -1), "remove": (-1,), "pop last": (-1,)}
#: The methods of dictionaries that say themselves what they change.
_RULES = ("pop", "popitem", "setdefault")
#: So many keys may have been told since a copy was made.
_MOST_TOLD = 256
#: Of dictionaries up to this size all is told: looking for the difference would cost as much.
_SMALL = 16


class KeyedCopy:
    """The keys and values of a dictionary, or elements of a set twice, in order, and the keys told of since."""

    __slots__ = ("keys", "told", "values")

    def __init__(self, keys: list[Any], values: list[Any]) -> None:
        self.keys = keys
        self.values = values
        self.told: list[Any] = []


class KeyedPatching:
    """Tells of changes to sets, dictionaries, and what derives from them.

    What no rule covers is compared with what was there the last time, by identity and never by hash or equality, which
    may be the program's own. `sizes` are those that were told last, by number; `watched`: of those that may be changed
    past all statements.
    """

    def __init__(self, log: Log, sizes: dict[int, int], watched: Container[int]) -> None:
        self._log = log
        self._registry = log.registry
        self._sizes = sizes
        self._watched = watched
        self._partial = log.registry.partial
        self._copies: dict[int, KeyedCopy] = log.registry.keyed_copies

    # Sets

    def tell_set(self, owner: Any, number: int, method: str, key: Any, result: Any, certain: bool) -> bool:
        """Tells what a method, or anything for '', has changed in a set; whether that was possible, and less than all
        of it. Small sets are told whole, with the order that they have. `certain`: the method is the built-in one."""
        size = set.__len__(owner)
        before, self._sizes[number] = self._sizes.get(number), size
        if before is None or size <= wire.MOST_ORDERED or size > MOST_COMPARED:
            self._copies.pop(number, None)
            return False
        if (certain or type(owner) is set) and self._of_set(owner, number, before, method, key, result):
            return True
        keys = list(set.__iter__(owner))
        return self._by_comparing(owner, number, keys, keys)

    def _of_set(self, owner: set[Any], number: int, before: int, method: str, key: Any, result: Any) -> bool:
        """Tells what a method has done to a larger set that had `before` elements; whether that was possible."""
        size = set.__len__(owner)
        if method == "pop last":
            key = result
        elif method not in _ONE_STEP:
            return False
        if size - before not in _ONE_STEP[method]:
            return False
        if size == before:
            return True
        # What has been added is the key itself; what has been taken out may only equal it.
        if method == "add":
            if not is_unmistakable(key):
                self._registry.mixed.add(number)
        elif method != "pop last" and (not is_unmistakable(key) or number in self._registry.mixed):
            return False
        if size == wire.MOST_ORDERED + 1:  # from now on, or again, their order is not told
            there, gone = ([key], []) if method == "add" else ([], [key])
            self._note(number, key)
            self._patch(owner, number, there, there, gone)
        elif method == "add":
            self.stored(owner, number, key, key)
        else:
            self.removed(owner, number, key)
        return True

    # Dictionaries

    def tell_dict(self, owner: Any, number: int, method: str, key: Any, result: Any, certain: bool) -> bool:
        """As `tell_set`, for a dictionary."""
        facts = self._registry.facts(type(owner))
        size = dict.__len__(owner)
        before, self._sizes[number] = self._sizes.get(number), size
        has_rule = method in _RULES and (certain or facts.keeps(method))
        if number in self._watched:
            has_rule = has_rule and before is not None and _is_all(owner, before, method, key)
        if has_rule and self._of_dict(owner, number, method, key, result):
            return True
        is_ordered = issubclass(type(owner), OrderedDict)
        if (size <= _SMALL and not is_ordered) or size > MOST_COMPARED:
            self._copies.pop(number, None)
            return False
        if is_ordered:
            pairs = pairs_of(owner)
            keys, values = list(map(KEY_OF, pairs)), list(map(VALUE_OF, pairs))
        else:
            keys, values = list(dict.keys(owner)), list(dict.values(owner))
        was = self._copies.get(number)
        if self._by_comparing(owner, number, keys, values):
            return True
        if is_ordered or (was is not None and not set(map(id, keys)).isdisjoint(map(id, was.keys))):
            self._registry.tell_contents(owner)
            first = keys[: self._registry.bounds.elements]
            self._registry.report(wire.ORDER, [number, [self._registry.plain(its) for its in first]])
            self._tell_length(owner, number)
            return True
        return False

    def _of_dict(self, owner: Any, number: int, method: str, key: Any, result: Any) -> bool:
        """Tells what a method has done to a dictionary; whether that was possible."""
        if method == "popitem" and type(result) is tuple:
            key = result[0]
        elif not is_unmistakable(key) or number in self._registry.mixed:
            return False
        if method != "setdefault":
            self.removed(owner, number, key)
        elif dict.__contains__(owner, key):
            self.stored(owner, number, key, dict.__getitem__(owner, key))
        return True

    # By comparing

    def _by_comparing(self, owner: Any, number: int, keys: list[Any], values: list[Any]) -> bool:
        """Tells what is different from the copy, of a set (`keys` and `values` are one list) or dictionary, and keeps
        a new copy; whether that was possible, and less than all of it."""
        was = self._copies.pop(number, None)
        if not self._registry.may_hold(keys) or not self._registry.may_hold(values):
            return False
        self._copies[number] = KeyedCopy(keys, values)
        if was is None:
            return False
        shorter = min(len(keys), len(was.keys))
        front = same_front(keys, was.keys, shorter)
        back = same_back(keys, was.keys, shorter - front)
        gone, added = was.keys[front : len(was.keys) - back], keys[front : len(keys) - back]
        places: list[int] = []
        if keys is values:
            shared = set(map(id, gone)).intersection(map(id, added)) if gone and added else ()
            gone, added = ([key for key in its if id(key) not in shared] for its in (gone, added))
            there = added
        else:
            if added and (back or not set(map(id, added)).isdisjoint(map(id, gone))):
                return False  # the order is another one
            come = [key for key in dict.fromkeys(was.told) if key in set(filter(is_unmistakable, added))]
            if come != added[: len(come)]:
                return False  # what was told of came after what is told now
            places += different(values, was.values, 0, front, 0)
            places += different(values, was.values, len(keys) - back, len(keys), len(was.keys) - len(keys))
            there = [keys[place] for place in places] + added
        if len(there) + len(gone) + len(was.told) > min(len(keys) // 2 + 2, self._registry.bounds.elements):
            return False
        if not all(map(is_unmistakable, added)):
            self._registry.mixed.add(number)
        self._tell_different(owner, number, there, gone, was.told)
        return True

    def _tell_different(self, owner: Any, number: int, there: list[Any], gone: list[Any], told: list[Any]) -> None:
        """Tells keys that hold something else now, or are gone; and once more those of which was told since the copy
        was made: what they held when it was made may be what they hold now."""
        base: Any = dict if issubclass(type(owner), dict) else set
        there = there + [key for key in told if base.__contains__(owner, key)]
        gone = gone + [key for key in told if not base.__contains__(owner, key)]
        if gone:
            self._patch(owner, number, [], [], gone)
        if there:
            self._patch(
                owner, number, there, there if base is set else [dict.__getitem__(owner, key) for key in there], []
            )
        self._registry.tell_fields(owner, number)

    # Telling

    def _note(self, number: int, key: Any) -> None:
        """Of a key something is told that the copy does not have."""
        copy = self._copies.get(number)
        if copy is not None:
            copy.told.append(key)
            if not is_unmistakable(key) or len(copy.told) > _MOST_TOLD:
                del self._copies[number]

    def stored(self, owner: Any, number: int, key: Any, value: Any) -> None:
        """Tells that a key of a dictionary holds a value now, or that a set has an element, which is both."""
        if self._copies:
            self._note(number, key)
        if type(value) is not int:
            self._registry.plain(value)  # what is told of a new object may have keys of its own
        self._log.tell(_KEY, key)
        self._log.wholes.append(number)
        self._log.tell(_SET_KEY, value)
        self._tell_length(owner, number)

    def removed(self, owner: Any, number: int, key: Any) -> None:
        """Tells that a key or element is gone."""
        if self._copies:
            self._note(number, key)
        self._log.tell(_KEY, key)
        self._log.wholes.append(number)
        self._log.events.append(_REMOVE)
        self._tell_length(owner, number)

    def _patch(self, owner: Any, number: int, keys: list[Any], items: list[Any], gone: list[Any]) -> None:
        self._registry.bounds.count(len(keys))
        parts = [[self._registry.plain(part) for part in its] for its in (keys, items, gone)]
        self._registry.report(wire.PATCH, [number, None, *parts])
        self._tell_length(owner, number)

    def _tell_length(self, owner: Any, number: int) -> None:
        """Of a container of which not all has been told, its length has to be."""
        if self._partial and number in self._partial:
            self._registry.tell_length(number, (dict if issubclass(type(owner), dict) else set).__len__(owner))


def _is_all(owner: Any, before: int, method: str, key: Any) -> bool:
    """Whether a method is all that has changed a dictionary since it had so many keys."""
    grown = dict.__len__(owner) - before
    if method == "setdefault":
        return grown == 0 or (grown == 1 and next(dict.__reversed__(owner)) is key)
    return grown == -1
