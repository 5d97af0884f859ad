"""What statements in progress hold in hand until they are over."""

from __future__ import annotations

from collections.abc import Iterator
from sys import _getframe as this_frame
from types import TracebackType
from typing import Any

from eelgrass.recorder.packing import IS_COMPILED

#: How far up the frame is that calls a hook: compiled hooks have none of their own.
_CALLER = 0 if IS_COMPILED else 1


class Held:
    """Things by the frame that holds them: others may run meanwhile, as coroutines do, and end in any order.

    `hold` and `take` are called by woven text itself, since the frame is the one that calls them.
    """

    def __init__(self) -> None:
        self._of: dict[int, list[Any]] = {}  # by the frame's identity; the latest last

    def hold(self, thing: Any) -> Any:
        """Keeps an object or key until `take`."""
        key = id(this_frame(_CALLER))
        held = self._of.get(key)
        if held is None:
            self._of[key] = [thing]
        else:
            held.append(thing)
        return thing

    def take(self) -> Any:
        """What this frame held last."""
        key = id(this_frame(_CALLER))
        held = self._of.get(key)
        if held is None:
            return None
        thing = held.pop()
        if not held:
            del self._of[key]
        return thing

    def dropped(self, trace: TracebackType | None) -> Iterator[Any]:
        """What the frames that an exception went through have held, which no one takes any more."""
        while trace is not None and self._of:
            yield from self._of.pop(id(trace.tb_frame), ())
            trace = trace.tb_next

    def clear(self) -> None:
        """Lets go of everything."""
        self._of.clear()
