"""Standard streams that tell what passes through them, and otherwise are what Python made them."""

from __future__ import annotations

import io
import sys
from collections.abc import Callable, Iterable
from typing import Any


def _class(name: str, base: type, methods: dict[str, Any]) -> Any:
    """A subclass that looks like its base to a program that asks."""
    return type(base)(name, (base,), {"__module__": base.__module__, "__doc__": base.__doc__, **methods})


def _settings(stream: io.TextIOWrapper) -> dict[str, Any]:
    return {
        "encoding": stream.encoding,
        "errors": stream.errors,
        "newline": "\n" if stream.writable() else None,
        "line_buffering": stream.line_buffering,
        "write_through": stream.write_through,
    }


def tell_output(name: str, tell: Callable[[str], None]) -> None:
    """Puts a stream in the place of `sys.stdout` or `sys.stderr` that calls `tell` with each text written."""
    stream = getattr(sys, name)
    if not isinstance(stream, io.TextIOWrapper):
        return
    plain_write = io.TextIOWrapper.write

    def write(self: io.TextIOWrapper, text: str, /) -> int:
        count = plain_write(self, text)
        tell(text)
        return count

    _replace(name, stream, {"write": write})


def tell_input(before: Callable[[], None], after: Callable[[str], None]) -> None:
    """Puts a stream in the place of `sys.stdin` that calls `before` when the program starts to wait for text, and
    `after` with the text that it got ('' at the end of input)."""
    stream = sys.stdin
    if not isinstance(stream, io.TextIOWrapper):
        return

    def telling(method: str) -> Callable[..., Any]:
        plain = getattr(io.TextIOWrapper, method)

        def read(self: io.TextIOWrapper, *arguments: Any) -> str:
            before()
            text: str = plain(self, *arguments)
            after(text)
            return text

        read.__name__ = method
        return read

    def next_line(self: io.TextIOWrapper) -> str:
        line: str = self.readline()
        if not line:
            raise StopIteration
        return line

    _replace("stdin", stream, {"read": telling("read"), "readline": telling("readline"), "__next__": next_line})


def _replace(name: str, stream: io.TextIOWrapper, methods: dict[str, Any]) -> None:
    settings, mode = _settings(stream), stream.mode
    told = _class("TextIOWrapper", io.TextIOWrapper, methods)(stream.detach(), **settings)
    told.mode = mode
    setattr(sys, name, told)
    setattr(sys, f"__{name}__", told)


def flush_all(streams: Iterable[str] = ("stdout", "stderr")) -> None:
    """Writes out what the standard streams still hold, as far as they take it."""
    for name in streams:
        try:
            getattr(sys, name).flush()
        except (AttributeError, OSError, ValueError):
            continue
