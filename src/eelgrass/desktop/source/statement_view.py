"""This line: how the statement at the waterline works out, each part with its value under its place in the text."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

from PyQt6.QtCore import QEvent, QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import (
    QColor,
    QContextMenuEvent,
    QFocusEvent,
    QFontMetricsF,
    QHelpEvent,
    QKeyEvent,
    QMouseEvent,
    QPainter,
    QPaintEvent,
    QPen,
    QShowEvent,
)
from PyQt6.QtWidgets import QAbstractScrollArea, QToolTip, QWidget

from eelgrass.desktop.look import icons
from eelgrass.desktop.look.look import Look
from eelgrass.desktop.look.palette import LEFT, code_font, ui_font
from eelgrass.desktop.look.widgets import WALKS, offer_trail, outline
from eelgrass.desktop.services.translation import tr
from eelgrass.desktop.session.session import Session
from eelgrass.desktop.session.wording import meant
from eelgrass.reading.expressions.expression import is_expression
from eelgrass.reading.lines.exception_paths import ExceptionPath
from eelgrass.reading.lines.worked_line import Status, Worked, WorkedPart
from eelgrass.reading.state.function_words import function_words
from eelgrass.trace.model import StepKind

_EDGE = 16.0
_TOP = 6.0


@dataclass(frozen=True)
class PlacedPart:
    """A part with the row that it stands in (from 0), the span of its text and that of its value, in pixels."""

    part: WorkedPart
    row: int
    left: float
    right: float
    value_left: float
    value_right: float


def flattened(worked: Worked) -> tuple[str, list[int]]:
    """(the statement's text in one line, for each of its lines how far its columns have moved to the right)."""
    text, moved = "", []
    for number, line in enumerate(worked.lines):
        indent = len(line) - len(line.lstrip())
        moved.append(len(text) - indent)
        text += line.strip() + (" " if number < len(worked.lines) - 1 else "")
    return text, moved


def place_parts(worked: Worked, character: float) -> list[PlacedPart]:
    """Where each part goes: below the parts that it is made of, side by side where there is room."""
    _, moved = flattened(worked)
    placed: list[PlacedPart] = []
    for part in worked.parts:
        left = (part.column + moved[part.line - worked.line]) * character
        right = (part.end_column + moved[part.end_line - worked.line]) * character
        width = len(words_of(part)) * character
        value_left = max(min(left, (left + right - width) / 2), 0.0)
        value_right = value_left + width
        row = 0
        for other in placed:
            is_right = min(other.left, other.value_left) >= max(right, value_right) + 2 * character
            apart = is_right or max(other.right, other.value_right) + 2 * character <= min(left, value_left)
            if not apart or (left <= other.left and other.right <= right):
                row = max(row, other.row + 1)
        placed.append(PlacedPart(part, row, left, right, value_left, value_right))
    return placed


def words_of(part: WorkedPart) -> str:
    """What stands under a part."""
    if part.status is Status.VALUE:
        return part.value
    if part.status is Status.RAISED:
        return f"raises {part.value}".strip()
    return "not evaluated" if part.status is Status.SKIPPED else "?"


class StatementView(QAbstractScrollArea):
    """Follows the reader; works nothing out while it is hidden. `notes_of` gives what the line before and the line
    about to run did, in words, which the margin may have cut. Signals: `traced(text)` for a part whose trail is wanted;
    `needs(height)`, in pixels, for what is shown."""

    traced = pyqtSignal(str)
    needs = pyqtSignal(int)

    def __init__(self, session: Session, look: Look) -> None:
        super().__init__()
        self._session = session
        self._look = look
        self.worked: Worked | None = None
        self.exception_path: ExceptionPath | None = None
        self.placed: list[PlacedPart] = []
        self.notes_of: Callable[[], list[str]] = lambda: []
        self._notes: list[str] = []
        self.setFrameShape(self.Shape.NoFrame)
        self.setAccessibleName(tr("How this line works out"))
        self.setFocusPolicy(Qt.FocusPolicy.TabFocus)
        self.setProperty(WALKS, True)
        self._walked = 0  # which of the parts, or stations of an exception, the keys are at
        self.setMinimumHeight(64)
        look.dresses(self._dress)
        session.moved.connect(self.refresh)

    def _dress(self) -> None:
        self._font, self._small = code_font(10), ui_font(8.5)
        self.refresh()

    def viewport(self) -> QWidget:
        """The widget that is painted on."""
        viewport = super().viewport()
        assert viewport is not None
        return viewport

    def showEvent(self, event: QShowEvent | None) -> None:
        super().showEvent(event)
        self.refresh()

    def refresh(self) -> None:
        """Works out the statement at the reader's step."""
        if not self.isVisible():
            return
        recording = self._session.recording
        step = self._session.step
        self.worked = recording.worked_lines.at(step) if recording else None
        raises = recording is not None and recording.trace.steps.kind[step] == StepKind.RAISE
        self.exception_path = recording.exception_path_at(step) if raises and recording is not None else None
        self.placed = place_parts(self.worked, self._character()) if self.worked else []
        self.setAccessibleDescription("; ".join(f"{its.part.text}: {words_of(its.part)}" for its in self.placed))
        width = max((max(its.right, its.value_right) for its in self.placed), default=0.0) + 2 * _EDGE
        height = self._bottom() + _TOP
        if self.exception_path is not None:
            height = _TOP + (len(self.exception_path.stations) + 2) * self._journey_height()
        for bar, most, shown in (
            (self.horizontalScrollBar(), width, self.viewport().width()),
            (self.verticalScrollBar(), height, self.viewport().height()),
        ):
            assert bar is not None
            bar.setRange(0, max(0, int(most) - shown))
            bar.setPageStep(shown)
        self._walked = 0
        self._notes = self.notes_of() if recording is not None else []
        self.needs.emit(int(height + len(self._notes) * self._note_height()) + 6)
        self.viewport().update()

    def _bottom(self) -> float:
        """Where the lowest row of parts ends."""
        return self._top_of_row(max((its.row for its in self.placed), default=-1) + 1)

    def _note_height(self) -> float:
        return QFontMetricsF(self._small).height() + 2

    def _paint_notes(self, painter: QPainter) -> None:
        """At the bottom, where there is room; the whole of what stands beside the lines."""
        height = self._note_height()
        top = self.viewport().height() - len(self._notes) * height - 3
        if top < self._bottom() and self.worked is not None:
            return
        painter.setFont(self._small)
        painter.setPen(QColor(self._look.colours.ink_soft))
        for number, words in enumerate(self._notes):
            painter.drawText(QRectF(_EDGE, top + number * height, 4000, height), LEFT, words)

    def _character(self) -> float:
        return QFontMetricsF(self._font).horizontalAdvance("0")

    def _line_height(self) -> float:
        return QFontMetricsF(self._font).height()

    def _top_of_row(self, row: int) -> float:
        return _TOP + self._line_height() + 3 + row * (self._line_height() + 5)

    # Painting

    def _offset(self) -> QPointF:
        bars = self.horizontalScrollBar(), self.verticalScrollBar()
        x, y = (bar.value() if bar else 0 for bar in bars)
        return QPointF(_EDGE - x, -y)

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        painter = QPainter(self.viewport())
        painter.setRenderHints(QPainter.RenderHint.Antialiasing | QPainter.RenderHint.TextAntialiasing)
        painter.fillRect(self.viewport().rect(), QColor(self._look.colours.beach))
        if self.exception_path is not None:
            self._paint_journey(painter, self.exception_path)
            return
        if self.worked is None:
            painter.setFont(self._small)
            painter.setPen(QColor(self._look.colours.ink_soft))
            words = tr("Nothing is worked out here.") if self._session.recording else ""
            painter.drawText(QRectF(_EDGE, _TOP, 600, 24), LEFT, words)
            self._paint_notes(painter)
            return
        self._paint_notes(painter)
        painter.translate(self._offset())
        self._paint_statement(painter, self.worked)
        for number, placed in enumerate(self.placed):
            self._paint_part(painter, placed)
            if self.hasFocus() and number == self._walked:
                outline(painter, self._rect(placed).adjusted(-3, 0, 3, 0), self._look)

    # Keys

    def focusInEvent(self, event: QFocusEvent | None) -> None:
        super().focusInEvent(event)
        self._walk_to(0)

    def focusOutEvent(self, event: QFocusEvent | None) -> None:
        super().focusOutEvent(event)
        self.viewport().update()

    def _walk_to(self, number: int) -> None:
        count = len(self.exception_path.stations) if self.exception_path is not None else len(self.placed)
        self._walked = min(max(number, 0), max(count - 1, 0))
        if self.exception_path is not None:
            self.setAccessibleDescription(self._station_words(self.exception_path, self._walked))
        elif self.placed:
            part = self.placed[self._walked].part
            self.setAccessibleDescription(f"{part.text}: {words_of(part)}")
        self.viewport().update()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """The arrows walk the parts, Enter asks where the value of one came from, or shows a station of an
        exception."""
        key = event.key() if event is not None else None
        if key in (Qt.Key.Key_Right, Qt.Key.Key_Down, Qt.Key.Key_Left, Qt.Key.Key_Up):
            self._walk_to(self._walked + (1 if key in (Qt.Key.Key_Right, Qt.Key.Key_Down) else -1))
        elif key not in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            super().keyPressEvent(event)
        elif self.exception_path is not None:
            self._session.go(self.exception_path.stations[self._walked].step)
        elif self.placed and is_expression(self.placed[self._walked].part.text):
            self.traced.emit(self.placed[self._walked].part.text)

    def _paint_journey(self, painter: QPainter, exception_path: ExceptionPath) -> None:
        """The exception's way, the frame that raised it first; a click on a line leads there."""
        c, height = self._look.colours, self._journey_height()
        painter.translate(self._offset())
        icons.broken_shell(painter, QPointF(2, _TOP + height / 2), 7, QColor(c.coral))
        painter.setFont(ui_font(10, bold=True))
        painter.setPen(QColor(c.coral))
        message = f": {exception_path.message}" if exception_path.message else ""
        painter.drawText(QRectF(16, _TOP, 4000, height), LEFT, f"{exception_path.type}{message}")
        painter.setFont(ui_font(9.5))
        recording = self._session.recording
        meaning = meant(recording, exception_path) if recording is not None else ""
        painter.setPen(QColor(c.ink_soft))
        painter.drawText(QRectF(16, _TOP + height, 4000, height), LEFT, meaning or tr("Its way through the calls:"))
        for number, station in enumerate(exception_path.stations):
            rect = QRectF(16, _TOP + (number + 2) * height, 4000, height)
            if station.step == self._session.step or (self.hasFocus() and number == self._walked):
                painter.fillRect(rect.adjusted(-6, 1, 0, -1), QColor(c.coral_pale))
            painter.setPen(QColor(c.ink))
            painter.drawText(rect, LEFT, self._station_words(exception_path, number))

    def _station_words(self, exception_path: ExceptionPath, number: int) -> str:
        recording, station = self._session.recording, exception_path.stations[number]
        assert recording is not None
        name = recording.trace.function_of_frame(station.frame).name
        where = function_words(name)
        what = "raised here" if number == 0 else "comes through here"
        if station.caught:
            what = "raised and caught here" if number == 0 else "caught here"
            what += ", and nothing is ever said of it" if exception_path.is_silenced else ""
        elif number == len(exception_path.stations) - 1 and name == "<module>":
            what += ", and ends the run"
        return f"{where}, line {station.line}: {what}"

    def _journey_height(self) -> float:
        return QFontMetricsF(ui_font(10)).height() + 3

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if event is None or self.exception_path is None:
            return
        row = int((event.position().y() - self._offset().y() - _TOP) // self._journey_height()) - 2
        if 0 <= row < len(self.exception_path.stations):
            self._session.go(self.exception_path.stations[row].step)

    def _paint_statement(self, painter: QPainter, worked: Worked) -> None:
        text, _ = flattened(worked)
        width = len(text) * self._character()
        painter.fillRect(
            QRectF(-6, _TOP - 1, width + 12, self._line_height() + 2), QColor(self._look.colours.waterline)
        )
        painter.setFont(self._font)
        painter.setPen(QColor(self._look.colours.ink))
        painter.drawText(QRectF(0, _TOP, width + 4, self._line_height()), LEFT, text)
        if worked.outcome:
            painter.setFont(self._small)
            painter.setPen(QColor(self._look.colours.note))
            painter.drawText(QRectF(width + 22, _TOP, 2000, self._line_height()), LEFT, worked.outcome)

    def _paint_part(self, painter: QPainter, placed: PlacedPart) -> None:
        c, status = self._look.colours, placed.part.status
        colour = QColor(
            {Status.VALUE: c.deep, Status.RAISED: c.coral, Status.SKIPPED: c.ink_faded}.get(status, c.ink_faded)
        )
        top = self._top_of_row(placed.row)
        style = Qt.PenStyle.SolidLine if status is Status.VALUE else Qt.PenStyle.DashLine
        painter.setPen(QPen(colour, 1.4, style))
        left, right = placed.left + 1, placed.right - 1
        painter.drawPolyline(QPointF(left, top), QPointF(left, top + 3), QPointF(right, top + 3), QPointF(right, top))
        painter.setPen(colour if status is not Status.VALUE else QColor(c.ink))
        painter.setFont(self._font if status is Status.VALUE else self._small)
        if status is Status.RAISED:
            icons.broken_shell(painter, QPointF(placed.value_left - 9, top + 15), 6, colour)
        room = QRectF(placed.value_left, top + 3, placed.value_right - placed.value_left + 60, self._line_height())
        painter.drawText(room, LEFT, words_of(placed.part))

    def viewportEvent(self, event: QEvent | None) -> bool:
        """Says on pointing what a part is, and why it is not known."""
        if isinstance(event, QHelpEvent) and event.type() == QEvent.Type.ToolTip:
            at = QPointF(event.pos()) - self._offset()
            found = [its for its in self.placed if self._rect(its).contains(at)]
            part = found[-1].part if found else None
            QToolTip.showText(
                event.globalPos(), f"{part.text}\n{part.status.value}: {part.value}" if part else "", self
            )
            return True
        return super().viewportEvent(event)

    def contextMenuEvent(self, event: QContextMenuEvent | None) -> None:
        found = [its for its in self.placed if event is not None and self._rect(its).contains(self._within(event))]
        if event is not None and found and is_expression(found[-1].part.text):
            text = found[-1].part.text
            offer_trail(self, event.globalPos(), lambda: self.traced.emit(text))

    def _within(self, event: QContextMenuEvent) -> QPointF:
        return QPointF(event.pos()) - self._offset()

    def _rect(self, placed: PlacedPart) -> QRectF:
        left, right = min(placed.left, placed.value_left), max(placed.right, placed.value_right)
        return QRectF(left, self._top_of_row(placed.row), right - left, self._line_height() + 4)
