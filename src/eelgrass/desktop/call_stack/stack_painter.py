"""Paints call frames as layers of water: where each row goes, and how it looks."""

from __future__ import annotations

from collections import Counter
from dataclasses import dataclass, replace

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QFont, QFontMetricsF, QPainter, QPen

from eelgrass.desktop.look import icons
from eelgrass.desktop.look.look import Look
from eelgrass.desktop.look.palette import CENTRE, LEFT, RIGHT, blend, code_font, px, ui_font
from eelgrass.reading.stack.rows import (
    ErrorRow,
    FoldedRow,
    FrameRows,
    HeadingRow,
    MoreRow,
    ReturnRow,
    Row,
    UnsetRow,
    ValueRow,
)

EDGE = 14.0
_INSET = 13.0  # each caller's layer shows so much further left than its callee's
_MOST_INSETS = 8
_GAP = 8.0
_LEAST_WITH_TYPES = 300.0
_LEAST_LANE = 190.0  # for less, the calls of threads do not stand beside each other
_PADDING = 12.0
_TITLE_HEIGHT = 27.0
ROW_HEIGHT = 22.0


@dataclass(frozen=True)
class PlacedRow:
    """A row with its place on the canvas."""

    row: Row
    rect: QRectF


@dataclass(frozen=True)
class PlacedLayer:
    """A layer with its place on the canvas."""

    layer: FrameRows
    rect: QRectF
    rows: list[PlacedRow]


def place(stack_rows: list[FrameRows], width: float) -> list[PlacedLayer]:
    """Where each layer and row goes on a canvas of `width` pixels, from the top down."""
    placed = []
    y, bottoms, numbers = px(EDGE), dict[int, float](), Counter[int]()
    lanes = max((layer.lanes for layer in stack_rows), default=0)
    whole = width - 2 * px(EDGE) - _INSET
    is_narrow = lanes > 1 and whole / lanes < px(_LEAST_LANE)
    on = stack_rows[-1].lane if stack_rows else -1
    for number, layer in enumerate(stack_rows):
        if is_narrow and layer.lane not in (-1, on):  # there is room for what it does only
            layer = replace(layer, rows=[])
        insets = number if layer.lane < 0 else 1 + numbers[layer.lane]  # by the calls of its own thread
        left, room = px(EDGE) + _INSET * min(insets, _MOST_INSETS), width
        if lanes > 1 and layer.lane >= 0 and not is_narrow:
            lane = (whole - px(_GAP) * (lanes - 1)) / lanes
            start = px(EDGE) + _INSET + (lane + px(_GAP)) * layer.lane
            left, room = start + _INSET * min(numbers[layer.lane], _MOST_INSETS), start + lane + px(EDGE)
            y = bottoms.get(layer.lane, bottoms.get(-1, px(EDGE)))
        numbers[layer.lane] += 1
        height = px(_TITLE_HEIGHT) + px(ROW_HEIGHT) * len(layer.rows) + (8 if layer.rows else 2)
        rect = QRectF(left, y, max(room - left - px(EDGE), 120), height)
        rows = [
            PlacedRow(row, QRectF(left, y + px(_TITLE_HEIGHT) + px(ROW_HEIGHT) * place_, rect.width(), px(ROW_HEIGHT)))
            for place_, row in enumerate(layer.rows)
        ]
        placed.append(PlacedLayer(layer, rect, rows))
        y += height + px(_GAP)
        bottoms[layer.lane] = y
    return placed


def type_word_of(row: Row) -> str:
    """The word for the type of the value in a row; '' where there is none."""
    return row.type_word if isinstance(row, (ValueRow, ReturnRow)) else ""


class StackPainter:
    """Paints one layer at a time."""

    def __init__(self, look: Look) -> None:
        self._look = look
        self.dress()

    def dress(self) -> None:
        """Takes the fonts in the size that everything has now."""
        self._name_font, self._value_font = ui_font(10), code_font(10)
        self._small_font, self._title_font = ui_font(8.5), ui_font(10, bold=True)

    def paint(self, painter: QPainter, placed: PlacedLayer, share: float, lit: str | None) -> None:
        """Paints a layer, `share` of the way down from the module's (0) to the innermost (1); `lit` is the tag whose
        rows stand out."""
        c, layer, rect = self._look.colours, placed.layer, placed.rect
        is_deep = layer.active and share > 0
        fill = QColor(c.deep) if is_deep else QColor(c.sand) if share == 0 else blend(c.shallow, c.middle, share)
        edge = QColor(c.deep) if layer.active else QColor(c.sand_edge) if share == 0 else blend(c.shallow, c.deep, 0.3)
        painter.setPen(QPen(edge, 1.6 if layer.active else 1))
        painter.setBrush(fill)
        painter.drawRoundedRect(rect, 9, 9)
        ink, soft = (c.on_deep, c.on_deep_soft) if is_deep else (c.ink, c.ink_soft)
        head = QRectF(
            rect.left() + px(_PADDING), rect.top() + 3, rect.width() - 2 * px(_PADDING), px(_TITLE_HEIGHT) - 3
        )
        painter.setFont(self._title_font)
        painter.setPen(QColor(ink))
        painter.drawText(head, LEFT, layer.title)
        title = painter.fontMetrics().horizontalAdvance(layer.title)
        painter.setFont(self._small_font)
        painter.setPen(QColor(soft))
        if title + painter.fontMetrics().horizontalAdvance(layer.detail) + px(12) < head.width():
            painter.drawText(head, RIGHT, layer.detail)
        columns = _Columns(rect, placed.rows, self._name_font, self._small_font)
        for row in placed.rows:
            self._paint_row(painter, row, columns, is_deep, lit)

    def _paint_row(
        self, painter: QPainter, placed: PlacedRow, columns: _Columns, is_deep: bool, lit: str | None
    ) -> None:
        c, row, rect = self._look.colours, placed.row, placed.rect
        ink, soft = QColor(c.on_deep if is_deep else c.ink), QColor(c.on_deep_soft if is_deep else c.ink_soft)
        name_rect = QRectF(columns.name + 14 * row.indent, rect.top(), rect.right() - columns.name, rect.height())
        if isinstance(row, (HeadingRow, FoldedRow, MoreRow)):
            painter.setFont(self._small_font)
            painter.setPen(soft)
            width = rect.right() - px(_PADDING) - name_rect.left()
            painter.drawText(name_rect, LEFT, _cut(row.name, self._small_font, width))
            return
        if isinstance(row, ValueRow) and row.tag is not None and row.tag == lit:
            painter.fillRect(rect.adjusted(4, 1, -4, -1), blend(c.deep, c.leaf, 0.35) if is_deep else QColor(c.tag))
        trouble = QColor(c.coral if not is_deep else c.trouble_on_deep)
        handed_back = QColor(c.change_on_deep if is_deep else c.leaf_dark)
        if isinstance(row, ReturnRow):
            painter.setPen(QPen(handed_back, 1))
            painter.drawLine(QPointF(columns.name, rect.top()), QPointF(rect.right() - px(_PADDING), rect.top()))
            ink = handed_back
        painter.setPen(trouble if isinstance(row, ErrorRow) else ink)
        painter.setFont(self._name_font)
        if isinstance(row, ValueRow) and row.can_open:
            self._paint_opener(painter, name_rect, row.is_open, soft)
        painter.drawText(name_rect, LEFT, row.name)
        painter.setFont(self._small_font)
        painter.setPen(soft)
        type_rect = QRectF(columns.type, rect.top(), columns.value - columns.type, rect.height())
        if columns.tells_types:
            painter.drawText(type_rect, LEFT, type_word_of(row))
        value_rect = QRectF(columns.value, rect.top(), rect.right() - px(_PADDING) - columns.value, rect.height())
        if isinstance(row, UnsetRow):
            self._paint_empty(painter, value_rect, "deleted" if row.is_deleted else "not yet assigned", soft)
        elif isinstance(row, ValueRow):
            self._paint_value(painter, value_rect, row, ink, soft, is_deep)
        else:
            painter.setFont(self._value_font)
            painter.setPen(trouble if isinstance(row, ErrorRow) else ink)
            painter.drawText(value_rect, LEFT, _cut(row.text, self._value_font, value_rect.width()))

    def _paint_opener(self, painter: QPainter, name_rect: QRectF, is_open: bool, colour: QColor) -> None:
        """A small notch left of the name: pointing right when closed, down when open."""
        x, y = name_rect.left() - 8, name_rect.center().y()
        painter.save()
        painter.setPen(QPen(colour, 1.5))
        points = (
            [QPointF(x - 3, y - 1.5), QPointF(x, y + 2), QPointF(x + 3, y - 1.5)]
            if is_open
            else [QPointF(x - 1.5, y - 3), QPointF(x + 2, y), QPointF(x - 1.5, y + 3)]
        )
        painter.drawPolyline(*points)
        painter.restore()

    def _paint_empty(self, painter: QPainter, rect: QRectF, words: str, colour: QColor) -> None:
        painter.setPen(QPen(colour, 1, Qt.PenStyle.DashLine))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        width = QFontMetricsF(self._small_font).horizontalAdvance(words) + 18
        box = QRectF(rect.left(), rect.top() + 3, width, rect.height() - 6)
        painter.drawRoundedRect(box, 4, 4)
        painter.drawText(box, CENTRE, words)

    def _paint_value(
        self, painter: QPainter, rect: QRectF, row: ValueRow, ink: QColor, soft: QColor, is_deep: bool
    ) -> None:
        c = self._look.colours
        x = rect.left()
        if row.changed:
            height = min(rect.height() - 8, 22)
            colour = QColor(c.change_on_deep if is_deep else c.leaf_dark)
            icons.leaf(painter, x - 14, rect.center().y() - height / 2, height, colour)
        if row.tag is not None:
            x = self._paint_tag(painter, x, rect, row.tag)
        painter.setFont(self._value_font)
        metrics = QFontMetricsF(self._value_font)
        was = f"{row.was} → " if row.was is not None else ""
        needed = metrics.horizontalAdvance(was) + min(metrics.horizontalAdvance(row.text), rect.width() / 2)
        if was and x + needed <= rect.right():  # what it is now comes first where there is not room for both
            painter.setPen(soft)
            painter.drawText(QRectF(x, rect.top(), rect.right() - x, rect.height()), LEFT, was)
            x += metrics.horizontalAdvance(was)
        if row.cells:
            self._paint_cells(painter, QRectF(x, rect.top() + 1, rect.right() - x, rect.height() - 2), row, ink, soft)
            return
        painter.setPen(ink)
        painter.drawText(
            QRectF(x, rect.top(), rect.right() - x, rect.height()),
            LEFT,
            _cut(row.text, self._value_font, rect.right() - x),
        )

    def _tag_width(self, tag: str) -> float:
        return QFontMetricsF(self._value_font).horizontalAdvance(tag) + 16

    def _paint_tag(self, painter: QPainter, x: float, rect: QRectF, tag: str) -> float:
        c = self._look.colours
        width = self._tag_width(tag)
        box = QRectF(x, rect.top() + 2.5, width, rect.height() - 5)
        number = sum(map(ord, tag))
        tint = QColor(c.tag_tints[number // 4 % len(c.tag_tints)])
        painter.setPen(QPen(QColor(c.ink_on_tag), 1))
        painter.setBrush(tint)
        painter.drawPath(icons.tag_shape(box, number))
        painter.setFont(self._value_font)
        painter.setPen(QColor(c.ink_on_tag))
        painter.drawText(box, CENTRE, tag)
        return x + width + 7

    def _paint_cells(self, painter: QPainter, rect: QRectF, row: ValueRow, ink: QColor, soft: QColor) -> None:
        metrics = QFontMetricsF(self._value_font)
        x = rect.left()
        for number, cell in enumerate(row.cells):
            words = metrics.horizontalAdvance(cell.text) + 15
            width = words + (self._tag_width(cell.tag) + 3 if cell.tag else 0)
            if x + width > rect.right():
                painter.setPen(soft)
                more = f"… {len(row.cells) - number}"
                room = QRectF(x + 5, rect.top(), rect.right() - x - 5, rect.height())
                painter.drawText(room, LEFT, more if metrics.horizontalAdvance(more) <= room.width() else "…")
                return
            box = QRectF(x, rect.top(), width, rect.height())
            painter.setPen(QPen(soft, 1))
            painter.setBrush(QColor(self._look.colours.leaf) if cell.changed else Qt.BrushStyle.NoBrush)
            painter.drawRect(box)
            painter.setPen(QColor(self._look.colours.ink_on_leaf) if cell.changed else ink)
            painter.drawText(box.adjusted(width - words, 0, 0, 0), CENTRE, cell.text)
            if cell.tag:
                self._paint_tag(painter, x + 3, rect, cell.tag)
                painter.setFont(self._value_font)
            x += width


class _Columns:
    """Left edges of a layer's columns, wide enough for its names and types."""

    def __init__(self, rect: QRectF, rows: list[PlacedRow], name_font: QFont, type_font: QFont) -> None:
        names, types = QFontMetricsF(name_font), QFontMetricsF(type_font)
        plain = [row.row for row in rows if not isinstance(row.row, (HeadingRow, FoldedRow, MoreRow))]
        widest_name = max((names.horizontalAdvance(row.name) + 14 * row.indent for row in plain), default=0)
        widest_type = max((types.horizontalAdvance(type_word_of(row)) for row in plain), default=0)
        self.name = rect.left() + px(_PADDING) + 5
        self.type = self.name + min(max(widest_name + 18, 96), rect.width() * 0.4)
        self.value = self.type + min(max(widest_type + 28, 92), rect.width() * 0.35)
        self.tells_types = rect.width() >= px(_LEAST_WITH_TYPES)
        if not self.tells_types:
            self.value = self.name + min(widest_name + 24, rect.width() * 0.4)


def _cut(text: str, font: QFont, width: float) -> str:
    return QFontMetricsF(font).elidedText(text, Qt.TextElideMode.ElideRight, max(width, 10))
