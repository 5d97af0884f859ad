"""Hooks for what changes inside objects."""

from __future__ import annotations

from _collections import deque  # type: ignore[import-not-found]  # `collections` would take long to load
from contextlib import suppress
from itertools import islice
from types import BuiltinFunctionType, FunctionType, MethodWrapperType, TracebackType
from typing import Any

from eelgrass.recorder import wire
from eelgrass.recorder.hooks.changes.held import Held
from eelgrass.recorder.hooks.changes.patching import Patching
from eelgrass.recorder.hooks.changes.reaching import is_woven, known_way, reach, receiver_of
from eelgrass.recorder.hooks.changes.sequence_patching import SAYING_ALL
from eelgrass.recorder.hooks.log import Log
from eelgrass.recorder.hooks.objects.keys import SIMPLE_TYPES, is_unmistakable
from eelgrass.recorder.hooks.objects.type_facts import TypeFacts, namespace_of

_SET_INDEX, _KEY, _GLOBAL = (kind * wire.FORMS for kind in (wire.SET_INDEX, wire.KEY, wire.GLOBAL))
_ARRAYS = ("array", "table")
_CONTAINERS = ("list", "dict", "set", *_ARRAYS)
#: What these do is done by statements as well.
_WRAPPED = {"__setitem__": "item_set", "__delitem__": "item_deleted"}
_LOOKED_INTO = ("exception", "list", "dict", "set", "instance", "class", *_ARRAYS)


class PlainType:
    """The latest type of owner at one place of the text whose field woven text may read itself."""

    __slots__ = ("type",)

    def __init__(self) -> None:
        self.type: type | None = None


class Changes:
    """`held` has what woven text cannot safely work out twice, until its change is told."""

    def __init__(self, log: Log) -> None:
        self.held = Held()
        self._log = log
        self._registry = log.registry
        self.patching = Patching(log)
        self._foreign: dict[int, bool] = {}  # by a type's identity; the registry keeps the types
        self._watched = self.patching.ways.watched
        self._telling: dict[int, dict[str, bool]] = {}  # as well, until some class changes
        self._plain: list[PlainType] = []
        self._numbers = log.numbers
        self._copies = self._registry.copies

    def interrupted(self, trace: TracebackType | None) -> None:
        """An exception has ended statements: what they had in hand may have changed before."""
        for thing in map(receiver_of, self.held.dropped(trace)):
            self.changed(thing)
            self._parts_changed(thing)

    def look_at_held(self) -> None:
        """A frame begins or goes on in the middle of a call, which may have filled by then what it was called on: a
        generator's elements are put in one by one."""
        for thing in map(receiver_of, self.held.latest()):
            kind = type(thing)
            if (kind is list or kind is dict or kind is deque) and self._numbers.get(thing) >= 0:
                self.filled(thing)

    def filled(self, thing: Any) -> None:
        """Something may have been put at the end of a known container."""
        kind, number, size = type(thing), self._numbers.get(thing), len(thing)
        told = self.patching.sizes.get(number)
        if told == size:
            return
        if told is None or told > size or (kind is not list and kind is not dict):
            self.changed(thing)
        elif kind is list:
            self.changed(thing, "extend")
        else:
            self.patching.sizes[number] = size
            for key in reversed([*islice(dict.__reversed__(thing), size - told)]):
                self.item_set(thing, key)

    def _has_key(self, owner: Any, key: Any) -> bool:
        """Whether `owner` is a dictionary with this key, where asking for it runs no code of the program."""
        if not issubclass(type(owner), dict) or self._registry.known(owner) in self._registry.mixed:
            return False
        return (type(key) is str or is_unmistakable(key)) and dict.__contains__(owner, key)

    def _parts_changed(self, owner: Any) -> None:
        """What is directly in `owner` may have changed."""
        for part in self._registry.parts(owner):
            if id(type(part)) not in SIMPLE_TYPES and self._registry.known(part) is not None:
                self.changed(part)

    # Elements

    def item_set(self, owner: Any, key: Any) -> None:
        """`owner[key]` has been assigned. By now it may be gone again, since what was there before may have had a
        `__del__`."""
        try:
            self._item_set(owner, key)
        except (IndexError, KeyError):
            self.changed(owner)

    def _item_set(self, owner: Any, key: Any) -> None:
        kind = type(owner)
        number = self._numbers.get(owner)
        if number < 0:
            self.changed(owner)
        elif (kind is list or kind is deque or kind is bytearray) and type(key) is int:
            self._index_set(owner, number, key)
        elif kind is dict:
            if type(key) is str or (is_unmistakable(key) and number not in self._registry.mixed):
                if self._watched and number in self._watched:
                    self._note_size(owner, number, key)
                self.patching.keyed.stored(owner, number, key, owner[key])
            else:
                self.changed(owner)
        elif (
            issubclass(kind, dict)
            and (type(key) is str or is_unmistakable(key))
            and number not in self._registry.mixed
            and dict.__contains__(owner, key)
        ):
            self.patching.keyed.stored(owner, number, key, dict.__getitem__(owner, key))
            self.patching.sizes[number] = dict.__len__(owner)
        else:
            self.changed(owner)

    def _note_size(self, owner: Any, number: int, key: Any) -> None:
        """Before it is told what a key of a dictionary holds: says how long the dictionary is then. A key that has come
        to be is the last. Where that does not explain the length, more has happened, which is told first."""
        told, size = self.patching.sizes.get(number), len(owner)
        last = next(dict.__reversed__(owner))
        if told == size - 1 and (last is key or (type(last) is type(key) and last == key)):
            self.patching.sizes[number] = size
        elif told != size:
            self.changed(owner)

    def _index_set(self, owner: Any, number: int, key: int) -> None:
        value = owner[key]
        if self._copies and number in self._copies:
            try:
                self._copies[number][key] = value
                if not self._registry.may_hold((value,)):
                    del self._copies[number]
            except IndexError:  # it has grown unseen
                del self._copies[number]
        if type(value) is not int:
            self._registry.plain(value)
        self._log.wholes.append(number)
        self._log.wholes.append(key if key >= 0 else key + len(owner))
        self._log.tell(_SET_INDEX, value)

    def item_set_held(self, key: Any, owner: Any) -> None:
        """As `item_set`, for both taken back, the key first."""
        self.item_set(owner, key)

    def item_augmented(self, owner: Any, key: Any) -> None:
        """`owner[key]` has been assigned by `+=` or the like, which change a mutable object in place."""
        kind = type(owner)
        if kind is list and type(key) is int:
            self.changed(owner[key], "extend")
        elif self._has_key(owner, key):
            self.changed(dict.__getitem__(owner, key), "extend")
        else:
            self._parts_changed(owner)
        self.item_set(owner, key)

    def item_augmented_held(self, key: Any, owner: Any) -> None:
        """As `item_augmented`, for both taken back, the key first."""
        self.item_augmented(owner, key)

    def item_deleted(self, owner: Any, key: Any) -> None:
        """`owner[key]` has been deleted."""
        number = self._registry.known(owner)
        if number is not None and type(owner) is dict and is_unmistakable(key) and number not in self._registry.mixed:
            self.patching.keyed.removed(owner, number, key)
            if number in self._watched and number in self.patching.sizes:
                self.patching.sizes[number] -= 1
        else:
            self.changed(owner, "del", key)

    def item_deleted_held(self, key: Any, owner: Any) -> None:
        """As `item_deleted`, for both taken back, the key first."""
        self.item_deleted(owner, key)

    def grown(self, value: Any, owner: Any) -> Any:
        """An element of `owner` has been read, which may have put it there; gives the element, `value`."""
        if issubclass(type(owner), dict) and type(owner) is not dict:
            number, size = self._registry.known(owner), dict.__len__(owner)
            if number is not None and self.patching.sizes.get(number) == size - 1:
                self.item_set(owner, next(dict.__reversed__(owner)))  # the key that has come to be is the last
            elif number is None or self.patching.sizes.get(number) != size:
                self.changed(owner)
            if number is not None:
                self.patching.sizes[number] = size
        return value

    # Fields

    def field_told(self, point: int, owner: Any, value: Any) -> None:
        """A field of `owner`, of a type that keeps it plainly, holds `value` now."""
        number = self._numbers.get(owner)
        if number < 0:
            self.changed(owner)
            return
        if type(value) is not int:
            self._registry.plain(value)
        self._log.wholes.append(number)
        self._log.tell(point, value)

    def field_set(self, point: int, owner: Any, name: str, plain: PlainType) -> None:
        """`owner.name` has been assigned; `point` is of the kind SET_FIELD and knows the name.

        `plain` belongs to this place of the text.
        """
        registry = self._registry
        kind = type(owner)
        facts = registry.facts(kind)
        if facts.shape == "class":
            self._class_changed()
        if registry.known(owner) is None or facts.shape != "instance" or not facts.stores_plainly(name):
            self.changed(owner)
            return
        try:
            value = registry.field(owner, facts, name)
        except (KeyError, AttributeError):
            self.changed(owner)
            return
        plain.type = kind
        self.field_told(point, owner, value)

    def field_set_augmented(self, point: int, owner: Any, name: str, plain: PlainType) -> None:
        """As `field_set`, for `+=` and the like."""
        facts = self._registry.facts(type(owner))
        if facts.shape == "instance" and facts.stores_plainly(name):
            with suppress(KeyError, AttributeError):
                self.changed(self._registry.field(owner, facts, name), "extend")
        self.field_set(point, owner, name, plain)

    def field_augmented(self, point: int, owner: Any, value: Any) -> None:
        """As `field_told`, for `+=` and the like."""
        if type(value) is not int:
            self.changed(value, "extend")
        self.field_told(point, owner, value)

    def release(self) -> None:
        """Lets go of the program's objects and types."""
        self._class_changed()
        self.held.clear()
        self.patching.ways.clear()

    def plain_type(self) -> PlainType:
        """What `field_set` takes as `plain`, for one place of the text."""
        self._plain.append(PlainType())
        return self._plain[-1]

    def _class_changed(self) -> None:
        """What was known of a class's fields may be true no longer."""
        for plain in self._plain:
            plain.type = None
        self._telling.clear()
        self._registry.forget_facts()

    # Anything

    def changed(self, owner: Any, method: str = "", key: Any = None, result: Any = None, certain: bool = False) -> None:
        """`owner` may have changed anywhere; `method` names what did it, if that says more, with what it was called
        first and what it gave. `certain`: it is the built-in method, not one of the program's own of that name."""
        kind = type(owner)
        if id(kind) in SIMPLE_TYPES:
            return
        registry = self._registry
        number = registry.known(owner)
        if number is None:
            registry.ref(owner)
            self._reached_changed(owner, registry.facts(kind))
        elif not self.patching.tell(owner, number, method, key, result, certain):
            self._look_into(owner, registry.facts(kind))

    def _look_into(self, owner: Any, facts: TypeFacts) -> None:
        """Tells all that is in an object."""
        registry = self._registry
        if facts.shape not in _LOOKED_INTO:
            return
        if facts.shape == "class" and self._is_as_it_was(owner):
            return
        if facts.shape in _ARRAYS:
            self._look_into_array(owner)
        else:
            registry.tell_contents(owner)
        self._reached_changed(owner, facts)

    def _is_as_it_was(self, class_: type) -> bool:
        """Whether a class holds the same as when it was told last. What it holds is kept, where that may be."""
        copies, number, now = self._registry.class_copies, self._registry.known(class_), dict(namespace_of(class_))
        before = {} if number is None else copies.get(number, {})
        if len(before) == len(now) and all(before.get(name, copies) is value for name, value in now.items()):
            return True
        self._class_changed()
        if number is not None and self._registry.may_hold(now.values()):
            copies[number] = now
        return False

    def _reached_changed(self, owner: Any, facts: TypeFacts) -> None:
        """What may have changed with an object: arrays that show the same numbers, and the containers in the fields of
        one that has foreign code."""
        registry = self._registry
        if facts.shape in _ARRAYS:
            for its in registry.arrays.sharing(owner):
                self._look_into_array(its)
        if facts.shape == "instance" and self._is_foreign(facts.type):
            for value in registry.held_in(owner, facts):
                if registry.known(value) is not None and registry.facts(type(value)).shape in _CONTAINERS:
                    self.changed(value)

    def _look_into_array(self, array: Any) -> None:
        found = self._registry.arrays.changed_in(array)
        if found is None:
            self._registry.tell_contents(array)
            return
        places, numbers = found
        if places:
            self._registry.report(wire.PATCH, [self._registry.known(array), None, places, numbers, []])

    def _is_foreign(self, kind: type) -> bool:
        """Whether code that is not woven may change what a type's objects keep in their fields."""
        found = self._foreign.get(kind_key := id(kind))
        if found is None:
            methods = [part for part in self._registry.inherited(kind) if type(part) is FunctionType]
            found = self._foreign[kind_key] = any(not is_woven(its.__code__, self._log.mark) for its in methods)
        return found

    def augmented(self, point: int, value: Any) -> None:
        """A name has been stored by `+=` or the like, which change a mutable object in place."""
        self.changed(value, "extend")  # which is what these do to a list
        self._log.tell(point, value)

    def called(self, method: str, result: Any, key: Any, owner: Any) -> Any:
        """The method `method` of an object has been called, with `key` first, and gave `result`."""
        if not self._tells_itself(type(owner), method):
            self.changed(owner, method, key, result)
        return result

    def _tells_itself(self, kind: type, method: str) -> bool:
        """Whether a type's method of this name is woven, so that it has told already what it changed."""
        if kind is list or kind is dict or kind is set or kind is deque:
            return False
        of_kind = self._telling.get(id(kind))
        if of_kind is None:
            of_kind = self._telling[id(kind)] = {}
        found = of_kind.get(method)
        if found is None:
            function = self._registry.facts(kind).defined("pop" if method == "pop last" else method)
            found = of_kind[method] = type(function) is FunctionType and is_woven(function.__code__, self._log.mark)
        return found

    def handed(self, result: Any, *things: Any) -> Any:
        """A call that may have changed what it was handed has given `result`."""
        for thing in things:
            self.changed(thing)
        return result

    def reached(self, result: Any, has_all: bool, *things: Any) -> Any:
        """As `handed`, where it is known only now what was called: the last of `things`, which come last first.
        `has_all`: the others are all that it was called with, by place."""
        called = things[-1]
        receiver, changes = reach(called, self._log.mark)
        if receiver is not None:
            kind = type(called)
            method = called.__name__ if kind is BuiltinFunctionType or kind is MethodWrapperType else ""
            if has_all and len(things) == 1 and method == "pop":
                method = "pop last"
            says_all = has_all or method in SAYING_ALL
            key = things[-2] if len(things) > 1 else None
            if has_all and method in _WRAPPED:
                getattr(self, _WRAPPED[method])(receiver, key)
            else:
                self.changed(receiver, method if says_all else "", key, result, certain=True)
        if changes:
            way = known_way(called)
            for thing in things[:-1]:
                if type(thing) is not tuple:
                    self.changed(thing, way)
        return result

    def field_grown(self, result: Any, owner: Any) -> Any:
        """Reading a field has stored it, as `cached_property` does."""
        self.changed(owner)
        return result

    def class_made(self, made: Any) -> None:
        """A class has been made: descriptors in it have learned their names."""
        registry = self._registry
        if issubclass(type(made), type):
            for value in list(registry.entries(made)):
                if registry.known(value) is not None and registry.facts(type(value)).shape == "instance":
                    registry.tell_contents(value)

    def names_changed(self, names: dict[str, Any]) -> None:
        """A module's names may have been written by other ways than statements."""
        for name, value in list(names.items()):
            if not name.startswith("__"):
                self._registry.plain(value)  # what is told of a new object may have keys of its own
                self._log.tell(_KEY, name)
                self._log.tell(_GLOBAL, value)
