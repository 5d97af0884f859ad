"""Goes to planned places, also to those in the run of another case."""

from __future__ import annotations

from PyQt6.QtCore import QObject, pyqtSignal

from eelgrass.desktop.services.translation import tr
from eelgrass.desktop.session.session import Session
from eelgrass.desktop.workspace.workspace import Workspace
from eelgrass.lessons.case import USUAL
from eelgrass.lessons.plan import Spot, steps_of


class Navigator(QObject):
    """Signal: `arrived(Spot)` when a place that was wanted is on view; where a run never comes there, the desk says
    so."""

    arrived = pyqtSignal(object)

    def __init__(self, session: Session, workspace: Workspace) -> None:
        super().__init__()
        self._session = session
        self._workspace = workspace
        self._wanted: Spot | None = None
        workspace.changed.connect(self._arrive)
        workspace.exercise_opened.connect(self._forget)

    def _forget(self) -> None:
        self._wanted = None

    def go(self, spot: Spot, anew: bool = False) -> None:
        """Shows a place; runs its case first, if another is on view, or if that is to be run `anew`."""
        workspace = self._workspace
        self._wanted = spot
        case = next((its for its in (*workspace.all_cases, USUAL) if its.name == spot.case), None)
        if spot.case and case is None:
            self._wanted = None
            workspace.notice.emit(tr("There is no case “{0}” any more.").format(spot.case), True)
        elif anew or self._session.recording is None or (case is not None and workspace.case != case):
            workspace.choose_case(case or workspace.case)
        else:
            self._arrive()

    def _arrive(self) -> None:
        """The place can be shown once its run has ended, or waits."""
        workspace, recording, spot = self._workspace, self._session.recording, self._wanted
        if spot is None or (workspace.runner.is_running and not workspace.is_waiting):
            return
        self._wanted = None
        steps = steps_of(recording, spot, workspace.given) if recording is not None else None
        if steps is not None and len(steps):
            self._session.go(int(steps[0]))
            self.arrived.emit(spot)
        else:
            told = tr("This run does not come to line {0} so often: “{1}”.")
            workspace.notice.emit(told.format(spot.line, spot.statement), False)
