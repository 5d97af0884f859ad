"""Each distinct simple value once, under a number.

A value has a kind and a 64-bit payload: the whole number itself, the float's bits, the object's number, or the index of
a text. NOT_SET stands for "no value" wherever a value number is expected.
"""

from __future__ import annotations

import json
import struct
from dataclasses import dataclass
from functools import lru_cache
from typing import Any

import numpy as np

from eelgrass.trace.columns import Bytes, Column, Ints, Wides

NOT_SET = -1
#: So many values are kept as Python has them.
KEPT = 4096
_DOUBLE = struct.Struct("<d")
_WIDE = struct.Struct("<q")


class Kind:
    """What a value is, as recordings have it."""

    NONE = 0
    TRUTH = 1
    WHOLE = 2
    FLOAT = 3
    TEXT = 4
    REF = 5
    OTHER = 6
    COUNT = 7


@dataclass(frozen=True)
class Ref:
    """The object with this number."""

    number: int


def _float_bits(value: float) -> int:
    return int(_WIDE.unpack(_DOUBLE.pack(value))[0])


class Values:
    """The finished table: `kinds` and `payloads` by value number, `texts` by index."""

    def __init__(self, kinds: Bytes, payloads: Wides, texts: list[str]) -> None:
        self.kinds = kinds
        self.payloads = payloads
        self.texts = texts
        self.get = lru_cache(KEPT)(self._get)
        self.object_of = lru_cache(KEPT)(self._object_of)
        self.number_of_text = lru_cache(KEPT)(self._number_of_text)
        self.number_of_whole = lru_cache(KEPT)(self._number_of_whole)

    def __len__(self) -> int:
        return len(self.kinds)

    def _get(self, number: int) -> Any:
        """The value as Python has it: None, bool, int, float, str, `Ref` for an object, or, for everything else,
        the tagged list of `docs/formats/values.md`. Raises IndexError for a number that is not in the table."""
        if not 0 <= number < len(self.kinds):
            raise IndexError(f"there is no value {number}")
        kind, payload = int(self.kinds[number]), int(self.payloads[number])
        if kind == Kind.NONE:
            return None
        if kind == Kind.TRUTH:
            return bool(payload)
        if kind == Kind.WHOLE:
            return payload
        if kind == Kind.FLOAT:
            return float(_DOUBLE.unpack(_WIDE.pack(payload))[0])
        if kind == Kind.REF:
            return Ref(payload)
        text = self.texts[payload]
        return text if kind == Kind.TEXT else json.loads(text)

    def _number_of_text(self, text: str) -> int:
        """The number of a text; NOT_SET when it is none of the values."""
        place = -1
        while True:
            try:
                place = self.texts.index(text, place + 1)
            except ValueError:
                return NOT_SET
            found = np.flatnonzero((self.payloads == place) & (self.kinds == Kind.TEXT))
            if len(found):
                return int(found[0])

    def number_of(self, plain: Any) -> int:
        """The number of a text or whole number; NOT_SET when it is none of the values, or of another type."""
        if type(plain) is str:
            return self.number_of_text(plain)
        return self.number_of_whole(plain) if type(plain) is int else NOT_SET

    def _number_of_whole(self, whole: int) -> int:
        """The number of a whole number; NOT_SET when it is none of the values."""
        if not -(1 << 63) <= whole < 1 << 63:
            return NOT_SET
        found = np.flatnonzero((self.payloads == whole) & (self.kinds == Kind.WHOLE))
        return int(found[0]) if len(found) else NOT_SET

    def plain(self, numbers: Ints) -> list[Any]:
        """Many values as Python has them, as `get`."""
        kinds, payloads = self.kinds[numbers], self.payloads[numbers]
        found: list[Any] = payloads.tolist()
        for kind, its in (
            (Kind.FLOAT, payloads.view(np.float64).tolist),
            (Kind.TRUTH, payloads.astype(np.bool_).tolist),
        ):
            if (kinds == kind).any():
                told = its()
                for place in np.flatnonzero(kinds == kind).tolist():
                    found[place] = told[place]
        for place in np.flatnonzero(~np.isin(kinds, (Kind.WHOLE, Kind.FLOAT, Kind.TRUTH))).tolist():
            found[place] = self.get(int(numbers[place]))
        return found

    def _object_of(self, number: int) -> int | None:
        """The object's number if this value is an object, else None."""
        if number >= 0 and self.kinds[number] == Kind.REF:
            return int(self.payloads[number])
        return None


class ValueTable:
    """The growing table: gives out numbers, the same one for the same value of the same type."""

    def __init__(self) -> None:
        self.kinds = Column(np.uint8)
        self.payloads = Column(np.int64)
        self.texts: list[str] = []
        self._numbers: tuple[dict[Any, int], ...] = tuple({} for _ in range(Kind.COUNT))

    def view(self) -> Values:
        """The table as it stands."""
        return Values(self.kinds.view(), self.payloads.view(), self.texts)

    def _number(self, kind: int, key: Any, payload: int | None) -> int:
        table = self._numbers[kind]
        number = table.get(key)
        if number is None:
            number = table[key] = len(self.kinds)
            if payload is None:
                payload = len(self.texts)
                self.texts.append(key)
            self.kinds.append(kind)
            self.payloads.append(payload)
        return number

    def number(self, plain: Any) -> int:
        """The number of one value as the stream's JSON has it: a scalar, `[n]` for object n, or a tagged list."""
        if plain is None:
            return self._number(Kind.NONE, 0, 0)
        kind = type(plain)
        if kind is str:
            return self._number(Kind.TEXT, plain, None)
        if kind is bool:
            return self._number(Kind.TRUTH, plain, int(plain))
        if kind is int:
            return self._number(Kind.WHOLE, plain, plain)
        if kind is float:
            bits = _float_bits(plain)
            return self._number(Kind.FLOAT, bits, bits)
        if kind is list and len(plain) == 1 and type(plain[0]) is int:
            return self._number(Kind.REF, plain[0], plain[0])
        return self._number(Kind.OTHER, json.dumps(plain), None)

    def whole(self, number: int) -> int | None:
        """The whole number that a value is; None for any other, and for NOT_SET."""
        return self.payloads[number] if number != NOT_SET and self.kinds[number] == Kind.WHOLE else None

    def texts_of(self, kind: int, texts: list[str]) -> list[int]:
        """The numbers of values of kind TEXT, or of kind OTHER given as JSON."""
        known = self._numbers[kind].get
        numbers = list(map(known, texts))
        if None in numbers:
            numbers = [self._number(kind, text, None) for text in texts]
        return numbers  # type: ignore[return-value]  # there is no None left

    def distinct(self, kind: int, payloads: Wides) -> Ints:
        """The numbers of many values of another kind, given as their payloads."""
        distinct, which = np.unique(payloads, return_inverse=True)
        table = self._numbers[kind]
        numbers = np.array([table.get(payload, -1) for payload in distinct.tolist()], np.int32)
        new = np.flatnonzero(numbers < 0)
        if len(new):
            numbers[new] = len(self.kinds) + np.arange(len(new))
            table.update(zip(distinct[new].tolist(), numbers[new].tolist(), strict=True))
            self.kinds.extend(np.full(len(new), kind))
            self.payloads.extend(distinct[new])
        result: Ints = numbers[which]
        return result
