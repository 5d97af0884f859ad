"""A clock whose readings are kept, or that runs by readings kept before, for programs that ask what time it is."""

from __future__ import annotations

import time
from collections.abc import Callable
from typing import Any

#: The functions of the module `time` that read a clock.
READINGS = ("time", "monotonic", "perf_counter", "process_time")
#: More readings of one clock than this are not kept.
MOST_READINGS = 60_000
_NANO = 1_000_000_000


class Clock:
    """Stands in for the clock once `set_up`. `kept`: the readings of each function, in seconds and in order; those
    `given` are handed out first, and from then on time goes on from the last of them."""

    def __init__(self, given: dict[str, list[float]]) -> None:
        self.kept: dict[str, list[float]] = {name: [] for name in READINGS}
        self._given = given
        self._plain: dict[str, Callable[[], float]] = {name: getattr(time, name) for name in READINGS}
        self._offset: dict[str, float] = {}

    def set_up(self, module: Any) -> None:
        """Replaces the functions of `module`, which is the program's `time`."""
        for name in READINGS:
            setattr(module, name, self._reader(name))
            setattr(module, name + "_ns", self._reader(name, nanoseconds=True))

    def _reader(self, name: str, nanoseconds: bool = False) -> Callable[[], float]:
        def read() -> float:
            seconds = self.read(name)
            return round(seconds * _NANO) if nanoseconds else seconds

        read.__name__ = read.__qualname__ = name + ("_ns" if nanoseconds else "")
        return read

    def read(self, name: str) -> float:
        """One reading, in seconds."""
        kept, given = self.kept[name], self._given.get(name, [])
        if len(kept) < len(given):
            reading = given[len(kept)]
            self._offset[name] = reading - self._plain[name]()
        else:
            reading = self._plain[name]() + self._offset.get(name, 0.0)
        if len(kept) < MOST_READINGS:
            kept.append(reading)
        return reading
