"""What is told of objects, taken apart."""

from __future__ import annotations

import json
from typing import Any, NamedTuple

import numpy as np

from eelgrass.recorder import wire
from eelgrass.trace.building.stream import impossible
from eelgrass.trace.columns import Ints
from eelgrass.trace.values import Kind, ValueTable

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
    "table",
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


class LongTexts:
    """The values of long texts, which are told in full once, and by a number each time after that."""

    def __init__(self, values: ValueTable) -> None:
        self._values = values
        self._numbers: list[int] = []
        self._begin, self._again = f'["{wire.LONG_TEXT}", ', f'["{wire.AGAIN}", '

    def numbers_of(self, texts: list[str]) -> list[int]:
        """The values of what was told in the form OTHER. Raises StreamError for a number that was never given."""
        if not any(text.startswith((self._begin, self._again)) for text in texts):
            return self._values.texts_of(Kind.OTHER, texts)
        return [self._number_of(text) for text in texts]

    def _number_of(self, text: str) -> int:
        number: int
        if not text.startswith((self._begin, self._again)):
            return self._values.texts_of(Kind.OTHER, [text])[0]
        try:
            _, number, *value = json.loads(text)
        except ValueError:
            impossible("a long text has the wrong form")
        is_text = len(value) == 1 and (type(value[0]) is str or (type(value[0]) is list and value[0][:1] == ["cut"]))
        if is_text and number == len(self._numbers):
            self._numbers.append(self._values.number(value[0]))
        elif value or type(number) is not int or not 0 <= number < len(self._numbers):
            impossible("a long text is repeated that was never told")
        return self._numbers[number]


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


def told_clock(told: dict[str, list[float]]) -> dict[str, list[float]]:
    """The readings of the clock, by function."""
    return {str(name): [float(reading) for reading in readings] for name, readings in told.items()}


def told_turns(told: dict[str, Any]) -> dict[str, Any]:
    """How threads took turns: what the child counted, or what kept them from it."""
    kept_by = told.get("kept_by")
    if kept_by is not None:
        return {"kept_by": str(kept_by)}
    return {name: int(told[name]) for name in ("threads", "steps", "outside")}
