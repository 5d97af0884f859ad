"""How the cells of a trace table are painted."""

from __future__ import annotations

from PyQt6.QtCore import QModelIndex, QRect, QSize, Qt
from PyQt6.QtGui import QColor, QFontMetrics, QPainter
from PyQt6.QtWidgets import QStyledItemDelegate, QStyleOptionViewItem

from eelgrass.desktop.look import icons
from eelgrass.desktop.look.look import Look
from eelgrass.desktop.look.palette import LEFT, RIGHT, code_font
from eelgrass.desktop.tabs.trace_table.table_model import TableModel


class TableDelegate(QStyledItemDelegate):
    """Paints a cell itself, which a style would take four times as long for: the shown moment's row in the waterline's
    sand, what has changed with a leaf and in bold."""

    def __init__(self, look: Look, model: TableModel) -> None:
        super().__init__()
        self._look = look
        self._model = model
        self.dress()

    def dress(self) -> None:
        """Takes colours and fonts, which are not looked up again for each cell."""
        c = self._look.colours
        self._plain, self._bold = code_font(9.5), code_font(9.5)
        self._bold.setBold(True)
        self._metrics = QFontMetrics(self._plain), QFontMetrics(self._bold)
        self._sand, self._leaf = QColor(c.waterline), QColor(c.leaf)
        self._ink, self._ink_on_leaf = QColor(c.ink), QColor(c.ink_on_leaf)
        self._leaf_dark, self._coral = QColor(c.leaf_dark), QColor(c.coral)

    def paint(self, painter: QPainter | None, option: QStyleOptionViewItem, index: QModelIndex) -> None:
        table = self._model.table
        if painter is None or table is None:
            return
        row, rect = index.row(), option.rect
        if self._model.is_asked(index.column()):
            self._paint_by_hand(painter, rect, row, index.column())
            return
        cell = table.cell(row, index.column())
        is_here = row == self._model.here
        if is_here or cell.changed:
            painter.fillRect(rect, self._sand if is_here else self._leaf)
        if not cell.text:
            return
        painter.setFont(self._bold if cell.changed else self._plain)
        painter.setPen(self._ink_on_leaf if cell.changed and not is_here else self._ink)
        width = rect.width() - (18 if cell.changed else 8)
        text = cell.text
        if len(text) * self._metrics[0].averageCharWidth() > width:
            text = self._metrics[cell.changed].elidedText(text, Qt.TextElideMode.ElideRight, width)
        painter.drawText(rect.adjusted(5, 0, 0, 0), int(LEFT), text)
        if cell.changed:
            painter.setRenderHint(QPainter.RenderHint.Antialiasing)
            icons.leaf(painter, rect.right() - 10, rect.top() + 3, 9, self._leaf_dark)

    def sizeHint(self, option: QStyleOptionViewItem, index: QModelIndex) -> QSize:
        """The room that a cell's text needs, with its leaf."""
        text = self._model.table.cell(index.row(), index.column()).text if self._model.table is not None else ""
        return QSize(self._metrics[True].horizontalAdvance(text) + 24, super().sizeHint(option, index).height())

    def _paint_by_hand(self, painter: QPainter, rect: QRect, row: int, column: int) -> None:
        """A cell to be filled in: what was written, and, once it was checked, whether that is so."""
        place, checked = (row, column), self._model.checked
        painter.setFont(self._plain)
        painter.setPen(self._ink)
        painter.drawText(rect.adjusted(5, 0, -18, 0), int(LEFT), self._model.text(row, column))
        sign = (
            "✓"
            if place in checked.right
            else "✗"
            if place in checked.wrong
            else "…"
            if place in checked.missing
            else ""
        )
        if sign:
            painter.fillRect(rect.adjusted(0, rect.height() - 3, -1, 0), self._leaf if sign == "✓" else self._coral)
            painter.drawText(rect.adjusted(0, 0, -5, 0), int(RIGHT), sign)
