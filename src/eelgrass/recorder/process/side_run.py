"""A side run: the program runs again up to one step, and there an expression is worked out, with all that it calls.

Nothing of it is recorded. What a plain run would do next never happens: the process ends with the answer.
"""

from __future__ import annotations

import json
import sys
from types import FrameType
from typing import Any

_MOST_CHARACTERS = 2000
_COMPREHENSIONS = ("<listcomp>", "<setcomp>", "<dictcomp>")
_PLAIN = (int, str, float, bool, type(None))
#: Built-in names that lead to files or into the interpreter; the program's own functions have them all the same.
_REFUSED = frozenset(
    (
        *("open", "eval", "exec", "compile", "input", "breakpoint", "exit", "quit", "help", "__import__"),
        *("getattr", "setattr", "delattr", "vars", "globals", "locals", "dir", "memoryview", "super", "type"),
    )
)


def chosen_frame(frame: FrameType | None, up: int, files: frozenset[str]) -> FrameType | None:
    """The frame of the program's own that is `up` calls further out than `frame`, not counting comprehensions but
    generator expressions, which have none in every version; None where there is none."""
    while frame is not None and (up > 0 or not _counts(frame, files)):
        up -= _counts(frame, files)
        frame = frame.f_back
    return frame


def _counts(frame: FrameType, files: frozenset[str]) -> bool:
    return frame.f_code.co_filename in files and frame.f_code.co_name not in _COMPREHENSIONS


def harmless_builtins() -> dict[str, Any]:
    """The built-in names that an expression of the person may use."""
    return {name: its for name, its in vars(sys.modules["builtins"]).items() if name not in _REFUSED}


def answer(frame: FrameType | None, expression: str) -> bytes:
    """What an expression gives in a frame: JSON with `type` and `text`, or with `raised`."""
    if frame is None:
        return json.dumps({"raised": "That call frame is not there in the side run."}).encode()
    # As one scope, so that functions in the expression see all of them; and with the harmless built-in names alone.
    names = {**frame.f_globals, **frame.f_locals, "__builtins__": harmless_builtins()}
    try:
        value = eval(compile(expression, "<question>", "eval", dont_inherit=True), names)
        told = {"type": type(value).__name__, "text": _text(value)}
    except BaseException as error:  # also what ends a process: it ends here in any case
        told = {"raised": f"{type(error).__name__}: {error}"[:_MOST_CHARACTERS]}
    return json.dumps(told).encode()


def _text(value: Any) -> str:
    is_own = vars(object)["__repr__"] is getattr(type(value), "__repr__", None)
    text = f"<{type(value).__name__}>" if is_own else repr(value)
    return text if len(text) <= _MOST_CHARACTERS else text[: _MOST_CHARACTERS - 1] + "…"


def where(frame: FrameType | None, written: int) -> bytes:
    """By what the place can be known again, as JSON: the characters `written` so far, the frame's plain `locals`."""
    names = frame.f_locals if frame is not None else {}
    plain = {name: value for name, value in names.items() if type(value) in _PLAIN and not name.startswith("__")}
    return json.dumps({"written": written, "locals": {name: repr(value) for name, value in plain.items()}}).encode()
