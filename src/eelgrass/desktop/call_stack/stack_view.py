"""Depths: the call frames as layers of water, painted from `reading.stack_rows`."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, replace

from PyQt6.QtCore import QEvent, QPointF, QRect, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import (
    QColor,
    QContextMenuEvent,
    QFont,
    QFontMetricsF,
    QHelpEvent,
    QMouseEvent,
    QPainter,
    QPaintEvent,
    QPen,
    QResizeEvent,
)
from PyQt6.QtWidgets import QAbstractScrollArea, QToolTip, QWidget

from eelgrass.desktop.call_stack.value_menu import value_menu
from eelgrass.desktop.look import icons
from eelgrass.desktop.look.palette import CENTRE, LEFT, RIGHT, Palette, blend, code_font, px, ui_font
from eelgrass.desktop.services.translation import tr
from eelgrass.desktop.session.session import Session
from eelgrass.reading.stack.stack_rows import FrameRows, Path, Row
from eelgrass.reading.state.formats import FORMATS, formatted

_EDGE = 14.0
_INSET = 13.0  # each caller's layer shows so much further left than its callee's
_MOST_INSETS = 8
_GAP = 8.0
_PADDING = 12.0
_TITLE_HEIGHT = 27.0
_ROW_HEIGHT = 22.0


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
    y = px(_EDGE)
    for number, layer in enumerate(stack_rows):
        left = px(_EDGE) + px(_INSET) * min(number, _MOST_INSETS)
        height = px(_TITLE_HEIGHT) + px(_ROW_HEIGHT) * len(layer.rows) + (8 if layer.rows else 2)
        rect = QRectF(left, y, max(width - left - px(_EDGE), 120), height)
        rows = [
            PlacedRow(
                row, QRectF(left, y + px(_TITLE_HEIGHT) + px(_ROW_HEIGHT) * place_, rect.width(), px(_ROW_HEIGHT))
            )
            for place_, row in enumerate(layer.rows)
        ]
        placed.append(PlacedLayer(layer, rect, rows))
        y += height + px(_GAP)
    return placed


class StackView(QAbstractScrollArea):
    """Shows the layers at the reader's step; a click on a container opens it, on a layer's title goes to its line.

    `watched(kind, path, frame)` asks for a breakpoint on a value, which `path` names in a frame."""

    watched = pyqtSignal(str, str, int)

    def __init__(self, session: Session, colours: Palette) -> None:
        super().__init__()
        self._session = session
        self._colours = colours
        self._lit: str | None = None
        self.placed: list[PlacedLayer] = []
        self._name_font, self._value_font = ui_font(10), code_font(10)
        self._small_font, self._title_font = ui_font(8.5), ui_font(10, bold=True)
        self.setFrameShape(self.Shape.NoFrame)
        # A bar that comes and goes would change the width, and everything would have to be laid out again.
        self.setVerticalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOn)
        self.setAccessibleName(tr("Depths: call frames with their variables"))
        self.viewport().setMouseTracking(True)
        session.moved.connect(self.refresh)

    def refresh(self) -> None:
        """Takes the layers from the reader's step."""
        recording = self._session.recording
        stack_rows = recording.stack_rows.at(self._session.step, frozenset(self._session.unfolded)) if recording else []
        if self._session.focused and recording is not None:
            stack_rows = recording.stack_rows.focused(stack_rows, recording.worked_lines.names_at(self._session.step))
        stack_rows = [self._dressed(layer) for layer in stack_rows]
        before, self.placed = self.placed, place(stack_rows, self.viewport().width())
        bottom = self.placed[-1].rect.bottom() + px(_EDGE) if self.placed else 0
        bar = self.verticalScrollBar()
        assert bar is not None
        bar.setRange(0, max(0, int(bottom) - self.viewport().height()))
        bar.setPageStep(self.viewport().height())
        bar.setSingleStep(int(px(_ROW_HEIGHT)))
        if self.placed:
            active = self.placed[-1].rect
            top = max(0, int(active.bottom() + px(_EDGE)) - self.viewport().height())
            bar.setValue(min(max(bar.value(), top), max(0, int(active.top() - px(_EDGE)))))
        self._repaint_changed(before)

    def _repaint_changed(self, before: list[PlacedLayer]) -> None:
        """Repaints the layers that look different now; all, when their number and so their colours are others."""
        if len(before) != len(self.placed):
            self.viewport().update()
            return
        for old, new in zip(before, self.placed, strict=True):
            if old != new:
                self.viewport().update(self._on_view(old.rect.united(new.rect)))

    def _on_view(self, rect: QRectF) -> QRect:
        """A place of the canvas as a place of the viewport, with room for the edge's width."""
        bar = self.verticalScrollBar()
        return rect.translated(0, -(bar.value() if bar else 0)).toAlignedRect().adjusted(-2, -2, 2, 2)

    def viewport(self) -> QWidget:
        """The widget that is painted on."""
        viewport = super().viewport()
        assert viewport is not None
        return viewport

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        super().resizeEvent(event)
        self.refresh()

    # Painting

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self.viewport())
        painter.setRenderHints(QPainter.RenderHint.Antialiasing | QPainter.RenderHint.TextAntialiasing)
        painter.fillRect(self.viewport().rect(), QColor(self._colours.water))
        bar = self.verticalScrollBar()
        painter.translate(0, -(bar.value() if bar else 0))
        deepest = len(self.placed) - 1
        for number, placed in enumerate(self.placed):
            if event is None or event.region().intersects(self._on_view(placed.rect)):
                self._paint_layer(painter, placed, number / max(deepest, 1))

    def _paint_layer(self, painter: QPainter, placed: PlacedLayer, share: float) -> None:
        c, layer, rect = self._colours, placed.layer, placed.rect
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
        painter.setFont(self._small_font)
        painter.setPen(QColor(soft))
        painter.drawText(head, RIGHT, layer.detail)
        columns = _Columns(rect, placed.rows, self._name_font, self._small_font)
        for row in placed.rows:
            self._paint_row(painter, row, columns, is_deep)

    def _paint_row(self, painter: QPainter, placed: PlacedRow, columns: _Columns, is_deep: bool) -> None:
        c, row, rect = self._colours, placed.row, placed.rect
        ink, soft = QColor(c.on_deep if is_deep else c.ink), QColor(c.on_deep_soft if is_deep else c.ink_soft)
        name_rect = QRectF(columns.name + 14 * row.indent, rect.top(), rect.right() - columns.name, rect.height())
        if row.status in ("scope", "folded", "more"):
            painter.setFont(self._small_font)
            painter.setPen(soft)
            width = rect.right() - px(_PADDING) - name_rect.left()
            painter.drawText(name_rect, LEFT, _cut(row.name, self._small_font, width))
            return
        if row.tag is not None and row.tag == self._lit:
            painter.fillRect(rect.adjusted(4, 1, -4, -1), blend(c.deep, c.leaf, 0.35) if is_deep else QColor(c.tag))
        trouble = QColor(c.coral if not is_deep else c.trouble_on_deep)
        handed_back = QColor(c.change_on_deep if is_deep else c.leaf_dark)
        if row.status == "returns":
            painter.setPen(QPen(handed_back, 1))
            painter.drawLine(QPointF(columns.name, rect.top()), QPointF(rect.right() - px(_PADDING), rect.top()))
            ink = handed_back
        painter.setPen(trouble if row.status == "raises" else ink)
        painter.setFont(self._name_font)
        if row.can_open:
            self._paint_opener(painter, name_rect, row.is_open, soft)
        painter.drawText(name_rect, LEFT, row.name)
        painter.setFont(self._small_font)
        painter.setPen(soft)
        painter.drawText(
            QRectF(columns.type, rect.top(), columns.value - columns.type, rect.height()), LEFT, row.type_word
        )
        value_rect = QRectF(columns.value, rect.top(), rect.right() - px(_PADDING) - columns.value, rect.height())
        if row.status in ("unset", "deleted"):
            self._paint_empty(painter, value_rect, "deleted" if row.status == "deleted" else "not yet assigned", soft)
        else:
            self._paint_value(painter, value_rect, row, ink, soft, is_deep)

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

    def _paint_value(self, painter: QPainter, rect: QRectF, row: Row, ink: QColor, soft: QColor, is_deep: bool) -> None:
        c = self._colours
        x = rect.left()
        if row.changed:
            icons.leaf(
                painter, x - 14, rect.top() + 4, rect.height() - 8, QColor(c.change_on_deep if is_deep else c.leaf_dark)
            )
        if row.tag is not None:
            x = self._paint_tag(painter, x, rect, row.tag)
        painter.setFont(self._value_font)
        metrics = QFontMetricsF(self._value_font)
        if row.was is not None:
            was = f"{row.was} → "
            painter.setPen(soft)
            painter.drawText(QRectF(x, rect.top(), rect.right() - x, rect.height()), LEFT, was)
            x += metrics.horizontalAdvance(was)
        if row.cells:
            self._paint_cells(
                painter, QRectF(x, rect.top() + 1, rect.right() - x, rect.height() - 2), row, ink, soft, is_deep
            )
            return
        painter.setPen(QColor(c.coral if not is_deep else c.trouble_on_deep) if row.status == "raises" else ink)
        painter.drawText(
            QRectF(x, rect.top(), rect.right() - x, rect.height()),
            LEFT,
            _cut(row.text, self._value_font, rect.right() - x),
        )

    def _paint_tag(self, painter: QPainter, x: float, rect: QRectF, tag: str) -> float:
        c = self._colours
        width = QFontMetricsF(self._value_font).horizontalAdvance(tag) + 16
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

    def _paint_cells(self, painter: QPainter, rect: QRectF, row: Row, ink: QColor, soft: QColor, is_deep: bool) -> None:
        metrics = QFontMetricsF(self._value_font)
        x = rect.left()
        for number, cell in enumerate(row.cells):
            width = metrics.horizontalAdvance(cell.text) + 15
            if x + width > rect.right():
                painter.setPen(soft)
                room = QRectF(x + 5, rect.top(), rect.right() - x - 5, rect.height())
                painter.drawText(room, LEFT, _cut(f"… {len(row.cells) - number}", self._value_font, room.width()))
                return
            box = QRectF(x, rect.top(), width, rect.height())
            painter.setPen(QPen(soft, 1))
            painter.setBrush(QColor(self._colours.leaf) if cell.changed else Qt.BrushStyle.NoBrush)
            painter.drawRect(box)
            painter.setPen(QColor(self._colours.ink_on_leaf) if cell.changed else ink)
            painter.drawText(box, CENTRE, cell.text)
            x += width

    # The pointer

    def _at(self, position: QPointF) -> Iterator[PlacedLayer | PlacedRow]:
        bar = self.verticalScrollBar()
        point = QPointF(position.x(), position.y() + (bar.value() if bar else 0))
        for placed in self.placed:
            if placed.rect.contains(point):
                yield from (row for row in placed.rows if row.rect.contains(point))
                yield placed

    def contextMenuEvent(self, event: QContextMenuEvent | None) -> None:
        """The formats in which the value under the pointer can be shown, and breakpoints on it."""
        recording = self._session.recording
        found = list(self._at(QPointF(event.pos()))) if event else []
        if recording is None or event is None or len(found) != 2:
            return
        row, placed = found
        if not isinstance(row, PlacedRow) or not isinstance(placed, PlacedLayer):
            return
        plain = recording.stack_rows.plain_value(placed.layer, row.row, self._session.step)
        menu = value_menu(
            self,
            row.row.path,
            plain,
            lambda name: self.set_format(row.row.name, name),
            lambda kind, path: self.watched.emit(kind, path, placed.layer.frame),
        )
        menu.exec(event.globalPos())

    def set_format(self, row_name: str, name: str) -> None:
        """Shows the values of a name in a format; "as usual" takes it back."""
        self._session.formats.pop(row_name, None)
        if name in FORMATS:
            self._session.formats[row_name] = name
        self.refresh()

    def _dressed(self, layer: FrameRows) -> FrameRows:
        """A layer with its values in the formats that were chosen."""
        recording = self._session.recording
        if recording is None or not any(row.name in self._session.formats for row in layer.rows):
            return layer
        rows = [
            replace(row, text=text, was=None)
            if (how := self._session.formats.get(row.name))
            and (text := formatted(recording.stack_rows.plain_value(layer, row, self._session.step), how))
            else row
            for row in layer.rows
        ]
        return replace(layer, rows=rows)

    def viewportEvent(self, event: QEvent | None) -> bool:
        """Says on pointing what else leads to an object, and what only equals it."""
        recording = self._session.recording
        if isinstance(event, QHelpEvent) and event.type() == QEvent.Type.ToolTip and recording is not None:
            found = list(self._at(QPointF(event.pos())))
            text = ""
            if len(found) == 2 and isinstance(found[0], PlacedRow) and isinstance(found[1], PlacedLayer):
                ways, others = recording.stack_rows.leads_of(found[1].layer, found[0].row, self._session.step)
                text = "one and the same: " + ", ".join(ways) if len(ways) > 1 else ""
                text += ("\n" if text else "") + "equal, but another: " + ", ".join(others) if others else ""
            QToolTip.showText(event.globalPos(), text, self)
            return True
        return super().viewportEvent(event)

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        found = next(self._at(event.position()), None) if event else None
        if isinstance(found, PlacedRow) and found.row.can_open:
            self.toggle(found.row.path)
        elif isinstance(found, PlacedLayer):
            self._session.go(found.layer.step)

    def set_focus(self, on: bool) -> None:
        """Shows only the names that the line about to run uses, or all."""
        self._session.focused = on
        self.refresh()

    def toggle(self, path: Path) -> None:
        """Opens or closes a container or object."""
        self._session.unfolded ^= {path}
        self.refresh()

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        found = next(self._at(event.position()), None) if event else None
        lit = found.row.tag if isinstance(found, PlacedRow) else None
        if lit != self._lit:
            self._lit = lit
            self.viewport().update()


class _Columns:
    """Left edges of a layer's columns, wide enough for its names and types."""

    def __init__(self, rect: QRectF, rows: list[PlacedRow], name_font: QFont, type_font: QFont) -> None:
        names, types = QFontMetricsF(name_font), QFontMetricsF(type_font)
        plain = [row.row for row in rows if row.row.status not in ("scope", "folded", "more")]
        widest_name = max((names.horizontalAdvance(row.name) + 14 * row.indent for row in plain), default=0)
        widest_type = max((types.horizontalAdvance(row.type_word) for row in plain), default=0)
        self.name = rect.left() + px(_PADDING) + 5
        self.type = self.name + min(max(widest_name + 18, 96), rect.width() * 0.4)
        self.value = self.type + min(max(widest_type + 28, 92), rect.width() * 0.35)


def _cut(text: str, font: QFont, width: float) -> str:
    return QFontMetricsF(font).elidedText(text, Qt.TextElideMode.ElideRight, max(width, 10))
