"""Call stacks where events do not nest like brackets: walked through one event after the other."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field

from eelgrass.trace.building.stream import impossible
from eelgrass.trace.model import MOST_THREADS


@dataclass
class Walk:
    """What a walk over some events has found: the frame of each, the caller and thread of each frame that opened, and
    the frames that were lost, with the place of the event that shows it: they have ended without saying so."""

    frame_of: list[int] = field(default_factory=list)
    callers: list[int] = field(default_factory=list)
    threads: list[int] = field(default_factory=list)
    lost: list[tuple[int, int]] = field(default_factory=list)


class Stacks:
    """One stack of open frames for each thread, outermost first.

    A frame that is found to have been left without a word has ended, by an exception; or, if it is one that can wait,
    it waits without having said so, and may be found again.
    """

    def __init__(self) -> None:
        self.thread = 0
        self._others: dict[int, list[int]] = {}  # of the threads that wait for their turn
        self._waiting: dict[int, list[int]] = {}  # by function: frames that wait untold

    def switch(self, stack: list[int], thread: int) -> list[int]:
        """The stack of another thread, which goes on where this one waits. Raises StreamError."""
        if not 0 <= thread <= MOST_THREADS:  # they need not come on in the order in which they were started
            impossible("there is no such thread")
        self._others[self.thread] = stack
        self.thread = thread
        return self._others.pop(thread, [])

    def opens(self, stack: list[int], frame: int, function: int, walk: Walk, goes_on: bool) -> None:
        """A frame begins, or goes on."""
        if goes_on and frame in stack:  # it waited untold
            del stack[stack.index(frame) :]
        if frame in self._waiting.get(function, ()):
            self._waiting[function].remove(frame)
        walk.threads.append(self.thread)
        walk.callers.append(stack[-1] if stack else -1)
        stack.append(frame)

    def find(
        self, stack: list[int], function: int, functions: Callable[[int], int], waits: Callable[[int], bool], walk: Walk
    ) -> None:
        """Puts the innermost open frame of `function` on top of the stack. Raises StreamError when there is none."""
        place = len(stack) - 1
        while place >= 0 and functions(stack[place]) != function:
            place -= 1
        if place < 0:
            if not self._waiting.get(function):
                impossible("something happens in a frame that never began")
            stack.append(self._waiting[function].pop())
            return
        for frame in stack[place + 1 :]:
            its = functions(frame)
            if waits(its):
                self._waiting.setdefault(its, []).append(frame)
            else:
                walk.lost.append((frame, len(walk.frame_of)))
        del stack[place + 1 :]
