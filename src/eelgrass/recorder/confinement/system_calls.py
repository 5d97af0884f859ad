"""Calls of the kernel by number. Compiled, this is `system_calls.pyx`, which spares the child an import of `ctypes`."""

from __future__ import annotations

import ctypes
import os

_libc = ctypes.CDLL(None, use_errno=True)
_libc.syscall.restype = ctypes.c_long


def system_call(number: int, *arguments: int | bytes) -> int:
    """What a call gives; arguments are numbers, or bytes for a pointer to them. Raises OSError."""
    given = [ctypes.c_char_p(its) if isinstance(its, bytes) else ctypes.c_long(its) for its in arguments]
    result: int = _libc.syscall(ctypes.c_long(number), *given)
    if result < 0:
        code = ctypes.get_errno()
        raise OSError(code, os.strerror(code))
    return result


def address_of(held: bytes) -> int:
    """Where bytes lie in memory, for as long as they are held: for a structure that points to another."""
    return ctypes.cast(ctypes.c_char_p(held), ctypes.c_void_p).value or 0
