"""Draws cells with values in them: the parts that all pictures of data are made of."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QRectF
from PyQt6.QtGui import QColor, QFontMetricsF, QPainter, QPen

from eelgrass.colours import Palette
from eelgrass.desktop.look import icons
from eelgrass.desktop.look.palette import CENTRE, LEFT, code_font, px, ui_font
from eelgrass.reading.pictures.shapes import Cell

CELL = 30.0
LEAST = 30.0
KEY = 15.0

#: A cell with its box, and what it is filled with, if that says something.
Placed = tuple[QRectF, Cell, QColor | None]


class CellPainter:
    """`tag_of(number)` is the tag of an object that is reached from more than one place."""

    def __init__(self, colours: Palette, tag_of: Callable[[int], str | None]) -> None:
        self._colours = colours
        self._tag_of = tag_of
        self._font, self._small, self._key_font = code_font(10), ui_font(8.5), code_font(8)
        self._metrics = QFontMetricsF(self._font)

    def _width(self, cell: Cell) -> float:
        tag = self._tag_of(cell.object) if cell.object >= 0 else None
        extra = self._metrics.horizontalAdvance(tag) + 14 if tag else 0
        if len(cell.text) <= 2:
            return px(LEAST) + extra
        return max(self._metrics.horizontalAdvance(cell.text) + 14 + extra, px(LEAST))

    def _paint(self, painter: QPainter, placed: list[Placed]) -> None:
        """Many cells: first all boxes, then what is in them, since each change of pen and font takes its time."""
        c = self._colours
        painter.setRenderHint(QPainter.RenderHint.Antialiasing, False)  # straight lines need none
        painter.setPen(QPen(QColor(c.sand_edge), 1))
        painter.setBrush(QColor(c.foam))
        for rect, cell, fill in placed:
            if not cell.changed and fill is None:
                painter.drawRect(rect)
        for rect, cell, fill in placed:
            if fill is not None and not cell.changed:
                painter.setBrush(fill)
                painter.drawRect(rect)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setPen(QPen(QColor(c.leaf_dark), 2))
        painter.setBrush(QColor(c.leaf))
        for rect, cell, _ in placed:
            if cell.changed:
                painter.drawRect(rect)
                icons.leaf(painter, rect.right() - 8, rect.top() + 2, 9, QColor(c.leaf_dark))
        painter.setFont(self._font)
        self._write(painter, placed)

    def _write(self, painter: QPainter, placed: list[Placed]) -> None:
        c = self._colours
        ink, ink_on_leaf = QColor(c.ink), QColor(c.ink_on_leaf)
        painter.setPen(ink)
        for rect, cell, fill in placed:
            tag = self._tag_of(cell.object) if cell.object >= 0 else None
            if cell.changed or fill is not None or tag:
                painter.setPen(ink_on_leaf if cell.changed else readable(fill, c) if fill is not None else ink)
                text = self._paint_tag(painter, rect, tag) if tag else rect
                painter.drawText(text, LEFT if tag else CENTRE, cell.text)
                painter.setPen(ink)
            else:
                painter.drawText(rect, CENTRE, cell.text)

    def _paint_tag(self, painter: QPainter, rect: QRectF, tag: str) -> QRectF:
        """The tag of a shared object; gives the room beside it."""
        c, ink, number = self._colours, painter.pen(), sum(map(ord, tag))
        width = QFontMetricsF(self._font).horizontalAdvance(tag) + 10
        box = QRectF(rect.left() + 4, rect.top() + 4, width, rect.height() - 8)
        painter.setPen(QPen(QColor(c.ink_on_tag), 1))
        painter.setBrush(QColor(c.tag_tints[number // 4 % len(c.tag_tints)]))
        painter.drawPath(icons.tag_shape(box, number))
        painter.drawText(box, CENTRE, tag)
        painter.setPen(ink)
        return QRectF(box.right() + 4, rect.top(), rect.right() - box.right() - 4, rect.height())


def readable(fill: QColor, colours: Palette) -> QColor:
    """The ink that can be read on a fill."""
    return QColor(colours.on_deep if fill.lightnessF() < 0.5 else colours.ink)
