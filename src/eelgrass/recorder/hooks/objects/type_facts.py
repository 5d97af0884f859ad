"""What has to be known of a type to look at its objects.

Only `type(x)`, `issubclass` against exact built-in types, and descriptors taken from built-in types are used: never an
object's own `repr`, `==`, `len`, `hash`, iteration or attribute access.
"""

from __future__ import annotations

from _collections import deque  # type: ignore[import-not-found]  # `collections` would take long to load
from collections.abc import Callable, Iterator
from gc import get_referents
from types import BuiltinFunctionType, FunctionType, GetSetDescriptorType, MemberDescriptorType, MethodType, ModuleType
from typing import Any

from eelgrass.recorder.hooks.objects.base_values import VALUE, value_getter

_bases_of: Callable[[type], tuple[type, ...] | None] = type.__dict__["__mro__"].__get__
_namespace_of: Callable[[type], Any] = type.__dict__["__dict__"].__get__
_type_name: Callable[[type], str] = type.__dict__["__name__"].__get__
_module_of: Callable[[type], Any] = type.__dict__["__module__"].__get__
_weak_offset: Callable[[type], int] = type.__dict__["__weakrefoffset__"].__get__
_flags: Callable[[type], int] = type.__dict__["__flags__"].__get__

#: Of a type's flags: made at run time; its objects' dictionaries are the interpreter's affair. Those of other types
#: come to be when somebody asks for them, which their code in C may notice.
_HEAP_TYPE, _IMMUTABLE, _MANAGED_DICT = 1 << 9, 1 << 8, 1 << 4
#: Types in C that show their numbers in a buffer, by module and name.
_ARRAYS = (("numpy", "ndarray"), ("array", "array"))
#: What stands in for types that show nothing.
_STAND_INS = (("_thread", "lock"), ("_thread", "RLock"), ("_thread", "_ThreadHandle"))
#: Types that are shown as tables; their modules have been called otherwise in earlier versions.
_TABLES = (
    ("pandas", "DataFrame"),
    ("pandas", "Series"),
    ("pandas.core.frame", "DataFrame"),
    ("pandas.core.series", "Series"),
)

#: Built-in types and the shape under which their objects, and those of their subclasses, are shown.
_SHAPES: tuple[tuple[type, str], ...] = (
    (list, "list"),
    (dict, "dict"),
    (tuple, "tuple"),
    (set, "set"),
    (frozenset, "set"),
    (deque, "list"),
    (bytearray, "list"),
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
    (bytearray, bytearray.__iter__),
)
_SIZED: tuple[tuple[Any, Any], ...] = (*_ITERATE, (dict, None))
#: The shapes of new objects that are told by their parts; of others there are few, or more is to be said.
_TOLD_BY_PARTS = ("list", "dict", "tuple", "instance", "function", "opaque", "module")


def bases_of(type_: type) -> tuple[type, ...]:
    """A type and all that it derives from; nothing of a few of the interpreter's own, which it has not made ready."""
    return _bases_of(type_) or ()


def namespace_of(type_: type) -> Any:
    """What a type's own namespace holds; nothing of one that is not ready, or on its way out."""
    return _namespace_of(type_) or {}


def is_table(type_: type) -> bool:
    """Whether a type is one of the tables, or single columns, that are shown as such."""
    return (_module_of(type_), _type_name(type_)) in _TABLES


def is_made_here(type_: type) -> bool:
    """Whether a type was made at run time, by a class statement or the like."""
    return bool(_flags(type_) & _HEAP_TYPE)


def is_in_python(type_: type) -> bool:
    """Whether a type is that of a class statement. Types in C that are made at run time, as some containers are from
    Python 3.12 on, cannot be changed after."""
    return _flags(type_) & (_HEAP_TYPE | _IMMUTABLE) == _HEAP_TYPE


class TypeFacts:
    """What has to be known of a type to look at its objects; worked out once for each type."""

    def __init__(self, type_: type) -> None:
        self.number = -1  # what the stream calls it, once it has been told
        self.type = type_  # kept, so that its identity stays its own
        self.name = _type_name(type_)
        self.shape = next((shape for base, shape in _SHAPES if issubclass(type_, base)), "instance")
        self.iterate = next((way for base, way in _ITERATE if issubclass(type_, base)), None)
        self.size = next((base.__len__ for base, _ in _SIZED if issubclass(type_, base)), None)
        self.field_dict: Callable[[Any], Any] | None = None
        self.slots: dict[str, Callable[[Any], Any]] = {}
        self.plain_attributes = True
        self._kept: dict[str, bool] = {}
        self.attributes: set[str] = set()  # names with a data descriptor, but for slots
        for class_ in reversed(bases_of(type_)):
            self._read_class(class_)
        self.value_of: Callable[[Any], Any] | None = None
        if self.shape == "instance":
            self._read_instance(type_)
        #: What gives the value that an object is, and those in its slots.
        self.getters = self.slots if self.value_of is None else {VALUE: self.value_of, **self.slots}
        self.has_inside_in_c = self.shape == "instance" and any(not name.startswith("__") for name in self.attributes)
        self.by_parts = self.shape in _TOLD_BY_PARTS
        self.is_dict = self.shape == "dict"
        self.has_fields = self.field_dict is not None or bool(self.slots) or self.value_of is not None
        self.allows_weak = _weak_offset(type_) != 0

    def _read_class(self, class_: type) -> None:
        written_in_python = is_made_here(class_)
        for name, entry in namespace_of(class_).items():
            kind = type(entry)
            if (
                name == "__dict__"
                and kind is GetSetDescriptorType
                and self.shape in ("instance", "list", "dict", "set")
                and _flags(self.type) & _MANAGED_DICT
            ):
                self.field_dict = entry.__get__
            elif not written_in_python:
                if kind is GetSetDescriptorType or kind is MemberDescriptorType:
                    self.attributes.add(name)
            elif kind is MemberDescriptorType and not name.startswith("__"):
                self.slots[name] = entry.__get__
            elif name in ("__setattr__", "__getattribute__"):
                self.plain_attributes = False
            elif kind is not FunctionType and any("__set__" in namespace_of(base) for base in bases_of(kind)):
                self.attributes.add(name)

    def _read_instance(self, type_: type) -> None:
        """Where objects are none of the built-in containers: whether they are arrays, values, or show nothing."""
        module = _module_of(type_)
        if (module, self.name) in _STAND_INS:
            self.slots, self.shape = {}, "opaque"
            return
        has_inside = self.field_dict is not None or bool(self.slots)
        if is_table(type_):
            self.shape, self.field_dict = "table", None
            return
        if not has_inside and (module, self.name) in _ARRAYS:
            self.shape = "array"
            return
        self.value_of = value_getter(type_, module, self.name, is_in_python(type_))
        if not has_inside and self.value_of is None:
            self.shape = "opaque"

    def keeps(self, method: str) -> bool:
        """Whether the type's method of a name is the built-in one, which no class of the program replaces."""
        found = self._kept.get(method)
        if found is None:
            spaces = ((class_, namespace_of(class_)) for class_ in bases_of(self.type))
            owner = next((class_ for class_, space in spaces if method in space), None)
            found = self._kept[method] = owner is not None and not is_in_python(owner)
        return found

    def defined(self, method: str) -> Any:
        """What stands for a method in the first class that defines it, or None."""
        spaces = map(namespace_of, bases_of(self.type))
        return next((space[method] for space in spaces if method in space), None)

    def has_nothing(self, obj: Any) -> bool:
        """Whether an object of this type certainly has no fields. The collector knows, without making a dictionary of
        fields, which would make each later use of them slower."""
        return self.shape == "instance" and not self.slots and len(get_referents(obj)) <= 1  # which is its type

    def stores_plainly(self, name: str) -> bool:
        """Whether `obj.name` is written and read in the object itself, with no code of the program in between."""
        return self.plain_attributes and name not in self.attributes
