"""The history of values: each question that is kept in view as a track, level with the tide line below."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QFontMetricsF, QMouseEvent, QPainter, QPaintEvent, QPen, QPolygonF
from PyQt6.QtWidgets import QScrollArea, QWidget

from eelgrass.desktop.palette import LEFT, Palette, code_font, px, ui_font
from eelgrass.desktop.reader import Reader
from eelgrass.desktop.words import tr
from eelgrass.reading.tracks import Track, tracks

_TITLE = 116
_TRACK = 54
_BAND = 26
_EDGE = 10
_MOST_TRACKS = 40


class HistoryView(QScrollArea):
    """The tracks of all questions, over the steps that the tide line shows. A click goes to the step there."""

    def __init__(self, reader: Reader, colours: Palette, stretch: Callable[[], tuple[int, int]]) -> None:
        super().__init__()
        self.lanes = _Lanes(reader, colours, stretch)
        self.setWidget(self.lanes)
        self.setWidgetResizable(True)
        self.setFrameShape(self.Shape.NoFrame)
        self.setAccessibleName(tr("History of values"))
        self._reader = reader
        reader.answered.connect(self.refresh)
        reader.moved.connect(self.lanes.update)
        reader.opened.connect(self.refresh)

    def refresh(self) -> None:
        """Draws all tracks anew."""
        if self.isVisible():
            self.lanes.take()

    def showEvent(self, event: object) -> None:
        super().showEvent(event)  # type: ignore[arg-type]
        self.refresh()

    def resizeEvent(self, event: object) -> None:
        super().resizeEvent(event)  # type: ignore[arg-type]
        self.refresh()


class _Lanes(QWidget):
    def __init__(self, reader: Reader, colours: Palette, stretch: Callable[[], tuple[int, int]]) -> None:
        super().__init__()
        self._reader = reader
        self._colours = colours
        self._stretch = stretch
        self.tracks: list[Track] = []
        self._from, self._to = 0, 1

    def take(self) -> None:
        """Works out the tracks for the steps on view."""
        recording = self._reader.recording
        self.tracks = []
        if recording is not None:
            self._from, self._to = self._stretch()
            room = max(int(self._room()), 20)
            for asked in self._reader.questions:
                over = self._reader.overs.get(asked.text)
                if over is not None and len(self.tracks) < _MOST_TRACKS:
                    self.tracks += tracks(recording, asked.text, over, self._from, self._to, room)
        self.setMinimumHeight(int(sum(map(self._height, self.tracks))) + 2 * _EDGE)
        self.update()

    def _room(self) -> float:
        return self.width() - px(_TITLE) - 2 * _EDGE

    def _height(self, track: Track) -> float:
        return px(_TRACK if track.course.is_numbers else _BAND) + 6

    def _x_of(self, step: float) -> float:
        return px(_TITLE) + _EDGE + (step - self._from) / max(self._to - self._from, 1) * self._room()

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        painter, c = QPainter(self), self._colours
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.fillRect(self.rect(), QColor(c.beach))
        if not self.tracks:
            painter.setPen(QColor(c.ink_soft))
            painter.setFont(ui_font())
            told = tr("Ask something (A) and its history stands here; so does a value of Depths, by a right click.")
            painter.drawText(self.rect().adjusted(16, 12, -16, 0), int(Qt.TextFlag.TextWordWrap), told)
            return
        y = float(_EDGE)
        for track in self.tracks:
            rect = QRectF(px(_TITLE) + _EDGE, y, self._room(), self._height(track) - 6)
            self._paint_title(painter, track, rect)
            painter.fillRect(rect, QColor(c.foam))
            (self._paint_numbers if track.course.is_numbers else self._paint_bands)(painter, track, rect)
            y += self._height(track)
        if self._reader.horizon is not None:
            left = max(self._x_of(self._reader.horizon + 1), px(_TITLE))
            painter.fillRect(QRectF(left, 0, self.width() - left, self.height()), QColor(c.beach))
        x = self._x_of(self._reader.step + 0.5)
        if px(_TITLE) + _EDGE <= x <= self.width():
            painter.setPen(QPen(QColor(c.ink), 1.5))
            painter.drawLine(QPointF(x, 0), QPointF(x, y))

    def _paint_title(self, painter: QPainter, track: Track, rect: QRectF) -> None:
        c = self._colours
        painter.setFont(code_font(9))
        painter.setPen(QColor(c.ink))
        left = QRectF(_EDGE, rect.top(), px(_TITLE) - 6, rect.height())
        wrapped = Qt.AlignmentFlag.AlignVCenter | Qt.TextFlag.TextWordWrap
        painter.drawText(left.adjusted(0, 0, -34, 0), int(wrapped), track.title)
        if track.course.is_numbers and self._reader.horizon is None:
            painter.setFont(ui_font(8))
            painter.setPen(QColor(c.ink_soft))
            top = Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignTop
            painter.drawText(left, top, f"{track.most:g}")
            if track.least != track.most:
                bottom = Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignBottom
                painter.drawText(left, bottom, f"{track.least:g}")

    def _paint_numbers(self, painter: QPainter, track: Track, rect: QRectF) -> None:
        course = track.course
        scale = (rect.height() - 8) / (track.most - track.least) if track.most > track.least else 0.0
        base = rect.bottom() - 4 if scale else rect.center().y()
        step = rect.width() / len(course.low)
        painter.setPen(QPen(QColor(self._colours.deep), 1.8))
        line: list[QPointF] = []
        for place, (low, high) in enumerate(zip(course.low, course.high, strict=True)):
            if course.last[place] < 0 or low != low:  # not a number: there is none
                painter.drawPolyline(QPolygonF(line))
                line = []
                continue
            x = rect.left() + (place + 0.5) * step
            ys = [base - (low - track.least) * scale, base - (high - track.least) * scale]
            if line and abs(line[-1].y() - ys[0]) > abs(line[-1].y() - ys[1]):
                ys.reverse()
            line += [QPointF(x, ys[0]), QPointF(x, ys[1])]
        painter.drawPolyline(QPolygonF(line))

    def _paint_bands(self, painter: QPainter, track: Track, rect: QRectF) -> None:
        c, last = self._colours, track.course.last
        step = rect.width() / len(last)
        painter.setFont(code_font(8.5))
        place = 0
        while place < len(last):
            end = place
            while end < len(last) and last[end] == last[place]:
                end += 1
            if last[place] >= 0:
                band = QRectF(rect.left() + place * step, rect.top() + 2, (end - place) * step, rect.height() - 4)
                painter.setPen(QPen(QColor(c.beach), 1.2))
                painter.setBrush(QColor(c.tag_tints[last[place] % len(c.tag_tints)]))
                painter.drawRoundedRect(band, 3, 3)
                text = track.texts[last[place]]
                if QFontMetricsF(painter.font()).horizontalAdvance(text[:40]) < band.width() - 8:
                    painter.setPen(QColor(c.ink_on_tag))
                    painter.drawText(band.adjusted(4, 0, 0, 0), LEFT, text)
            place = end

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if event is not None and self._room() > 0 and event.position().x() >= px(_TITLE):
            share = (event.position().x() - px(_TITLE) - _EDGE) / self._room()
            self._reader.go(int(self._from + share * (self._to - self._from)))
