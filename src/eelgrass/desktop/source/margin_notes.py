"""Margin notes: at the right of the text, what each line did at its latest visit."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QEvent, QObject, QPointF, QRect, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QFontMetricsF, QHelpEvent, QMouseEvent, QPainter, QPaintEvent
from PyQt6.QtWidgets import QToolTip, QWidget

from eelgrass.desktop.look.look import Look
from eelgrass.desktop.look.palette import RIGHT, ui_font
from eelgrass.desktop.source.editor import Editor
from eelgrass.reading.lines.line_notes import LineNote

_NOTE_MARGIN = 14
_NOTE_GAP = 22
_LEAST_NOTE = 44


class MarginNotes(QWidget):
    """Lies over the editor's viewport and lets the pointer through. Signal: `clicked(line)` for a click on a note."""

    clicked = pyqtSignal(int)

    def __init__(self, editor: Editor, note_of: Callable[[int], LineNote | None], look: Look) -> None:
        viewport = editor.viewport()
        assert viewport is not None
        super().__init__(viewport)
        self._editor = editor
        self._note_of = note_of
        self._look = look
        self._places: dict[int, tuple[QRect, LineNote]] = {}
        self.setAttribute(Qt.WidgetAttribute.WA_TransparentForMouseEvents)
        look.dresses(self._dress)
        viewport.installEventFilter(self)

    def _dress(self) -> None:
        self.setFont(ui_font(9))
        self._metrics = QFontMetricsF(self.font())
        self.update()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        editor = self._editor
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.TextAntialiasing)
        lines = editor.visible_lines()
        self._places = {line: place for line, place in self._places.items() if line in lines}
        for line in lines:
            rect = QRect(0, editor.top_of(line), self.width(), editor.line_height())
            if event is None or event.region().intersects(rect):
                self._places.pop(line, None)
                note = self._note_of(line)
                if note is not None:
                    self._paint_note(painter, line, rect, note)

    def is_cut(self, line: int, note: LineNote) -> bool:
        """Whether a line leaves too little room for its note."""
        return self._metrics.horizontalAdvance(note.text) > self._room(line)

    def _room(self, line: int) -> float:
        return self.width() - _NOTE_MARGIN - self._editor.end_of(line) - _NOTE_GAP

    def _paint_note(self, painter: QPainter, line: int, rect: QRect, note: LineNote) -> None:
        """Writes a note at the right of its line, cut to the room that the line leaves."""
        room = self._room(line)
        text, width = note.text, self._metrics.horizontalAdvance(note.text)
        if width > room:
            if room < self._metrics.horizontalAdvance("…"):
                return
            text = self._metrics.elidedText(text, Qt.TextElideMode.ElideRight, room) if room >= _LEAST_NOTE else "…"
            width = self._metrics.horizontalAdvance(text)
        place = QRect(self.width() - _NOTE_MARGIN - int(width) - 2, rect.top(), int(width) + 2, rect.height())
        painter.setPen(QColor(self._look.colours.coral if note.trouble else self._look.colours.note))
        painter.drawText(place, RIGHT, text)
        self._places[line] = (place, note)

    def eventFilter(self, watched: QObject | None, event: QEvent | None) -> bool:
        """Grows with the viewport; takes clicks on notes and shows long ones whole."""
        if event is None:
            return False
        if event.type() == QEvent.Type.Resize and isinstance(watched, QWidget):
            self.setGeometry(watched.rect())
        elif event.type() == QEvent.Type.MouseButtonPress and isinstance(event, QMouseEvent):
            found = self._at(event.position()) if event.button() == Qt.MouseButton.LeftButton else None
            if found is not None:
                self.clicked.emit(found[0])
                return True
        elif event.type() == QEvent.Type.ToolTip and isinstance(event, QHelpEvent):
            found = self._at(QPointF(event.pos()))
            QToolTip.showText(event.globalPos(), found[1].whole if found else "", self)
            return True
        return False

    def _at(self, point: QPointF) -> tuple[int, LineNote] | None:
        for line, (rect, note) in self._places.items():
            if rect.adjusted(-6, 0, 6, 0).contains(point.toPoint()):
                return line, note
        return None
