"""What code without a name of its own is called."""

from __future__ import annotations

_WORDS = {
    "<module>": "module",
    "<lambda>": "lambda",
    "<listcomp>": "list comprehension",
    "<setcomp>": "set comprehension",
    "<dictcomp>": "dictionary comprehension",
    "<genexpr>": "generator expression",
}


def function_words(name: str) -> str:
    """A function's name as people say it: its own, or what kind of code it is."""
    return _WORDS.get(name, name)
