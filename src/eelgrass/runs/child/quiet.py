"""A child of which nothing is heard: it sleeps, waits, or does little. It is asked what it has by now."""

from __future__ import annotations

import subprocess
import time
from pathlib import Path

from eelgrass.runs.child.child_process import TELL_SIGNAL

#: So long nothing has to be heard, and so long at most between two times that it is asked in vain.
QUIET_SECONDS, MOST_SECONDS = 0.25, 4.0
#: Numbers of system calls that any signal ends: `pause`, `rt_sigtimedwait` and `rt_sigsuspend`, on x86-64 and aarch64.
_ENDED_BY_SIGNALS = frozenset((b"34", b"128", b"130", b"133", b"137"))


class Quiet:
    """`due`: when the child is to be asked, in monotonic seconds; None before it has said anything, when it
    might not hear. `in_vain`: whether it was asked and has not answered."""

    def __init__(self, process: subprocess.Popen[bytes]) -> None:
        self._process = process
        self._next = QUIET_SECONDS
        self.due: float | None = None
        self.in_vain = False

    def end(self) -> None:
        """Something is heard."""
        self._next, self.in_vain = QUIET_SECONDS, False
        self.due = time.monotonic() + self._next

    def ask_if_due(self) -> None:
        """Asks, if it is time, and asking cannot change what the program does."""
        if self.due is None or time.monotonic() < self.due:
            return
        if not self._would_be_ended():
            self.in_vain = True
            self._process.send_signal(TELL_SIGNAL)
        self._next = min(2 * self._next, MOST_SECONDS)
        self.due = time.monotonic() + self._next

    def _would_be_ended(self) -> bool:
        try:
            its = Path(f"/proc/{self._process.pid}/syscall").read_bytes()
        except OSError:  # not shown here
            return False
        return its.split(b" ", 1)[0] in _ENDED_BY_SIGNALS
