"""The plan in the run on view, and the route: stops with talking points, walked with the keys of a presenter's remote
(need T2)."""

from __future__ import annotations

from PyQt6.QtCore import QObject, pyqtSignal
from PyQt6.QtWidgets import QHBoxLayout, QLabel, QPushButton, QVBoxLayout, QWidget

from eelgrass.desktop.activities.navigator import Navigator
from eelgrass.desktop.look.markdown_view import MarkdownView
from eelgrass.desktop.look.palette import Palette, ui_font
from eelgrass.desktop.services.translation import tr
from eelgrass.desktop.workspace.workspace import Workspace
from eelgrass.lessons.plan import Point, Stop, points_in, signs_in
from eelgrass.reading.recording import Recording


class Route(QObject):
    """`place` is the stop that the route stands at, from 0; -1 while it has not begun. Signal: `changed`."""

    changed = pyqtSignal()

    def __init__(self, workspace: Workspace, navigator: Navigator) -> None:
        super().__init__()
        self._workspace = workspace
        self._navigator = navigator
        self.is_on = False
        self.place = -1
        workspace.exercise_opened.connect(lambda: self.set_on(False))

    @property
    def stops(self) -> tuple[Stop, ...]:
        """The stops of the open exercise."""
        return self._workspace.exercise.stops if self._workspace.exercise is not None else ()

    def points(self, recording: Recording) -> dict[int, Point]:
        """Where, in a recording of the case on view, the instructor wants something to be said first."""
        exercise, workspace = self._workspace.exercise, self._workspace
        return (
            points_in(recording, exercise.points, workspace.case.name, workspace.given) if exercise is not None else {}
        )

    def signs(self, with_points: bool) -> list[tuple[int, str]]:
        """What is planned in the recording on view, as (step, sign): stops of the route, and predictions."""
        exercise, recording, workspace = self._workspace.exercise, self._workspace.session.recording, self._workspace
        if exercise is None or recording is None:
            return []
        points = exercise.points if with_points else ()
        return signs_in(recording, points, exercise.stops, workspace.case.name, workspace.given)

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


class RouteView(QWidget):
    """What there is to say at this stop."""

    def __init__(self, guiding: Route, colours: Palette) -> None:
        super().__init__()
        self._guiding = guiding
        self.setAutoFillBackground(True)
        self.where = QLabel()
        self.where.setFont(ui_font(10, bold=True))
        self.say = MarkdownView(colours, 11)
        self.back, self.on, self.leave = (QPushButton(tr(words)) for words in ("Stop before", "Next stop", "Leave"))
        row = QHBoxLayout()
        row.addWidget(self.where, 1)
        for button in (self.back, self.on, self.leave):
            row.addWidget(button)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(16, 8, 16, 8)
        layout.addLayout(row)
        layout.addWidget(self.say, 1)
        self.back.clicked.connect(lambda: guiding.move(forward=False))
        self.on.clicked.connect(lambda: guiding.move(forward=True))
        self.leave.clicked.connect(lambda: guiding.set_on(False))
        guiding.changed.connect(self.refresh)
        self.refresh()

    def refresh(self) -> None:
        """Shows the stop."""
        its, stops = self._guiding, self._guiding.stops
        is_at = its.is_on and 0 <= its.place < len(stops)
        self.where.setText(tr("Stop {0} of {1}").format(its.place + 1, len(stops)) if is_at else "")
        self.say.setMarkdown(stops[its.place].say if is_at else "")
        self.back.setEnabled(its.place > 0)
        self.on.setEnabled(its.place + 1 < len(stops))
