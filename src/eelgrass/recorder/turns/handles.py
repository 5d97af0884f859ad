"""Handles of threads, by which Python 3.13 and later wait for their ends."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from eelgrass.recorder.turns.locks import Lock
from eelgrass.recorder.turns.turn_taking import TurnTaking

#: Starts a thread with a function, its arguments and named ones; gives its identity.
Start = Callable[[Callable[..., Any], tuple[Any, ...], dict[str, Any]], int]


class Handle:
    """Stands in for the interpreter's `_ThreadHandle`."""

    __slots__ = ("__weakref__", "_is_done", "ident", "until_done")

    def __init__(self) -> None:
        self.ident: int | None = None
        self._is_done = False
        self.until_done = Lock()

    def join(self, timeout: float | None = None) -> None:
        """Waits for the thread's end."""
        if self.ident is None:
            raise RuntimeError("thread not started")
        if not self._is_done and self.until_done.acquire(True, -1 if timeout is None or timeout < 0 else timeout):
            self.until_done.release()

    def is_done(self) -> bool:
        """Whether the thread has ended."""
        return self._is_done

    def _set_done(self) -> None:
        self._is_done = True
        if self.until_done.locked():
            self.until_done.release()


Handle.__module__, Handle.__name__, Handle.__qualname__ = "_thread", "_ThreadHandle", "_ThreadHandle"


class Handles:
    """Starts threads that have handles; knows those that the program waits for at its end."""

    def __init__(self, turns: TurnTaking, start: Start) -> None:
        self._turns, self._start = turns, start
        self._to_wait_for: list[Handle] = []

    def start(self, function: Any, handle: Any = None, daemon: Any = True) -> Any:
        """As the interpreter's `start_joinable_thread`."""
        its = Handle() if handle is None else handle
        its.until_done.acquire()

        def run() -> None:
            self._turns.itself().at_end.append(its._set_done)
            function()

        its.ident = self._start(run, (), {})
        if not daemon:
            self._to_wait_for = [one for one in self._to_wait_for if not one.is_done()] + [its]
        return its

    def of(self, ident: int) -> Handle:
        """The handle of a thread that was not started by `start`."""
        its = Handle()
        its.ident = ident
        its.until_done.acquire()
        return its

    def wait_for_all(self) -> None:
        """At the end of the main thread."""
        while self._to_wait_for:
            self._to_wait_for.pop(0).join()
