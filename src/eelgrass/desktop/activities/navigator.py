"""Goes to planned places, also to those in the run of another case."""

from __future__ import annotations

from PyQt6.QtCore import QObject, pyqtSignal

from eelgrass.desktop.services.translation import tr
from eelgrass.desktop.session.session import Reader
from eelgrass.desktop.workspace.workspace import Desk
from eelgrass.lessons.case import USUAL
from eelgrass.lessons.plan import Spot, steps_of


class Goer(QObject):
    """Signal: `arrived(Spot)` when a place that was wanted is on view; where a run never comes there, the desk says
    so."""

    arrived = pyqtSignal(object)

    def __init__(self, reader: Reader, desk: Desk) -> None:
        super().__init__()
        self._reader = reader
        self._desk = desk
        self._wanted: Spot | None = None
        desk.changed.connect(self._arrive)
        desk.exercise_opened.connect(self._forget)

    def _forget(self) -> None:
        self._wanted = None

    def go(self, spot: Spot, anew: bool = False) -> None:
        """Shows a place; runs its case first, if another is on view, or if that is to be run `anew`."""
        desk = self._desk
        self._wanted = spot
        case = next((its for its in (*desk.all_cases, USUAL) if its.name == spot.case), None)
        if spot.case and case is None:
            self._wanted = None
            desk.notice.emit(tr("There is no case “{0}” any more.").format(spot.case), True)
        elif anew or self._reader.recording is None or (case is not None and desk.case != case):
            desk.choose_case(case or desk.case)
        else:
            self._arrive()

    def _arrive(self) -> None:
        """The place can be shown once its run has ended, or waits."""
        desk, recording, spot = self._desk, self._reader.recording, self._wanted
        if spot is None or (desk.runner.is_running and not desk.is_waiting):
            return
        self._wanted = None
        steps = steps_of(recording, spot, desk.given) if recording is not None else None
        if steps is not None and len(steps):
            self._reader.go(int(steps[0]))
            self.arrived.emit(spot)
        else:
            told = tr("This run does not come to line {0} so often: “{1}”.")
            desk.notice.emit(told.format(spot.line, spot.statement), False)
