"""Values as somebody writes them, in a case, a table or an answer."""

from __future__ import annotations

from eelgrass.parsing import literal


def read_value(text: str) -> tuple[object] | None:
    """The value that a text writes, alone in a tuple; None for none."""
    try:
        return (literal(text),)
    except (ValueError, SyntaxError, TypeError, MemoryError, RecursionError):
        return None
