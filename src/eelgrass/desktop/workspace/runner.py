"""The bridge between a run, which has threads of its own, and the window's thread."""

from __future__ import annotations

import sys
from typing import Literal

from PyQt6.QtCore import QObject, pyqtSignal

from eelgrass.reading.recording import Recording
from eelgrass.runs.order import Order
from eelgrass.runs.run import Run
from eelgrass.trace.model import Trace

_What = Literal["waiting", "progressed", "quiet", "ended"]


class Runner(QObject):
    """Runs one program at a time.

    Signals, delivered on the window's thread: `waiting(Recording)` when the program waits for input that has not been
    prepared, `progressed(Recording)` when a long run has come further, `quiet(Recording)` when one that sleeps, waits
    or does little has; then one of `ended(Recording)` when the run is complete and `failed` when, through an error of
    ours, nothing came of it. What is typed is kept in `typed`, for the next run.
    """

    waiting = pyqtSignal(object)
    progressed = pyqtSignal(object)
    quiet = pyqtSignal(object)
    ended = pyqtSignal(object)
    failed = pyqtSignal()
    _told = pyqtSignal(object, object, str)

    def __init__(self) -> None:
        super().__init__()
        self.run: Run | None = None
        self.typed: list[str] = []
        self._prepared: list[str] = []
        self._told.connect(self._take)

    @property
    def is_running(self) -> bool:
        """Whether a program is on its way."""
        return self.run is not None

    def start(self, order: Order, prepared: list[str]) -> None:
        """Starts a run; `prepared` lines are typed for the person. Raises CannotRunError and OSError."""
        self.forget()
        run = Run(
            order,
            on_waiting=lambda trace: self._tell(run, trace, "waiting"),
            on_progress=lambda trace: self._tell(run, trace, "progressed"),
            on_quiet=lambda trace: self._tell(run, trace, "quiet"),
            on_end=lambda trace: self._tell(run, trace, "ended"),
        )
        typed, self.typed, self._prepared, self.run = self.typed, [], list(prepared), run
        try:
            run.start()
        except BaseException:
            self.run, self.typed = None, typed
            raise

    def _tell(self, run: Run, trace: Trace, what: _What) -> None:
        """On the run's thread: prepares the recording's indexes there, then hands it over. An error of ours is handed
        over in its place, or the window would wait for the run for ever."""
        try:
            recording: Recording | BaseException = Recording(trace)
            assert isinstance(recording, Recording)
            recording.prepare()
        except BaseException as error:
            recording = error
        self._told.emit(run, recording, what)

    def _take(self, run: Run, recording: Recording | BaseException, what: _What) -> None:
        if run is not self.run:
            return
        if isinstance(recording, BaseException):
            self.forget()
            sys.excepthook(type(recording), recording, recording.__traceback__)
            self.failed.emit()
        elif what == "ended":
            self.run = None
            self.ended.emit(recording)
        elif what == "progressed":
            self.progressed.emit(recording)
        elif what == "quiet":
            self.quiet.emit(recording)
        elif self._prepared:
            self.type_line(self._prepared.pop(0))
        else:
            self.waiting.emit(recording)

    def type_line(self, line: str) -> None:
        """Gives the waiting program a line."""
        if self.run is not None:
            self.typed.append(line)
            self.run.type_line(line)

    def end_input(self) -> None:
        """Tells the waiting program that there is no more input."""
        if self.run is not None:
            self.run.end_input()

    def stop(self) -> None:
        """Stops the run; `ended` follows with what was recorded."""
        if self.run is not None:
            self.run.stop()

    def forget(self) -> None:
        """Stops the run without wanting to hear of it again: something else is being opened."""
        self.stop()
        self.run = None
