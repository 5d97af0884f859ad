"""The tide line: the whole run as water of changing depth, with the reading line."""

from __future__ import annotations

import numpy as np
from PyQt6.QtCore import QEvent, QPointF, QRectF, Qt
from PyQt6.QtGui import (
    QColor,
    QHelpEvent,
    QKeyEvent,
    QMouseEvent,
    QPainter,
    QPainterPath,
    QPaintEvent,
    QPen,
    QPixmap,
    QPolygonF,
    QResizeEvent,
    QWheelEvent,
)
from PyQt6.QtWidgets import QToolTip, QWidget

from eelgrass.desktop.look import icons
from eelgrass.desktop.look.look import Look
from eelgrass.desktop.look.palette import CENTRE, readable_on, ui_font
from eelgrass.desktop.look.widgets import WALKS, outline, take_keys_home
from eelgrass.desktop.services.translation import tr
from eelgrass.desktop.session.breakpoint_set import BreakpointSet
from eelgrass.desktop.session.questions.watch_list import WatchList
from eelgrass.desktop.session.session import Session
from eelgrass.desktop.session.view_options import ViewOptions
from eelgrass.desktop.timeline.timeline_painter import MARGIN, SURFACE, Scale, TimelinePainter
from eelgrass.reading.timeline import Timeline
from eelgrass.trace.columns import find

_LEAST_RIPPLE_PX = 5
#: Keys that go to marks, and which way.
_TO_MARKS: dict[int, int] = {Qt.Key.Key_Left: -1, Qt.Key.Key_Up: -1, Qt.Key.Key_Right: 1, Qt.Key.Key_Down: 1}
_MOST_PENNANTS = 400
_ZOOM = 1.25


class TimelineView(QWidget):
    """Draws the run once for each size and zoom, and the reading line over it at each move.

    Drag to move the reading line, turn the wheel to zoom; `_from` and `_to` are the steps at the two edges.
    """

    def __init__(
        self, session: Session, breakpoints: BreakpointSet, watches: WatchList, options: ViewOptions, look: Look
    ) -> None:
        super().__init__()
        self.setFocusPolicy(Qt.FocusPolicy.TabFocus)
        self._session = session
        self._breakpoints = breakpoints
        self._watches = watches
        self._options = options
        self._look = look
        self.setProperty(WALKS, True)
        self._picture: QPixmap | None = None
        self._from, self._to = 0.0, 1.0
        self._planned: list[tuple[int, str]] = []
        self._trail: list[int] = []
        self.setFixedHeight(128)
        self.setMouseTracking(True)
        self.setAccessibleName(tr("Tide line: the whole run"))
        look.dresses(self._dress)
        session.opened.connect(self._take_recording)
        session.moved.connect(self._follow)
        for changed in (breakpoints.changed, watches.changed, watches.answered, session.revealed):
            changed.connect(self.update)

    def _dress(self) -> None:
        self.setFont(ui_font(8.5))
        self._picture = None
        self.update()

    def _timeline(self) -> Timeline | None:
        return self._session.recording.timeline if self._session.recording else None

    def _take_recording(self) -> None:
        timeline = self._timeline()
        self._from, self._to = 0.0, float(timeline.length if timeline else 1)
        self._picture = None
        self._tell_stretch()
        self.update()

    def _tell_stretch(self) -> None:
        self._options.set_stretch(int(self._from), max(int(self._to), int(self._from) + 1))

    @property
    def scale(self) -> Scale:
        """Which steps are where."""
        return Scale(self._from, self._to, self.width(), self.height())

    def _follow(self) -> None:
        """Keeps the reading line on view when zoomed in."""
        step, width = self._session.step, self._to - self._from
        if not self._from <= step <= self._to:
            self._look_at(step - width / 2, width)
        self.update()

    def _look_at(self, start: float, width: float) -> None:
        timeline = self._timeline()
        length = float(timeline.length if timeline else 1)
        width = min(max(width, min(10.0, length)), length)
        self._from = min(max(start, 0.0), length - width)
        self._to = self._from + width
        self._picture = None
        self.update()
        self._tell_stretch()

    def x_of(self, step: float) -> float:
        """Where a step lies, in pixels from the left."""
        return self.scale.x_of(step)

    def step_at(self, x: float) -> int:
        """The step at a place, in pixels from the left."""
        timeline = self._timeline()
        last = timeline.length - 1 if timeline else 0
        return min(max(int(self.scale.step_at(x)), 0), last)

    # Painting

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        super().resizeEvent(event)
        self._picture = None

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        if self._picture is None:
            painting = self._painting()
            self._picture = painting.picture(self._timeline(), self.devicePixelRatioF())
        painter.drawPixmap(0, 0, self._picture)
        if self._timeline() is not None:
            painter.setRenderHint(QPainter.RenderHint.Antialiasing)
            self._paint_ripples(painter)
            self._paint_followed(painter)
            self._paint_hits(painter)
            self._paint_bookmarks(painter)
            self._paint_planned(painter)
            self._paint_trail(painter)
            self._paint_horizon(painter)
            self._paint_reading_line(painter)
        if self.hasFocus():
            outline(painter, QRectF(self.rect()).adjusted(2, 2, -2, -2), self._look)

    def _painting(self) -> TimelinePainter:
        recording = self._session.recording
        return TimelinePainter(self._look, self.scale, recording.bands if recording is not None else ())

    def _paint_horizon(self, painter: QPainter) -> None:
        """What is to come is mist while the student says first."""
        if not self._session.visible.is_whole:
            x = self.x_of(self._session.visible.first_hidden)
            painter.fillRect(QRectF(x, 0, self.width() - x, self.height()), QColor(self._look.colours.beach))

    def _paint_reading_line(self, painter: QPainter) -> None:
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        x = self.x_of(self._session.step + 0.5)
        painter.setPen(QPen(QColor(self._look.colours.ink), 1.8))
        painter.drawLine(QPointF(x, 10), QPointF(x, self.height() - 4))
        painter.setBrush(QColor(self._look.colours.ink))
        painter.drawPolygon(QPolygonF([QPointF(x - 6, 3), QPointF(x + 6, 3), QPointF(x, 12)]))

    def _paint_ripples(self, painter: QPainter) -> None:
        """The passes of the loop around the shown step, where there is room to tell them apart."""
        recording, step = self._session.recording, self._session.step
        loop = next(iter(recording.loops.around(step)), None) if recording else None
        if recording is None or loop is None:
            return
        starts = recording.loops.starts(step, loop)
        starts = starts[find(starts, int(self._from)) : find(starts, int(self._to) + 1)]
        depth = int(recording.trace.depths[recording.stepping.frame_of(step)])
        painting = self._painting()
        height = painting.layer_height(recording.timeline)
        if not len(starts) or (self.width() - 2 * MARGIN) / len(starts) < _LEAST_RIPPLE_PX:
            return
        y = SURFACE + depth * height + 4  # along the upper edge: the label is below
        painter.setPen(QPen(readable_on(painting.water(depth, recording.timeline.deepest), "#FFFFFF", "#000000"), 1.4))
        for start in starts.tolist():
            x = self.x_of(start)
            path = QPainterPath(QPointF(x, y - 3))
            path.quadTo(x + 2.5, y, x, y + 3)
            painter.drawPath(path)

    def _paint_followed(self, painter: QPainter) -> None:
        """Where the answer to the followed question changes: leaves below the surface, thinned as all."""
        history = self._watches.followed_history
        drawn = -100.0
        for step in self._session.visible.cut(history.steps).tolist() if history is not None else []:
            x = self.x_of(step + 0.5)
            if x - drawn >= 7 and self.scale.shows(x):
                icons.leaf(painter, x - 3, SURFACE + 3, 13, QColor(self._look.colours.leaf_dark))
                drawn = x

    def _paint_bookmarks(self, painter: QPainter) -> None:
        for mark in self._breakpoints.bookmarks:
            x = self.x_of(mark + 0.5)
            if self.scale.shows(x):
                icons.stake(painter, QPointF(x, SURFACE), 18, QColor(self._look.colours.kelp))

    def show_planned(self, planned: list[tuple[int, str]]) -> None:
        """Shows what is planned where, as (step, sign)."""
        if planned != self._planned:
            self._planned = planned
            self.update()

    def show_trail(self, steps: list[int]) -> None:
        """Shows the moments of a trail, as one thread."""
        if steps != self._trail:
            self._trail = steps
            self.update()

    def _paint_trail(self, painter: QPainter) -> None:
        c = self._look.colours
        points = [QPointF(self.x_of(step + 0.5), SURFACE - 6) for step in self._trail]
        shown = [point for point in points if self.scale.shows(point.x())]
        painter.setPen(QPen(QColor(c.kelp), 1.4))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        if len(shown) > 1:
            painter.drawPolyline(QPolygonF(shown))
        painter.setBrush(QColor(c.kelp))
        for point in shown:
            painter.drawEllipse(point, 2.6, 2.6)

    def _paint_planned(self, painter: QPainter) -> None:
        """Signs of the plan in small boxes, at the top."""
        c = self._look.colours
        for step, sign in self._planned:
            x = self.x_of(step + 0.5)
            if self.scale.shows(x) and not self._session.visible.hides(step):
                box = QRectF(x - 7, 1, 7 + 7 * len(sign), 15)
                painter.setPen(QPen(QColor(c.kelp), 1))
                painter.setBrush(QColor(c.foam))
                painter.drawRoundedRect(box, 4, 4)
                painter.drawText(box, int(CENTRE), sign)

    def _paint_hits(self, painter: QPainter) -> None:
        """The hits of breakpoints by their signs, thinned where they would overlap."""
        for its, hits in self._breakpoints.shown:
            drawn = -100.0
            on_view = hits.steps[find(hits.steps, int(self._from)) : find(hits.steps, int(self._to) + 1)]
            for step in on_view[:: max(len(on_view) // _MOST_PENNANTS, 1)].tolist():
                x = self.x_of(step + 0.5)
                if x - drawn >= 8:
                    foot = QPointF(x + (0 if its.claims or its.note else 5), SURFACE)
                    icons.breakpoint_sign(painter, its, foot, 16, self._look.colours)
                    drawn = x

    # Zoom

    def zoom(self, factor: float) -> None:
        """Shows so many times as many steps around the reading line; 0 shows the whole run."""
        timeline = self._timeline()
        if timeline is not None and factor == 0:
            self._look_at(0.0, float(timeline.length))
        elif timeline is not None:
            width = (self._to - self._from) * factor
            self._look_at(self._session.step + 0.5 - width / 2, width)

    # Keys

    @property
    def marks(self) -> list[int]:
        """The steps of everything that stands on the line, ascending: bookmarks, hits of breakpoints, what is planned,
        the trail, exceptions, and where the answer that is followed changes."""
        visible, followed = self._session.visible, self._watches.followed_history
        found = {*self._breakpoints.bookmarks, *(step for step, _ in self._planned), *self._trail}
        for _, hits in self._breakpoints.shown:
            found.update(hits.steps.tolist())
        found.update(its.stations[0].step for its in visible.exceptions)
        if followed is not None:
            found.update(followed.steps.tolist())
        return sorted(step for step in found if not visible.hides(step))

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Left and Right go to the mark before and the next one."""
        if event is None or event.key() not in _TO_MARKS:
            super().keyPressEvent(event)
            return
        marks, step = self.marks, self._session.step
        place = find(np.array(marks, np.int64), step + (_TO_MARKS[event.key()] > 0))
        place += 0 if _TO_MARKS[event.key()] > 0 else -1
        if 0 <= place < len(marks):
            self._session.go(marks[place])
            self.setAccessibleDescription(self._session.visible.words_at(marks[place]))

    # The pointer

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        take_keys_home(self)
        if event is not None:
            self._session.go(self.step_at(event.position().x()))

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        if event is not None and event.buttons() & Qt.MouseButton.LeftButton:
            self._session.go(self.step_at(event.position().x()))

    def wheelEvent(self, event: QWheelEvent | None) -> None:
        if event is None or self._timeline() is None:
            return
        if event.angleDelta().x() or event.modifiers() & Qt.KeyboardModifier.ShiftModifier:
            turned = event.angleDelta().x() or event.angleDelta().y()
            self._look_at(self._from - turned / 120 * (self._to - self._from) / 8, self._to - self._from)
            return
        under = self.scale.step_at(event.position().x())
        factor = _ZOOM ** (-event.angleDelta().y() / 120)
        width = (self._to - self._from) * factor
        share = (under - self._from) / (self._to - self._from)
        self._look_at(under - share * width, width)

    def event(self, event: QEvent | None) -> bool:
        """Says in words what is under the pointer."""
        timeline = self._timeline()
        if isinstance(event, QHelpEvent) and timeline is not None and event.type() == QEvent.Type.ToolTip:
            step = self.step_at(event.pos().x())
            QToolTip.showText(event.globalPos(), self._session.visible.words_at(step), self)
            return True
        return super().event(event)
