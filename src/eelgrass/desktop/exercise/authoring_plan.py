"""The plan of an exercise: what is said first, the route with its talking points, tables to fill in by hand."""

from __future__ import annotations

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QCheckBox, QComboBox, QPushButton, QWidget

from eelgrass.desktop.activities.authoring import Authoring
from eelgrass.desktop.activities.plan_authoring import PlanAuthoring
from eelgrass.desktop.look.look import Look
from eelgrass.desktop.look.widgets import CodeLine, Heading, OwnList, lay_out, row_of, show_text, writing
from eelgrass.desktop.services.translation import tr
from eelgrass.lessons.exercises.plan import Ask, DeskCheck, PlannedPlace, PlannedQuestion, RouteStop

#: What can be asked at a point, in words.
ASKS: dict[Ask, str] = {
    "": "what is worth asking there",
    "way": "true or false",
    "passes": "how many passes",
    "value": "a value",
    "returns": "what is given back",
    "output": "what is printed",
    "line": "which line runs next",
}


class PlanSection(QWidget):
    """What is said first, the route with its talking points, desk checks. A click goes there."""

    def __init__(self, authoring: Authoring, plan: PlanAuthoring, look: Look) -> None:
        super().__init__()
        self._authoring = authoring
        self._plan = plan
        self.points, self.stops, self.checks = (
            OwnList(tr(words), look) for words in ("Predictions", "Route", "Desk checks")
        )
        self.ask, self.name, self.every = QComboBox(), CodeLine(look, 9.5), QCheckBox(tr("at each visit"))
        self.ask.setAccessibleName(tr("What is to be said"))
        self.name.setAccessibleName(tr("Of which name"))
        self.ask.addItems([tr(words) for words in ASKS.values()])
        self.name.setPlaceholderText(tr("of which name or expression"))
        self.add_point, self.add_stop, self.add_call, self.add_passes = (
            QPushButton(tr(words)) for words in ("Ask here", "Stop here", "Table of this call", "Table of this loop")
        )
        self.say = writing("Talking points", "what there is to say at the chosen stop (Markdown)")
        lay_out(
            self,
            Heading("Say first", look),
            self.points,
            row_of(self.ask, self.name, self.every, self.add_point, self.points.away()),
            Heading("Route", look),
            self.stops,
            self.say,
            row_of(self.add_stop, self.stops.away()),
            Heading("Desk checks", look),
            self.checks,
            row_of(self.add_call, self.add_passes, self.checks.away()),
            grows=(self.points, self.stops, self.say, self.checks),
        )
        self._connect()

    def _connect(self) -> None:
        authoring, plan = self._authoring, self._plan
        self.add_point.clicked.connect(self._add_point)
        self.ask.currentIndexChanged.connect(self._show_name)
        self.add_stop.clicked.connect(self._add_stop)
        self.add_call.clicked.connect(lambda: plan.add_desk_check(of_call=True))
        self.add_passes.clicked.connect(lambda: plan.add_desk_check(of_call=False))
        self.say.textChanged.connect(self._take_say)
        self.stops.currentRowChanged.connect(lambda _row: self._show_say())
        for its, name in ((self.points, "points"), (self.stops, "stops"), (self.checks, "desk_checks")):
            its.ordered.connect(lambda rows, name=name: authoring.put(**{name: tuple(rows)}))
            its.itemClicked.connect(lambda item: plan.go(item.data(Qt.ItemDataRole.UserRole)))
            its.itemActivated.connect(lambda item: plan.go(item.data(Qt.ItemDataRole.UserRole)))
        self._show_name()

    def _show_name(self) -> None:
        self.name.setVisible(list(ASKS)[self.ask.currentIndex()] == "value")

    def _add_point(self) -> None:
        ask = list(ASKS)[self.ask.currentIndex()]
        self._plan.add_point(ask, self.name.text().strip() if ask == "value" else "", self.every.isChecked())

    def _add_stop(self) -> None:
        self._plan.add_stop()
        self.stops.setCurrentRow(self.stops.count() - 1)
        self.say.setFocus()

    def _take_say(self) -> None:
        row, exercise = self.stops.currentRow(), self._authoring.exercise
        if exercise is not None and 0 <= row < len(exercise.stops):
            self._plan.set_say(row, self.say.toPlainText())

    def _show_say(self) -> None:
        row, exercise = self.stops.currentRow(), self._authoring.exercise
        is_one = exercise is not None and 0 <= row < len(exercise.stops)
        self.say.setEnabled(is_one)
        show_text(self.say, exercise.stops[row].say if exercise is not None and is_one else "")

    def refresh(self) -> None:
        """Shows what there is."""
        exercise = self._authoring.exercise
        if exercise is not None:
            self.points.fill([(_told_point(its), its) for its in exercise.points])
            self.stops.fill([(_told_stop(number, its), its) for number, its in enumerate(exercise.stops, 1)])
            self.checks.fill([(_told_check(its), its) for its in exercise.desk_checks])
            self._show_say()


def _told_place(place: PlannedPlace) -> str:
    visit = tr("each visit") if place.visit == 0 else tr("visit {0}").format(place.visit)
    case = f"{place.case}, " if place.case else ""
    line = tr("line {0}").format(place.line) if place.line else tr("gone")
    return f"{case}{line}, {visit}:  {place.statement}"


def _told_point(point: PlannedQuestion) -> str:
    words = tr(ASKS[point.ask]) + (f" ({point.name})" if point.name else "")
    return f"{words} · {_told_place(point)}"


def _told_stop(number: int, stop: RouteStop) -> str:
    say = stop.say.strip().split("\n")[0]
    return f"{number}. {_told_place(stop)}" + (f"\n{say}" if say else "")


def _told_check(check: DeskCheck) -> str:
    return f"{check.title} · {_told_place(check)}"
