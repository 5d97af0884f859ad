"""How far a job is, and whether anybody still waits for it."""

from __future__ import annotations

import threading
import time
from collections.abc import Callable
from dataclasses import dataclass, field

#: In seconds: so long a thread works before it gives way, and for how long; and how long the window draws a move.
_WORKS, _RESTS, _DRAWS = 0.005, 0.0005, 0.03
_times = {"rested": 0.0, "moved": 0.0}


def window_draws() -> None:
    """Says that the main thread has begun to draw something that a person waits for."""
    _times["moved"] = time.perf_counter()


def give_way() -> None:
    """Lets the main thread go on, where it is another one that works. NumPy lets go of the interpreter's lock and takes
    it again sooner than a thread that waits for it wakes: without this, a move in the window waits for most of a
    second. A thread that is called often enough to be heard calls it; it costs nothing that can be measured."""
    now = time.perf_counter()
    if now - _times["rested"] > _WORKS and threading.current_thread() is not threading.main_thread():
        time.sleep(max(_times["moved"] + _DRAWS - now, _RESTS))
        _times["rested"] = time.perf_counter()


@dataclass
class Progress:
    """A job on its way: whoever wants it can give it up, and hears how much of it (0 to 1) is done."""

    told: Callable[[float], None] = lambda _share: None
    given_up: threading.Event = field(default_factory=threading.Event)
    _on_give_up: Callable[[], None] = lambda: None

    def when_given_up(self, call: Callable[[], None]) -> None:
        """Has something called when nobody waits any longer, at once if that is so already; from any thread."""
        self._on_give_up = call
        if self.given_up.is_set():
            call()

    def give_up(self) -> None:
        """Nobody waits any longer."""
        self.given_up.set()
        self._on_give_up()

    def goes_on(self, share: float) -> bool:
        """Tells how far it is; False when nobody waits for the answer any more."""
        give_way()
        self.told(share)
        return not self.given_up.is_set()
