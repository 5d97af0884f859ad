"""The course of an answer as lines and bands, for the small drawings beside questions and the tracks of histories."""

from __future__ import annotations

from collections.abc import Iterator
from itertools import groupby
from math import isnan

from PyQt6.QtCore import QPointF, QRectF
from PyQt6.QtGui import QPainter, QPolygonF

from eelgrass.reading.watches.series import Series


def paint_numbers(painter: QPainter, rect: QRectF, series: Series, margin: float) -> None:
    """The numbers as lines, with the painter's pen; broken where there are none."""
    scale = (rect.height() - 2 * margin) / (series.most - series.least) if series.most > series.least else 0.0
    base = rect.bottom() - margin if scale else rect.center().y()
    step = rect.width() / len(series.low)
    line: list[QPointF] = []
    for place, (low, high) in enumerate(zip(series.low, series.high, strict=True)):
        if isnan(low):
            painter.drawPolyline(QPolygonF(line))
            line = []
            continue
        x = rect.left() + (place + 0.5) * step
        ends = [QPointF(x, base - (number - series.least) * scale) for number in (low, high)]
        if line and abs(line[-1].y() - ends[0].y()) > abs(line[-1].y() - ends[1].y()):
            ends.reverse()
        line += ends
    painter.drawPolyline(QPolygonF(line))


def bands(rect: QRectF, series: Series) -> Iterator[tuple[QRectF, int]]:
    """The boxes of the other values, each with the place of its value in `results`."""
    step, place = rect.width() / len(series.last), 0
    for which, run in groupby(series.last):
        length = sum(1 for _ in run)
        if which >= 0:
            yield QRectF(rect.left() + place * step, rect.top(), length * step, rect.height()), which
        place += length
