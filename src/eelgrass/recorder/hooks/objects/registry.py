"""Looking at the program's objects without running any of the program's code.

How they are looked at is said in `type_facts.py`.
"""

from __future__ import annotations

from _weakref import ref as weak_reference
from collections.abc import Callable, Collection
from gc import get_referents
from itertools import islice
from sys import getrefcount
from typing import Any

from eelgrass.recorder.contract import LONG
from eelgrass.recorder.hooks.objects.bounds import Bounds
from eelgrass.recorder.hooks.objects.keys import KEY_OF, SIMPLE_TYPES, is_unmistakable, pairs_of
from eelgrass.recorder.hooks.objects.numbers import Numbers
from eelgrass.recorder.hooks.objects.told_arrays import Arrays
from eelgrass.recorder.hooks.objects.type_facts import TypeFacts, bases_of, is_made_here, namespace_of
from eelgrass.recorder.wire import (
    CONTENTS,
    FORMS,
    HELD,
    HELD_FIELD,
    KEY,
    LENGTH,
    MADE,
    OBJECT,
    TYPE,
    WHOLE_MAX,
    WHOLE_MIN,
)

_arguments: Callable[[BaseException], tuple[Any, ...]] = BaseException.__dict__["args"].__get__

_KEY, _MADE, _HELD, _HELD_FIELD, _LENGTH = (kind * FORMS for kind in (KEY, MADE, HELD, HELD_FIELD, LENGTH))
_NOTHING: list[Any] = []
#: A tuple up to this long travels as a value of its own; a longer one becomes an object, seen once.
SHORT_TUPLE = 16
_NESTING = 4


class _Watch(weak_reference):  # type: ignore[type-arg]  # of whatever the program has
    """A weak reference that knows the identity of its object after it has gone."""

    __slots__ = ("key",)
    key: int


def _let_go(holders: dict[int, Any], references: int) -> list[int]:
    """The keys of what has no more than so many references, as counted here; watches aside."""
    return [key for key, holder in holders.items() if type(holder) is not _Watch and getrefcount(holder) <= references]


#: How many references `_let_go` counts for what only its dictionary holds: fewer when compiled.
_ONLY_OURS = next(count for count in range(1, 9) if _let_go({0: []}, count))


class Registry:
    """Numbers objects in the order in which they are first seen, and says what is in them.

    The ends of objects of built-in types are noticed where hooks are compiled (`numbers.pyx`); others that allow weak
    references are known by one, so that both live no longer than in a plain run. What is left is kept until `sweep`
    finds that only we still hold it. A program that could tell the difference has them `let_live`: then nothing is
    held, such objects are known by their identity alone, and are looked into again whenever they are told of.

    `partial` are the numbers of containers of which only the beginning is told, by `bounds`. `mixed` are those of
    dictionaries with keys that keys of other types may equal, as 1.0 and True equal 1. `numbers`: the numbers of the
    objects that are alive for certain, by identity. Each new object is told to the log before its number is used, and
    what is in a known one now by `report(kind, description)`.
    """

    def __init__(self, log: Any) -> None:
        self.numbers = Numbers()
        self._log = log
        self._events, self._wholes, self._codes = log.events, log.wholes, log.codes
        self.report: Callable[[int, list[Any]], None] = log.describe
        self._types = 0  # how many types have been told
        self._holders: dict[int, Any] = {}
        self._loose: dict[int, tuple[int, int]] = {}  # by identity: number and the type's identity
        self._holds = True
        self._facts: dict[int, TypeFacts] = {}
        self._old_facts: dict[int, TypeFacts] = {}
        self._next = 0
        self._fresh: list[tuple[int, Any, TypeFacts]] = []
        self._when_gone = self._gone
        self._describing = False
        self._released = False
        self.mixed, self.partial = set[int](), set[int]()
        self.bounds = Bounds()
        self._iterable: dict[int, bool] = {}
        # Those of `changes/sequence_patching.py` and `keyed_patching.py`, by number.
        self.copies: dict[int, list[Any]] = {}
        self.keyed_copies: dict[int, Any] = {}
        # What is in classes, as they were told last.
        self.class_copies: dict[int, dict[str, Any]] = {}
        self._swept_size = 1024
        self.arrays = Arrays(self.plain)

    def may_hold(self, values: Collection[Any]) -> bool:
        """Whether these may be held for a while."""
        return self._holds or SIMPLE_TYPES.issuperset(map(id, map(type, values)))

    def let_live(self) -> None:
        """From now on holds no object of the program."""
        if self._holds:
            self._holds = False
            for key, holder in self._holders.items():
                if type(holder) is not _Watch:
                    self._loose[key] = self.numbers.drop(key), id(type(holder))
            self._holders = {key: holder for key, holder in self._holders.items() if type(holder) is _Watch}
            for copies in (self.copies, self.keyed_copies, self.class_copies):
                copies.clear()

    def release(self) -> None:
        """Lets go of everything for good: what remains of the program at its end goes as in a plain run."""
        self._released = True
        self.numbers.clear()
        for its in (self._holders, self._loose, self._facts, self._old_facts):
            its.clear()
        for copies in (self.copies, self.keyed_copies, self.class_copies):
            copies.clear()

    def facts(self, type_: type) -> TypeFacts:
        """What is known of a type."""
        found = self._facts.get(id(type_))
        if found is None:
            found = TypeFacts(type_)
            if not self._released:
                self._facts[id(type_)] = found
        return found

    def known(self, obj: Any) -> int | None:
        """The object's number if it has been seen before."""
        number = self.numbers.get(obj)
        if number >= 0:
            return number
        if not self._holds:
            loose, type_ = self._loose.get(id(obj), (None, 0))
            return loose if type_ == id(type(obj)) else None
        return None

    def ref(self, obj: Any) -> int:
        """The object's number; a new object, and those first seen in it, are reported."""
        number = self.known(obj)
        if self._released:
            return 0
        if number is not None:
            if not self._describing and self.numbers.get(obj) < 0:  # it may be another one
                self.tell_contents(obj)
            return number
        number = self._next
        self._next += 1
        facts = self.facts(type(obj))
        self._remember(number, obj, facts)
        self._fresh.append((number, obj, facts))
        if not self._describing:
            self._describe_fresh()
        return number

    def lasting(self, obj: Any, number: int) -> Callable[[], Any]:
        """What gives a known object while it lives, and None after that; where that cannot be had, it lives on."""
        key = id(obj)
        watch = self._holders.get(key)
        if type(watch) is _Watch:
            return watch
        if self.numbers.at(key, number) is obj:
            return lambda: self.numbers.at(key, number)
        return lambda: obj

    def _remember(self, number: int, obj: Any, facts: TypeFacts) -> None:
        if self.numbers.put(obj, number):
            return
        key = id(obj)
        if facts.allows_weak and self._holds:
            watch = _Watch(obj, self._when_gone)
            watch.key = key
            self._holders[key] = watch
        elif self._holds:
            self._holders[key] = obj
        else:
            self.numbers.drop(key)
            self._loose[key] = number, id(facts.type)

    def _gone(self, watch: _Watch) -> None:
        self._drop_copies(self.numbers.drop(watch.key))
        self._holders.pop(watch.key, None)

    def _drop_copies(self, number: int) -> None:
        for copies in (self.copies, self.keyed_copies, self.class_copies):
            copies.pop(number, None)

    def _describe_fresh(self) -> None:
        """Reports new objects one after the other, however deeply they are nested: a list of work, no recursion."""
        self._describing = True
        try:
            while self._fresh:
                number, obj, facts = self._fresh.pop()
                if facts.by_parts:
                    self._tell_made(number, obj, facts)
                else:
                    self.report(OBJECT, [number, facts.shape, facts.name, *self._inside(obj, facts)])
                    self._tell_if_longer(number, obj, facts)
        finally:
            self._describing = False

    def _tell_made(self, number: int, obj: Any, facts: TypeFacts) -> None:
        """Reports a new object by its parts, each told as a value of its own."""
        if facts.number < 0:
            facts.number = self._types
            self._types += 1
            self.report(TYPE, [facts.number, facts.shape, facts.name])
        size, most = 0 if facts.size is None else facts.size(obj), self.bounds.elements
        items = _NOTHING
        if facts.iterate is not None:
            items = obj[:] if type(obj) is list and size <= most else list(islice(facts.iterate(obj), most))
        pairs = pairs_of(obj, most) if facts.is_dict and size else _NOTHING
        fields = self._field_values(obj, facts) if facts.has_fields else _NOTHING
        wholes = self._wholes
        wholes.append(number)
        wholes.append(facts.number)
        wholes.append(len(items) + len(pairs))
        wholes.append(len(fields))
        self._events.append(self._codes[_MADE])
        for item in items:
            self._log.tell(_HELD, item)
        for key, value in pairs:
            self._log.tell(_KEY, key)
            self._log.tell(_HELD, value)
        if pairs and not all(map(is_unmistakable, map(KEY_OF, pairs))):
            self.mixed.add(number)
        for name, value in fields:
            self._log.tell(_KEY, name)
            self._log.tell(_HELD_FIELD, value)
        self.bounds.count(len(items) + len(pairs) + len(fields))
        if size > len(items) + len(pairs):
            self.tell_length(number, size)

    def tell_length(self, number: int, size: int) -> None:
        """Reports how long a container is of which less has been told."""
        self.partial.add(number)
        self._wholes.append(number)
        self._wholes.append(size)
        self._events.append(self._codes[_LENGTH])

    def tell_contents(self, obj: Any) -> None:
        """Reports what is in a known object now."""
        facts = self.facts(type(obj))
        if facts.shape == "opaque" or self._released:
            return
        was_describing, self._describing = self._describing, True
        inside = self._inside(obj, facts)
        self._describing = was_describing
        if not was_describing:
            self._describe_fresh()
        number = self.known(obj)
        self.report(CONTENTS, [number, *inside])
        self.partial.discard(number or 0)
        self._tell_if_longer(number or 0, obj, facts)

    def _tell_if_longer(self, number: int, obj: Any, facts: TypeFacts) -> None:
        size = 0 if facts.size is None else facts.size(obj)
        if size > self.bounds.elements:
            self.tell_length(number, size)

    def tell_fields(self, obj: Any, number: int) -> None:
        """Reports the fields of a known container, if it can have such; what else is in it is as it was."""
        facts = self.facts(type(obj))
        if facts.has_fields:
            self.report(CONTENTS, [number, None, None, self._fields(obj, facts)])

    def _inside(self, obj: Any, facts: TypeFacts) -> list[Any]:
        plain = self.plain
        items = keys = None
        most = self.bounds.elements
        if facts.iterate is not None:
            items = [
                element if type(element) is int and WHOLE_MIN <= element <= WHOLE_MAX else plain(element)
                for element in islice(facts.iterate(obj), most)
            ]
            if facts.shape == "set" and not all(map(is_unmistakable, islice(facts.iterate(obj), most))):
                self.mixed.add(self.numbers.get(obj))
        elif facts.shape == "dict":
            pairs = pairs_of(obj, most)
            keys = [plain(key) for key, _ in pairs]
            if not all(map(is_unmistakable, map(KEY_OF, pairs))):
                self.mixed.add(self.numbers.get(obj))
            items = [plain(value) for _, value in pairs]
        elif facts.shape == "exception":
            items = [plain(argument) for argument in _arguments(obj)]
        elif facts.shape in ("array", "table"):
            return self.arrays.describe(obj)
        self.bounds.count(len(items or ()))
        return [items, keys, self._fields(obj, facts)]

    def held_in(self, obj: Any, facts: TypeFacts) -> list[Any]:
        """The values of an object's fields, and what else it holds in C."""
        held = [] if facts.field_dict is None else list(dict.values(facts.field_dict(obj)))
        return held + get_referents(obj) if facts.has_inside_in_c else held

    def parts(self, obj: Any) -> list[Any]:
        """The elements of a container and the values of an object's fields."""
        facts = self.facts(type(obj))
        elements = list(facts.iterate(obj)) if facts.iterate is not None else []
        return elements + (list(dict.values(obj)) if facts.shape == "dict" else []) + self.held_in(obj, facts)

    def entries(self, type_: type) -> list[Any]:
        """The values in a class's own namespace."""
        return list(namespace_of(type_).values())

    def inherited(self, type_: type) -> list[Any]:
        """The values in the namespaces of a type and of those that it derives from."""
        return [value for class_ in bases_of(type_) for value in namespace_of(class_).values()]

    def can_iterate(self, type_: type) -> bool:
        """Whether objects of a type can be asked for an iterator."""
        found = self._iterable.get(id(type_))
        if found is None:
            spaces = [namespace_of(class_) for class_ in bases_of(type_)]
            ways = [space["__iter__"] for space in spaces if "__iter__" in space]
            found = ways[0] is not None if ways else any("__getitem__" in space for space in spaces)
            if self.facts(type_).type is type_:  # which keeps it, so that its identity stays its own
                self._iterable[id(type_)] = found
        return found

    def _fields(self, obj: Any, facts: TypeFacts) -> dict[str, Any] | None:
        if facts.shape == "class":
            entries = list(namespace_of(obj).items())
            own = [(name, value) for name, value in entries if type(name) is str and not name.startswith("__")]
            return {name: self.plain(value) for name, value in own}
        if facts.shape == "exception" and not facts.slots and is_made_here(facts.type):
            # Asking an exception for its dictionary would make one, which a copy or a pickle of it shows.
            entries = next((list(part.items()) for part in get_referents(obj) if type(part) is dict), [])
            return {name: self.plain(value) for name, value in entries if type(name) is str} or None
        if not facts.has_fields:
            return None
        return {name: self.plain(value) for name, value in self._field_values(obj, facts)}

    def _field_values(self, obj: Any, facts: TypeFacts) -> list[tuple[str, Any]]:
        """The names and values of the fields that an object keeps plainly."""
        fields: dict[str, Any] = {}
        for name, getter in facts.getters.items():
            try:
                fields[name] = getter(obj)
            except AttributeError:
                continue
        if facts.field_dict is not None and not facts.has_nothing(obj):
            entries = list(dict.items(facts.field_dict(obj)))
            fields.update({name: value for name, value in entries if type(name) is str})
        return list(fields.items())

    def field(self, obj: Any, facts: TypeFacts, name: str) -> Any:
        """The value of a field that is stored plainly. Raises KeyError when it is not where it should be."""
        slot = facts.slots.get(name)
        if slot is not None:
            return slot(obj)
        if facts.field_dict is None:
            raise KeyError(name)
        return facts.field_dict(obj)[name]

    def forget_facts(self) -> None:
        """Some class has changed."""
        self.class_copies.clear()
        self._iterable.clear()
        self._old_facts.update(
            (id(facts), facts) for facts in self._facts.values()
        )  # their types stay, since identities stand for them elsewhere
        self._facts.clear()

    def plain(self, value: Any, nesting: int = 0) -> Any:
        """A value as it stands inside a description: JSON scalars, `(n,)` for object n, tagged lists for the rest."""
        kind = type(value)
        if kind is float or kind is bool or value is None:
            return value
        if kind is str:
            return value if len(value) < LONG else self.bounds.brief(value) or value
        if kind is int:
            return value if WHOLE_MIN <= value <= WHOLE_MAX else self.bounds.brief(value) or ["int", hex(value)]
        if kind is tuple and len(value) <= SHORT_TUPLE and nesting < _NESTING:
            return ["tuple", *[self.plain(element, nesting + 1) for element in value]]
        if kind is bytes:
            return (self.bounds.brief(value) if len(value) >= LONG else None) or ["bytes", value.hex()]
        if kind is complex:
            return ["complex", value.real, value.imag]
        if value is Ellipsis:
            return ["ellipsis"]
        return (self.ref(value),)

    def sweep(self) -> None:
        """Lets go of objects that only we still hold. Costs the number of known objects; done when it has doubled."""
        gone = self.numbers.gone()
        if self.copies or self.keyed_copies or self.class_copies:
            for number in gone:
                self._drop_copies(number)
        if len(self._holders) < 2 * self._swept_size:
            return
        for key in _let_go(self._holders, _ONLY_OURS):
            del self._holders[key]
            self._drop_copies(self.numbers.drop(key))
        self._swept_size = max(1024, len(self._holders))
