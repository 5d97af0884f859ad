"""Turns of threads: one is on at a time; all others wait at a gate of their own until it is theirs.

The scheduler of a program that is run to be looked at: who goes on is decided at steps and where a thread has to wait,
never by chance of the moment, so that the same order gives the same run. Time goes on by itself only while somebody
waits for the world outside: else it goes on with each step, and leaps where all sleep.
"""

from __future__ import annotations

from _thread import allocate_lock, get_ident
from collections.abc import Callable
from typing import Any, NamedTuple

from eelgrass.recorder import wire
from eelgrass.recorder.turns.choosing import Choosing

#: So much time passes with a step, and with a look at the clock.
_STEP_SECONDS, _READING_SECONDS = 1e-5, 1e-6


class Telling(NamedTuple):
    """Hooks: `call_this(number)` gives the thread that asks its number; `turn(what, number)` tells one of what
    `wire.TURN` may say; `look()` says which thread it is that goes on."""

    call_this: Callable[[int], None]
    turn: Callable[[int, int], None]
    look: Callable[[], None]


class Thread:
    """A thread of the program. It waits for `waits_for` (a lock, or itself while it sleeps), at most until the moment
    `until`; `is_outside` while it is in code that takes no turns."""

    def __init__(self, number: int, ident: int = 0) -> None:
        self.number = number
        self.ident = ident
        self.gate = allocate_lock()
        self.gate.acquire()
        self.at_gate = 0  # how often: a signal's handler may come to it once more
        self.waits_for: Any = None
        self.until: float | None = None
        self.is_outside = False
        self.has_been_on = False
        self.is_foreign = False  # not started as others are
        self.at_end: list[Callable[[], object]] = []  # what is done when it ends

    def has_come(self) -> bool:
        """Whether it has noticed that it was let on."""
        return self.gate.locked()

    def can_go_on(self) -> bool:
        """Whether it waits for nothing but its turn."""
        return self.waits_for is None and not self.is_outside


class TurnTaking:
    """Who is on. `stuck()` is called when nobody in the program can ever go on; it comes back where a signal may still
    come. What happens is told by `telling`. The thread that makes this is on."""

    def __init__(self, choosing: Choosing, stuck: Callable[[], None], telling: Telling) -> None:
        self.on = Thread(0, get_ident())
        self.on.has_been_on = True
        self.threads = [self.on]  # those that have not ended, by their numbers
        self.is_free = False  # nobody is kept from going on any more
        self.place = -1  # how many steps there were before the latest
        self.times_outside = self.times_handed_over = 0
        self.now = 0.0  # seconds since the beginning
        self.bell = allocate_lock()  # for the watch: rung when nobody is on
        self.bell.acquire()
        self._choosing = choosing
        self._stuck, self._telling = stuck, telling
        self.made = 1

    def seconds(self) -> float:
        """What a clock says. Asking takes time, too: somebody may be waiting for it to go on."""
        self.now += _READING_SECONDS
        return self.now

    # What threads do

    def step(self) -> None:
        """A step is next: another thread may go on first."""
        self.place += 1
        self.now += _STEP_SECONDS
        if len(self.threads) == 1 or self.is_free:
            return
        me = self._here()
        self._wake_late()
        if self._choosing.is_over(self.place):
            self._hand_over(me)
            self._telling.look()

    def give_way(self) -> None:
        """Another thread that can go on does so first."""
        if not self.is_free:
            self._hand_over(self._here())

    def wait(self, what: Any, seconds: float | None, is_got: Callable[[], bool]) -> bool:
        """Waits until `is_got` gives True, for at most so many seconds (None: without an end); gives whether it did.
        It is asked whenever `what` is released. Once nobody waits for turns, it has not been waited long enough."""
        me, is_told = self._here(), False
        me.until = None if seconds is None else self.now + seconds
        try:
            while not is_got():
                if self.is_free or (me.until is not None and me.until <= self.now):
                    return False
                if not is_told:
                    self._tell(wire.SLEEPS if what is me else wire.WAITS)
                    is_told = True
                me.waits_for = what
                self._hand_over(me)
            return True
        finally:
            me.until = None

    def sleep(self, seconds: float) -> None:
        """Goes on so much later."""
        if seconds <= 0:
            return self.give_way()
        me = self._here()
        self.wait(me, seconds, lambda: False)
        return None

    def released(self, what: Any) -> None:
        """Whoever waits for `what` may try again, in its turn."""
        for thread in self.threads:
            if thread.waits_for is what:
                thread.waits_for = None

    def begin(self) -> Thread:
        """A thread is about to be started; it then calls `enter`."""
        thread = self._made()
        self._tell(wire.STARTS, thread.number)
        return thread

    def _made(self) -> Thread:
        thread = Thread(self.made)
        self.made += 1
        self.threads.append(thread)
        return thread

    def _tell(self, what: int, number: int = -1) -> None:
        self._telling.look()
        self._telling.turn(what, number)

    def never_began(self, thread: Thread) -> None:
        """It could not be started."""
        self.threads.remove(thread)

    def enter(self, thread: Thread) -> None:
        """Called in a new thread before anything else: waits for its first turn."""
        thread.ident = get_ident()
        self._telling.call_this(thread.number)
        self._come_on(thread)

    def leave(self, thread: Thread) -> None:
        """Called in a thread as the last it does."""
        for call in thread.at_end:
            call()
        self.threads.remove(thread)
        thread.waits_for = thread
        if self.on is thread and self.threads and not self.is_free:
            self._let_on(self._next(thread))

    # Outside

    def is_away(self) -> None:
        """The thread that is on is in code that takes no turns, and waits there: others go on. Called by the watch."""
        self.on.is_outside = True
        self.times_outside += 1
        self._let_on(self._next(self.on))

    def seconds_passed(self, seconds: float) -> None:
        """So much time has passed while nobody was on. Called by the watch."""
        self.now += seconds
        self._wake_late()
        able = self._able()
        if able:
            self._let_on(able[0])

    @property
    def seconds_to_next(self) -> float:
        """When the next of those that sleep goes on."""
        waking = self._waking
        return 1.0 if waking is None else waking - self.now

    @property
    def _waking(self) -> float | None:
        """The moment at which the next of those that sleep goes on; None where none does."""
        return min((thread.until for thread in self.threads if thread.until is not None), default=None)

    def go_free(self) -> None:
        """From now on nobody waits for a turn."""
        self.is_free = True
        for thread in self.threads:
            thread.waits_for = None
            _open(thread)

    def _here(self) -> Thread:
        """The thread that asks, once it is on."""
        me = self.on
        if me.ident != get_ident():
            me = self.itself()
            me.is_outside, me.waits_for = False, None
            if self.on is NOBODY:
                self.on = me
            self._come_on(me)
        return me

    def itself(self) -> Thread:
        """The thread that asks, whether it is on or not."""
        ident = get_ident()
        found = next((its for its in self.threads if its.ident == ident), None)
        if found is None:  # code that takes no turns has made it
            found = self._made()
            found.ident, found.is_foreign = ident, True
            self._telling.call_this(found.number)
        return found

    # Handing over

    def _hand_over(self, me: Thread) -> None:
        """Others go on; comes back when it is this thread's turn."""
        after = self._next(me)
        if after is not me:
            self._let_on(after)
            self._come_on(me)

    def _let_on(self, thread: Thread) -> None:
        self.on = thread
        thread.has_been_on = True
        if thread is NOBODY and self.bell.locked():
            self.bell.release()
        self.times_handed_over += 1
        _open(thread)

    def _come_on(self, me: Thread) -> None:
        """Waits at the gate. What a signal's handler raises there is raised when it is this thread's turn."""
        raised: BaseException | None = None
        me.at_gate += 1
        while self.on is not me and not self.is_free:
            try:
                me.gate.acquire()
            except BaseException as error:
                raised, me.waits_for = error, None
            if me.is_outside:  # it was taken to be while the system let it wait
                me.is_outside = False
                self.on = me if self.on is NOBODY else self.on
        me.at_gate -= 1
        if me.at_gate:
            _open(me)
        if raised is not None:
            raise raised

    def _next(self, me: Thread) -> Thread:
        """Who goes on after a thread; where nobody can, time leaps, or the world outside is waited for."""
        while not (able := self._able()):
            if any(thread.is_outside for thread in self.threads):
                return NOBODY
            waking = self._waking
            if waking is None:
                self._stuck()
                return NOBODY
            self.now = max(self.now, waking)
            self._wake_late()
        newest = max((thread.number for thread in able if not thread.has_been_on), default=-1)
        chosen = self._choosing.next(self.place, me.number, [thread.number for thread in able], newest)
        return next(thread for thread in able if thread.number == chosen)

    def _able(self) -> list[Thread]:
        return [thread for thread in self.threads if thread.can_go_on()]

    def _wake_late(self) -> None:
        """Whoever has waited long enough can go on."""
        for thread in self.threads:
            if thread.until is not None and thread.until <= self.now:
                thread.waits_for = None


def _open(thread: Thread) -> None:
    if thread.gate.locked():
        thread.gate.release()


#: Is on while all wait, and one of them for the world outside.
NOBODY = Thread(-1)
