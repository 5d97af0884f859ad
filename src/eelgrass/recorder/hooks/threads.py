"""Telling threads apart.

Events of all threads go into one list, so a thread that goes on says so before anything else. That works as long as
threads take turns only where one of them waits, not in the middle of what is told: the interpreter's own interval for
changing threads is set to the very long, and threads that never wait take turns whenever the lists are handed over.
This also makes their order the same in each run, as far as their waiting allows.
"""

from __future__ import annotations

import sys
from _thread import _local, get_ident
from collections.abc import Callable
from time import sleep
from typing import Any

from eelgrass.recorder import wire

_THREAD = wire.THREAD * wire.FORMS
_TURN = wire.TURN * wire.FORMS
_LONG_SECONDS = 1000.0
_TURN_SECONDS = 0.0002


class Threads:
    """`ident` is that of the thread whose events are being told."""

    def __init__(self, events: list[int], wholes: list[int]) -> None:
        self.ident = get_ident()
        self.are_told = False
        self.hand_over_when_full = True
        self._events = events
        self._wholes = wholes
        self._own = _local()  # `number` of each thread: identities are used again when a thread has ended
        self._own.number = 0
        self._known = 1
        self._interval = sys.getswitchinterval()

    def tell_apart(self) -> None:
        """From now on there may be several threads."""
        if not self.are_told:
            self.are_told = True
            sys.setswitchinterval(_LONG_SECONDS)

    def interval_set(self, interval: Any) -> Any:
        """What `sys.setswitchinterval` is to be called with, where the program calls it with `interval`."""
        if not self.are_told or type(interval) not in (int, float) or not 0 < interval < _LONG_SECONDS:
            return interval
        self._interval = float(interval)
        return _LONG_SECONDS

    def interval_seen(self, interval: float) -> float:
        """What `sys.getswitchinterval()` is to give, where the interpreter has just given `interval`."""
        return self._interval if interval == _LONG_SECONDS else interval

    def switched(self) -> None:
        """Another thread goes on."""
        self.ident = get_ident()
        number = getattr(self._own, "number", None)
        if number is None:
            number = self._own.number = self._known
            self._known += 1
        self._wholes.append(number)
        self._events.append(_THREAD)

    def call_this(self, number: int) -> None:
        """The thread that asks has this number, which no other has, from its beginning on."""
        self._own.number = number
        self._known = max(self._known, number + 1)

    def turn(self, what: int, number: int) -> None:
        """What the thread that asks does with its turn: one of those that `wire.TURN` may say."""
        self._wholes += (what, number)
        self._events.append(_TURN)

    def look(self) -> None:
        """Says so if another thread goes on."""
        if get_ident() != self.ident:
            self.switched()

    def take_turns(self) -> None:
        """Lets other threads go on that wait for nothing but their turn."""
        if self.are_told and self._known > 1 and self.hand_over_when_full:
            sleep(_TURN_SECONDS)

    def checked(self, hook: Callable[..., Any]) -> Callable[..., Any]:
        """The hook, with a look first at which thread calls it."""

        def check(*arguments: Any) -> Any:
            if get_ident() != self.ident:
                self.switched()
            return hook(*arguments)

        return check
