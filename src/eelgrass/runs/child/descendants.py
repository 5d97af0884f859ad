"""Ending what a program has started, where it shares this process's group: by way of Linux's subreapers (prctl(2))."""

from __future__ import annotations

import os
import signal
import time
from contextlib import suppress
from pathlib import Path

from eelgrass.recorder.confinement.numbers import number_of
from eelgrass.recorder.confinement.system_calls import system_call

_SET_SUBREAPER = 36
_SECONDS = 2.0


def adopt() -> None:
    """Processes whose parent ends become this process's own from now on."""
    with suppress(OSError):
        system_call(number_of("prctl"), _SET_SUBREAPER, 1, 0, 0, 0)


def end_all() -> None:
    """Ends all processes that descend from this one: each that is ended hands over those that it had started."""
    until = time.monotonic() + _SECONDS
    while (children := _children()) and time.monotonic() < until:
        for child in children:
            with suppress(OSError):
                os.kill(child, signal.SIGKILL)
                os.waitpid(child, 0)


def _children() -> list[int]:
    with suppress(OSError):
        tasks = Path("/proc/self/task")
        return [int(child) for its in tasks.iterdir() for child in (its / "children").read_text().split()]
    return []
