"""Side runs asked for in the window: one at a time, on a thread of their own."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QObject, pyqtSignal

from eelgrass.desktop.services.background import Lane
from eelgrass.desktop.services.translation import tr
from eelgrass.desktop.session.session import Session
from eelgrass.errors import EelgrassError
from eelgrass.reading.expressions.expression import parse_expression
from eelgrass.reading.progress import Progress
from eelgrass.reading.recording import Recording
from eelgrass.reading.watches import side_run_check
from eelgrass.runs.order import Leave
from eelgrass.runs.side_run import ask_aside


def answered(recording: Recording, step: int, frame: int, text: str, leave: Leave, progress: Progress) -> str:
    """What a side run to a step says to an expression asked from a frame, in a sentence. Raises ExpressionError and
    SideRunError."""
    side_run_check.need_harmless(recording, parse_expression(text))
    up = side_run_check.frames_out(recording, frame, step)
    told = ask_aside(recording.trace, step, up, text, progress.when_given_up, leave)
    other = side_run_check.difference(recording, frame, step, told.written, told.names)
    gave = tr("raises {0}").format(told.raised) if told.raised else f"{told.text}   ({side_run_check.word(told.type)})"
    return other or tr("Side run to step {0}, {1:.1f} s: {2} = {3}").format(step, told.seconds, text, gave)


class SideRuns(QObject):
    """`said` tells the sentence about the side run that was asked for last; `leave` what its program may reach."""

    said = pyqtSignal(str)

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self.leave: Callable[[], Leave] = Leave
        self.lane = Lane("side-run")
        self.lane.done.connect(self.said.emit)
        self.lane.failed.connect(self._take_failure)
        session.opened.connect(self.lane.give_up)

    def _take_failure(self, error: Exception) -> None:
        self.said.emit(str(error) if isinstance(error, EelgrassError) else tr("The side run failed."))

    def ask(self, text: str, frame: int) -> None:
        """Asks an expression at the shown step, from a frame, in a run apart."""
        recording, step = self._session.recording, self._session.step
        if recording is not None:
            self.said.emit(tr("Running apart, up to step {0} …").format(step))
            leave = self.leave()
            self.lane.start(lambda progress: answered(recording, step, frame, text, leave, progress))
