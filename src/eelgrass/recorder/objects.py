"""Looking at the program's objects without running any of the program's code.

Only `type(x)`, `issubclass` against exact built-in types, and descriptors taken from built-in types are used: never an
object's own `repr`, `==`, `len`, `hash`, iteration or attribute access (need X1).
"""

from __future__ import annotations

from _collections import deque  # type: ignore[import-not-found]  # `collections` would take long to load
from _weakref import ref as weak_reference
from collections.abc import Callable, Iterator
from sys import getrefcount
from types import BuiltinFunctionType, FunctionType, GetSetDescriptorType, MemberDescriptorType, MethodType, ModuleType
from typing import Any

from eelgrass.recorder.wire import WHOLE_MAX, WHOLE_MIN

_mro: Callable[[type], tuple[type, ...]] = type.__dict__["__mro__"].__get__
_namespace: Callable[[type], Any] = type.__dict__["__dict__"].__get__
_type_name: Callable[[type], str] = type.__dict__["__name__"].__get__
_arguments: Callable[[BaseException], tuple[Any, ...]] = BaseException.__dict__["args"].__get__

#: A tuple up to this long travels as a value of its own; a longer one becomes an object, seen once.
SHORT_TUPLE = 16
_NESTING = 4
_UNKNOWN = object()

#: Built-in types and the shape under which their objects, and those of their subclasses, are shown.
_SHAPES: tuple[tuple[type, str], ...] = (
    (list, "list"),
    (dict, "dict"),
    (tuple, "tuple"),
    (set, "set"),
    (frozenset, "set"),
    (deque, "list"),
    (FunctionType, "function"),
    (BuiltinFunctionType, "function"),
    (MethodType, "function"),
    (ModuleType, "module"),
    (BaseException, "exception"),
    (type, "class"),
)
_ITERATE: tuple[tuple[type, Callable[[Any], Iterator[Any]]], ...] = (
    (list, list.__iter__),
    (tuple, tuple.__iter__),
    (set, set.__iter__),
    (frozenset, frozenset.__iter__),
    (deque, deque.__iter__),
)


class TypeFacts:
    """What has to be known of a type to look at its objects; worked out once for each type."""

    def __init__(self, type_: type) -> None:
        self.type = type_  # kept, so that its identity stays its own
        self.name = _type_name(type_)
        self.shape = next((shape for base, shape in _SHAPES if issubclass(type_, base)), "instance")
        self.iterate = next((way for base, way in _ITERATE if issubclass(type_, base)), None)
        self.field_dict: Callable[[Any], Any] | None = None
        self.slots: dict[str, Callable[[Any], Any]] = {}
        self.plain_set_attribute = True
        self.attributes: set[str] = set()  # names with a data descriptor of the program's own
        for class_ in reversed(_mro(type_)):
            self._read_class(class_)
        if self.shape == "instance" and self.field_dict is None and not self.slots:
            self.shape = "opaque"

    def _read_class(self, class_: type) -> None:
        written_in_python = bool(class_.__flags__ & (1 << 9))  # Py_TPFLAGS_HEAPTYPE
        for name, entry in _namespace(class_).items():
            kind = type(entry)
            if (
                name == "__dict__"
                and kind is GetSetDescriptorType
                and self.shape in ("instance", "list", "dict", "set")
            ):
                self.field_dict = entry.__get__
            elif not written_in_python:
                continue
            elif kind is MemberDescriptorType:
                self.slots[name] = entry.__get__
            elif name == "__setattr__":
                self.plain_set_attribute = False
            elif kind is not FunctionType and any("__set__" in _namespace(base) for base in _mro(kind)):
                self.attributes.add(name)

    def stores_plainly(self, name: str) -> bool:
        """Whether `obj.name = value` ends in the object itself, with no code of the program in between."""
        return self.plain_set_attribute and name not in self.attributes


class Registry:
    """Numbers objects in the order in which they are first seen, and says what is in them.

    Objects that allow weak references are known by one, so that they live no longer than in a plain run; lists,
    dictionaries and the like do not allow any, so they are kept until `sweep` finds that only we still hold them.
    `report(description)` is called once for each new object, before its number is used. `entries`: by identity, the
    number as a tuple of one, the object or its weak reference, and which of them.
    """

    def __init__(self, report: Callable[[list[Any]], None]) -> None:
        self._report = report
        self.entries: dict[int, tuple[tuple[int], Any, bool]] = {}
        self._facts: dict[int, TypeFacts] = {}
        self._field_ways: dict[tuple[int, str], Any] = {}
        self._next = 0
        self._fresh: list[tuple[tuple[int], Any]] = []
        self._describing = False
        self._swept_size = 1024

    def facts(self, type_: type) -> TypeFacts:
        """What is known of a type."""
        found = self._facts.get(id(type_))
        if found is None:
            found = self._facts[id(type_)] = TypeFacts(type_)
        return found

    def known(self, obj: Any) -> tuple[int] | None:
        """The object's number, as a tuple of one, if it has been seen before."""
        entry = self.entries.get(id(obj))
        if entry is None:
            return None
        number, holder, weak = entry
        return number if (holder() if weak else holder) is obj else None

    def ref(self, obj: Any) -> tuple[int]:
        """The object's number, as a tuple of one; a new object, and those first seen in it, are reported."""
        number = self.known(obj)
        if number is not None:
            return number
        number = (self._next,)
        self._next += 1
        try:
            self.entries[id(obj)] = (number, weak_reference(obj), True)
        except TypeError:
            self.entries[id(obj)] = (number, obj, False)
        self._fresh.append((number, obj))
        if not self._describing:
            self._describe_fresh()
        return number

    def _describe_fresh(self) -> None:
        """Reports new objects one after the other, however deeply they are nested: a list of work, no recursion."""
        self._describing = True
        try:
            while self._fresh:
                number, obj = self._fresh.pop()
                facts = self.facts(type(obj))
                self._report([number[0], facts.shape, facts.name, *self._inside(obj, facts)])
        finally:
            self._describing = False

    def contents(self, obj: Any) -> list[Any]:
        """What is in a known object now: [number, elements or values, keys, fields]; None for what it has not."""
        number = self.ref(obj)
        inside = self._inside(obj, self.facts(type(obj)))
        return [number[0], *inside]

    def _inside(self, obj: Any, facts: TypeFacts) -> list[Any]:
        plain = self.plain
        items = keys = None
        if facts.iterate is not None:
            items = [plain(element) for element in facts.iterate(obj)]
        elif facts.shape == "dict":
            pairs = list(dict.items(obj))
            keys = [plain(key) for key, _ in pairs]
            items = [plain(value) for _, value in pairs]
        elif facts.shape == "exception":
            items = [plain(argument) for argument in _arguments(obj)]
        return [items, keys, self._fields(obj, facts)]

    def _fields(self, obj: Any, facts: TypeFacts) -> dict[str, Any] | None:
        if facts.shape == "class":
            entries = list(_namespace(obj).items())
            return {name: self.plain(value) for name, value in entries if not name.startswith("__")}
        if facts.field_dict is None and not facts.slots:
            return None
        fields: dict[str, Any] = {}
        for name, getter in facts.slots.items():
            try:
                fields[name] = self.plain(getter(obj))
            except AttributeError:
                continue
        if facts.field_dict is not None:
            entries = list(dict.items(facts.field_dict(obj)))
            fields.update({name: self.plain(value) for name, value in entries if type(name) is str})
        return fields

    def plain_fields(self, obj: Any, name: str) -> dict[str, Any] | None:
        """The dictionary in which `obj.name = value` has put the value, or None where code of the program stands
        between or the object keeps the field elsewhere."""
        kind = type(obj)
        key = (id(kind), name)
        getter = self._field_ways.get(key, _UNKNOWN)
        if getter is _UNKNOWN:
            facts = self.facts(kind)
            plainly = facts.shape == "instance" and facts.stores_plainly(name) and name not in facts.slots
            getter = self._field_ways[key] = facts.field_dict if plainly else None
        fields = None if getter is None else getter(obj)
        return fields if type(fields) is dict else None

    def plain(self, value: Any, nesting: int = 0) -> Any:
        """A value as it stands inside a description: JSON scalars, `(n,)` for object n, tagged lists for the rest."""
        kind = type(value)
        if kind is str or kind is float or kind is bool or value is None:
            return value
        if kind is int:
            return value if WHOLE_MIN <= value <= WHOLE_MAX else ["int", hex(value)]
        if kind is tuple and len(value) <= SHORT_TUPLE and nesting < _NESTING:
            return ["tuple", *[self.plain(element, nesting + 1) for element in value]]
        if kind is bytes:
            return ["bytes", value.hex()]
        if kind is complex:
            return ["complex", value.real, value.imag]
        if value is Ellipsis:
            return ["ellipsis"]
        return self.ref(value)

    def sweep(self) -> None:
        """Lets go of objects that only we still hold. Costs the number of known objects; done when it has doubled."""
        if len(self.entries) < 2 * self._swept_size:
            return
        gone = [
            key
            for key, entry in self.entries.items()
            if (entry[1]() is None if entry[2] else getrefcount(entry[1]) <= 2)
        ]
        for key in gone:
            del self.entries[key]
        self._swept_size = max(1024, len(self.entries))
