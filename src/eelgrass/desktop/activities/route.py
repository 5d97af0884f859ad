"""The plan in the run on view, and the route: stops with talking points, walked with the keys of a presenter's
remote."""

from __future__ import annotations

from PyQt6.QtCore import QObject, pyqtSignal

from eelgrass.desktop.activities.navigator import Navigator
from eelgrass.desktop.session.session import Session
from eelgrass.desktop.workspace.running.launch import Launch
from eelgrass.desktop.workspace.workspace import Workspace
from eelgrass.lessons.exercises.plan import PlannedQuestion, RouteStop, questions_in, signs_in
from eelgrass.reading.recording import Recording


class Route(QObject):
    """`place` is the stop that the route stands at, from 0; -1 while it has not begun. Signal: `changed`."""

    changed = pyqtSignal()

    def __init__(self, session: Session, workspace: Workspace, launch: Launch, navigator: Navigator) -> None:
        super().__init__()
        self._session = session
        self._workspace = workspace
        self._launch = launch
        self._navigator = navigator
        self.is_on = False
        self.place = -1
        workspace.exercise_opened.connect(lambda: self.set_on(False))

    @property
    def stops(self) -> tuple[RouteStop, ...]:
        """The stops of the open exercise."""
        return self._workspace.exercise.stops if self._workspace.exercise is not None else ()

    def questions(self, recording: Recording) -> dict[int, PlannedQuestion]:
        """Where, in a recording of the case on view, the instructor wants something to be said first."""
        exercise, case = self._workspace.exercise, self._launch.case.name
        return questions_in(recording, exercise.points, case, self._workspace.given) if exercise is not None else {}

    def signs(self, with_questions: bool) -> list[tuple[int, str]]:
        """What is planned in the recording on view, as (step, sign): stops of the route, and questions."""
        exercise, recording = self._workspace.exercise, self._session.recording
        if exercise is None or recording is None:
            return []
        questions = exercise.points if with_questions else ()
        return signs_in(recording, questions, exercise.stops, self._launch.case.name, self._workspace.given)

    def set_on(self, on: bool) -> None:
        """Begins the route at its first stop, or leaves it."""
        if on == self.is_on or (on and not self.stops):
            return
        self.is_on, self.place = on, -1
        if on:
            self.move(forward=True)
        else:
            self.changed.emit()

    def move(self, forward: bool) -> None:
        """Goes to the next stop, or to the one before; at its ends the route stays where it is."""
        place = self.place + (1 if forward else -1)
        if 0 <= place < len(self.stops):
            self.place = place
            self._navigator.go(self.stops[place])
        self.changed.emit()
