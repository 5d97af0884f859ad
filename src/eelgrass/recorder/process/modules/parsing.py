"""Syntax trees of the program's texts."""

from __future__ import annotations

import ast
import contextlib

_MOST_TRIES = 20


def parsed(source: str | bytes, file: str = "<unknown>") -> ast.Module:
    """The tree of a text; raises what `ast.parse` raises. Where two threads of the program import at once, CPython 3.11
    may raise SystemError for a text that is as it should be (it counts for all threads how deep it is); a lock could
    stand in the way of threads that take turns, so it is tried again."""
    for _ in range(_MOST_TRIES):
        with contextlib.suppress(SystemError):
            return ast.parse(source, file)
    return ast.parse(source, file)
