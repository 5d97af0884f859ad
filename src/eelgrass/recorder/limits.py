"""What a run may use, and what is said when it uses more."""

from __future__ import annotations

import os
import time


class Limits:
    """0 means no limit. `max_seconds` is wall time without the time spent waiting for input."""

    def __init__(self, max_steps: int = 0, max_seconds: float = 0.0, max_memory_mib: int = 0) -> None:
        self.max_steps = max_steps
        self.max_seconds = max_seconds
        self.max_memory_mib = max_memory_mib

    def broken(self, steps: int, started: float, waited: float) -> str | None:
        """A sentence when one of the limits is passed, else None. `started` and now are `time.perf_counter` seconds."""
        if self.max_steps and steps >= self.max_steps:
            return f"The run was stopped after {steps:,} steps; the limit is {self.max_steps:,} steps."
        if self.max_seconds and time.perf_counter() - started - waited > self.max_seconds:
            return f"The run was stopped because it took longer than {self.max_seconds:g} seconds."
        if self.max_memory_mib and _resident_mib() > self.max_memory_mib:
            return f"The run was stopped because it used more than {self.max_memory_mib} MiB of memory."
        return None


def _resident_mib() -> float:
    try:
        with open("/proc/self/statm", "rb") as file:
            return int(file.read().split()[1]) * os.sysconf("SC_PAGE_SIZE") / (1 << 20)
    except (OSError, ValueError, IndexError):
        return 0.0
