"""The plan of an exercise: what is said first, the route with its talking points, tables to fill in by hand."""

from __future__ import annotations

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QCheckBox, QComboBox, QLineEdit, QPushButton, QWidget

from eelgrass.desktop.activities.authoring import Authoring
from eelgrass.desktop.look.own_list import OwnList
from eelgrass.desktop.look.palette import Palette, code_font
from eelgrass.desktop.look.parts import heading, lay_out, row_of, show_text, writing
from eelgrass.desktop.services.translation import tr
from eelgrass.lessons.plan import Ask, DeskCheck, Point, Spot, Stop

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

    def __init__(self, making: Authoring, colours: Palette) -> None:
        super().__init__()
        self._making = making
        self.points, self.stops, self.checks = (
            OwnList(tr(words), colours) for words in ("Predictions", "Route", "Desk checks")
        )
        self.ask, self.name, self.every = QComboBox(), QLineEdit(), QCheckBox(tr("at each visit"))
        self.ask.addItems([tr(words) for words in ASKS.values()])
        self.name.setPlaceholderText(tr("of which name or expression"))
        self.name.setFont(code_font(9.5))
        self.add_point, self.add_stop, self.add_call, self.add_passes = (
            QPushButton(tr(words)) for words in ("Ask here", "Stop here", "Table of this call", "Table of this loop")
        )
        self.say = writing("Talking points", "what there is to say at the chosen stop (Markdown)")
        lay_out(
            self,
            heading("Say first"),
            self.points,
            row_of(self.ask, self.name, self.every, self.add_point, self.points.away()),
            heading("Route"),
            self.stops,
            self.say,
            row_of(self.add_stop, self.stops.away()),
            heading("Desk checks"),
            self.checks,
            row_of(self.add_call, self.add_passes, self.checks.away()),
            grows=(self.points, self.stops, self.say, self.checks),
        )
        self._connect()

    def _connect(self) -> None:
        making = self._making
        self.add_point.clicked.connect(self._add_point)
        self.ask.currentIndexChanged.connect(self._show_name)
        self.add_stop.clicked.connect(self._add_stop)
        self.add_call.clicked.connect(lambda: making.add_desk_check(of_call=True))
        self.add_passes.clicked.connect(lambda: making.add_desk_check(of_call=False))
        self.say.textChanged.connect(self._take_say)
        self.stops.currentRowChanged.connect(lambda _row: self._show_say())
        for its, name in ((self.points, "points"), (self.stops, "stops"), (self.checks, "desk_checks")):
            its.ordered.connect(lambda rows, name=name: making.put(**{name: tuple(rows)}))
            its.itemClicked.connect(lambda item: making.go(item.data(Qt.ItemDataRole.UserRole)))
        self._show_name()

    def _show_name(self) -> None:
        self.name.setVisible(list(ASKS)[self.ask.currentIndex()] == "value")

    def _add_point(self) -> None:
        ask = list(ASKS)[self.ask.currentIndex()]
        self._making.add_point(ask, self.name.text().strip() if ask == "value" else "", self.every.isChecked())

    def _add_stop(self) -> None:
        self._making.add_stop()
        self.stops.setCurrentRow(self.stops.count() - 1)
        self.say.setFocus()

    def _take_say(self) -> None:
        row, exercise = self.stops.currentRow(), self._making.exercise
        if exercise is not None and 0 <= row < len(exercise.stops):
            self._making.set_say(row, self.say.toPlainText())

    def _show_say(self) -> None:
        row, exercise = self.stops.currentRow(), self._making.exercise
        is_one = exercise is not None and 0 <= row < len(exercise.stops)
        self.say.setEnabled(is_one)
        show_text(self.say, exercise.stops[row].say if exercise is not None and is_one else "")

    def refresh(self) -> None:
        """Shows what there is."""
        exercise = self._making.exercise
        if exercise is not None:
            self.points.fill([(_told_point(its), its) for its in exercise.points])
            self.stops.fill([(_told_stop(number, its), its) for number, its in enumerate(exercise.stops, 1)])
            self.checks.fill([(_told_check(its), its) for its in exercise.desk_checks])
            self._show_say()


def _told_spot(spot: Spot) -> str:
    visit = tr("each visit") if spot.visit == 0 else tr("visit {0}").format(spot.visit)
    case = f"{spot.case}, " if spot.case else ""
    line = tr("line {0}").format(spot.line) if spot.line else tr("gone")
    return f"{case}{line}, {visit}:  {spot.statement}"


def _told_point(point: Point) -> str:
    words = tr(ASKS[point.ask]) + (f" ({point.name})" if point.name else "")
    return f"{words} · {_told_spot(point)}"


def _told_stop(number: int, stop: Stop) -> str:
    say = stop.say.strip().split("\n")[0]
    return f"{number}. {_told_spot(stop)}" + (f"\n{say}" if say else "")


def _told_check(check: DeskCheck) -> str:
    return f"{check.title} · {_told_spot(check)}"
