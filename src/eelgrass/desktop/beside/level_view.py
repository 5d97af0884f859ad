"""The texts of two runs side by side, lines level: differences of text quiet, of what happened loud."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QFontMetricsF, QMouseEvent, QPainter, QPaintEvent, QPen, QResizeEvent
from PyQt6.QtWidgets import QAbstractScrollArea, QWidget

from eelgrass.desktop.look import icons
from eelgrass.desktop.look.look import Look
from eelgrass.desktop.look.palette import LEFT, RIGHT, code_font, px, ui_font
from eelgrass.desktop.services.translation import tr
from eelgrass.desktop.session.comparison import RunComparison
from eelgrass.desktop.session.session import Session
from eelgrass.reading.comparing.level_texts import LevelLine, level_lines, module_beside

_ROW = 20.0
_NUMBERS = 44.0


class LevelView(QAbstractScrollArea):
    """Where the runs stand is marked in both texts, and lines at which something differed have a shell beside them; a
    click on such a line leads to the first difference at it."""

    def __init__(self, session: Session, comparison: RunComparison, look: Look) -> None:
        super().__init__()
        self._session = session
        self._comparison = comparison
        self._look = look
        self._modules = (-1, -1)
        self._texts: tuple[list[str], list[str]] = ([], [])
        self.lines: list[LevelLine] = []
        self.setFrameShape(self.Shape.NoFrame)
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.setAccessibleName(tr("Both texts, lines level"))
        look.dresses(self._dress)
        comparison.compared.connect(self._take)
        session.moved.connect(self.refresh)

    def _dress(self) -> None:
        self._set_range()
        self._follow()
        self.canvas.update()

    @property
    def canvas(self) -> QWidget:
        """What is painted on."""
        viewport = self.viewport()
        assert viewport is not None
        return viewport

    def _take(self) -> None:
        self._modules, self.lines = (-1, -1), []
        self.refresh()

    def refresh(self) -> None:
        """Marks the lines at which both runs stand now, of the module of the run on view."""
        beside, recording = self._comparison.beside, self._session.recording
        if beside is None or recording is None or recording is not beside.alignment.a:
            self.lines = []
            self.canvas.update()
            return
        module = recording.module_at(self._session.step)
        if module != self._modules[0] or not self.lines:
            self._show(module)
        self._follow()
        self.canvas.update()

    def _show(self, module: int) -> None:
        beside = self._comparison.beside
        assert beside is not None
        a, b = beside.alignment.a, beside.alignment.b
        self._modules = module, module_beside(a, b, module)
        sources = [
            run.trace.program.modules[its].source if its >= 0 else ""
            for run, its in zip((a, b), self._modules, strict=True)
        ]
        self._texts = sources[0].split("\n"), sources[1].split("\n")
        self.lines = level_lines(*sources)
        self._set_range()

    def _set_range(self) -> None:
        bar = self.verticalScrollBar()
        if bar is not None:
            bar.setRange(0, max(0, int(len(self.lines) * px(_ROW)) - self.canvas.height()))
            bar.setSingleStep(int(px(_ROW)))

    def _first_at(self, line: int) -> int:
        """The number of the first difference at a line of the run on view; -1 for none."""
        beside = self._comparison.beside
        return beside.first_at.get((self._modules[0], line), -1) if beside is not None else -1

    def _standing(self) -> tuple[int, int]:
        """The lines at which the runs stand; 0 where it is another module."""
        beside, recording = self._comparison.beside, self._session.recording
        if beside is None or recording is None:
            return 0, 0
        there = self._comparison.step
        is_there = len(beside.other.trace.steps) > 0 and beside.other.module_at(there) == self._modules[1]
        return recording.trace.line_of(self._session.step), beside.other.trace.line_of(there) if is_there else 0

    def _follow(self) -> None:
        here, _ = self._standing()
        row = next((row for row, its in enumerate(self.lines) if its.here == here), 0)
        bar = self.verticalScrollBar()
        if bar is not None and not bar.value() <= row * px(_ROW) <= bar.value() + self.canvas.height() - px(_ROW):
            bar.setValue(int(row * px(_ROW) - self.canvas.height() / 2))

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        super().resizeEvent(event)
        self._set_range()
        self._follow()

    # Painting

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        painter = QPainter(self.canvas)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        c, bar = self._look.colours, self.verticalScrollBar()
        painter.fillRect(self.canvas.rect(), QColor(c.foam))
        top = bar.value() if bar is not None else 0
        here, there = self._standing()
        width, height = self.canvas.width() / 2, px(_ROW)
        first = int(top // height)
        for row in range(first, min(len(self.lines), first + int(self.canvas.height() // height) + 2)):
            its, y = self.lines[row], row * height - top
            sides = ((its.here, here, self._texts[0]), (its.there, there, self._texts[1]))
            for side, (line, standing, text) in enumerate(sides):
                rect = QRectF(side * width, y, width, height)
                self._paint_line(painter, rect, line, text, is_same=its.is_same, stands=0 < line == standing)
            if self._first_at(its.here) >= 0:
                icons.broken_shell(painter, QPointF(9, y + height / 2), 5, QColor(c.coral))
        painter.setPen(QPen(QColor(c.sand_edge), 1))
        painter.drawLine(QPointF(width, 0), QPointF(width, self.canvas.height()))

    def _paint_line(
        self, painter: QPainter, rect: QRectF, line: int, text: list[str], is_same: bool, stands: bool
    ) -> None:
        c = self._look.colours
        if stands:
            painter.fillRect(rect, QColor(c.waterline))
        elif not line:
            painter.fillRect(rect, QColor(c.beach))
        elif not is_same:
            painter.fillRect(rect, QColor(c.sand))
        if not line:
            return
        painter.setFont(ui_font(8.5))
        painter.setPen(QColor(c.ink_faded))
        painter.drawText(QRectF(rect.left(), rect.top(), px(_NUMBERS) - 8, rect.height()), RIGHT, str(line))
        font = code_font(9)
        painter.setFont(font)
        painter.setPen(QColor(c.ink if stands or not is_same else c.ink_soft))
        room = rect.adjusted(px(_NUMBERS), 0, -4, 0)
        told = QFontMetricsF(font).elidedText(text[line - 1].rstrip(), Qt.TextElideMode.ElideRight, room.width())
        painter.drawText(room, LEFT, told)

    # The pointer

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        bar = self.verticalScrollBar()
        if event is None or bar is None:
            return
        row = int((event.position().y() + bar.value()) // px(_ROW))
        number = self._first_at(self.lines[row].here) if row < len(self.lines) else -1
        if number >= 0:
            self._comparison.go(number)
