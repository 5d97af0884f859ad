"""Side runs asked for in the window: one at a time, on a thread of their own."""

from __future__ import annotations

from PyQt6.QtCore import QObject, pyqtSignal

from eelgrass.desktop.services.background import Seeker
from eelgrass.desktop.services.translation import tr
from eelgrass.desktop.session.session import Reader
from eelgrass.reading.expressions.batch import Going
from eelgrass.reading.expressions.expression import QuestionError, question
from eelgrass.reading.recording import Recording
from eelgrass.reading.watches import side_run_check
from eelgrass.runs.side_run import SideRunError, ask_aside


def answered(recording: Recording, step: int, frame: int, text: str, going: Going) -> str:
    """What a side run to a step says to a question asked from a frame, in a sentence."""
    try:
        side_run_check.need_harmless(recording, question(text))
        told = ask_aside(recording.trace, step, side_run_check.frames_out(recording, frame, step), text, going.given_up)
    except (QuestionError, SideRunError) as error:
        return str(error)
    other = side_run_check.difference(recording, frame, step, told.written, told.names)
    gave = tr("raises {0}").format(told.raised) if told.raised else f"{told.text}   ({side_run_check.word(told.type)})"
    return other or tr("Side run to step {0}, {1:.1f} s: {2} = {3}").format(step, told.seconds, text, gave)


class SideRuns(QObject):
    """`said` tells the sentence about the side run that was asked for last."""

    said = pyqtSignal(str)

    def __init__(self, reader: Reader) -> None:
        super().__init__()
        self._reader = reader
        self.seeker = Seeker("side-run")
        self.seeker.found.connect(lambda sentence: self.said.emit(sentence or tr("The side run failed.")))
        reader.opened.connect(self.seeker.give_up)

    def ask(self, text: str, frame: int) -> None:
        """Asks a question at the shown step, from a frame, in a run apart."""
        recording, step = self._reader.recording, self._reader.step
        if recording is not None:
            self.said.emit(tr("Running apart, up to step {0} …").format(step))
            self.seeker.seek(lambda going: answered(recording, step, frame, text, going))
