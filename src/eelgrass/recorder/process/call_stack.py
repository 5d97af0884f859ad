"""The interpreter's call stack: a program runs at its bottom, and weaving goes deep. Compiled, this is
`call_stack.pyx`, by the interpreter's own headers."""

from __future__ import annotations

import ctypes
import sys
from collections.abc import Callable

#: Where CPython keeps its innermost frame: offsets from the thread's state on, each but the last one of a pointer.
_CURRENT = {(3, 11): (56, 8), (3, 12): (56, 0), (3, 13): (72,), (3, 14): (72,)}
#: Where a frame object has the interpreter's own frame.
_F_FRAME = 24


def at_bottom(call: Callable[[], None]) -> None:
    """What a call gives that finds no frames below it, if the interpreter's memory is laid out as expected; which is
    checked by this very frame being where the innermost one should be."""
    place = _current_frame()
    kept = place and ctypes.c_void_p.from_address(id(sys._getframe()) + _F_FRAME).value
    if not place or not kept or place.value != kept:
        return call()
    place.value = None  # as when the interpreter starts
    try:
        return call()
    finally:
        place.value = kept


def room_in_c(_units: int) -> None:
    """So many more calls of C inside of one another are allowed: none here, which only compiled code can say."""


def _current_frame() -> ctypes.c_void_p | None:
    offsets = _CURRENT.get(sys.version_info[:2])
    if offsets is None or ctypes.sizeof(ctypes.c_void_p) != 8 or hasattr(sys, "gettotalrefcount"):
        return None
    state = ctypes.pythonapi.PyThreadState_Get
    state.restype = ctypes.c_void_p
    address: int | None = state()
    for offset in offsets[:-1]:
        if address:
            address = ctypes.c_void_p.from_address(address + offset).value
    return ctypes.c_void_p.from_address(address + offsets[-1]) if address else None
