"""What a run may use, and what is said when it uses more."""

from __future__ import annotations

import os
from time import perf_counter, process_time

from eelgrass.recorder import wire
from eelgrass.recorder.order import ChildOrder

#: Usually so many events are handed over at once.
FULL = 8192


class Limits:
    """0 means no limit. `max_seconds` is wall time without the time spent waiting for input; `max_output` counts
    characters. `kinds` is the kind of each point; it grows. All of them are looked at when events are handed over;
    that a program waits too long is the parent's to see."""

    def __init__(self, order: ChildOrder, kinds: bytearray) -> None:
        self.max_steps = order.max_steps
        self.max_seconds = order.max_seconds
        self.max_processor_seconds = order.max_processor_seconds
        self.max_memory_mib = order.max_memory_mib
        self.max_output = order.max_output
        self.written = 0
        self._kinds = kinds
        self._steps = 0
        self._uncounted: list[list[int]] = []
        self._uncounted_events = 0

    def note(self, events: list[int]) -> None:
        """Some more events have happened."""
        if self.max_steps:
            self._uncounted.append(events)
            self._uncounted_events += len(events)

    def passed(self, started: float, waited: float) -> tuple[str, str] | None:
        """(the name of a limit that is passed, a sentence), or None. `started` is in `time.perf_counter` seconds."""
        if self.max_steps and self._too_many_steps():
            return "max_steps", f"The run was stopped after {self.max_steps:,} steps, which is the limit."
        if self.max_seconds and perf_counter() - started - waited > self.max_seconds:
            return "max_seconds", f"The run was stopped because it took longer than {self.max_seconds:g} seconds."
        if self.max_processor_seconds and process_time() > self.max_processor_seconds:
            most = f"{self.max_processor_seconds:g} seconds of processor time"
            return "max_processor_seconds", f"The run was stopped because it used more than {most}."
        if self.max_memory_mib and _resident_mib() > self.max_memory_mib:
            most = f"{self.max_memory_mib:,} MiB of memory"
            return "max_memory_mib", f"The run was stopped because it used more than {most}."
        if self.max_output and self.written > self.max_output:
            most = f"{self.max_output:,} characters"
            return "max_output", f"The run was stopped because it wrote more than {most}."
        return None

    def _too_many_steps(self) -> bool:
        """Counts only when there are as many events as steps are left, since counting costs and steps are events."""
        if self._steps + self._uncounted_events <= self.max_steps:
            return False
        kinds = self._kinds
        for events in self._uncounted:
            self._steps += sum(kinds[event // wire.FORMS] in wire.STEPS for event in events)
        self._uncounted.clear()
        self._uncounted_events = 0
        return self._steps > self.max_steps


def hand_over_at(max_steps: int) -> int:
    """How many events are collected before they are handed over, and the limits looked at."""
    return min(FULL, max(max_steps // 4, 64)) if max_steps else FULL


def _resident_mib() -> float:
    try:
        with open("/proc/self/statm", "rb") as file:
            return int(file.read().split()[1]) * os.sysconf("SC_PAGE_SIZE") / (1 << 20)
    except (OSError, ValueError, IndexError):
        return 0.0
