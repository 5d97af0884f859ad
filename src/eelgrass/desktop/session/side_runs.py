"""Side runs asked for in the window: one at a time, on a thread of their own."""

from __future__ import annotations

from PyQt6.QtCore import QObject, pyqtSignal

from eelgrass.desktop.services.background import Seeker
from eelgrass.desktop.services.translation import tr
from eelgrass.desktop.session.session import Session
from eelgrass.reading.expressions.batch import Progress
from eelgrass.reading.expressions.expression import ExpressionError, parse_expression
from eelgrass.reading.recording import Recording
from eelgrass.reading.watches import side_run_check
from eelgrass.runs.side_run import SideRunError, ask_aside


def answered(recording: Recording, step: int, frame: int, text: str, going: Progress) -> str:
    """What a side run to a step says to a question asked from a frame, in a sentence."""
    try:
        side_run_check.need_harmless(recording, parse_expression(text))
        told = ask_aside(recording.trace, step, side_run_check.frames_out(recording, frame, step), text, going.given_up)
    except (ExpressionError, SideRunError) as error:
        return str(error)
    other = side_run_check.difference(recording, frame, step, told.written, told.names)
    gave = tr("raises {0}").format(told.raised) if told.raised else f"{told.text}   ({side_run_check.word(told.type)})"
    return other or tr("Side run to step {0}, {1:.1f} s: {2} = {3}").format(step, told.seconds, text, gave)


class SideRuns(QObject):
    """`said` tells the sentence about the side run that was asked for last."""

    said = pyqtSignal(str)

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self.seeker = Seeker("side-run")
        self.seeker.found.connect(lambda sentence: self.said.emit(sentence or tr("The side run failed.")))
        session.opened.connect(self.seeker.give_up)

    def ask(self, text: str, frame: int) -> None:
        """Asks a question at the shown step, from a frame, in a run apart."""
        recording, step = self._session.recording, self._session.step
        if recording is not None:
            self.said.emit(tr("Running apart, up to step {0} …").format(step))
            self.seeker.seek(lambda going: answered(recording, step, frame, text, going))
