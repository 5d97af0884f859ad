"""What is told of objects, taken apart."""

from __future__ import annotations

from typing import Any, NamedTuple

SHAPES = (
    "list",
    "dict",
    "set",
    "tuple",
    "instance",
    "exception",
    "function",
    "class",
    "module",
    "opaque",
    "array",
)


class Patch(NamedTuple):
    """What is different in an object: its length, if that is told; keys and what they hold; keys that it has no
    longer."""

    size: int | None
    keys: list[Any]
    items: list[Any]
    gone: list[Any]


class Parts(NamedTuple):
    """What is in a new object, as value numbers: keys (for dictionaries) and elements, names and fields."""

    keys: list[int]
    items: list[int]
    names: list[int]
    fields: list[int]
