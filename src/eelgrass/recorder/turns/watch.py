"""The watch over threads that take turns: one that waits in code which takes none would keep all others waiting.

The interpreter lets the watch on only while the thread whose turn it is lets go of it: it is in a call of C. If it has
not got on by then, and has not used the processor either, it waits for the world outside.
"""

from __future__ import annotations

import time
from collections.abc import Callable

from eelgrass.recorder.turns.turn_taking import NOBODY, Thread, TurnTaking

#: How often it looks; once one had to do with the world outside, more often. So long one has to be found as it was.
_SECONDS, _BRIEF_SECONDS, _LEAST_SECONDS, _AWAY_SECONDS = 0.025, 0.002, 0.0001, 0.2


def _now() -> float:
    """The real time: what the program calls so may be another."""
    return time.clock_gettime(time.CLOCK_MONOTONIC)


class Watch:
    """Looks after the turns from the first thread on, on a thread of its own."""

    def __init__(self, turns: TurnTaking, start: Callable[..., int]) -> None:
        self._turns = turns
        self._start = start
        self._has_begun = False
        self._clock_of = getattr(time, "pthread_getcpuclockid", None)

    def begin(self) -> None:
        """A thread is about to be started."""
        if not self._has_begun and self._clock_of is not None:
            self._has_begun = True
            self._start(self._watch, ())

    def _watch(self) -> None:
        turns = self._turns
        seen, since, before = None, _now(), -1.0  # when nobody was on, when that was seen last
        while not turns.is_free:
            turns.bell.acquire(timeout=self._patience())
            now = _now()
            if turns.on is NOBODY:
                turns.seconds_passed(now - before if before >= 0 else 0.0)
                before = now if turns.on is NOBODY else -1.0
                continue
            before = -1.0
            if len(turns.threads) > 1:
                found = turns.on, turns.place, turns.times_handed_over, self._processor_seconds(turns.on)
                if found != seen or not turns.on.has_come():
                    seen, since = found, now
                elif now - since >= _AWAY_SECONDS:
                    turns.is_away()

    def _patience(self) -> float:
        """So long nothing is looked at."""
        if self._turns.on is NOBODY:
            return min(max(self._turns.seconds_to_next, _LEAST_SECONDS), _BRIEF_SECONDS)
        return _BRIEF_SECONDS if self._turns.times_outside else _SECONDS

    def _processor_seconds(self, thread: Thread) -> float:
        """What a thread has used of the processor; 0 where it is not known to be there still, when asking is unsafe."""
        if not thread.ident or thread.is_foreign or self._clock_of is None:
            return 0.0
        return time.clock_gettime(self._clock_of(thread.ident))
