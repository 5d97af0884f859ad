"""The left margin of the text: line numbers, visits, hatching for lines that never run, the waterline's tab."""

from __future__ import annotations

from collections.abc import Mapping

from PyQt6.QtCore import QEvent, QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QHelpEvent, QMouseEvent, QPainter, QPainterPath, QPaintEvent, QPen
from PyQt6.QtWidgets import QToolTip, QWidget

from eelgrass.desktop.look import icons
from eelgrass.desktop.look.look import Look
from eelgrass.desktop.look.palette import LEFT, RIGHT, blend, px, ui_font
from eelgrass.desktop.services.translation import tr
from eelgrass.desktop.source.editor import Editor
from eelgrass.reading.breakpoints.breakpoint import Breakpoint
from eelgrass.reading.stepping.visits import Count

_GUTTER_PX = 112
_NUMBER_RIGHT = 34
_TEETH = 6
_SIGNS = {"?": "Something is to be said first here.", "=": "A table is to be filled in by hand here."}
_MOST_SCALE = 1.5


class Gutter(QWidget):
    """`counts`, `line`, `line_before`, `band`, `faulty` and `planned` (signs by line) say what to show. Signals:
    `clicked(line)`; `marked(line)` for a click with the right button."""

    clicked = pyqtSignal(int)
    marked = pyqtSignal(int)

    def __init__(self, editor: Editor, look: Look) -> None:
        super().__init__()
        self.setFocusPolicy(Qt.FocusPolicy.ClickFocus)  # a click brings the keys back to the moves
        self._editor = editor
        self._look = look
        self.counts: Mapping[int, Count] = {}
        self.line = 0
        self.line_before = 0
        self.breakpoints: dict[int, Breakpoint] = {}  # by line
        self.faulty: set[int] = set()
        self.planned: dict[int, str] = {}
        self.band: str = look.colours.waterline
        look.dresses(self._dress)

    def _dress(self) -> None:
        self.setFixedWidth(int(_px(_GUTTER_PX)))
        self.setFont(ui_font(8 * _px(1) / px(1)))
        self.update()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        editor, c = self._editor, self._look.colours
        painter = QPainter(self)
        painter.setRenderHints(QPainter.RenderHint.Antialiasing | QPainter.RenderHint.TextAntialiasing)
        painter.fillRect(self.rect(), QColor(c.foam))
        height = editor.line_height()
        for line in editor.visible_lines():
            rect = QRectF(0, editor.top_of(line), self.width(), height)
            if event is not None and not event.region().intersects(rect.toRect()):
                continue
            count = self.counts.get(line)
            if line == self.line:
                painter.fillRect(rect, QColor(self.band))
            if count is not None and count.in_all == 0:
                self._hatch(painter, rect)
            self._paint_numbers(painter, rect, line, count)
            if line in self.breakpoints:
                foot = QPointF(_px(_NUMBER_RIGHT) + _px(13), rect.bottom() - 4)
                icons.breakpoint_sign(painter, self.breakpoints[line], foot, height - 8, c)
            if line in self.faulty:
                self._tear(painter, rect)
            if line in self.planned:
                painter.setPen(QColor(c.kelp))
                painter.drawText(
                    QRectF(_px(_NUMBER_RIGHT) + _px(4), rect.top(), _px(40), height), LEFT, self.planned[line]
                )
            if line == self.line:
                painter.fillPath(icons.wave_tab(QRectF(0, rect.top(), 17, height)), QColor(c.deep))
            elif line == self.line_before:
                painter.setPen(QPen(blend(c.shallow, c.deep, 0.5), 3))
                painter.drawLine(QPointF(0, rect.center().y()), QPointF(12, rect.center().y()))

    def _paint_numbers(self, painter: QPainter, rect: QRectF, line: int, count: Count | None) -> None:
        c = self._look.colours
        painter.setPen(QColor(c.ink_soft))
        painter.drawText(QRectF(0, rect.top(), _px(_NUMBER_RIGHT), rect.height()), RIGHT, str(line))
        if count is not None:
            painter.setPen(QColor(c.note if count.so_far else c.ink_soft))
            text = _short(count.so_far) + ("" if count.in_all is None else f"/{_short(count.in_all)}")
            painter.drawText(
                QRectF(_px(_NUMBER_RIGHT), rect.top(), _px(_GUTTER_PX) - _px(_NUMBER_RIGHT) - 9, rect.height()),
                RIGHT,
                text,
            )

    def _tear(self, painter: QPainter, rect: QRectF) -> None:
        """A torn edge beside a line that is marked as faulty."""
        painter.setPen(QPen(QColor(self._look.colours.coral), 2))
        path = QPainterPath(QPointF(rect.right(), rect.top() + 1))
        for number in range(1, _TEETH + 1):
            x = rect.right() - (5 if number % 2 else 0)
            path.lineTo(QPointF(x, rect.top() + 1 + (rect.height() - 2) * number / _TEETH))
        painter.drawPath(path)

    def _hatch(self, painter: QPainter, rect: QRectF) -> None:
        painter.save()
        painter.setClipRect(rect.adjusted(0, 5, -4, -5))
        painter.setPen(QPen(QColor(self._look.colours.hatch), 2.5))
        x = -rect.height()
        while x < rect.width():
            painter.drawLine(QPointF(x, rect.bottom()), QPointF(x + rect.height(), rect.top()))
            x += 8
        painter.restore()

    def event(self, event: QEvent | None) -> bool:
        """Says in words, on pointing, what stands beside a line."""
        if isinstance(event, QHelpEvent) and event.type() == QEvent.Type.ToolTip:
            QToolTip.showText(event.globalPos(), self.words(self._editor.line_at(event.pos().y())), self)
            return True
        return super().event(event)

    def words(self, line: int) -> str:
        """What the signs beside a line mean."""
        told = []
        if (count := self.counts.get(line)) is not None:
            in_all = "" if count.in_all is None else tr(", {0:,} times in the whole run").format(count.in_all)
            told.append(tr("This line ran {0:,} times so far{1}.").format(count.so_far, in_all))
        for sign in self.planned.get(line, ""):
            told.append(tr(_SIGNS.get(sign, "Stop {0} of the route is here.")).format(sign))
        if line in self.faulty:
            told.append(tr("This line is marked as faulty."))
        told.append(tr("Click: to its nearest visit. Right click: breakpoint."))
        return "\n".join(told)

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if event is not None:
            line = self._editor.line_at(int(event.position().y()))
            (self.marked if event.button() == Qt.MouseButton.RightButton else self.clicked).emit(line)


def _px(pixels: float) -> float:
    """A length: numbers grow with all else, but not so far that they take the text's room."""
    return min(px(pixels), pixels * _MOST_SCALE)


def _short(number: int) -> str:
    """A count in at most four characters: 9999, 12k, 3M."""
    if number < 10_000:
        return str(number)
    return f"{number // 1000}k" if number < 1_000_000 else f"{number // 1_000_000}M"
