"""The history of values: each question that is kept in view as a track, level with the tide line below."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QFontMetricsF, QMouseEvent, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QScrollArea, QWidget

from eelgrass.desktop.look.look import Look
from eelgrass.desktop.look.palette import LEFT, code_font, px, ui_font
from eelgrass.desktop.look.series_painter import bands, paint_numbers
from eelgrass.desktop.services.translation import tr
from eelgrass.desktop.session.questions.watch_list import WatchList
from eelgrass.desktop.session.session import Session
from eelgrass.desktop.session.view_options import ViewOptions
from eelgrass.reading.watches.tracks import Track, tracks

_TITLE = 116
_TRACK = 54
_BAND = 26
_EDGE = 10
_MOST_TRACKS = 40


class HistoryView(QScrollArea):
    """The tracks of all questions, over the steps that the tide line shows. A click goes to the step there."""

    def __init__(self, session: Session, watches: WatchList, options: ViewOptions, look: Look) -> None:
        super().__init__()
        self.lanes = _Lanes(session, watches, options, look)
        self.setWidget(self.lanes)
        self.setWidgetResizable(True)
        self.setFrameShape(self.Shape.NoFrame)
        self.setAccessibleName(tr("History of values"))
        watches.answered.connect(self.refresh)
        options.stretched.connect(self.refresh)
        look.changed.connect(self.refresh)
        session.moved.connect(self.lanes.update)
        session.opened.connect(self.refresh)

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
    def __init__(self, session: Session, watches: WatchList, options: ViewOptions, look: Look) -> None:
        super().__init__()
        self._session = session
        self._watches = watches
        self._options = options
        self._look = look
        self.tracks: list[Track] = []
        self._from, self._to = 0, 1

    def take(self) -> None:
        """Works out the tracks for the steps on view."""
        recording = self._session.recording
        self.tracks = []
        if recording is not None:
            self._from, self._to = self._options.stretch
            room = max(int(self._room()), 20)
            for asked in self._watches.expressions:
                over = self._watches.histories.get(asked.text)
                if over is not None and len(self.tracks) < _MOST_TRACKS:
                    self.tracks += tracks(recording, asked.text, over, self._from, self._to, room)
        self.setMinimumHeight(int(sum(map(self._height, self.tracks))) + 2 * _EDGE)
        self.update()

    def _room(self) -> float:
        return self.width() - px(_TITLE) - 2 * _EDGE

    def _height(self, track: Track) -> float:
        return px(_TRACK if track.series.is_numbers else _BAND) + 6

    def _x_of(self, step: float) -> float:
        return px(_TITLE) + _EDGE + (step - self._from) / max(self._to - self._from, 1) * self._room()

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        painter, c = QPainter(self), self._look.colours
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
            (self._paint_numbers if track.series.is_numbers else self._paint_bands)(painter, track, rect)
            y += self._height(track)
        if not self._session.visible.is_whole:
            left = max(self._x_of(self._session.visible.first_hidden), px(_TITLE))
            painter.fillRect(QRectF(left, 0, self.width() - left, self.height()), QColor(c.beach))
        x = self._x_of(self._session.step + 0.5)
        if px(_TITLE) + _EDGE <= x <= self.width():
            painter.setPen(QPen(QColor(c.ink), 1.5))
            painter.drawLine(QPointF(x, 0), QPointF(x, y))

    def _paint_title(self, painter: QPainter, track: Track, rect: QRectF) -> None:
        c = self._look.colours
        painter.setFont(code_font(9))
        painter.setPen(QColor(c.ink))
        left = QRectF(_EDGE, rect.top(), px(_TITLE) - 6, rect.height())
        wrapped = Qt.AlignmentFlag.AlignVCenter | Qt.TextFlag.TextWordWrap
        painter.drawText(left.adjusted(0, 0, -34, 0), int(wrapped), track.title)
        if track.series.is_numbers and self._session.visible.is_whole:
            painter.setFont(ui_font(8))
            painter.setPen(QColor(c.ink_soft))
            top = Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignTop
            painter.drawText(left, top, f"{track.series.most:g}")
            if track.series.least != track.series.most:
                bottom = Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignBottom
                painter.drawText(left, bottom, f"{track.series.least:g}")

    def _paint_numbers(self, painter: QPainter, track: Track, rect: QRectF) -> None:
        painter.setPen(QPen(QColor(self._look.colours.deep), 1.8))
        paint_numbers(painter, rect, track.series, 4)

    def _paint_bands(self, painter: QPainter, track: Track, rect: QRectF) -> None:
        c = self._look.colours
        painter.setFont(code_font(8.5))
        for band, which in bands(rect.adjusted(0, 2, 0, -2), track.series):
            painter.setPen(QPen(QColor(c.beach), 1.2))
            painter.setBrush(QColor(c.tag_tints[which % len(c.tag_tints)]))
            painter.drawRoundedRect(band, 3, 3)
            text = track.texts[which]
            if QFontMetricsF(painter.font()).horizontalAdvance(text[:40]) < band.width() - 8:
                painter.setPen(QColor(c.ink_on_tag))
                painter.drawText(band.adjusted(4, 0, 0, 0), LEFT, text)

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if event is not None and self._room() > 0 and event.position().x() >= px(_TITLE):
            share = (event.position().x() - px(_TITLE) - _EDGE) / self._room()
            self._session.go(int(self._from + share * (self._to - self._from)))
