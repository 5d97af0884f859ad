"""The tide line of the other run below the one of the run on view: what both do is joined, what one does alone is set
apart."""

from __future__ import annotations

import numpy as np
import numpy.typing as npt
from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QMouseEvent, QPainter, QPaintEvent, QPen, QPixmap, QPolygonF, QResizeEvent
from PyQt6.QtWidgets import QWidget

from eelgrass.desktop.look.look import Look
from eelgrass.desktop.look.palette import LEFT, px, ui_font
from eelgrass.desktop.services.translation import tr
from eelgrass.desktop.session.comparison import Beside, RunComparison
from eelgrass.desktop.session.session import Session
from eelgrass.desktop.timeline.timeline_painter import MARGIN, Scale, TimelinePainter
from eelgrass.desktop.timeline.timeline_view import TimelineView

_BAND = 18.0
_HEIGHT = 86


class BesideLine(QWidget):
    """Shown while there is another run; follows the stretch of the tide line above."""

    def __init__(self, session: Session, comparison: RunComparison, timeline: TimelineView, look: Look) -> None:
        super().__init__()
        self.setFocusPolicy(Qt.FocusPolicy.ClickFocus)  # a click brings the keys back to the moves
        self._session = session
        self._comparison = comparison
        self._timeline = timeline
        self._look = look
        self._picture: QPixmap | None = None
        self._drawn: tuple[Scale, Scale] | None = None
        self.setFixedHeight(int(_BAND) + _HEIGHT)
        self.setAccessibleName(tr("Tide line of the other run"))
        self.setCursor(Qt.CursorShape.PointingHandCursor)
        self.setToolTip(tr("The other run. A click puts it on view in place of this one, and this one here (H)."))
        self.hide()
        look.dresses(self._dress)
        comparison.compared.connect(self._take)
        session.moved.connect(self.update)

    def _dress(self) -> None:
        self._picture = None
        self.update()

    def _take(self) -> None:
        self._picture = None
        self.setVisible(self._comparison.beside is not None)
        self.update()

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        super().resizeEvent(event)
        self._picture = None

    def _scales(self) -> tuple[Scale, Scale]:
        """Of the run on view, and of the other one, which shows the same stretch."""
        beside = self._comparison.beside
        assert beside is not None
        above = self._timeline.scale
        alignment = beside.alignment
        length = len(beside.other.trace.steps)
        begins = 0 if above.first <= 0 else alignment.counterpart(int(above.first))
        whole = above.end >= len(alignment.a.trace.steps)
        ends = length if whole else alignment.counterpart(int(above.end)) + 1
        return above, Scale(float(begins), float(max(ends, begins + 10)), self.width(), _HEIGHT)

    # Painting

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        beside = self._comparison.beside
        if beside is None:
            return
        scales = self._scales()
        if self._picture is None or self._drawn != scales:
            self._picture, self._drawn = self._painted(beside, *scales), scales
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.drawPixmap(0, 0, self._picture)
        self._paint_where(painter, beside, *scales)

    def _painted(self, beside: Beside, above: Scale, below: Scale) -> QPixmap:
        """All that stays as it is while one moves."""
        ratio = self.devicePixelRatioF()
        picture = QPixmap(int(self.width() * ratio), int(self.height() * ratio))
        picture.setDevicePixelRatio(ratio)
        picture.fill(QColor(self._look.colours.beach))
        painter = QPainter(picture)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        water = TimelinePainter(self._look, below).picture(beside.other.timeline, ratio)
        painter.drawPixmap(0, int(_BAND), water)
        self._paint_band(painter, beside.alignment.gaps, above, below)
        painter.end()
        return picture

    def _paint_band(self, painter: QPainter, gaps: npt.NDArray[np.int64], above: Scale, below: Scale) -> None:
        """Between the two lines: water where both do the same, coral where one is alone; of gaps that fall on the same
        pixels, one."""
        c = self._look.colours
        left, right = float(MARGIN), float(self.width() - MARGIN)
        painter.fillRect(QRectF(left, 0, right - left, _BAND), QColor(c.shallow))
        painter.setBrush(QColor(c.coral_pale))
        painter.setPen(QPen(QColor(c.coral), 1))
        on_view = gaps[(gaps[:, 1] >= above.first) & (gaps[:, 0] <= above.end)]
        scales = (above, above, below, below)
        xs = [np.clip(scale.xs_of(steps), left, right) for scale, steps in zip(scales, on_view.T, strict=True)]
        first, end, there, there_end = xs
        corners = np.stack((first, np.maximum(end, first + 1), np.maximum(there_end, there + 1), there), axis=1)
        pixels = corners.astype(np.int64)
        shown = np.ones(len(pixels), np.bool_)
        shown[1:] = (pixels[1:] != pixels[:-1]).any(axis=1)
        for four in corners[shown].tolist():
            points = (QPointF(x, y) for x, y in zip(four, (0.0, 0.0, _BAND, _BAND), strict=True))
            painter.drawPolygon(QPolygonF(list(points)))

    def _paint_where(self, painter: QPainter, beside: Beside, above: Scale, below: Scale) -> None:
        """Where both runs stand, joined."""
        c = self._look.colours
        here, there = above.x_of(self._session.step + 0.5), below.x_of(self._comparison.step + 0.5)
        waits = beside.alignment.is_apart(self._session.step)
        painter.setPen(QPen(QColor(c.ink), 1.8, Qt.PenStyle.DashLine if waits else Qt.PenStyle.SolidLine))
        painter.drawPolyline(QPolygonF([QPointF(here, 0), QPointF(there, _BAND), QPointF(there, self.height() - 4)]))
        painter.setFont(ui_font(8.5))
        painter.setPen(QColor(c.ink_soft))
        words = tr("beside: {0}").format(beside.name) + (tr(" · waits") if waits else "")
        painter.drawText(
            self.rect().adjusted(MARGIN, int(_BAND), -MARGIN, int(_BAND + px(18)) - self.height()), LEFT, words
        )

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if event is not None:
            self._comparison.swap()
