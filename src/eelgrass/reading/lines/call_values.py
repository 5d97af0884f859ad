"""What calls give of which the recording says nothing, since it is always the same; and methods that are not called."""

from __future__ import annotations

from typing import Any

#: Methods of built-in types that change their object and give nothing.
_WITHOUT_VALUE: dict[type, frozenset[str]] = {
    list: frozenset(("append", "extend", "insert", "remove", "clear", "sort", "reverse")),
    set: frozenset(
        (
            *("add", "discard", "remove", "update", "clear"),
            *("difference_update", "intersection_update", "symmetric_difference_update"),
        )
    ),
    dict: frozenset(("update", "clear")),
    bytearray: frozenset(("append", "extend", "insert", "remove", "clear", "reverse")),
}


def gives_nothing(owner: Any, method: str) -> bool:
    """Whether a method of a built-in object gives None whenever it comes to its end."""
    return method in _WITHOUT_VALUE.get(type(owner), ())


class NotCalled:
    """A method of a built-in object that is only named."""

    def __init__(self, name: str) -> None:
        self._name = name

    def __repr__(self) -> str:
        return f"the method {self._name}, not called"


def method_of(owner: Any, name: str) -> NotCalled | None:
    """The method of a number, text or container; None where it has none of that name."""
    return NotCalled(name) if callable(getattr(type(owner), name, None)) else None
