"""The words of Tk's language: lists as text, numbers, options."""

from __future__ import annotations

import re
from collections.abc import Iterable, Sequence
from typing import Any


class TclError(Exception):
    """What Tk cannot do, in its own words."""


_PLAIN = re.compile(r"[\w.,:/!@%^&*()=+<>?'`~|-]+\Z")
_WORD = re.compile(r"\s*(\{(?:[^{}\\]|\\.|\{[^{}]*\})*\}|\"(?:[^\"\\]|\\.)*\"|(?:[^\s\\]|\\.)+)")


def split(text: Any) -> tuple[Any, ...]:
    """The elements of a list."""
    if isinstance(text, (tuple, list)):
        return tuple(text)
    if not isinstance(text, str):
        return (text,)
    found = []
    for word in _WORD.findall(text):
        is_quoted = word[:1] in '{"' and len(word) > 1
        found.append(word[1:-1] if is_quoted else re.sub(r"\\(.)", r"\1", word))
    return tuple(found)


def joined(parts: Iterable[Any]) -> str:
    """A list as text."""
    words = (as_text(part) for part in parts)
    return " ".join(word if word and _PLAIN.match(word) else f"{{{word}}}" for word in words)


def as_text(value: Any) -> str:
    """A value as Tk would write it."""
    if isinstance(value, bool):
        return "1" if value else "0"
    if isinstance(value, (tuple, list)):
        return joined(value)
    return "" if value is None else str(value)


def number(value: Any) -> float:
    """A distance or number. Raises TclError."""
    if isinstance(value, (int, float)):
        return float(value)
    text = as_text(value).strip()
    units = {"c": 37.8, "i": 96.0, "m": 3.78, "p": 1.333}
    try:
        return float(text[:-1]) * units[text[-1]] if text[-1:] in units else float(text)
    except ValueError:
        raise TclError(f'bad screen distance "{text}"') from None


def whole(value: Any) -> int:
    """A whole number. Raises TclError."""
    try:
        return int(value) if not isinstance(value, str) else int(value, 0)
    except (TypeError, ValueError):
        raise TclError(f'expected integer but got "{as_text(value)}"') from None


def truth(value: Any) -> bool:
    """A truth value. Raises TclError."""
    text = as_text(value).strip().lower()
    for words, is_so in ((("1", "true", "yes", "on"), True), (("0", "false", "no", "off"), False)):
        if text not in ("", "o") and any(word.startswith(text) for word in words):
            return is_so
    try:
        return bool(float(text))
    except ValueError:
        raise TclError(f'expected boolean value but got "{text}"') from None


def options(words: Sequence[Any]) -> dict[str, Any]:
    """Pairs of `-option value`. Raises TclError."""
    if len(words) % 2:
        raise TclError(f'value for "{as_text(words[-1])}" missing')
    found = {}
    for name, value in zip(words[::2], words[1::2], strict=True):
        name = as_text(name)
        if not name.startswith("-"):
            raise TclError(f'unknown option "{name}"')
        found[name[1:]] = value
    return found
