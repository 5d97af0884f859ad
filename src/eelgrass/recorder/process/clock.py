"""Time and chance as a program sees them: a clock whose readings are kept, or that runs by readings kept before, and
random bytes that are drawn from a seed."""

from __future__ import annotations

import time
from _operator import index
from _random import Random
from collections.abc import Callable
from contextlib import suppress
from typing import Any

from eelgrass.recorder.packing import IS_COMPILED

if IS_COMPILED:
    from eelgrass.recorder.process import readings

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
        self.is_set_up = self.is_counted = False

    def set_up(self, module: Any) -> None:
        """Replaces the functions of `module`, which is the program's `time`."""
        self.is_set_up = True
        for name in READINGS:
            for its, is_ns in ((name, False), (name + "_ns", True)):
                plain = getattr(module, its)
                setattr(module, its, readings.clock(plain, self.read) if IS_COMPILED else self._reader(name, is_ns))

    def set_up_dates(self) -> None:
        """Before the program's `datetime` is loaded: what is *now* there is a reading of the clock, too, where that can
        be had."""
        with suppress(ImportError):
            from _datetime import datetime, timezone  # type: ignore[import-not-found]

            if IS_COMPILED:
                readings.put_dates(datetime, timezone.utc)

    def count(self, seconds: Callable[[], float]) -> None:
        """From now on time goes on as `seconds` says, which counts from 0."""

        def counted(began: float) -> Callable[[], float]:
            return lambda: began + seconds()

        self.is_counted = True
        self._plain = {name: counted(plain()) for name, plain in self._plain.items()}

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


def drawn_from(seed: int, plain: Any) -> Any:
    """What stands in for `plain`, which is `os.urandom`: bytes that follow from a seed."""
    source = Random(seed)
    if IS_COMPILED:
        return readings.chance(plain, source.getrandbits)

    def urandom(size: Any, /) -> bytes:
        count = index(size)
        if count < 0:
            raise ValueError("negative argument not allowed")
        return source.getrandbits(8 * count).to_bytes(count, "little") if count else b""

    return urandom
