"""The picture of the simulated desk: the windows at the shown step."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QSize, pyqtSignal
from PyQt6.QtGui import QColor, QMouseEvent, QPainter, QPaintEvent
from PyQt6.QtWidgets import QWidget

from eelgrass.desktop.desk.board_painter import BoardPainter, PlacedPart, fitting
from eelgrass.desktop.desk.desk_painter import DeskPainter, PlacedWindow, place
from eelgrass.desktop.look.look import Look
from eelgrass.desktop.services.translation import tr
from eelgrass.desktop.session.session import Session
from eelgrass.reading.desk.desk_states import DeskState


class DeskPicture(QWidget):
    """The windows as they were. Signals: `clicked(path, x, y)` with the place in a widget, in pixels of the program's
    own; `title_clicked(path)` of a window; `part_clicked(name, share)` of a board, so far from its left."""

    clicked = pyqtSignal(str, float, float)
    title_clicked = pyqtSignal(str)
    part_clicked = pyqtSignal(str, float)

    def __init__(self, session: Session, look: Look) -> None:
        super().__init__()
        self._session, self._look = session, look
        self._painter = DeskPainter(look)
        self.desk = DeskState({}, {})
        self.placed: list[PlacedWindow] = []
        self._board_painter = BoardPainter(look)
        self.parts: list[PlacedPart] = []
        self.scale = 1.0  # of the parts
        self.setMinimumSize(160, 100)
        self.setAccessibleName(tr("The program's windows"))

    def sizeHint(self) -> QSize:
        return QSize(360, 240)

    def show_step(self) -> None:
        """Takes the desk of the shown step."""
        recording = self._session.recording
        self.desk = recording.desk.at(self._session.step) if recording is not None else DeskState({}, {})
        words = [str(its.get("words", "")) for its in self.desk.widgets.values()]
        words += [f"{name} {part.text}" for name, part in self.desk.parts.items()]
        self.setAccessibleDescription(", ".join(filter(None, words))[:400])
        self.update()

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.fillRect(self.rect(), QColor(self._look.colours.foam))
        recording = self._session.recording
        drawn = recording.desk.drawn if recording is not None else {}
        self.placed = place(self.desk, self.width(), self.height(), drawn)
        self._painter.paint(painter, self.desk, self.placed)
        self.parts, self.scale = fitting(self.desk.parts if not self.placed else {}, self.width(), self.height())
        painter.scale(self.scale, self.scale)
        self._board_painter.paint(painter, self.parts)

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        found = self.widget_at(event.position()) if event is not None else None
        if found is not None:
            self.clicked.emit(*found)
        elif event is not None and self.parts:
            self._click_part(event.position() / self.scale)
        elif event is not None:
            window = next((its for its in self.placed if its.frame.contains(event.position())), None)
            if window is not None:
                self.title_clicked.emit(window.path)

    def _click_part(self, at: QPointF) -> None:
        its = next((one for one in self.parts if one.rect.contains(at)), None)
        if its is not None:
            self.part_clicked.emit(its.name, (at.x() - its.inside.left()) / max(its.inside.width(), 1.0))

    def widget_at(self, at: QPointF) -> tuple[str, float, float] | None:
        """The innermost widget at a place, and where in it that is."""
        window = next((its for its in self.placed if its.rect.contains(at)), None)
        if window is None:
            return None
        x = (at.x() - window.rect.left()) / window.scale + window.part.left()
        y = (at.y() - window.rect.top()) / window.scale + window.part.top()
        return self.desk.widget_at(window.path, x, y)
