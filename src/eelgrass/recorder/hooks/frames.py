"""Hooks for frames: how deep they go, how they end, where exceptions pass."""

from __future__ import annotations

from collections.abc import Callable
from itertools import islice
from sys import exc_info, getrecursionlimit, setrecursionlimit
from types import CodeType, TracebackType
from typing import TYPE_CHECKING, Any

from eelgrass.recorder import wire
from eelgrass.recorder.hooks.log import Log

if TYPE_CHECKING:
    from eelgrass.recorder.hooks.causes import PlainOutside
    from eelgrass.recorder.hooks.outside import Outside

#: Call frames that the deepest of the hooks may need.
ROOM = 60

#: So many frames that a few more still fit into the interpreter's own number.
_MOST_FRAMES = (1 << 31) - 10_000
_PLACE = wire.PLACE * wire.FORMS


class Frames:
    """`frames_below` is how many call frames of ours lie below the program's module.

    `depth` holds one entry for each open frame of a module, class body, function or running generator. When there are
    more than `full` events, `flush()` is called where a frame begins.
    """

    def __init__(self, log: Log, frames_below: int, full: int, flush: Callable[[], None]) -> None:
        self._full = full
        self._flush = flush
        self.recursion_limit = getrecursionlimit()
        self.depth: list[None] = []
        self._log = log
        self._room = frames_below + ROOM
        self._roomy_limit = self.recursion_limit + self._room
        self._recursion_error: BaseException | None = None
        self._unwound = False
        self._counts = True
        #: Who looks whether it is the program that calls.
        self.outside: Outside | PlainOutside | None = None
        #: What statements in progress hold, and what looks at the latest of it; `Changes` sets them.
        self.held: dict[int, list[Any]] = {}
        self.look_at_held: Callable[[], None] = lambda: None
        self._positions: dict[tuple[int, int], tuple[CodeType, tuple[int, ...]]] = {}

    def ready(self) -> None:
        """Events are about to be told that belong together."""
        if self._log.is_due or len(self._log.events) > self._full:
            self._flush()
        if self.held:
            self.look_at_held()

    def has_room(self) -> bool:
        """Whether more events can be told before they have to be handed over; False where nobody knows."""
        return self._log.is_plain and not self.held and not self._log.is_due and len(self._log.events) <= self._full

    def enter(self, point: int) -> None:
        """A frame begins. Raises RecursionError where a plain run would."""
        self.ready()
        if self.outside is not None:
            self.outside.look()
        self.depth.append(None)
        self._log.events.append(self._log.codes[point])
        if self._counts and len(self.depth) > self.recursion_limit:
            self.too_deep()

    def leave(self, point: int, value: Any) -> Any:
        """A frame ends by handing back `value`; gives the value."""
        self._log.tell(point, value)
        del self.depth[-1]
        return value

    def count_nothing(self) -> None:
        """The interpreter's own limit is the one that counts: hooks take no room of the program's."""
        self._room = 0
        self._roomy_limit = self.recursion_limit
        self._counts = False

    def make_room(self) -> None:
        """Sets the interpreter's limit so much higher that our own calls fit above the program's deepest frame."""
        setrecursionlimit(self._roomy_limit)

    def too_deep(self) -> None:
        """Called when more frames are open than the recursion limit allows.

        Raises RecursionError where a plain run would: the interpreter's own limit is set higher, for our own calls. A
        limit that code which is not woven has set meanwhile counts, with the same room added.
        """
        set_now = getrecursionlimit()
        if set_now != self._roomy_limit:
            setrecursionlimit(self.limit_set(set_now))
        if len(self.depth) > self.recursion_limit:
            self._recursion_error = RecursionError("maximum recursion depth exceeded")
            raise self._recursion_error

    def limit_set(self, limit: Any) -> Any:
        """What `sys.setrecursionlimit` is to be called with, where the program calls it with `limit`."""
        if type(limit) is not int or not 0 < limit <= _MOST_FRAMES:
            return limit  # which the interpreter refuses
        self.recursion_limit = limit
        self._roomy_limit = limit + self._room
        return self._roomy_limit

    def limit_seen(self, limit: Any) -> Any:
        """What `sys.getrecursionlimit()` is to give, where the interpreter has just given `limit`."""
        return self.recursion_limit if limit == self._roomy_limit else limit

    def left(self, point: int) -> None:
        """A frame whose value RETURNING told has ended; not said again after `unwind`."""
        if self._unwound:
            self._unwound = False
            return
        self._log.events.append(point)
        self.depth.pop()

    def unwind(self, point: int, left_follows: bool) -> None:
        """An exception ends the frame; called in a handler that raises it again."""
        error = exc_info()[1]
        assert error is not None
        self._tell_place(error.__traceback__)
        self._log.tell(point, error)
        self.depth.pop()
        self._unwound = left_follows
        if error is self._recursion_error:
            # In a plain run the call that goes too deep never begins: its frame is no part of the traceback.
            error.__traceback__ = None
            self._recursion_error = None

    def caught(self, point: int) -> None:
        """A handler of the program has taken an exception."""
        error = exc_info()[1]
        assert error is not None
        self._tell_place(error.__traceback__)
        self._log.tell(point, error)

    def _tell_place(self, trace: TracebackType | None) -> None:
        """Tells where in the text of its first frame, the one that we are called from, an exception passes."""
        if trace is not None:
            self._log.wholes += self._position(trace)
            self._log.events.append(_PLACE)

    def _position(self, trace: TracebackType) -> tuple[int, ...]:
        """(line, column, end line, end column), columns in bytes from 0, of what the traceback's first frame was at."""
        code = trace.tb_frame.f_code
        key = (id(code), trace.tb_lasti)
        known = self._positions.get(key)
        if known is not None and known[0] is code:
            return known[1]
        line, end_line, column, end_column = next(islice(code.co_positions(), trace.tb_lasti // 2, None), (0, 0, 0, 0))
        place = (line or 0, column or 0, end_line or 0, end_column or 0)
        self._positions[key] = code, place
        return place
