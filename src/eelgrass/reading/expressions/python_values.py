"""Recorded values as Python values, so that Python itself can work with them.

Numbers, texts and built-in containers become themselves, copied; any other object becomes a `Thing`, which only knows
its number. Nothing of the program runs: what is lifted is made of the recording alone.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from eelgrass.errors import EelgrassError
from eelgrass.reading.state import insides, value_text
from eelgrass.trace.model import Trace
from eelgrass.trace.values import Ref

#: More elements than this are not lifted for one answer.
MOST_ELEMENTS = 20_000


class CannotAnswerError(EelgrassError):
    """A question has no answer from the recording alone; the message is a sentence for the person."""


@dataclass(frozen=True)
class Thing:
    """An object that is no plain value: an instance, a function, a class, a module."""

    number: int
    type_: str

    def __repr__(self) -> str:
        return f"<{self.type_} #{self.number}>"

    def __eq__(self, other: object) -> bool:
        if isinstance(other, Thing) and other.number == self.number:
            return True
        raise CannotAnswerError("Whether two such objects are equal is decided by the program's own class.")

    def __hash__(self) -> int:
        return hash(self.number)


class PythonValues:
    """Lifts values as they are just before one step; the same object is lifted to the same thing. What is inside of the
    `doubtful` objects is not known at the moment that is asked about. Of more than `most` elements, nothing is
    known."""

    def __init__(
        self, trace: Trace, step: int, doubtful: frozenset[int] = frozenset(), most: int = MOST_ELEMENTS
    ) -> None:
        self.trace = trace
        self.step = step
        self.doubtful = doubtful
        self._lifted: dict[int, Any] = {}
        self._numbers: dict[int, int] = {}
        self._room = self._most = most

    def value(self, number: int) -> Any:
        """A value by its number. Raises CannotAnswerError."""
        return self._told(self.trace.values.get(number))

    def number_of(self, lifted: Any) -> int | None:
        """The number of the object that was lifted to this very thing."""
        return lifted.number if isinstance(lifted, Thing) else self._numbers.get(id(lifted))

    def object(self, number: int) -> Any:
        """An object by its number."""
        if number not in self._lifted:
            self._lifted[number] = made = self._made(number)
            self._numbers[id(made)] = number
        return self._lifted[number]

    def _told(self, got: Any) -> Any:
        if isinstance(got, Ref):
            return self.object(got.number)
        if not isinstance(got, list):
            return got
        if type(got[0]) is int:
            return self.object(got[0])
        if got[0] == "tuple":
            return tuple(self._told(part) for part in got[1:])
        if got[0] == "int":
            return int(got[1], 16)
        if got[0] == "bytes":
            return bytes.fromhex(got[1])
        if got[0] == "complex":
            return complex(got[1], got[2])
        if got[0] in ("cut", "cutbytes", "large"):
            what = {"cut": "text", "cutbytes": "piece of bytes", "large": "number"}[got[0]]
            raise CannotAnswerError(f"That {what} is so long that not all of it was kept.")
        return ...

    def _made(self, number: int) -> Any:
        if not value_text.is_literal(self.trace, number):
            return Thing(number, self.trace.objects.type_of(number))
        if number in self.doubtful:
            raise CannotAnswerError("It is changed within this line; the recording does not say in which order.")
        part = value_text.recorded_part(self.trace, number, self.step)
        if part:
            raise CannotAnswerError(f"Not all of it is known: {part}.")
        rows = insides.items(self.trace, number, self.step)
        self._room -= len(rows)
        if self._room < 0:
            raise CannotAnswerError(f"More than {self._most:,} elements would have to be looked at.")
        type_ = self.trace.objects.type_of(number)
        made: Any = {} if type_ == "dict" else []
        if type_ in ("dict", "list"):
            self._lifted[number] = made  # before its elements, among which it may be itself
        for key, held in rows:
            if type_ == "dict":
                made[self.value(key)] = self.value(held)
            else:
                made.append(self.value(held))
        return made if type_ in ("dict", "list") else {"tuple": tuple, "set": set, "frozenset": frozenset}[type_](made)


def type_word(value: Any) -> str:
    """The word for a lifted value's type, with a container's size."""
    name = value.type_ if isinstance(value, Thing) else type(value).__name__
    word = value_text.TYPE_WORDS.get(name, name)
    return f"{word} of {len(value):,}" if isinstance(value, (list, dict, set, tuple, frozenset)) else word
