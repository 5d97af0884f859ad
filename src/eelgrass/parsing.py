"""Syntax trees, made by one thread at a time.

CPython 3.11 counts how deep it is in a tree that it makes for all threads together: where two make one at once, it may
raise SystemError ("AST constructor recursion depth mismatch") for texts that are as they should be.
"""

from __future__ import annotations

import ast
import threading
from typing import Any

#: One that the same thread may take again: collecting garbage may call anything in the middle of it.
_MAKING = threading.RLock()


def parsed(source: str | bytes) -> ast.Module:
    """The tree of a program, as `ast.parse`; raises what that raises."""
    with _MAKING:
        return ast.parse(source)


def parsed_expression(source: str) -> ast.expr:
    """The tree of an expression; raises what `ast.parse` raises."""
    with _MAKING:
        return ast.parse(source, mode="eval").body


def literal(text: str) -> Any:
    """The value of a literal, as `ast.literal_eval`; raises what that raises."""
    return ast.literal_eval(parsed_expression(text.lstrip(" \t")))
