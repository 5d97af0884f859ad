"""What threads do with their turns, as it is told."""

from __future__ import annotations

import numpy as np

from eelgrass.recorder import wire
from eelgrass.trace.building.frame_builder import Events
from eelgrass.trace.building.stream import Chunk, Layout, impossible
from eelgrass.trace.columns import Column
from eelgrass.trace.model import MOST_THREADS, Turns


class ThreadBuilder:
    """Takes chunks in order."""

    def __init__(self) -> None:
        self._columns = {name: Column("u1" if name == "what" else "i4") for name in ("step", "thread", "what", "other")}
        self._on = 0

    def chunk(self, chunk: Chunk, events: Events, layout: Layout) -> None:
        """Adds what a chunk tells. Raises StreamError when it cannot be."""
        switched = events.kinds == wire.THREAD
        told = np.flatnonzero(events.kinds == wire.TURN)
        if not len(told) and not switched.any():
            return
        latest = np.maximum.accumulate(np.where(switched, np.arange(len(switched)), -1))
        on = np.where(latest >= 0, events.tokens[latest], self._on)
        self._on = int(on[-1])
        what, other = (chunk.wholes[layout.whole[told] + place] for place in range(2))
        if ((what < 0) | (what > wire.STARTS) | (other < -1) | (other > MOST_THREADS)).any():
            impossible("a thread does what none can do")
        for name, column in (("step", events.step_of[told]), ("thread", on[told]), ("what", what), ("other", other)):
            self._columns[name].extend(column)

    def view(self) -> Turns:
        """All that was told so far."""
        return Turns(**{name: column.view() for name, column in self._columns.items()})
