"""Passes side by side: the program's lines go down, level with the text, and the passes go across."""

from __future__ import annotations

from itertools import pairwise

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QMouseEvent, QPainter, QPaintEvent, QPen, QWheelEvent
from PyQt6.QtWidgets import QComboBox, QHBoxLayout, QPushButton, QScrollBar, QVBoxLayout, QWidget

from eelgrass.desktop.look.look import Look
from eelgrass.desktop.look.palette import CENTRE, LEFT, code_font, px, ui_font
from eelgrass.desktop.look.widgets import SoftLabel
from eelgrass.desktop.services.translation import tr
from eelgrass.desktop.session.breakpoint_set import BreakpointSet
from eelgrass.desktop.session.session import Session
from eelgrass.desktop.source.source_view import SourceView
from eelgrass.reading.tables import iterations
from eelgrass.reading.tables.iterations import Iterations, Odd
from eelgrass.reading.tables.trace_table import loop_at

_COLUMN = 146
_HEAD = 24
_LOOP, _CALLS = range(2)


class IterationsView(QWidget):
    """A click on a cell goes to that visit, one on a head to the pass; the buttons go from one that stands out to the
    next. It stands where Depths and the bench stand, since its rows are the lines of the text."""

    def __init__(self, session: Session, breakpoints: BreakpointSet, source: SourceView, look: Look) -> None:
        super().__init__()
        self._session = session
        self._breakpoints = breakpoints
        self._key: tuple[object, ...] = ()
        self.passes: Iterations | None = None
        self.odd: list[Odd] = []
        self.scope = QComboBox()
        self.scope.setAccessibleName(tr("Which passes are shown"))
        self.scope.addItems([tr("passes of this loop"), tr("calls of this function")])
        self.before, self.after = QPushButton(tr("odd one before")), QPushButton(tr("next odd one"))
        self.said = SoftLabel(look, 9)
        self.grid = _Grid(self, session, source, look)
        self.bar = QScrollBar(Qt.Orientation.Horizontal)
        self.said.setContentsMargins(8, 0, 0, 0)
        below = QHBoxLayout()
        below.setContentsMargins(8, 0, 0, 0)
        for widget in (self.scope, self.before, self.after):
            below.addWidget(widget)
        below.addStretch(1)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 0, 8, 4)
        layout.setSpacing(3)
        layout.addWidget(self.grid, 1)
        layout.addWidget(self.bar)
        layout.addWidget(self.said)
        layout.addLayout(below)
        self.scope.currentIndexChanged.connect(lambda _scope: self.refresh())
        self.before.clicked.connect(lambda: self._to_odd(-1))
        self.after.clicked.connect(lambda: self._to_odd(1))
        self.bar.valueChanged.connect(self.grid.update)
        source.editor.scrolled.connect(self.grid.update)
        session.moved.connect(self.refresh)
        session.opened.connect(self.refresh)
        session.revealed.connect(self._judge)
        breakpoints.changed.connect(self._judge)

    def refresh(self) -> None:
        """Shows the passes that the shown step belongs to; those of before, while it belongs to none."""
        recording, step = self._session.recording, self._session.step
        if recording is None or not self.isVisible():
            return
        loop = loop_at(recording, step)
        function = int(recording.trace.frames.function[recording.stepping.frame_of(step)])
        key: tuple[object, ...] = (recording, _CALLS, function)
        if self.scope.currentIndex() == _LOOP:
            first = recording.loops.starts(step, loop)[:1].tolist() if loop >= 0 else []
            key = (recording, loop, *first) if first else ()
        if key and key != self._key:
            self._key = key
            is_loop = self.scope.currentIndex() == _LOOP
            self.passes = (
                iterations.of_loop(recording, step, loop) if is_loop else iterations.of_function(recording, function)
            )
            self._judge()
        elif not key and (not self._key or self._key[0] is not recording):
            self.passes, self._key = None, ()
            self.said.setText(tr("The line about to run is in no loop."))
        self._follow()
        self.grid.update()

    def _judge(self) -> None:
        if self.passes is None:
            return
        self.odd = self._session.visible.odd(self.passes, self._breakpoints.breaches)
        self._say()
        self.grid.update()

    def _say(self) -> None:
        assert self.passes is not None
        if not self._session.visible.is_whole:
            self.said.setText(self.passes.title)
            self.before.setEnabled(False)
            self.after.setEnabled(False)
            return
        place = self.passes.place_of(self._session.step)
        why = next((f": {its.why}" for its in self.odd if its.place == place), "")
        here = tr("number {0} of {1}{2}").format(place + 1, len(self.passes), why) if place >= 0 else ""
        odd = tr("standing out: {0:,}").format(len(self.odd))
        self.said.setText(f"{self.passes.title} · {odd}{' · ' + here if here else ''}")
        for button in (self.before, self.after):
            button.setEnabled(bool(self.odd))

    def _follow(self) -> None:
        if self.passes is None:
            return
        room = self.grid.columns_on_view()
        self.bar.setRange(0, max(len(self.passes) - room, 0))
        self.bar.setPageStep(max(room, 1))
        place = self.passes.place_of(self._session.step)
        if place >= 0 and not self.bar.value() <= place < self.bar.value() + room:
            self.bar.setValue(max(place - room // 2, 0))
        self._say()

    def resizeEvent(self, event: object) -> None:
        super().resizeEvent(event)  # type: ignore[arg-type]
        self._follow()

    def showEvent(self, event: object) -> None:
        super().showEvent(event)  # type: ignore[arg-type]
        self.refresh()

    def _to_odd(self, by: int) -> None:
        assert self.passes is not None
        here = self.passes.place_of(self._session.step)
        places = [its.place for its in self.odd]
        wanted = [place for place in places if (place > here if by > 0 else place < here)]
        if wanted or places:
            place = (min(wanted) if by > 0 else max(wanted)) if wanted else places[0 if by > 0 else -1]
            self.go(place)

    def go(self, place: int) -> None:
        """Goes to the beginning of a pass."""
        assert self.passes is not None
        start = int(self.passes.starts[place])
        self._session.go(start)


class _Grid(QWidget):
    """The cells, painted for what is on view only."""

    def __init__(self, owner: IterationsView, session: Session, source: SourceView, look: Look) -> None:
        super().__init__()
        self._owner = owner
        self._session = session
        self._source = source
        self._look = look
        self.setAccessibleName(tr("Passes side by side"))
        look.dresses(self._dress)

    def _dress(self) -> None:
        self._font, self._head_font = code_font(9), ui_font(8.5)
        self.update()

    def columns_on_view(self) -> int:
        """How many passes there is room for."""
        return max(int(self.width() / px(_COLUMN)), 1)

    def _left(self, place: int) -> float:
        return (place - self._owner.bar.value()) * px(_COLUMN)

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        painter, c, its = QPainter(self), self._look.colours, self._owner.passes
        painter.fillRect(self.rect(), QColor(c.beach))
        if its is None or not self._source.shows(its.module):
            return
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        first = self._owner.bar.value()
        here = its.place_of(self._session.step)
        for place in range(first, min(first + self.columns_on_view() + 1, len(its))):
            self._paint_column(painter, its, place, place == here)
        self._paint_heads(painter, its, here)

    def _paint_column(self, painter: QPainter, its: Iterations, place: int, is_here: bool) -> None:
        c, editor = self._look.colours, self._source.editor
        left, width, height = self._left(place), px(_COLUMN), editor.line_height()
        painter.setFont(self._font)
        ran: list[QRectF] = []
        for line in its.lines:
            now = self._source.line_now(line)
            rect = QRectF(left, editor.top_of(now), width, height)
            if not now or rect.bottom() < 0 or rect.top() > self.height():
                continue
            did = its.did(line, place)
            if not did.times or self._session.visible.hides_outcome(did.step):
                continue
            ran.append(rect)
            box = rect.adjusted(2, 2, -2, -2)
            is_now = is_here and did.step == self._session.step
            painter.setPen(QPen(QColor(c.deep if is_here else c.sand_edge), 1.6 if is_here else 1))
            painter.setBrush(QColor(c.waterline if is_now else c.foam))
            painter.drawRoundedRect(box, 5, 5)
            times = f"{did.times}× " if did.times > 1 else ""
            text = painter.fontMetrics().elidedText(times + did.text, Qt.TextElideMode.ElideRight, int(width - 14))
            painter.setPen(QColor(c.ink if is_here else c.note))
            painter.drawText(box.adjusted(5, 0, -4, 0), LEFT, text)
        painter.setPen(QPen(QColor(c.deep if is_here else c.middle), 2.2))
        for upper, lower in pairwise(ran):  # the path that the pass took
            x = left + px(12)
            painter.drawLine(QPointF(x, upper.bottom() - 2), QPointF(x, lower.top() + 2))

    def _paint_heads(self, painter: QPainter, its: Iterations, here: int) -> None:
        c = self._look.colours
        painter.fillRect(QRectF(0, 0, self.width(), px(_HEAD)), QColor(c.sand))
        painter.setFont(self._head_font)
        odd = {one.place: one.why for one in self._owner.odd}
        first = self._owner.bar.value()
        for place in range(first, min(first + self.columns_on_view() + 1, len(its))):
            if self._session.visible.hides(int(its.starts[place])):
                break
            box = QRectF(self._left(place) + 2, 1, px(_COLUMN) - 4, px(_HEAD) - 3)
            if place == here:
                painter.fillRect(box, QColor(c.waterline))
            painter.setPen(QColor(c.kelp if place in odd else c.ink_soft))
            painter.drawText(box, CENTRE, str(place + 1) + (tr("  stands out") if place in odd else ""))
            if place in odd:
                painter.fillRect(QRectF(box.left(), box.bottom() - 1, box.width(), 3), QColor(c.kelp))

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        its = self._owner.passes
        if event is None or its is None:
            return
        place = self._owner.bar.value() + int(event.position().x() / px(_COLUMN))
        if not 0 <= place < len(its):
            return
        line = self._source.line_then(self._source.editor.line_at(int(event.position().y())))
        did = its.did(line, place) if event.position().y() > px(_HEAD) and line in its.lines else None
        if did is not None and did.times:
            self._session.go(did.step)
        else:
            self._owner.go(place)

    def wheelEvent(self, event: QWheelEvent | None) -> None:
        """The wheel scrolls the text, with Shift the passes."""
        if event is None:
            return
        if event.modifiers() & Qt.KeyboardModifier.ShiftModifier or event.angleDelta().x():
            turned = event.angleDelta().x() or event.angleDelta().y()
            self._owner.bar.setValue(self._owner.bar.value() - (1 if turned > 0 else -1))
        else:
            self._source.editor.scroll_lines(-3 if event.angleDelta().y() > 0 else 3)
