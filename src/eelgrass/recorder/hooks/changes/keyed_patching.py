"""What is different in a set or dictionary, told instead of all that is in it."""

from __future__ import annotations

from _collections import OrderedDict  # type: ignore[import-not-found]  # `collections` would take long to load
from _operator import is_not
from collections.abc import Container
from itertools import compress, islice
from typing import Any

from eelgrass.recorder import wire
from eelgrass.recorder.hooks.changes.sequence_patching import MOST_COMPARED
from eelgrass.recorder.hooks.log import Log
from eelgrass.recorder.hooks.objects.keys import KEY_OF, VALUE_OF, is_unmistakable, pairs_of

_KEY, _SET_KEY, _REMOVE = (kind * wire.FORMS for kind in (wire.KEY, wire.SET_KEY, wire.REMOVE))
#: By how much a set's size may differ after a method that did nothing else.
_ONE_STEP = {"add": (0, 1), "discard": (0, -1), "remove": (-1,), "pop last": (-1,)}
#: Of dictionaries up to this size all is told: looking for the difference would cost as much.
_SMALL = 16


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
        self._sets: dict[int, dict[int, Any]] = log.registry.set_copies
        self._partial = log.registry.partial
        self._dicts: dict[int, tuple[list[Any], list[Any]]] = log.registry.dict_copies

    # Sets

    def tell_set(self, owner: Any, number: int, method: str, key: Any, result: Any) -> bool:
        """Tells what a method, or anything for '', has changed in a set; whether that was possible, and less than all
        of it. Small sets are told whole, with the order that they have."""
        size = set.__len__(owner)
        before, self._sizes[number] = self._sizes.get(number), size
        if before is None or size <= wire.MOST_ORDERED:
            self._sets.pop(number, None)
            return False
        if type(owner) is set and self._of_set(owner, number, before, method, key, result):
            return True
        if size > MOST_COMPARED or not self._registry.may_hold(list(set.__iter__(owner))):
            self._sets.pop(number, None)
            return False
        now = dict(zip(map(id, set.__iter__(owner)), set.__iter__(owner), strict=True))
        was, self._sets[number] = self._sets.get(number), now
        if was is None:
            return False
        added = [now[its] for its in now.keys() - was.keys()]
        gone = [was[its] for its in was.keys() - now.keys()]
        if len(added) + len(gone) > min(size // 2, self._registry.bounds.elements):
            return False
        if not all(map(is_unmistakable, added)):
            self._registry.mixed.add(number)
        if added or gone:
            self._patch(owner, number, added, added, gone)
        self._registry.tell_fields(owner, number)
        return True

    def _of_set(self, owner: set[Any], number: int, before: int, method: str, key: Any, result: Any) -> bool:
        """Tells what a method has done to a larger set that had `before` elements; whether that was possible."""
        if method == "pop last":
            key = result
        elif method not in _ONE_STEP:
            return False
        if len(owner) - before not in _ONE_STEP[method]:
            return False
        if len(owner) == before:
            return True
        # What has been added is the key itself; what has been taken out may only equal it.
        if method == "add":
            if not is_unmistakable(key):
                self._registry.mixed.add(number)
        elif method != "pop last" and (not is_unmistakable(key) or number in self._registry.mixed):
            return False
        copy = self._sets.get(number)
        if copy is not None:
            if method == "add" and self._registry.may_hold((key,)):
                copy[id(key)] = key
            else:  # which object it was that equalled the key is not known
                del self._sets[number]
        if len(owner) == wire.MOST_ORDERED + 1:  # from now on, or again, their order is not told
            there, gone = ([key], []) if method == "add" else ([], [key])
            self._patch(owner, number, there, there, gone)
        elif method == "add":
            self.stored(owner, number, key, key)
        else:
            self.removed(owner, number, key)
        return True

    # Dictionaries

    def tell_dict(self, owner: Any, number: int, method: str, key: Any, result: Any) -> bool:
        """As `tell_set`, for a dictionary."""
        facts = self._registry.facts(type(owner))
        before, self._sizes[number] = self._sizes.get(number), dict.__len__(owner)
        has_rule = method in ("pop", "setdefault", "popitem") and facts.keeps(method)
        if number in self._watched:
            has_rule = has_rule and before is not None and _is_all(owner, before, method, key)
        if has_rule and self._of_dict(owner, number, method, key, result):
            return True
        is_ordered = issubclass(type(owner), OrderedDict)
        if dict.__len__(owner) <= _SMALL and not is_ordered:
            self._dicts.pop(number, None)
            return False
        if dict.__len__(owner) > MOST_COMPARED:
            self._dicts.pop(number, None)
            return False
        pairs = pairs_of(owner)
        keys, values = list(map(KEY_OF, pairs)), list(map(VALUE_OF, pairs))
        if not self._registry.may_hold(keys) or not self._registry.may_hold(values):
            self._dicts.pop(number, None)
            return False
        was, self._dicts[number] = self._dicts.get(number), (keys, values)
        if was is not None and self._compared(owner, number, was, keys, values):
            return True
        if is_ordered or (was is not None and not set(map(id, keys)).isdisjoint(map(id, was[0]))):
            self._registry.tell_contents(owner)
            self._registry.report(wire.ORDER, [number, [self._registry.plain(its) for its in keys]])
            return True
        return False

    def _of_dict(self, owner: Any, number: int, method: str, key: Any, result: Any) -> bool:
        """Tells what a method has done to a dictionary; whether that was possible."""
        if method == "popitem" and type(result) is tuple:
            key = result[0]
        elif not is_unmistakable(key) or number in self._registry.mixed:
            return False
        self._dicts.pop(number, None)
        if method != "setdefault":
            self.removed(owner, number, key)
        elif dict.__contains__(owner, key):
            self.stored(owner, number, key, dict.__getitem__(owner, key))
        return True

    def _compared(
        self, owner: Any, number: int, was: tuple[list[Any], list[Any]], keys: list[Any], values: list[Any]
    ) -> bool:
        old_keys, old_values = was
        front = next(compress(range(len(keys)), map(is_not, keys, old_keys)), min(len(keys), len(old_keys)))
        most = min(len(keys), len(old_keys)) - front
        back = next(compress(range(most), map(is_not, reversed(keys), reversed(old_keys))), most)
        gone = old_keys[front : len(old_keys) - back]
        added = keys[front : len(keys) - back]
        if added and (back or not set(map(id, added)).isdisjoint(map(id, gone))):
            return False  # the order is another one
        places = list(compress(range(front), map(is_not, values, old_values)))
        places += compress(
            range(len(keys) - back, len(keys)), map(is_not, _last(values, back), _last(old_values, back))
        )
        places += range(front, len(keys) - back)
        if len(places) + len(gone) > min(len(keys) // 2 + 2, self._registry.bounds.elements):
            return False
        if not all(map(is_unmistakable, added)):
            self._registry.mixed.add(number)
        if gone:
            self._patch(owner, number, [], [], gone)
        if places:
            self._patch(owner, number, [keys[place] for place in places], [values[place] for place in places], [])
        self._registry.tell_fields(owner, number)
        return True

    # Telling

    def stored(self, owner: Any, number: int, key: Any, value: Any) -> None:
        """Tells that a key of a dictionary holds a value now, or that a set has an element, which is both."""
        if self._dicts:
            self._dicts.pop(number, None)
        if type(value) is not int:
            self._registry.plain(value)  # what is told of a new object may have keys of its own
        self._log.tell(_KEY, key)
        self._log.wholes.append(number)
        self._log.tell(_SET_KEY, value)
        self._tell_length(owner, number)

    def removed(self, owner: Any, number: int, key: Any) -> None:
        """Tells that a key or element is gone."""
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


def _last(items: list[Any], count: int) -> Any:
    return islice(items, len(items) - count, None)
