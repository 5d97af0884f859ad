"""Values as somebody writes them, in a case, a table or an answer."""

from __future__ import annotations

import ast


def read_value(text: str) -> tuple[object] | None:
    """The value that a text writes, alone in a tuple; None for none."""
    try:
        return (ast.literal_eval(text),)
    except (ValueError, SyntaxError, TypeError, MemoryError, RecursionError):
        return None
