"""What is simulated for a program: windows at a desk, and the board of a small device; one person is at both."""

from __future__ import annotations

import time
from collections.abc import Callable
from typing import TYPE_CHECKING, Any

from eelgrass.recorder.hooks.table import Hooks
from eelgrass.recorder.order import Desk
from eelgrass.recorder.process.clock import Clock
from eelgrass.recorder.weaving.name_rules import Surroundings

if TYPE_CHECKING:
    from eelgrass.recorder.desk.person import Person


class Simulated:
    """`stop()` ends the run at once. What only such programs need is loaded by `prepare`, before a run is confined."""

    def __init__(self, desk: Desk, hooks: Hooks, clock: Clock, stop: Callable[[], None]) -> None:
        self._acts, self._hooks, self._clock, self._stop = desk, hooks, clock, stop
        self._desk: Any = None
        self._board: Any = None
        self._make_person: type[Person] | None = None
        self._person: Person | None = None

    def prepare(self, surroundings: Surroundings, has_desk: bool) -> None:
        """Looks at what the program's modules import."""
        if self._desk is None and has_desk and surroundings.has_windows:
            from eelgrass.recorder.desk import module

            self._desk = module
        if self._board is None and surroundings.has_board:
            from eelgrass.recorder.board import modules

            self._board = modules
            modules.put_in_reach(self._set_up_board)
        if self._make_person is None and (self._desk or self._board):
            from eelgrass.recorder.desk.person import Person

            self._make_person = Person

    def set_up_desk(self) -> None:
        """The program is about to import what shows windows."""
        if self._desk is not None:
            self._desk.set_up(self._met(), self._hooks.log.desk, self._hooks.log.cause)
            self._hooks.causes.told_otherwise = ("tkinter", "turtle")
            _sleep_by(self._met().sleep)

    def _set_up_board(self) -> None:
        """The program is about to import what knows the board."""
        log = self._hooks.log
        board = self._board.set_up(self._met(), log.desk, log.cause, self._say, self._stop)
        _sleep_by(lambda seconds: board.live(seconds * 1000))

    def _met(self) -> Person:
        if self._person is None:
            assert self._make_person is not None
            self._person = self._make_person([act._asdict() for act in self._acts.acts], self._acts.until, self._say)
            if not self._clock.is_counted:
                self._clock.count(self._person.seconds)
                self._clock.set_up(time)
        return self._person

    def _say(self, words: str) -> None:
        self._hooks.log.output(2, f"{words}\n")


def _sleep_by(passes: Callable[[float], None]) -> None:
    """From now on the program sleeps as `passes(seconds)` has time pass."""
    plain_sleep = time.sleep

    def sleep(seconds: Any, /) -> None:
        if isinstance(seconds, (int, float)) and seconds >= 0:
            passes(float(seconds))
        else:
            plain_sleep(seconds)  # which refuses

    time.sleep = sleep
