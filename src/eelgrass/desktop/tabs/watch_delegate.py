"""How a question that is kept in view is painted: its text and answer, and its course over the run beside them."""

from __future__ import annotations

from PyQt6.QtCore import QModelIndex, QPointF, QRectF, QSize, Qt
from PyQt6.QtGui import QColor, QPainter, QPen
from PyQt6.QtWidgets import QStyledItemDelegate, QStyleOptionViewItem

from eelgrass.desktop.look.look import Look
from eelgrass.desktop.look.palette import px
from eelgrass.desktop.look.series_painter import bands, paint_numbers
from eelgrass.reading.watches.series import Series

#: The item data that holds the course.
COURSE = Qt.ItemDataRole.UserRole + 1
#: The item data that holds where in the run the reader stands, from 0 to 1.
PLACE = Qt.ItemDataRole.UserRole + 2
_WIDTH = 170
_GAP = 10


class WatchDelegate(QStyledItemDelegate):
    """Leaves room on the right for the course."""

    def __init__(self, look: Look) -> None:
        super().__init__()
        self._look = look

    def sizeHint(self, option: QStyleOptionViewItem, index: QModelIndex) -> QSize:
        return super().sizeHint(option, index).expandedTo(QSize(0, int(px(24))))

    def paint(self, painter: QPainter | None, option: QStyleOptionViewItem, index: QModelIndex) -> None:
        assert painter is not None
        series = index.data(COURSE)
        room = QRectF(option.rect)
        width = min(px(_WIDTH), room.width() * 0.4)
        text = QStyleOptionViewItem(option)
        text.rect = option.rect.adjusted(0, 0, -int(width + _GAP), 0)
        super().paint(painter, text, index)
        if isinstance(series, Series):
            rect = QRectF(room.right() - width, room.top() + 4, width - 4, room.height() - 8)
            painter.save()
            painter.setRenderHint(QPainter.RenderHint.Antialiasing)
            painter.fillRect(rect, QColor(self._look.colours.water))
            (self._paint_numbers if series.is_numbers else self._paint_bands)(painter, rect, series)
            painter.setPen(QPen(QColor(self._look.colours.ink), 1.4))
            x = rect.left() + rect.width() * float(index.data(PLACE) or 0.0)
            painter.drawLine(QPointF(x, rect.top() - 2), QPointF(x, rect.bottom() + 2))
            painter.restore()

    def _paint_numbers(self, painter: QPainter, rect: QRectF, series: Series) -> None:
        painter.setPen(QPen(QColor(self._look.colours.deep), 1.6))
        paint_numbers(painter, rect, series, 2)

    def _paint_bands(self, painter: QPainter, rect: QRectF, series: Series) -> None:
        """Every other value stands a little lower, so that a change shows without colour."""
        tints = self._look.colours.tag_tints
        for band, which in bands(rect.adjusted(0, 0, 0, -rect.height() * 0.3), series):
            painter.fillRect(band.translated(0, rect.height() * 0.3 * (which % 2)), QColor(tints[which % len(tints)]))
