"""The bridge between a run, which has threads of its own, and the window's thread."""

from __future__ import annotations

import sys
from typing import Literal

from PyQt6.QtCore import QObject, pyqtSignal

from eelgrass.reading.recording import Recording
from eelgrass.runs.order import Order, Typed
from eelgrass.runs.run import Run
from eelgrass.trace.model import Trace

_What = Literal["waiting", "progressed", "quiet", "ended"]


class Runner(QObject):
    """Runs one program at a time.

    Signals, delivered on the window's thread: `waiting(Recording)` when the program waits for input that has not been
    prepared, `going` when it has what it waited for, `progressed(Recording)` when a long run has come further,
    `quiet(Recording)` when one that sleeps, waits or does little has; then one of `ended(Recording)` when the run is
    complete and `failed` when, through an error of ours, nothing came of it. What is typed is kept in `typed`, for the
    next run.
    """

    waiting = pyqtSignal(object)
    going = pyqtSignal()
    progressed = pyqtSignal(object)
    quiet = pyqtSignal(object)
    ended = pyqtSignal(object)
    failed = pyqtSignal()
    _told = pyqtSignal(object, object, str)
    _has_gone = pyqtSignal(object)

    def __init__(self) -> None:
        super().__init__()
        self.run: Run | None = None
        self._lines: list[str] = []
        self._has_ended = self._is_waiting = False
        self._prepared, self._prepared_end = list[str](), False
        self._has_gone.connect(self._note_going)
        self._told.connect(self._take)

    @property
    def is_running(self) -> bool:
        """Whether a program is on its way."""
        return self.run is not None

    @property
    def typed(self) -> Typed:
        """What was typed into the run so far, in time or ahead."""
        return Typed((*self._lines, *self._prepared), self._has_ended or self._prepared_end)

    @property
    def ahead(self) -> int:
        """How many lines are typed that the program has not asked for yet."""
        return len(self._prepared)

    def start(self, order: Order, prepared: Typed) -> None:
        """Starts a run; what is `prepared` is typed for the person. Raises CannotRunError and OSError."""
        self.forget()
        run = Run(
            order,
            on_waiting=lambda trace: self._tell(run, trace, "waiting"),
            on_progress=lambda trace: self._tell(run, trace, "progressed"),
            on_quiet=lambda trace: self._tell(run, trace, "quiet"),
            on_going=lambda: self._has_gone.emit(run),
            on_end=lambda trace: self._tell(run, trace, "ended"),
        )
        before = self.typed
        self._take_typed(Typed(), prepared)
        self.run = run
        try:
            run.start()
        except BaseException:
            self.run = None
            self._take_typed(before, Typed())
            raise

    def _take_typed(self, typed: Typed, prepared: Typed) -> None:
        self._lines, self._has_ended = list(typed.lines), typed.ends
        self._prepared, self._prepared_end = list(prepared.lines), prepared.ends
        self._is_waiting = False

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
        elif not self._has_ended:
            self._give_prepared(run, recording)

    def _give_prepared(self, run: Run, recording: Recording) -> None:
        has_given = False
        while self._prepared and (run.wants_more or not has_given):
            self._give(self._prepared.pop(0))
            has_given = True
        if self._prepared_end and (run.wants_more or not has_given):
            self._end()
        elif run.wants_more or not has_given:
            self._is_waiting = True
            self.waiting.emit(recording)

    def _note_going(self, run: Run) -> None:
        if run is self.run:
            self._is_waiting = False
            self.going.emit()

    def _give(self, line: str) -> None:
        assert self.run is not None
        self._lines.append(line)
        self.run.type_line(line)

    def _end(self) -> None:
        assert self.run is not None
        self._has_ended, self._prepared_end = True, False
        self.run.end_input()

    def type_line(self, line: str) -> None:
        """Gives the program a line: now if it waits for one, else when it asks."""
        if self.run is None or self.typed.ends:
            return
        if self._is_waiting:
            self._give(line)
        else:
            self._prepared.append(line)

    def end_input(self) -> None:
        """Tells the program that there is no more input, after what is typed ahead."""
        if self.run is None or self.typed.ends:
            return
        if self._is_waiting:
            self._end()
        else:
            self._prepared_end = True

    def stop(self) -> None:
        """Stops the run; `ended` follows with what was recorded."""
        if self.run is not None:
            self.run.stop()

    def forget(self) -> None:
        """Stops the run without wanting to hear of it again: something else is being opened."""
        self.stop()
        self.run = None
