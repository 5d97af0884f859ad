"""What is said while a program runs: where it stands now, and for how long."""

from __future__ import annotations

import time

from PyQt6.QtCore import QObject, QTimer

from eelgrass.desktop.services.messages import Choice, Message, Messages
from eelgrass.desktop.services.translation import tr
from eelgrass.desktop.workspace.running.program_run import ProgramRun
from eelgrass.reading.recording import Recording
from eelgrass.reading.standing_place import standing_place
from eelgrass.reading.threads.waiting import Threads, waiting_at_the_end

_EVERY_MS = 1000
#: So long a circle of threads has to stand until the run is ended.
_DEADLOCK_SECONDS = 3


class StillRunning(QObject):
    """Says so once a second, from the first second on; a program that waits for input says so itself."""

    def __init__(self, run: ProgramRun, messages: Messages) -> None:
        super().__init__()
        self._run = run
        self._messages = messages
        self._steps, self._since = -1, 0.0
        self._told_of: Recording | None = None
        self._waits = Threads(-1, [], [])  # who waits for what, in that recording
        self._clock = QTimer(self)
        self._clock.setInterval(_EVERY_MS)
        self._clock.timeout.connect(self._say)
        run.changed.connect(self._follow)

    def _follow(self) -> None:
        if not self._run.is_running or self._run.is_waiting:
            self._clock.stop()
            self._steps = -1
            self._messages.over(self)
            return
        steps = len(self._run.latest.trace.steps) if self._run.latest is not None else 0
        if steps != self._steps:
            self._steps, self._since = steps, time.monotonic()
        if not self._clock.isActive():
            self._clock.start()

    def _say(self) -> None:
        seconds = int(time.monotonic() - self._since)
        latest = self._run.latest
        how_long = tr("for {0:,} seconds").format(seconds) if seconds > 1 else tr("for a second")
        if latest is None or not len(latest.stepping.stops):
            told = tr("The program is running, {0}.").format(how_long)
        elif not seconds:
            told = tr("The program is running. The first {0:,} steps are here.").format(len(latest.trace.steps))
        else:
            if latest is not self._told_of:
                self._told_of, self._waits = latest, waiting_at_the_end(latest)
            told = tr("The program is running: {0}, {1}. What it did until then is here.").format(
                standing_place(latest), how_long
            )
            told = f"{told} {self._waits.text}".rstrip()
            if self._waits.deadlock and seconds >= _DEADLOCK_SECONDS:
                self._run.end_for(tr("The run was stopped: nobody could go on any more."))
        self._messages.stand(self, Message(told, choices=(Choice(tr("Stop it"), self._run.stop),)))
