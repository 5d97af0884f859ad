"""Say it first: the run is shown only as far as the student has said what comes next."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QObject, pyqtSignal

from eelgrass.desktop.session.session import Session
from eelgrass.lessons.answering.answer import Said
from eelgrass.lessons.answering.prediction_points import asked_at, prediction_at
from eelgrass.lessons.answering.predictions import Prediction, judged
from eelgrass.lessons.exercises.plan import PlannedQuestion
from eelgrass.reading.recording import Recording
from eelgrass.trace.columns import between

#: So many stops are looked through for the next thing worth asking.
_MOST_STOPS = 3_000


class PredictionMode(QObject):
    """While it is on, a move forward ends at the next step that is to be asked about, and goes on only when something
    was said there, or passed over. These are the instructor's `points`, by step, or, in a recording without any, those
    that are worth it. Signals: `changed`; `answered(Said)`."""

    changed = pyqtSignal()
    answered = pyqtSignal(object)

    def __init__(
        self, session: Session, points: Callable[[Recording], dict[int, PlannedQuestion]] = lambda _recording: {}
    ) -> None:
        super().__init__()
        self._session = session
        self._points = points
        self._planned: dict[int, PlannedQuestion] = {}
        self.told = ""
        self.is_right = False
        self.is_held = False
        self._done: set[int] = set()
        self._asked: dict[int, Prediction | None] = {}
        session.opened.connect(self._begin)
        session.moved.connect(self._moved)

    @property
    def is_on(self) -> bool:
        """Whether the student says first."""
        return self._session.horizon is not None

    def set_on(self, on: bool) -> None:
        """Begins at the shown step, or ends."""
        self._session.hold = self._hold if on else None
        self._session.set_horizon(self._session.step if on else None)
        self._begin()

    def _begin(self) -> None:
        self.told, self._done, self._asked = "", set(), {}
        recording = self._session.recording
        self._planned = self._points(recording) if self.is_on and recording is not None else {}
        self.changed.emit()

    def _moved(self) -> None:
        self.told, self.is_held = "", False
        self.changed.emit()

    @property
    def pending(self) -> Prediction | None:
        """What is asked at the shown step and not answered yet."""
        step = self._session.step
        return self._at(step) if self.is_on and step not in self._done and step == self._session.horizon else None

    def _at(self, step: int) -> Prediction | None:
        recording = self._session.recording
        if step not in self._asked:
            self._asked[step] = self._worked_out(recording, step) if recording is not None else None
        return self._asked[step]

    def _worked_out(self, recording: Recording, step: int) -> Prediction | None:
        if self._planned:
            return asked_at(recording, step, self._planned[step]) if step in self._planned else None
        return prediction_at(recording, step)

    def _hold(self, now: int, target: int) -> int:
        """How far a move may go."""
        recording = self._session.recording
        if recording is None or target <= (self._session.horizon or 0):
            return target
        if self.pending is not None:
            self.is_held = True
            self.changed.emit()
            return now
        stops = recording.stepping.stops
        for step in stops[between(stops, now + 1, target + 1)][:_MOST_STOPS].tolist():
            if self._at(step) is not None and step not in self._done:
                return int(step)
        return target

    def take_line(self, line: int) -> bool:
        """A click on a line says that it runs next, when that is asked; gives whether it was."""
        pending = self.pending
        is_asked = pending is not None and pending.kind == "line"
        if is_asked:
            self.answer(str(line))
        return is_asked

    def answer(self, text: str) -> None:
        """What the student says; judged at once."""
        asked, recording = self.pending, self._session.recording
        if asked is None or recording is None or not text.strip():
            return
        verdict = judged(asked, text)
        self._done.add(asked.step)
        self.told, self.is_right, self.is_held = verdict.told, verdict.is_right, False
        self.changed.emit()
        line = recording.trace.line_of(asked.step)
        self.answered.emit(Said(line, asked.ask, text.strip(), asked.expected, verdict.is_right))

    def pass_over(self) -> None:
        """Nothing is said here."""
        if self.pending is not None:
            self._done.add(self._session.step)
            self.is_held = False
            self.changed.emit()
