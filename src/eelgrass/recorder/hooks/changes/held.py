"""What statements in progress hold in hand until they are over."""

from __future__ import annotations

from collections.abc import Iterator
from sys import _getframe as this_frame
from types import TracebackType
from typing import Any


class Held:
    """Things by the frame that holds them: others may run meanwhile, as coroutines do, and end in any order.

    `hold` and `take` are called by woven text itself, since the frame is the one that calls them. Compiled hooks
    know it by themselves.
    """

    def __init__(self) -> None:
        self.of: dict[int, list[Any]] = {}  # by the frame's identity; the latest last

    def hold(self, thing: Any) -> Any:
        """Keeps an object or key until `take`."""
        self.keep(id(this_frame(1)), thing)
        return thing

    def take(self) -> Any:
        """What this frame held last."""
        return self.take_back(id(this_frame(1)))

    def keep(self, frame: int, thing: Any) -> None:
        """As `hold`, for the frame of this identity."""
        held = self.of.get(frame)
        if held is None:
            self.of[frame] = [thing]
        else:
            held.append(thing)

    def take_back(self, frame: int) -> Any:
        """As `take`, for the frame of this identity; None where nothing is held."""
        held = self.of.get(frame)
        if held is None:
            return None
        thing = held.pop()
        if not held:
            del self.of[frame]
        return thing

    def latest(self) -> list[Any]:
        """What the frame holds that began to hold last."""
        return self.of[next(reversed(self.of))]

    def dropped(self, trace: TracebackType | None) -> Iterator[Any]:
        """What the frames that an exception went through have held, which no one takes any more."""
        while trace is not None and self.of:
            yield from self.of.pop(id(trace.tb_frame), ())
            trace = trace.tb_next

    def clear(self) -> None:
        """Lets go of everything."""
        self.of.clear()
