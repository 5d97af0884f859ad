"""Paints the run as water of changing depth."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass

import numpy as np
import numpy.typing as npt
from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QFont, QFontMetricsF, QPainter, QPainterPath, QPen, QPixmap

from eelgrass.desktop.look import icons
from eelgrass.desktop.look.look import Look
from eelgrass.desktop.look.palette import LEFT, blend, px, readable_on, ui_font
from eelgrass.desktop.session.wording import nth
from eelgrass.reading.threads.bands import Band
from eelgrass.reading.timeline import Body, Timeline
from eelgrass.trace.columns import Ints

MARGIN = 16
SURFACE = 30  # from the top of the widget to the surface
_LEAST_BODY_PX = 3
_MOST_BANDS = 24
_BAND = 11.0  # how high a thread's band is


def label_font() -> QFont:
    """The face of labels on the water, which has to fit into a layer."""
    return ui_font(min(8.5, 12.0 / px(1)))


@dataclass(frozen=True)
class Scale:
    """The steps at the two edges of the timeline, and its size in pixels."""

    first: float
    end: float
    width: int
    height: int

    def x_of(self, step: float) -> float:
        """Where a step lies, in pixels from the left."""
        return MARGIN + (step - self.first) / (self.end - self.first) * (self.width - 2 * MARGIN)

    def xs_of(self, steps: npt.NDArray[np.int64]) -> npt.NDArray[np.float64]:
        """Where steps lie."""
        per_step = (self.width - 2 * MARGIN) / (self.end - self.first)
        return (MARGIN + (steps - self.first) * per_step).astype(np.float64)

    def step_at(self, x: float) -> float:
        """The step at a place, in pixels from the left."""
        return self.first + (x - MARGIN) / max(self.width - 2 * MARGIN, 1) * (self.end - self.first)

    def shows(self, x: float) -> bool:
        """Whether a place lies between the margins."""
        return MARGIN <= x <= self.width - MARGIN


class TimelinePainter:
    """Paints at one scale."""

    def __init__(self, look: Look, scale: Scale, bands: Sequence[Band] = ()) -> None:
        self._look = look
        self.scale = scale
        self._bands = bands

    def picture(self, timeline: Timeline | None, ratio: float) -> QPixmap:
        """The run as a picture, without what moves over it; `ratio` device pixels for each."""
        picture = QPixmap(int(self.scale.width * ratio), int(self.scale.height * ratio))
        picture.setDevicePixelRatio(ratio)
        picture.fill(QColor(self._look.colours.beach))
        painter = QPainter(picture)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setPen(QPen(QColor(self._look.colours.sand_edge), 1.4))
        painter.drawLine(QPointF(0, SURFACE), QPointF(self.scale.width, SURFACE))
        if timeline is not None:
            self._paint_water(painter, timeline)
            self._paint_marks(painter, timeline)
            for place, band in enumerate(self._bands):
                self._paint_band(painter, band, self.scale.height - _BAND * (len(self._bands) - place) - 3)
        painter.end()
        return picture

    def layer_height(self, timeline: Timeline) -> float:
        """How high a layer of calls is, in pixels."""
        bands = _BAND * len(self._bands)
        return min((self.scale.height - SURFACE - 8 - bands) / (timeline.deepest + 1), 27.0)

    def _paint_band(self, painter: QPainter, band: Band, top: float) -> None:
        """A thread's life as a thread: thick where it was on, beaded while it slept, cut while it waited."""
        c, middle = self._look.colours, top + _BAND / 2
        left, right = max(self.scale.x_of(band.first), MARGIN), min(self.scale.x_of(band.last + 1), self.scale.width)
        painter.setPen(QPen(QColor(c.sand_edge), 1))
        painter.drawLine(QPointF(left, middle), QPointF(right, middle))
        for stretches, colour, style in (
            (band.waits, c.coral, Qt.PenStyle.DashLine),
            (band.sleeps, c.kelp, Qt.PenStyle.DotLine),
        ):
            painter.setPen(QPen(QColor(colour), 2, style))
            for start, end in self._placed(stretches):
                painter.drawLine(QPointF(start, middle), QPointF(end, middle))
        for start, end in self._placed(band.on):
            painter.fillRect(QRectF(start, top + 2, max(end - start, 1.0), _BAND - 4), QColor(c.deep))
        painter.setFont(ui_font(min(7.5, 10.0 / px(1))))
        words = QFontMetricsF(painter.font()).horizontalAdvance(band.name) + 6
        x = left - words if left - words >= 1 else right + 3 if right + words < self.scale.width else 2
        room = QRectF(x, top - 1, words, _BAND + 2)
        painter.fillRect(room.adjusted(-2, 2, 0, -2), QColor(c.beach))
        painter.setPen(QColor(c.ink))
        painter.drawText(room, LEFT, band.name)

    def _placed(self, stretches: Ints) -> Iterator[tuple[float, float]]:
        """Where stretches of steps lie, those that touch as one."""
        if not len(stretches):
            return
        starts, ends = self.scale.xs_of(stretches[:, 0]), self.scale.xs_of(stretches[:, 1] + 1)
        shown = (ends >= MARGIN) & (starts <= self.scale.width - MARGIN)
        starts, ends = np.maximum(starts[shown], MARGIN), np.minimum(ends[shown], self.scale.width - MARGIN)
        if not len(starts):
            return
        begins = np.flatnonzero(np.append(True, starts[1:] - ends[:-1] > 1))
        yield from zip(starts[begins].tolist(), ends[np.append(begins[1:], len(ends)) - 1].tolist(), strict=True)

    def _paint_water(self, painter: QPainter, timeline: Timeline) -> None:
        """The silhouette of the greatest depth in each pixel, then the frames that are wide enough to tell apart."""
        height = self.layer_height(timeline)
        pixels = self.scale.width - 2 * MARGIN
        per_pixel = (self.scale.end - self.scale.first) / max(pixels, 1)
        if per_pixel > 1 or height < _LEAST_BODY_PX:
            self._paint_silhouette(painter, timeline, height, pixels)
        if height < _LEAST_BODY_PX:
            return
        painter.setFont(label_font())
        for body in timeline.bodies(per_pixel * _LEAST_BODY_PX):
            if body.last >= self.scale.first and body.first <= self.scale.end:
                self._paint_body(painter, body, height, timeline.deepest)

    def _paint_silhouette(self, painter: QPainter, timeline: Timeline, height: float, pixels: int) -> None:
        """In bands of several levels where there are many, each painted in runs of equal depth."""
        depths = timeline.profile_between(int(self.scale.first), int(self.scale.end), pixels)
        step = pixels / len(depths)
        levels = max(1, -(-timeline.deepest // _MOST_BANDS))
        for top in range(1, timeline.deepest + 1, levels):
            filled = np.clip(depths - top + 1, 0, levels)
            edges = np.flatnonzero(np.diff(filled, prepend=-1, append=-1))
            for left, right in zip(edges[:-1].tolist(), edges[1:].tolist(), strict=True):
                rect = QRectF(
                    MARGIN + left * step, SURFACE + top * height, (right - left) * step, filled[left] * height
                )
                painter.fillRect(rect, self.water(top, timeline.deepest))

    def water(self, depth: int, deepest: int) -> QColor:
        """The colour of the water at a depth of calls."""
        c = self._look.colours
        if depth == 0:
            return blend(c.sand, c.sand_edge, 0.55)
        return blend(c.middle, c.deep, (depth - 1) / max(deepest - 1, 1) if deepest > 1 else 0.25)

    def _paint_body(self, painter: QPainter, body: Body, height: float, deepest: int) -> None:
        left, right = self.scale.x_of(body.first), self.scale.x_of(body.last + 1)
        rect = QRectF(left, SURFACE + body.depth * height, right - left, height)
        path = QPainterPath(rect.topLeft())
        sag = min(height * 0.35, rect.width() * 0.15) if body.depth else 0.0
        path.lineTo(rect.topRight())
        path.lineTo(rect.right(), rect.bottom() - sag)
        path.quadTo(rect.center().x(), rect.bottom() + sag, rect.left(), rect.bottom() - sag)
        path.closeSubpath()
        colour = self.water(body.depth, deepest)
        painter.setPen(QPen(QColor(self._look.colours.beach), 1))
        painter.setBrush(colour)
        painter.drawPath(path)
        name = "" if body.depth == 0 else body.name
        room = min(right, self.scale.width - MARGIN) - max(left, MARGIN) - 12
        numbered = f"{name}, {nth(body.number)}" if body.number else name
        if QFontMetricsF(label_font()).horizontalAdvance(numbered) <= room:
            name = numbered
        if height >= 13 and QFontMetricsF(label_font()).horizontalAdvance(name) <= room:
            painter.setPen(readable_on(colour, self._look.colours.on_deep, self._look.colours.ink))
            at = rect.adjusted(max(MARGIN - left, 0) + 7, min(height - 19, 5), 0, -1)
            painter.drawText(at, LEFT, name)

    def _paint_marks(self, painter: QPainter, timeline: Timeline) -> None:
        """Output as rings and exceptions as broken shells above the surface, thinned where they would overlap."""
        drawn = -100.0
        for step in timeline.outputs().tolist():
            x = self.scale.x_of(step + 0.5)
            if x - drawn >= 5 and self.scale.shows(x):
                icons.ring(painter, QPointF(x, SURFACE - 9), 4, QColor(self._look.colours.deep))
                drawn = x
        drawn = -100.0
        for step in timeline.exceptions().tolist():
            x = self.scale.x_of(step + 0.5)
            if x - drawn >= 7 and self.scale.shows(x):
                icons.broken_shell(painter, QPointF(x, SURFACE - 10), 6, QColor(self._look.colours.coral))
                drawn = x
