"""Who sits at the desk: does at its time what the script says, and lets time pass.

A script is a list of what is done, each with a moment in milliseconds; how each is done is in `doing`.
"""

from __future__ import annotations

import heapq
from collections.abc import Callable, Sequence
from typing import TYPE_CHECKING, Any

from eelgrass.recorder.desk.doing import Doing
from eelgrass.recorder.desk.events import reactions
from eelgrass.recorder.desk.language.words import TclError, as_text

if TYPE_CHECKING:
    from eelgrass.recorder.board.board import Board
    from eelgrass.recorder.desk.application import Application

#: So long after what the script says last, the window is closed, if timers go on; without a script, so long after
#: it began.
_AFTER_MS, _IDLE_MS = 3_000, 10_000
#: What is done to a board, if there is one.
BOARD_ACTS = ("press", "release", "set")
#: So many things happen at one moment, at most: a timer may set itself again at once, for ever.
_MOST_AT_ONCE = 100_000


class Person:
    """`now` is the time in milliseconds. `say(words)` tells what is done that cannot be."""

    def __init__(self, script: Sequence[dict[str, Any]], until: float, say: Callable[[str], None]) -> None:
        self.now = 0.0
        self._script = sorted(script, key=lambda its: float(its.get("at", 0)))
        last = float(self._script[-1].get("at", 0)) + _AFTER_MS if self._script else _IDLE_MS
        self.until = until or last
        self._timers: list[tuple[float, int, str, Any]] = []
        self._cancelled: set[str] = set()
        self._made = 0
        self._is_quitting = False
        self._say, self._doing = say, Doing(say)
        self._apps: list[Application] = []
        self._board: Board | None = None
        self.answers: list[str] = [as_text(its.get("text", "")) for its in self._script if its.get("do") == "answer"]
        self._script = [its for its in self._script if its.get("do") != "answer"]

    def meet(self, its: Application) -> None:
        """One more application."""
        self._apps.append(its)

    def meet_board(self, its: Board) -> None:
        """What is done to a board, is done to this one."""
        self._board = its

    def seconds(self) -> float:
        """What a clock says. Asking takes time, too."""
        self.now += 0.001
        return self.now / 1000

    # Timers

    def after(self, its: Application | Board, milliseconds: float, script: Any, words: str = "") -> str:
        """Has a script run later, which is because of what `words` say; gives a name for that."""
        self._made += 1
        name = f"after#{self._made}"
        words = words or (f"after {milliseconds:g} ms" if milliseconds else "when there was time")
        timer = (its, script, milliseconds, words)
        heapq.heappush(self._timers, (self.now + max(milliseconds, 0.0), self._made, name, timer))
        return name

    def cancel(self, name: str) -> None:
        """Has it not run."""
        self._cancelled.add(name)
        for _, _, one, (_, script, _, _) in self._timers:
            if as_text(script) == name:
                self._cancelled.add(one)

    def waiting(self, name: str) -> tuple[Any, str]:
        """What is to run by a name. Raises TclError."""
        for _, _, one, (_, script, milliseconds, _) in self._timers:
            if one == name and one not in self._cancelled:
                return script, "timer" if milliseconds else "idle"
        raise TclError(f'event "{name}" doesn\'t exist')

    def all_waiting(self) -> tuple[str, ...]:
        """The names of all that is to run."""
        return tuple(one for _, _, one, _ in sorted(self._timers, reverse=True) if one not in self._cancelled)

    def sleep(self, seconds: float) -> None:
        """Time passes in which nobody looks at the window."""
        self.now += max(seconds, 0.0) * 1000

    # The loop

    def mainloop(self) -> None:
        """Until the window is closed, or the program wants no more."""
        self._is_quitting = False
        while not self._is_quitting and any(not its.is_over for its in self._apps) and self._next(self.until):
            pass
        if not self._is_quitting:
            self._close_all()

    def quit(self) -> None:
        """The loop ends."""
        self._is_quitting = True

    def one(self) -> bool:
        """Lives through the next thing; gives whether there was one."""
        return self._next(self.until)

    def live(self, milliseconds: float) -> bool:
        """Lives through all that is due within some time; gives whether there is any more then."""
        end = self.now + milliseconds
        while self._next(min(end, self.until)):
            pass
        self.now = max(self.now, end)
        return self.now < self.until

    def update(self) -> None:
        """Lives through all that is due by now."""
        self.tell()
        for _ in range(_MOST_AT_ONCE):
            if not self._next(self.now):
                break
        self.tell()

    def until_true(self, is_so: Callable[[], bool]) -> bool:
        """Lives on until something is so; gives whether it ever was."""
        while not is_so():
            if not self._next(self.until):
                return False
        return True

    def _next(self, until: float) -> bool:
        """Lives through the next thing that happens by a moment; gives whether there was one."""
        for one in self._apps:
            one.catch_up()
        self.tell()
        self._timers = (
            [its for its in self._timers if its[2] not in self._cancelled] if self._cancelled else self._timers
        )
        self._cancelled.clear()
        heapq.heapify(self._timers)
        timer = self._timers[0] if self._timers else None
        act = self._script[0] if self._script else None
        when = min(timer[0] if timer else until + 1, float(act.get("at", 0)) if act else until + 1)
        if when > until:
            return False
        self.now = max(self.now, when)
        if act is not None and float(act.get("at", 0)) <= when:
            self._script.pop(0)
            self._do(act)
        elif timer is not None:
            heapq.heappop(self._timers)
            its, script, _, words = timer[3]
            if not its.is_over:
                its.telling.because(words)
                its.telling.cause("")
                its.run_callback(script)
                its.telling.because("")
        self.tell()
        return True

    def _do(self, act: dict[str, Any]) -> None:
        app = next((its for its in reversed(self._apps) if not its.is_over), None)
        if self._board is not None and act.get("do") in BOARD_ACTS:
            self._board.do(act)
        elif app is not None:
            self._doing.do(app, act)
        else:
            self._say(f"At {float(act.get('at', 0)):g} ms there is no window for “{act.get('do', '')}”.")

    def tell(self) -> None:
        """Tells what looks different now."""
        for its in self._apps:
            its.telling.tell(its)

    def _close_all(self) -> None:
        for its in list(self._apps):
            if not its.is_over:
                its.telling.because("the window was closed")
                its.telling.keep()
                reactions.close(its, ".")
        self._apps = [its for its in self._apps if not its.is_over]
