"""The run on view, held against another one."""

from __future__ import annotations

from dataclasses import dataclass
from pathlib import Path

from PyQt6.QtCore import QObject, pyqtSignal

from eelgrass.desktop.services.background import Lane
from eelgrass.desktop.services.translation import tr
from eelgrass.desktop.session.session import Session
from eelgrass.reading.comparing.runs import Comparison, compare
from eelgrass.reading.comparing.sentences import output_words, sentence, value_words
from eelgrass.reading.recording import Recording
from eelgrass.trace.files import recording_file


@dataclass(frozen=True)
class ComparedRow:
    """A difference in words, and the step of the run on view that it leads to (-1: nowhere)."""

    text: str
    step: int


@dataclass(frozen=True)
class _Found:
    name: str
    said: str
    rows: list[ComparedRow]


class RunComparison(QObject):
    """Signals: `compared` when another comparison (or none) is on view; `said(sentence)` when there is none."""

    compared = pyqtSignal()
    said = pyqtSignal(str)

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self.lane = Lane("compare")
        self.lane.done.connect(self._take)
        self.lane.failed.connect(lambda error: self.said.emit(str(error)))
        self.found: _Found | None = None
        session.opened.connect(self._forget)

    def compare_with(self, path: Path) -> None:
        """Holds the run on view against a recording, on another thread."""
        recording = self._session.recording
        if recording is None:
            return
        if not self._session.visible.is_whole:
            self.said.emit(tr("That would give away what comes next."))
            return
        self.found = None
        self.lane.start(lambda _progress: _compared(recording, Recording(recording_file.load(path)), path.name))
        self.compared.emit()

    def _take(self, found: _Found) -> None:
        self.found = found
        self.compared.emit()

    def _forget(self) -> None:
        self.lane.give_up()
        self.found = None
        self.compared.emit()


def _compared(a: Recording, b: Recording, name: str) -> _Found:
    its: Comparison = compare(a, b)
    rows = []
    if its.value is not None:
        words = value_words(a, b, its.value) if its.value.step_a >= 0 and its.value.step_b >= 0 else tr("a value")
        rows.append(ComparedRow(tr("Value: {0}").format(words), its.value.step_a))
    if its.path is not None:
        line = a.trace.line_of(its.path.step_a) if its.path.step_a >= 0 else 0
        rows.append(ComparedRow(tr("Path: the runs part after line {0}").format(line), its.path.step_a))
    if its.output is not None:
        rows.append(ComparedRow(tr("Printed: {0}").format(output_words(its.output)), its.output.step_a))
    rows.sort(key=lambda row: row.step)
    return _Found(name, sentence(a, b, its), rows)
