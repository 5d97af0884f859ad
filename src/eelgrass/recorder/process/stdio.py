"""Standard streams that tell what passes through them, and otherwise are what Python made them."""

from __future__ import annotations

import io
import sys
from collections.abc import Callable, Iterable
from typing import Any

from eelgrass.recorder.packing import IS_COMPILED

if IS_COMPILED:
    from eelgrass.recorder.process import telling


class Telling:
    """What is called when text passes through a stream: `passed` with each text written or read ('' at the end of
    input); `before` when the program starts to wait for text, with whether it wants more than a line."""

    def __init__(
        self, passed: Callable[[str], None] = lambda _text: None, before: Callable[[bool], None] = lambda _more: None
    ):
        self.passed = passed
        self.before = before


def replace_streams(callees: dict[str, Telling]) -> None:
    """Puts telling streams in the place of `sys.stdin`, `sys.stdout` and `sys.stderr`, as far as they are text streams.

    All are of one class, as they were; what to call is kept outside of them, so that they carry nothing of ours.
    """
    callbacks: dict[int, Telling] = {}
    class_ = _telling_class(callbacks)
    for name, its in callees.items():
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
    kind = type("TextIOWrapper", (base,), {"__module__": base.__module__, "__doc__": base.__doc__})
    silent = Telling()

    def before(stream: io.TextIOWrapper, more: bool) -> None:
        callbacks.get(id(stream), silent).before(more)

    def after(stream: io.TextIOWrapper, text: str) -> None:
        callbacks.get(id(stream), silent).passed(text)

    for name in telling.tell_by(kind, before, after) if IS_COMPILED else ("read", "readline", "write"):
        setattr(kind, name, _method(getattr(base, name), name, before, after))
    return kind


def _method(
    plain: Callable[..., Any],
    name: str,
    before: Callable[[io.TextIOWrapper, bool], None],
    after: Callable[[io.TextIOWrapper, str], None],
) -> Callable[..., Any]:
    """A method that tells, where nothing is compiled."""

    def write(self: io.TextIOWrapper, *given: Any) -> Any:
        result = plain(self, *given)
        after(self, given[0])
        return result

    def read(self: io.TextIOWrapper, *given: Any) -> Any:
        before(self, name == "read")
        result = plain(self, *given)
        after(self, result)
        return result

    method = write if name == "write" else read
    method.__name__ = name
    return method


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
