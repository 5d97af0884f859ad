"""Hooks for frames that can wait and go on, and for frames whose names live on in closures. Both have a token.

A generator that is resumed by an exception thrown into it runs a handler, not the text after its `yield`: whatever runs
first asks, by the frame object, whether the frame still counts as suspended. The same question, asked of the frame
below, tells of those that wait in `yield from` or `await` for the one that goes on.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator
from itertools import chain
from operator import itemgetter
from sys import _getframe as this_frame
from types import AsyncGeneratorType, CellType, CodeType, CoroutineType, FrameType, GeneratorType
from typing import Any

from eelgrass.recorder import wire
from eelgrass.recorder.hooks import implicit_waits
from eelgrass.recorder.hooks.changes.reaching import is_woven
from eelgrass.recorder.hooks.frames import Frames
from eelgrass.recorder.hooks.log import Log
from eelgrass.recorder.packing import IS_COMPILED

CO_ASYNC_GENERATOR = 0x200
_SECOND = itemgetter(1)
#: How far up the frame is that calls a hook which asks for it; and how much further where one stands in between.
#: Compiled code has no frames of its own.
_CALLER, _FURTHER = (0, 0) if IS_COMPILED else (2, 1)
#: Code that is not woven where it waits, and has no frame of its own since Python 3.12.
_COMPREHENSIONS = frozenset(("<listcomp>", "<setcomp>", "<dictcomp>"))
_ENCLOSING = wire.ENCLOSING * wire.FORMS


class _Waiting:
    """A frame that can wait: its token and code, whether it is suspended, and the points that tell so.

    `hands_on` is set while it waits in `yield from` or `await` for another. `step`, if not 0, is told when it goes on.
    """

    __slots__ = ("code", "hands_on", "resume", "step", "suspend", "suspended", "token")

    def __init__(self, token: int, code: CodeType) -> None:
        self.token = token
        self.code = code
        self.suspended = False
        self.hands_on = False
        self.suspend = self.resume = self.step = 0


class Generators:
    """The frames of one run that have a token."""

    def __init__(self, log: Log, frames: Frames) -> None:
        self._log = log
        self._frames = frames
        self.depth = frames.depth
        self._next_token = 0
        self._waiting: dict[int, _Waiting] = {}  # by the frame object's identity
        self.once: Callable[[Callable[[], None]], Iterator[None]] = _once
        self.before_each: Callable[[Callable[[], None], Any], Iterator[Any]] = _before_each
        self.hook: Callable[[Callable[[Any], None]], Any] = _itself
        self._delegations = 0  # how many frames hand on
        self._owners: dict[int, int] = {}  # a cell's identity: token of the frame that it belongs to
        #: Says which thread it is that goes on; compiled hooks look themselves.
        self.look: Callable[[], None] | None = None

    def _caller(self, further: int = 0) -> FrameType:
        """The frame that calls a hook; before anything is told of it, the thread that it goes on in is."""
        if self.look is not None:
            self.look()
        return this_frame(_CALLER + further)

    # Closures

    def begin_owner(self, point: int) -> None:
        """A frame begins whose names functions defined in it may use."""
        self._frames.ready()
        self._log.wholes.append(self._next_token)
        self._next_token += 1
        self._frames.enter(point)

    def own(self, cells: tuple[CellType, ...] | None) -> None:
        """The cells of the frame that has begun last."""
        self._owners.update(dict.fromkeys(map(id, cells or ()), self._next_token - 1))

    def enclosed(self, cells: tuple[CellType, ...] | None) -> None:
        """The cells of enclosing functions that the frame which has just begun uses."""
        for token in dict.fromkeys(map(self._owners.get, map(id, cells or ()))):
            if token is not None:
                self._log.wholes.append(token)
                self._log.events.append(_ENCLOSING)

    # Loops: their frames may wait between a `continue` and the next pass

    def goes_round(self, untold: list[int]) -> None:
        """A frame's loop goes round, and something is done before it has: then the header is told late."""
        untold.append(id(self._caller()))

    def told_late(self, untold: list[int], header: int) -> None:
        """Tells of a header, if the frame went round without doing so."""
        self._tell_late(self._caller(), untold, header)

    def _tell_late(self, frame: FrameType, untold: list[int], header: int) -> None:
        if id(frame) in untold:
            untold.remove(id(frame))
            self._log.events.append(header)

    # Generators and coroutines

    def _find(self, frame: FrameType | None) -> _Waiting | None:
        its = self._waiting.get(id(frame))
        # A frame object that has gone may have left its identity to another.
        return its if its is not None and frame is not None and its.code is frame.f_code else None

    def begin(self, point: int, frame: FrameType | None = None) -> None:
        """A generator's or coroutine's frame begins, at its first resumption."""
        frame = frame or self._caller()
        self._frames.ready()
        self._wake_below(frame)
        self._waiting[id(frame)] = _Waiting(self._next_token, frame.f_code)
        self.begin_owner(point)

    def suspended(self, suspend: int, resume: int, value: Any) -> Any:
        """The frame is about to hand `value` to whoever resumed it, and to wait; gives the value."""
        frame = self._caller()
        its = self._waiting[id(frame)]
        its.suspended = True
        its.resume = resume
        self._log.tell(suspend, value)
        del self.depth[-1]
        if self._delegations and not its.code.co_flags & CO_ASYNC_GENERATOR:  # one hands to the frame that waits for it
            self._chain_suspended(_below(frame), value)
        return value

    def resumed(self, resume: int, sent: Any) -> Any:
        """The frame has gone on, with `sent` as the value of its `yield`; gives that."""
        frame = self._caller()
        its = self._waiting[id(frame)]
        self._handed_back(its)
        if its.suspended:
            if self._delegations:
                self._wake_below(frame)
            self._went_on(its, resume, sent)
        return sent

    def _went_on(self, its: _Waiting, resume: int, sent: Any) -> None:
        its.suspended = False
        if self._frames.held:
            self._frames.look_at_held()
        self.depth.append(None)
        if sent is not None:
            self._log.registry.plain(sent)  # if it is new, it is told of before
        self._log.wholes.append(its.token)
        self._log.tell(resume, sent)

    def _handed_back(self, its: _Waiting) -> None:
        if its.hands_on:
            its.hands_on = False
            self._delegations -= 1

    def _chain_suspended(self, frame: FrameType | None, value: Any) -> None:
        """Those that wait in `yield from` or `await` for a frame that waits now do so too."""
        while (its := self._find(frame)) is not None and its.hands_on and not its.suspended:
            assert frame is not None
            its.suspended = True
            self._log.tell(its.suspend, value)
            self.depth.pop()
            frame = _below(frame)

    def awake(self, resume: int) -> None:
        """A handler or `finally` begins: an exception may have been thrown into the frame while it waited."""
        self.go_on(self._caller(), resume, None)

    def go_on(self, frame: FrameType, resume: int, sent: Any) -> None:
        """Tells that a frame goes on, if it was suspended."""
        its = self._find(frame)
        if its is not None:
            self._handed_back(its)
            its.resume = resume
            self._wake(its, frame, sent)

    def _wake(self, its: _Waiting | None, frame: FrameType | None, sent: Any = None) -> None:
        """Tells that a suspended frame goes on, and before it those that wait for it, the outermost first."""
        asleep: list[_Waiting] = []
        while its is not None and its.suspended and frame is not None:
            asleep.append(its)
            frame = _below(frame)
            its = self._find(frame)
        while asleep:
            its = asleep.pop()
            self._went_on(its, its.resume, None if asleep else sent)
            if its.step:
                self._log.events.append(its.step)

    def _wake_below(self, frame: FrameType) -> None:
        """Tells that those go on which wait for a frame that begins or goes on."""
        below = _below(frame)
        self._wake(self._find(below), below)

    def delegating(self, suspend: int, resume: int, iterable: Any) -> Any:
        """The frame begins `yield from iterable` or `await iterable`."""
        self._hand_on(self._caller(), suspend, resume, iterable)
        return iterable

    # Between a hook that a stand-in calls and the frame stand the method that was asked and a function.

    def over(self, suspend: int, resume: int, its: Any, untold: list[int] | None = None, header: int = 0) -> Any:
        """The frame begins `async for` over something; gives what stands in for it, and tells of the header where that
        is still to be done when it is asked for more."""
        waits = self.hook(lambda source: self._hand_on(self._caller(_FURTHER), suspend, resume, source))
        if untold is None:
            return implicit_waits.over(its, waits)

        def goes_on(_its: Any) -> None:
            frame = self._caller(_FURTHER)
            if id(frame) in untold:
                self.go_on(frame, resume, None)
                self._tell_late(frame, untold, header)

        return implicit_waits.over(its, waits, self.hook(goes_on))

    def within(self, suspend: int, resume: int, its: Any) -> Any:
        """The frame begins `async with`; gives what stands in for the object."""
        waits = self.hook(lambda source: self._hand_on(self._caller(_FURTHER), suspend, resume, source))
        return implicit_waits.within(its, waits)

    def waits(self, suspend: int, resume: int, iterable: Any) -> Any:
        """The frame begins a comprehension that waits in a frame of its own, or may do so; gives its first iterable."""
        self._hand_on(self._caller(), suspend, resume, None)
        return iterable

    def _hand_on(self, frame: FrameType, suspend: int, resume: int, iterable: Any) -> None:
        its = self._find(frame)
        if its is not None:
            its.suspend, its.resume = suspend, resume
            if not its.hands_on:
                its.hands_on = True
                self._delegations += 1
            if not self._tells(iterable):
                its.suspended = True
                self._log.tell(suspend, None)
                self.depth.pop()
                self._chain_suspended(_below(frame), None)

    def _tells(self, iterable: Any) -> bool:
        """Whether what a frame hands on to is woven, so that it tells itself when it waits."""
        kind = type(iterable)
        if kind is GeneratorType:
            code = iterable.gi_code
        elif kind is CoroutineType:
            code = iterable.cr_code
        elif kind is AsyncGeneratorType:
            code = iterable.ag_code
        else:
            return False
        return is_woven(code, self._log.mark)

    def ended(self, point: int) -> None:
        """The frame has ended: by itself, unless `unwind` told otherwise."""
        frame = self._caller()
        its = self._find(frame)
        if its is not None and its.suspended:  # it left an `async with` and waited for that
            self.go_on(frame, its.resume, None)
        self._gone(frame)
        self._frames.left(point)

    def _gone(self, frame: FrameType) -> None:
        its = self._waiting.pop(id(frame), None)
        if its is not None:
            self._handed_back(its)

    # Generator expressions, in which no statement can stand: around their first iterable stand two others, without
    # elements, that tell where the frame begins and ends

    def begins(self, point: int, step: int) -> Iterator[None]:
        """Stands before the first iterable."""

        def begin() -> None:
            frame = self._caller()
            self.begin(point, frame)
            self._waiting[id(frame)].step = step
            self._log.events.append(step)

        return self.once(begin)

    def asked_again(self, iterator: Iterator[Any]) -> Iterator[Any]:
        """The iterator, asked for one once more when the first element is wanted, with no frame of ours around it."""
        return chain(iterator)

    def ends(self, resume: int, leave: int) -> Iterator[None]:
        """Stands after it."""

        def end() -> None:
            frame = self._caller()
            self.go_on(frame, resume, None)
            self._gone(frame)
            self.depth.pop()
            self._log.tell(leave, None)

        return self.once(end)

    def through(self, resume: int, iterable: Any) -> Iterator[Any]:
        """What stands between them: the iterable, with a look at the frame before each of its elements is asked for."""

        waiting = self._waiting

        def goes_on() -> None:
            frame = self._caller()
            if waiting[id(frame)].suspended:
                self.go_on(frame, resume, None)

        return self.before_each(goes_on, iterable)


def _below(frame: FrameType) -> FrameType | None:
    """The frame that waits for a frame, or called it: comprehensions that wait are not woven."""
    found = frame.f_back
    while found is not None and found.f_code.co_name in _COMPREHENSIONS:
        found = found.f_back
    return found


def _itself(function: Callable[[Any], None]) -> Callable[[Any], None]:
    return function


def _once(function: Callable[[], None]) -> Iterator[None]:
    """An iterator without elements that calls a function when it is asked for one."""
    return iter(function, None)


def _before_each(function: Callable[[], None], iterable: Any) -> Iterator[Any]:
    """An iterator that calls a function before each element of another one is asked for."""
    return map(_SECOND, zip(iter(function, 0), iterable, strict=False))
