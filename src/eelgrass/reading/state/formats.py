"""A value in other clothes."""

from __future__ import annotations

from decimal import Decimal
from typing import Any

#: Every format by its name, for the values that it fits.
FORMATS: dict[str, tuple[type, ...]] = {
    "hexadecimal": (int,),
    "binary": (int,),
    "character": (int,),
    "exact": (float,),
    "with marks": (str,),
    "codes": (str,),
}
_MOST_CODES = 12
_MARKS = str.maketrans({" ": "␣", "\t": "⇥", "\n": "⏎", "\r": "␍"})


def fitting(value: Any) -> list[str]:
    """The names of the formats that a value can be shown in."""
    return [name for name, types in FORMATS.items() if type(value) in types]


def formatted(value: Any, name: str) -> str:
    """A value in a format; '' where it does not fit."""
    if name not in fitting(value):
        return ""
    if name == "hexadecimal":
        return hex(value)
    if name == "binary":
        return bin(value)
    if name == "character":
        return repr(chr(value)) if 0 <= value < 0x110000 else "no character has this number"
    if name == "exact":
        return str(Decimal(value)) if value == value and abs(value) != float("inf") else repr(value)
    if name == "with marks":
        return f"“{value.translate(_MARKS)}” ({len(value)} characters)"
    codes = " ".join(str(ord(character)) for character in value[:_MOST_CODES])
    return codes + (" …" if len(value) > _MOST_CODES else "")
