"""How far a job is, and whether anybody still waits for it."""

from __future__ import annotations

import threading
from collections.abc import Callable
from dataclasses import dataclass, field


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
        self.told(share)
        return not self.given_up.is_set()
