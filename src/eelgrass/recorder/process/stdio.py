"""Standard streams that tell what passes through them, and otherwise are what Python made them."""

from __future__ import annotations

import io
import sys
from collections.abc import Callable, Iterable
from typing import Any


class Telling:
    """What is called when text passes through a stream: `written` with each text written; `before` when the program
    starts to wait for text, and `after` with what it got ('' at the end of input)."""

    def __init__(
        self,
        written: Callable[[str], None] = lambda _text: None,
        before: Callable[[], None] = lambda: None,
        after: Callable[[str], None] = lambda _text: None,
    ) -> None:
        self.written = written
        self.before = before
        self.after = after


def replace_streams(telling: dict[str, Telling]) -> None:
    """Puts telling streams in the place of `sys.stdin`, `sys.stdout` and `sys.stderr`, as far as they are text streams.

    All are of one class, as they were; what to call is kept outside of them, so that they carry nothing of ours.
    """
    callbacks: dict[int, Telling] = {}
    class_ = _telling_class(callbacks)
    for name, its in telling.items():
        stream = getattr(sys, name)
        if not isinstance(stream, io.TextIOWrapper):
            continue
        settings = _settings(stream)
        mode = stream.mode
        told = class_(stream.detach(), **settings)
        told.mode = mode
        callbacks[id(told)] = its
        setattr(sys, name, told)
        setattr(sys, f"__{name}__", told)


def _telling_class(callbacks: dict[int, Telling]) -> Any:
    """A subclass of the usual text stream that looks like it to a program that asks."""
    base = io.TextIOWrapper
    silent = Telling()

    def write(self: io.TextIOWrapper, text: str, /) -> int:
        count = base.write(self, text)
        callbacks.get(id(self), silent).written(text)
        return count

    def telling(method: str) -> Callable[..., Any]:
        plain = getattr(base, method)

        def read(self: io.TextIOWrapper, *arguments: Any) -> str:
            its = callbacks.get(id(self), silent)
            its.before()
            text: str = plain(self, *arguments)
            its.after(text)
            return text

        read.__name__ = method
        return read

    def next_line(self: io.TextIOWrapper) -> str:
        line: str = self.readline()
        if not line:
            raise StopIteration
        return line

    methods = {"write": write, "read": telling("read"), "readline": telling("readline"), "__next__": next_line}
    return type("TextIOWrapper", (base,), {"__module__": base.__module__, "__doc__": base.__doc__, **methods})


def _settings(stream: io.TextIOWrapper) -> dict[str, Any]:
    return {
        "encoding": stream.encoding,
        "errors": stream.errors,
        "newline": "\n" if stream.writable() else None,
        "line_buffering": stream.line_buffering,
        "write_through": stream.write_through,
    }


def flush_all(streams: Iterable[str] = ("stdout", "stderr")) -> None:
    """Writes out what the standard streams still hold, as far as they take it."""
    for name in streams:
        try:
            getattr(sys, name).flush()
        except (AttributeError, OSError, ValueError):
            continue
