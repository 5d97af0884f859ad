"""Goes to planned places, also to those in the run of another case."""

from __future__ import annotations

from PyQt6.QtCore import QObject, pyqtSignal

from eelgrass.desktop.services.messages import Messages
from eelgrass.desktop.services.translation import tr
from eelgrass.desktop.session.session import Session
from eelgrass.desktop.workspace.running.launch import Launch
from eelgrass.desktop.workspace.running.program_run import ProgramRun
from eelgrass.desktop.workspace.workspace import Workspace
from eelgrass.lessons.cases.case import USUAL
from eelgrass.lessons.exercises.plan import PlannedPlace, steps_of


class Navigator(QObject):
    """Signal: `arrived(PlannedPlace)` when a place that was wanted is on view; where a run never comes there, that is
    said."""

    arrived = pyqtSignal(object)

    def __init__(
        self, session: Session, workspace: Workspace, launch: Launch, run: ProgramRun, messages: Messages
    ) -> None:
        super().__init__()
        self._session = session
        self._workspace = workspace
        self._launch = launch
        self._run = run
        self._messages = messages
        self._wanted: PlannedPlace | None = None
        run.changed.connect(self._arrive)
        workspace.exercise_opened.connect(self._forget)

    def _forget(self) -> None:
        self._wanted = None

    def go(self, place: PlannedPlace, anew: bool = False) -> None:
        """Shows a place; runs its case first, if another is on view, or if that is to be run `anew`."""
        launch = self._launch
        self._wanted = place
        case = next((its for its in (*launch.all_cases, USUAL) if its.name == place.case), None)
        if place.case and case is None:
            self._wanted = None
            self._messages.say(tr("There is no case “{0}” any more.").format(place.case), is_trouble=True)
        elif anew or self._session.recording is None or (case is not None and launch.case != case):
            launch.choose_case(case or launch.case)
        else:
            self._arrive()

    def _arrive(self) -> None:
        """The place can be shown once its run has ended, or waits."""
        recording, place = self._session.recording, self._wanted
        if place is None or (self._run.is_running and not self._run.is_waiting):
            return
        self._wanted = None
        steps = steps_of(recording, place, self._workspace.given) if recording is not None else None
        if steps is not None and len(steps):
            self._session.go(int(steps[0]))
            self.arrived.emit(place)
        else:
            told = tr("This run does not come to line {0} so often: “{1}”.")
            self._messages.say(told.format(place.line, place.statement))
