"""Draws pictures of data with plain painting, for the screen and for files alike."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from PyQt6.QtCore import QPointF, QRectF, QSizeF, Qt
from PyQt6.QtGui import QColor, QFontMetricsF, QPainter, QPainterPath, QPen, QPolygonF

from eelgrass.desktop.look import icons
from eelgrass.desktop.look.palette import CENTRE, LEFT, RIGHT, blend, px, ui_font
from eelgrass.desktop.tabs.cell_painter import CELL, KEY, LEAST, CellPainter, Placed
from eelgrass.reading.pictures.index_pointers import Pointer
from eelgrass.reading.pictures.node_layout import places
from eelgrass.reading.pictures.shapes import Cells, Grid, Node, Nodes, Pairs, Picture

_POINTER = 20.0
_GAP_X, _GAP_Y = 46.0, 34.0


class PicturePainter(CellPainter):
    """One picture, drawn at once or only measured: `paint` gives the size that it takes."""

    def paint(self, painter: QPainter, picture: Picture) -> QSizeF:
        """Draws a picture from the painter's origin; gives its size."""
        painter.setRenderHints(QPainter.RenderHint.Antialiasing | QPainter.RenderHint.TextAntialiasing)
        painter.setFont(self._small)
        painter.setPen(QColor(self._colours.ink_soft))
        title = picture.title if picture.shape is not None else f"{picture.title} – {picture.why}"
        painter.drawText(QRectF(0, 0, 2000, px(18)), LEFT, title)
        width = QFontMetricsF(self._small).horizontalAdvance(title)
        painter.save()
        painter.translate(1, px(22))
        ways: dict[type, Callable[[QPainter, Any], QSizeF]] = {
            Cells: self._cells,
            Grid: self._grid,
            Pairs: self._pairs,
            Nodes: self._nodes,
        }
        size = ways[type(picture.shape)](painter, picture.shape) if picture.shape is not None else QSizeF(0, 0)
        painter.restore()
        return QSizeF(max(width, size.width()) + 4, size.height() + px(22) + 4)

    # Cells

    def _cells(self, painter: QPainter, its: Cells) -> QSizeF:
        c = self._colours
        has_keys = its.kind != "set"
        top = px(KEY) if has_keys else 0.0
        if its.swapped is not None:
            top += px(18)
        height, x = px(CELL), self._more(painter, 0.0, top, its.first)
        lefts: dict[int, QRectF] = {}
        placed: list[Placed] = []
        painter.setFont(self._key_font)
        painter.setPen(QColor(c.ink_soft))
        for place, cell in enumerate(its.cells):
            rect = QRectF(x, top, self._width(cell), height)
            placed.append((rect, cell, None))
            if has_keys:
                painter.drawText(QRectF(x, top - px(KEY), rect.width(), px(KEY)), CENTRE, cell.key)
            lefts[its.first + place] = rect
            x = rect.right() + (0 if has_keys else 6)
        self._paint(painter, placed)
        if not its.cells:
            painter.setPen(QColor(c.ink_soft))
            painter.drawText(QRectF(x, top, 200, height), LEFT, "nothing in it")
            x += 90
        left_out = its.size - its.first - len(its.cells)
        x = self._more(painter, x + 6, top, left_out) if left_out > 0 else x
        if its.swapped is not None and all(place in lefts for place in its.swapped):
            self._swap(painter, *(lefts[place] for place in its.swapped))
        right, below = self._pointers(painter, its.pointers, lefts, its.size, top + height)
        return QSizeF(max(x, right), below)

    def _more(self, painter: QPainter, x: float, top: float, count: int) -> float:
        """Says how many cells are left out; gives where the next ones begin."""
        if count <= 0:
            return x
        painter.setFont(self._small)
        painter.setPen(QColor(self._colours.ink_soft))
        text = f"… {count:,} "
        width = QFontMetricsF(self._small).horizontalAdvance(text)
        painter.drawText(QRectF(x, top, width, px(CELL)), LEFT, text)
        return x + width

    def _swap(self, painter: QPainter, one: QRectF, other: QRectF) -> None:
        """Two cells that have exchanged their values: a wave between them, above the keys."""
        c = self._colours
        start, end = (QPointF(rect.center().x(), rect.top() - px(KEY)) for rect in (one, other))
        path = QPainterPath(start)
        path.cubicTo(start.x(), start.y() - 20, end.x(), end.y() - 20, end.x(), end.y())
        painter.setPen(QPen(QColor(c.leaf_dark), 2, Qt.PenStyle.DashLine))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawPath(path)

    def _pointers(
        self, painter: QPainter, pointers: list[Pointer], cells: dict[int, QRectF], size: int, top: float
    ) -> tuple[float, float]:
        """Index variables under their cells, below each other where they would overlap; gives how far to the right
        and how far down they reach."""
        c, right, below, taken = self._colours, 0.0, top, list[QRectF]()
        painter.setFont(self._font)
        for pointer in pointers:
            rect = cells.get(pointer.index + size if pointer.index < 0 else pointer.index)
            if rect is None:
                continue
            last = cells.get(min(pointer.end, size) - 1, rect) if pointer.end >= 0 else rect
            middle = (rect.left() + last.right()) / 2
            width = QFontMetricsF(self._font).horizontalAdvance(pointer.label) + 6
            label = QRectF(middle - width / 2, top + 8, width, px(_POINTER))
            while any(label.intersects(other) for other in taken):
                label.translate(0, px(_POINTER))
            taken.append(label)
            painter.setPen(QPen(QColor(c.kelp), 1.6))
            painter.setBrush(QColor(c.kelp))
            if pointer.end >= 0:
                painter.drawLine(QPointF(rect.left() + 3, label.top()), QPointF(last.right() - 3, label.top()))
            else:
                tip = [QPointF(middle, top + 2), QPointF(middle - 5, top + 9), QPointF(middle + 5, top + 9)]
                painter.drawPolygon(QPolygonF(tip))
                painter.drawLine(QPointF(middle, top + 8), QPointF(middle, label.top() + 2))
            painter.drawText(label, CENTRE, pointer.label)
            right, below = max(right, label.right()), max(below, label.bottom() + 2)
        return right, below

    # Grids

    def _grid(self, painter: QPainter, its: Grid) -> QSizeF:
        c = self._colours
        columns = max((len(row) for row in its.rows), default=0)
        row_names = its.row_names or [str(its.first_row + place) for place in range(len(its.rows))]
        column_names = its.column_names or [str(its.first_column + place) for place in range(columns)]
        key_width = QFontMetricsF(self._key_font).horizontalAdvance
        widths = [
            max((self._width(row[place]) for row in its.rows if place < len(row)), default=px(LEAST))
            for place in range(columns)
        ]
        widths = [max(width, key_width(name) + 12) for width, name in zip(widths, column_names, strict=False)]
        names_end = max(px(26), max(map(key_width, row_names), default=0) + 8)
        left = (
            px(4)
            + names_end
            + max((QFontMetricsF(self._font).horizontalAdvance(p.label) + 18 for p in its.row_pointers), default=0)
        )
        height, top = px(CELL), px(KEY)
        cells: dict[int, QRectF] = {}
        x = left
        painter.setFont(self._key_font)
        painter.setPen(QColor(c.ink_soft))
        for place, width in enumerate(widths):
            rect = QRectF(x, 0, width, px(KEY))
            painter.drawText(rect, CENTRE, column_names[place])
            cells[its.first_column + place] = QRectF(x, top, width, height)
            x += width
        placed: list[Placed] = []
        for number, row in enumerate(its.rows):
            y = top + number * height
            painter.drawText(QRectF(left - names_end, y, names_end - px(4), height), RIGHT, row_names[number])
            x = left
            for place, cell in enumerate(row):
                share = its.heat[number][place] if its.heat else None
                fill = blend(c.foam, c.deep, share * 0.75) if share is not None else None
                placed.append((QRectF(x, y, widths[place], height), cell, fill))
                x += widths[place]
        self._paint(painter, placed)
        bottom = top + len(its.rows) * height
        self._row_pointers(painter, its, left, top, height)
        right, below = self._pointers(painter, its.column_pointers, cells, its.size[1], bottom)
        rows, across = its.size[0] - len(its.rows), its.size[1] - columns
        if rows > 0 or across > 0:
            painter.setFont(self._small)
            painter.setPen(QColor(c.ink_soft))
            told = f"{its.size[0]:,} rows, {its.size[1]:,} columns in all"
            painter.drawText(QRectF(left, below, 400, px(20)), LEFT, told)
            below += px(20)
        return QSizeF(max(left + sum(widths), right), below)

    def _row_pointers(self, painter: QPainter, its: Grid, left: float, top: float, height: float) -> None:
        c = self._colours
        painter.setFont(self._font)
        for pointer in its.row_pointers:
            index = pointer.index + its.size[0] if pointer.index < 0 else pointer.index
            row = index - its.first_row
            if 0 <= row < len(its.rows):
                y = top + (row + 0.5) * height
                x = left - px(24)
                painter.setPen(QPen(QColor(c.kelp), 1.6))
                painter.setBrush(QColor(c.kelp))
                painter.drawPolygon(QPolygonF([QPointF(x + 6, y), QPointF(x - 1, y - 5), QPointF(x - 1, y + 5)]))
                painter.drawText(QRectF(0, y - height / 2, x - 5, height), RIGHT, pointer.label)

    # Pairs

    def _pairs(self, painter: QPainter, its: Pairs) -> QSizeF:
        c, height = self._colours, px(CELL) - 4
        keys = max((QFontMetricsF(self._font).horizontalAdvance(pair.key) for pair in its.pairs), default=60) + 18
        width = max((self._width(pair) for pair in its.pairs), default=60)
        y = 0.0
        if its.title:
            painter.setFont(ui_font(9.5, bold=True))
            painter.setPen(QColor(c.on_deep))
            painter.fillRect(QRectF(0, 0, keys + width, height), QColor(c.deep))
            painter.drawText(QRectF(8, 0, keys + width, height), LEFT, its.title)
            y = height
        placed: list[Placed] = []
        for pair in its.pairs:
            painter.setPen(QPen(QColor(c.sand_edge), 1))
            painter.setBrush(QColor(c.sand))
            painter.drawRect(QRectF(0, y, keys, height))
            painter.setFont(self._font)
            painter.setPen(QColor(c.ink))
            painter.drawText(QRectF(8, y, keys, height), LEFT, pair.key)
            placed.append((QRectF(keys, y, width, height), pair, None))
            y += height
        self._paint(painter, placed)
        if its.size > len(its.pairs) and not its.title:
            self._more(painter, 0, y, its.size - len(its.pairs))
            y += height
        return QSizeF(keys + width, max(y, height))

    # Linked nodes

    def _nodes(self, painter: QPainter, its: Nodes) -> QSizeF:
        sizes = [self._node_size(node) for node in its.nodes]
        widest = max(size.width() for size in sizes)
        step_x = widest + px(_GAP_X)
        step_y = max(size.height() for size in sizes) + px(_GAP_Y)
        rects = [
            QRectF(QPointF(column * step_x + (widest - size.width()) / 2, px(18) + row * step_y), size)
            for (column, row), size in zip(places(its), sizes, strict=True)
        ]
        for link in its.links:
            self._link(painter, rects[link.source], rects[link.target], link.label, link.changed)
        for node, rect in zip(its.nodes, rects, strict=True):
            self._node(painter, node, rect)
        below = max(rect.bottom() for rect in rects) + 6
        if its.left_out:
            self._more(painter, 0, below, its.left_out)
            below += px(CELL)
        return QSizeF(max(rect.right() for rect in rects) + px(20), below)

    def _node_size(self, node: Node) -> QSizeF:
        metrics = QFontMetricsF(self._font)
        widest = max((metrics.horizontalAdvance(f"{cell.key} {cell.text}") + 22 for cell in node.fields), default=0)
        return QSizeF(
            max(widest, metrics.horizontalAdvance(node.title) + 18, px(50)), px(20) * (1 + len(node.fields)) + 2
        )

    def _node(self, painter: QPainter, node: Node, rect: QRectF) -> None:
        c = self._colours
        is_changed = any(cell.changed for cell in node.fields)
        painter.setPen(QPen(QColor(c.leaf_dark if is_changed else c.deep), 2 if is_changed else 1.4))
        painter.setBrush(QColor(c.foam))
        painter.drawRoundedRect(rect, 9, 9)
        painter.setFont(self._small)
        painter.setPen(QColor(c.ink_soft))
        painter.drawText(QRectF(rect.left() + 8, rect.top() + 1, rect.width(), px(20)), LEFT, node.title)
        painter.setFont(self._font)
        for place, cell in enumerate(node.fields, 1):
            row = QRectF(rect.left() + 2, rect.top() + place * px(20), rect.width() - 4, px(19))
            if cell.changed:
                painter.fillRect(row, QColor(c.leaf))
                icons.leaf(painter, row.right() - 8, row.top() + 3, 9, QColor(c.leaf_dark))
            painter.setPen(QColor(c.ink_on_leaf if cell.changed else c.ink))
            painter.drawText(row.adjusted(6, 0, 0, 0), LEFT, f"{cell.key} {cell.text}")
        if node.names:
            painter.setPen(QColor(c.kelp))
            above = QRectF(rect.left() + 4, rect.top() - px(18), 400, px(18))
            painter.drawText(above, LEFT, ", ".join(node.names) + " ▾")

    def _link(self, painter: QPainter, source: QRectF, target: QRectF, label: str, changed: bool) -> None:
        """A bowed line that ends in a bead, with the field's name where it begins."""
        c = self._colours
        colour = QColor(c.leaf_dark if changed else c.deep)
        goes_right = target.left() > source.right()
        goes_down = target.top() > source.bottom()
        if goes_right and not goes_down:
            start, end = QPointF(source.right(), source.center().y()), QPointF(target.left(), target.center().y())
            bend = QPointF((start.x() + end.x()) / 2, start.y()), QPointF((start.x() + end.x()) / 2, end.y())
        elif goes_down:
            start, end = QPointF(source.center().x(), source.bottom()), QPointF(target.center().x(), target.top())
            bend = QPointF(start.x(), (start.y() + end.y()) / 2), QPointF(end.x(), (start.y() + end.y()) / 2)
        else:  # back to where it came from: over the top
            start, end = QPointF(source.center().x(), source.top()), QPointF(target.right() - 10, target.top())
            rise = min(source.top(), target.top()) - 26
            bend = QPointF(start.x() + 20, rise), QPointF(end.x() + 20, rise)
        path = QPainterPath(start)
        path.cubicTo(*bend, end)
        painter.setPen(QPen(colour, 2.4 if changed else 1.5))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawPath(path)
        painter.setBrush(colour)
        painter.drawEllipse(end, 3.4, 3.4)
        painter.setFont(self._key_font)
        painter.setPen(QColor(c.ink_soft))
        middle = path.pointAtPercent(0.4)
        painter.drawText(QRectF(middle.x() - 60, middle.y() - px(15), 120, px(14)), CENTRE, label)
