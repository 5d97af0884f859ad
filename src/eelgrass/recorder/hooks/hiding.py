"""Keeping hooks out of sight: of whoever looks at the call stack, and of the program's own trace functions."""

from __future__ import annotations

import ctypes
import sys
from types import FrameType
from typing import Any

# Where CPython 3.11 keeps these pointers: `f_frame` in a frame object, `previous` in the interpreter's own frame.
_F_FRAME, _PREVIOUS = 24, 48
_WORD = ctypes.sizeof(ctypes.c_void_p)


def make_bottom(frame: FrameType) -> None:
    """Makes `frame` the outermost call frame for everything that looks at the stack; it still returns to its caller.

    Does nothing where the interpreter's memory is not laid out as expected, which is checked by following the same
    link that is to be cut.
    """
    below = frame.f_back
    if below is None or sys.version_info[:2] != (3, 11) or _WORD != 8:
        return
    inner = ctypes.c_void_p.from_address(id(frame) + _F_FRAME).value
    outer = ctypes.c_void_p.from_address(id(below) + _F_FRAME).value
    if inner is None or outer is None:
        return
    previous = ctypes.c_void_p.from_address(inner + _PREVIOUS)
    if previous.value == outer:
        previous.value = None


class Tracers:
    """Trace functions of the program's own, which are not to see our hooks."""

    def __init__(self, ours: tuple[str, ...]) -> None:
        self._ours = ours  # the folders of the files in which hooks are at work
        self._theirs: dict[int, Any] = {}

    def tracer(self, function: Any) -> Any:
        """What is set instead of `function`."""
        if function is None:
            return None

        def trace(frame: FrameType, event: str, argument: Any) -> Any:
            if frame.f_code.co_filename.startswith(self._ours):
                return None
            return function(frame, event, argument)

        self._theirs[id(trace)] = trace, function
        return trace

    def traced_by(self, function: Any) -> Any:
        """What was set, where `function` is what the interpreter says."""
        return self._theirs.get(id(function), (None, function))[1]
