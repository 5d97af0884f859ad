"""What is told of objects, taken apart."""

from __future__ import annotations

from typing import Any, NamedTuple

import numpy as np

from eelgrass.trace.columns import Ints

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

#: What is said of descriptions that cannot be.
IMPOSSIBLE_LENGTH = "The recorded program's event stream gives something a length that it cannot have."
NEVER_DESCRIBED = "The recorded program's event stream speaks of an object that it never described."


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


class LastTold:
    """The descriptions of contents that were told last, of objects of which nothing else was told since: by their
    hashes, since they may be long."""

    def __init__(self) -> None:
        self._texts: dict[int, int] = {}

    def note(self, number: int, text: str) -> None:
        """An object's contents have been told."""
        self._texts[number] = hash(text)

    def is_again(self, text: str) -> bool:
        """Whether a description only says what is known."""
        number = text[1 : text.find(",")]
        return number.isdecimal() and self._texts.get(int(number)) == hash(text)

    def forget(self, number: int) -> None:
        """Something else is told of an object."""
        if self._texts:
            self._texts.pop(number, None)

    def changed(self, numbers: Ints) -> None:
        """As `forget`, for many."""
        for number in np.unique(numbers).tolist() if self._texts else ():
            self._texts.pop(number, None)
