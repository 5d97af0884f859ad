"""How much is told of one value, and of all of them together."""

from __future__ import annotations

from typing import Any

from eelgrass.recorder.wire import MOST_BITS

#: Of one container so many elements are told, and of one text or piece of bytes so many characters or bytes.
MOST_ELEMENTS, MOST_CHARACTERS = 10_000, 1_000_000
#: What is told of a longer text or piece of bytes: its beginning.
KEPT_CHARACTERS = 10_000
#: The same, once there has been so much that the recording would grow too large.
FEWEST_ELEMENTS, FEWEST_CHARACTERS = 100, 200
#: About what a told element takes in the memory of Eelgrass, in bytes.
_BYTES_A_PART = 700
#: Of all texts, bytes and whole numbers that are not short so many characters are told; then FEWEST_CHARACTERS of each.
_MOST_LONG_CHARACTERS = 20_000_000


class Bounds:
    """`elements` and `characters` of one value are told, and the beginning of anything longer. `long_characters` of
    what is not short have been told whole."""

    def __init__(self) -> None:
        self.elements = MOST_ELEMENTS
        self.characters = MOST_CHARACTERS
        self.kept = KEPT_CHARACTERS
        self.long_characters = 0
        self._left = -1

    def limit(self, elements: int, mebibytes: int) -> None:
        """Sets both bounds; 0 means none."""
        self.elements = elements or 1 << 62
        self._left = (mebibytes << 20) // _BYTES_A_PART if mebibytes else -1

    def count(self, parts: int) -> None:
        """So many elements and fields have been told."""
        if self._left >= 0:
            self._left -= parts
            if self._left < 0:
                self.elements = min(self.elements, FEWEST_ELEMENTS)
                self.characters = self.kept = FEWEST_CHARACTERS

    def brief(self, value: Any) -> list[Any] | None:
        """How a long text, piece of bytes or whole number is told in brief; None for what is to be told whole."""
        kind = type(value)
        size = value.bit_length() if kind is int else len(value)
        if self.long_characters > _MOST_LONG_CHARACTERS:
            self.characters = self.kept = FEWEST_CHARACTERS
        if size <= (MOST_BITS if kind is int else self.characters):
            self.long_characters += size
            return None
        if kind is int:
            return ["large", size, value < 0]
        begins = value[: self.kept]
        return ["cut", begins, size] if kind is str else ["cutbytes", begins.hex(), size]
