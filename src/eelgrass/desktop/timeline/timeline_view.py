"""The tide line: the whole run as water of changing depth, with the reading line."""

from __future__ import annotations

import numpy as np
from PyQt6.QtCore import QEvent, QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import (
    QColor,
    QFontMetricsF,
    QHelpEvent,
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

from eelgrass.desktop.look import icons, marks
from eelgrass.desktop.look.palette import CENTRE, LEFT, Palette, blend, readable_on, ui_font
from eelgrass.desktop.services.translation import tr
from eelgrass.desktop.session.session import Session
from eelgrass.reading.timeline import Body, Timeline
from eelgrass.trace.columns import find

_MARGIN = 16
_SURFACE = 30  # from the top of the widget to the surface
_LEAST_BODY_PX = 3
_MOST_BANDS = 24
_LEAST_RIPPLE_PX = 5
_MOST_PENNANTS = 400
_ZOOM = 1.25


class TimelineView(QWidget):
    """Draws the run once for each size and zoom, and the reading line over it at each move.

    Drag to move the reading line, turn the wheel to zoom; `_from` and `_to` are the steps at the two edges; `looked`
    tells that these are others.
    """

    looked = pyqtSignal()

    def __init__(self, session: Session, colours: Palette) -> None:
        super().__init__()
        self._session = session
        self._colours = colours
        self._picture: QPixmap | None = None
        self._from, self._to = 0.0, 1.0
        self._planned: list[tuple[int, str]] = []
        self.setFixedHeight(128)
        self.setMouseTracking(True)
        self.setAccessibleName(tr("Tide line: the whole run"))
        self.setFont(ui_font(8.5))
        session.opened.connect(self._take_recording)
        session.moved.connect(self._follow)
        session.marked.connect(self.update)
        session.answered.connect(self.update)

    def _timeline(self) -> Timeline | None:
        return self._session.recording.timeline if self._session.recording else None

    def _take_recording(self) -> None:
        timeline = self._timeline()
        self._from, self._to = 0.0, float(timeline.length if timeline else 1)
        self._picture = None
        self.update()

    def refresh(self) -> None:
        """Takes the recording on view."""
        self._take_recording()

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
        self.looked.emit()

    def x_of(self, step: float) -> float:
        """Where a step lies, in pixels from the left."""
        return _MARGIN + (step - self._from) / (self._to - self._from) * (self.width() - 2 * _MARGIN)

    def step_at(self, x: float) -> int:
        """The step at a place, in pixels from the left."""
        share = (x - _MARGIN) / max(self.width() - 2 * _MARGIN, 1)
        timeline = self._timeline()
        last = timeline.length - 1 if timeline else 0
        return min(max(int(self._from + share * (self._to - self._from)), 0), last)

    # Painting

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        super().resizeEvent(event)
        self._picture = None

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        if self._picture is None:
            self._picture = self._paint_picture()
        painter.drawPixmap(0, 0, self._picture)
        if self._timeline() is not None:
            painter.setRenderHint(QPainter.RenderHint.Antialiasing)
            self._paint_ripples(painter)
            self._paint_followed(painter)
            self._paint_hits(painter)
            self._paint_bookmarks(painter)
            self._paint_planned(painter)
            self._paint_horizon(painter)
            self._paint_reading_line(painter)

    def _paint_horizon(self, painter: QPainter) -> None:
        """What is to come is mist while the student says first."""
        if self._session.horizon is not None:
            x = self.x_of(self._session.horizon + 1)
            painter.fillRect(QRectF(x, 0, self.width() - x, self.height()), QColor(self._colours.beach))

    def _paint_reading_line(self, painter: QPainter) -> None:
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        x = self.x_of(self._session.step + 0.5)
        painter.setPen(QPen(QColor(self._colours.ink), 1.8))
        painter.drawLine(QPointF(x, 10), QPointF(x, self.height() - 4))
        painter.setBrush(QColor(self._colours.ink))
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
        height = self._layer_height(recording.timeline)
        if not len(starts) or (self.width() - 2 * _MARGIN) / len(starts) < _LEAST_RIPPLE_PX:
            return
        y = _SURFACE + (depth + 0.76) * height
        painter.setPen(QPen(readable_on(self._water(depth, recording.timeline.deepest), "#FFFFFF", "#000000"), 1.4))
        for start in starts.tolist():
            x = self.x_of(start)
            path = QPainterPath(QPointF(x, y - 3))
            path.quadTo(x + 2.5, y, x, y + 3)
            painter.drawPath(path)

    def _paint_followed(self, painter: QPainter) -> None:
        """Where the answer to the followed question changes: leaves below the surface, thinned as all."""
        over = self._session.overs.get(self._session.followed)
        drawn = -100.0
        for step in over.steps.tolist() if over is not None else []:
            x = self.x_of(step + 0.5)
            if x - drawn >= 7 and _MARGIN <= x <= self.width() - _MARGIN:
                icons.leaf(painter, x - 3, _SURFACE + 3, 13, QColor(self._colours.leaf_dark))
                drawn = x

    @property
    def stretch(self) -> tuple[int, int]:
        """The steps on view: the first, and the one after the last."""
        return int(self._from), max(int(self._to), int(self._from) + 1)

    def _paint_bookmarks(self, painter: QPainter) -> None:
        for mark in self._session.marks:
            x = self.x_of(mark + 0.5)
            if _MARGIN <= x <= self.width() - _MARGIN:
                icons.stake(painter, QPointF(x, _SURFACE), 18, QColor(self._colours.kelp))

    def show_planned(self, planned: list[tuple[int, str]]) -> None:
        """Shows what is planned where, as (step, sign)."""
        if planned != self._planned:
            self._planned = planned
            self.update()

    def _paint_planned(self, painter: QPainter) -> None:
        """Signs of the plan in small boxes, at the top."""
        c = self._colours
        for step, sign in self._planned:
            x = self.x_of(step + 0.5)
            if _MARGIN <= x <= self.width() - _MARGIN and not self._session.is_hidden(step):
                box = QRectF(x - 7, 1, 7 + 7 * len(sign), 15)
                painter.setPen(QPen(QColor(c.kelp), 1))
                painter.setBrush(QColor(c.foam))
                painter.drawRoundedRect(box, 4, 4)
                painter.drawText(box, int(CENTRE), sign)

    def _paint_hits(self, painter: QPainter) -> None:
        """The hits of breakpoints by their signs, thinned where they would overlap."""
        for its, hits in zip(self._session.breakpoints, self._session.hits, strict=True):
            drawn = -100.0
            on_view = hits.steps[find(hits.steps, int(self._from)) : find(hits.steps, int(self._to) + 1)]
            for step in on_view[:: max(len(on_view) // _MOST_PENNANTS, 1)].tolist():
                x = self.x_of(step + 0.5)
                if x - drawn >= 8:
                    marks.paint(
                        painter, its, QPointF(x + (0 if its.claims or its.note else 5), _SURFACE), 16, self._colours
                    )
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

    def _paint_picture(self) -> QPixmap:
        ratio = self.devicePixelRatioF()
        picture = QPixmap(int(self.width() * ratio), int(self.height() * ratio))
        picture.setDevicePixelRatio(ratio)
        picture.fill(QColor(self._colours.beach))
        timeline = self._timeline()
        painter = QPainter(picture)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setPen(QPen(QColor(self._colours.sand_edge), 1.4))
        painter.drawLine(QPointF(0, _SURFACE), QPointF(self.width(), _SURFACE))
        if timeline is not None:
            self._paint_water(painter, timeline)
            self._paint_marks(painter, timeline)
        painter.end()
        return picture

    def _layer_height(self, timeline: Timeline) -> float:
        return min((self.height() - _SURFACE - 8) / (timeline.deepest + 1), 27.0)

    def _paint_water(self, painter: QPainter, timeline: Timeline) -> None:
        """The silhouette of the greatest depth in each pixel, then the frames that are wide enough to tell apart."""
        height = self._layer_height(timeline)
        pixels = self.width() - 2 * _MARGIN
        per_pixel = (self._to - self._from) / max(pixels, 1)
        if per_pixel > 1 or height < _LEAST_BODY_PX:
            self._paint_silhouette(painter, timeline, height, pixels)
        if height < _LEAST_BODY_PX:
            return
        painter.setFont(self.font())
        for body in timeline.bodies(per_pixel * _LEAST_BODY_PX):
            if body.last >= self._from and body.first <= self._to:
                self._paint_body(painter, body, height, timeline.deepest)

    def _paint_silhouette(self, painter: QPainter, timeline: Timeline, height: float, pixels: int) -> None:
        """In bands of several levels where there are many, each painted in runs of equal depth."""
        depths = timeline.profile_between(int(self._from), int(self._to), pixels)
        step = pixels / len(depths)
        levels = max(1, -(-timeline.deepest // _MOST_BANDS))
        for top in range(1, timeline.deepest + 1, levels):
            filled = np.clip(depths - top + 1, 0, levels)
            edges = np.flatnonzero(np.diff(filled, prepend=-1, append=-1))
            for left, right in zip(edges[:-1].tolist(), edges[1:].tolist(), strict=True):
                rect = QRectF(
                    _MARGIN + left * step, _SURFACE + top * height, (right - left) * step, filled[left] * height
                )
                painter.fillRect(rect, self._water(top, timeline.deepest))

    def _water(self, depth: int, deepest: int) -> QColor:
        if depth == 0:
            return blend(self._colours.sand, self._colours.sand_edge, 0.55)
        return blend(
            self._colours.middle, self._colours.deep, (depth - 1) / max(deepest - 1, 1) if deepest > 1 else 0.25
        )

    def _paint_body(self, painter: QPainter, body: Body, height: float, deepest: int) -> None:
        left, right = self.x_of(body.first), self.x_of(body.last + 1)
        rect = QRectF(left, _SURFACE + body.depth * height, right - left, height)
        path = QPainterPath(rect.topLeft())
        sag = min(height * 0.35, rect.width() * 0.15) if body.depth else 0.0
        path.lineTo(rect.topRight())
        path.lineTo(rect.right(), rect.bottom() - sag)
        path.quadTo(rect.center().x(), rect.bottom() + sag, rect.left(), rect.bottom() - sag)
        path.closeSubpath()
        colour = self._water(body.depth, deepest)
        painter.setPen(QPen(QColor(self._colours.beach), 1))
        painter.setBrush(colour)
        painter.drawPath(path)
        name = "" if body.depth == 0 else body.name
        room = min(right, self.width() - _MARGIN) - max(left, _MARGIN) - 12
        if height >= 13 and QFontMetricsF(self.font()).horizontalAdvance(name) <= room:
            painter.setPen(readable_on(colour, self._colours.on_deep, self._colours.ink))
            at = rect.adjusted(max(_MARGIN - left, 0) + 7, 0, 0, -2)
            painter.drawText(at, LEFT, name)

    def _paint_marks(self, painter: QPainter, timeline: Timeline) -> None:
        """Output as rings and exceptions as broken shells above the surface, thinned where they would overlap."""
        drawn = -100.0
        for step in timeline.outputs().tolist():
            x = self.x_of(step + 0.5)
            if x - drawn >= 5 and _MARGIN <= x <= self.width() - _MARGIN:
                icons.ring(painter, QPointF(x, _SURFACE - 9), 4, QColor(self._colours.deep))
                drawn = x
        drawn = -100.0
        for step in timeline.exceptions().tolist():
            x = self.x_of(step + 0.5)
            if x - drawn >= 7 and _MARGIN <= x <= self.width() - _MARGIN:
                icons.broken_shell(painter, QPointF(x, _SURFACE - 10), 6, QColor(self._colours.coral))
                drawn = x

    # The pointer

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
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
        under = self._from + (event.position().x() - _MARGIN) / max(self.width() - 2 * _MARGIN, 1) * (
            self._to - self._from
        )
        factor = _ZOOM ** (-event.angleDelta().y() / 120)
        width = (self._to - self._from) * factor
        share = (under - self._from) / (self._to - self._from)
        self._look_at(under - share * width, width)

    def event(self, event: QEvent | None) -> bool:
        """Says in words what is under the pointer."""
        timeline = self._timeline()
        if isinstance(event, QHelpEvent) and timeline is not None and event.type() == QEvent.Type.ToolTip:
            step = self.step_at(event.pos().x())
            QToolTip.showText(event.globalPos(), "" if self._session.is_hidden(step) else timeline.words(step), self)
            return True
        return super().event(event)
