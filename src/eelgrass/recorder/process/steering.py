"""Making the threads of a program take turns, where they can."""

from __future__ import annotations

import time
from collections.abc import Callable
from typing import Any

from eelgrass.recorder.hooks.table import Hooks
from eelgrass.recorder.order import Turns
from eelgrass.recorder.process.clock import Clock


class Steering:
    """Begins when the first module is woven of a program with threads; then its clock counts. Without an `order`, and
    beside what waits for the world outside, it does not."""

    def __init__(
        self,
        order: Turns | None,
        hooks: Hooks,
        clock: Clock,
        stuck: Callable[[], None],
        hide: Callable[[BaseException], None],
    ) -> None:
        self._order = order
        self._hooks, self._clock, self._stuck, self._hide = hooks, clock, stuck, hide
        self._turns: Any = None
        self._is_open = True
        self._kept_from_it = ""
        if order is not None:
            hooks.begin_turns = self._begin

    def close(self) -> None:
        """The program is about to begin: what is not steered by now is not."""
        self._is_open = False

    @property
    def is_on(self) -> bool:
        """Whether threads take turns."""
        return self._turns is not None

    def _begin(self, outside: str | None) -> bool:
        """Whether threads take turns, where this stands around the module that is woven."""
        if self._turns is None and outside == "":
            if self._is_open:
                self._set_up()
            else:
                outside = "a module that was found later"
        self._kept_from_it = outside or self._kept_from_it
        return self.is_on

    def _set_up(self) -> None:
        from eelgrass.recorder.turns.choosing import Choosing  # which only those need that have threads
        from eelgrass.recorder.turns.standing_in import stand_in
        from eelgrass.recorder.turns.turn_taking import Telling, TurnTaking

        assert self._order is not None
        threads, look = self._hooks.threads, self._hooks.log.look or self._hooks.threads.look
        turns = TurnTaking(Choosing(*self._order), self._stuck, Telling(threads.call_this, threads.turn, look))
        stand_in(turns, self._hide)
        self._clock.count(turns.seconds)
        self._clock.set_up(time)
        self._hooks.take_turns(turns.step)
        self._turns = turns

    def told(self) -> dict[str, Any] | None:
        """What is said of it at the end: how many threads there were, how many steps, and how often one waited for the
        world outside; or what kept them from taking turns. None where there was nothing to steer."""
        if self._turns is not None:
            its = self._turns
            return {"threads": its.made, "steps": its.place + 1, "outside": its.times_outside}
        return {"kept_by": self._kept_from_it} if self._kept_from_it else None
