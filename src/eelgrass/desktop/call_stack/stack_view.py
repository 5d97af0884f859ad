"""Depths: the call frames as layers of water, painted from `reading.stack_rows`."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace

from PyQt6.QtCore import QEvent, QPoint, QPointF, QRect, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import (
    QColor,
    QContextMenuEvent,
    QFocusEvent,
    QHelpEvent,
    QKeyEvent,
    QMouseEvent,
    QPainter,
    QPaintEvent,
    QResizeEvent,
)
from PyQt6.QtWidgets import QAbstractScrollArea, QToolTip, QWidget

from eelgrass.desktop.call_stack.stack_painter import EDGE, ROW_HEIGHT, PlacedLayer, PlacedRow, StackPainter, place
from eelgrass.desktop.call_stack.value_menu import value_menu
from eelgrass.desktop.look.look import Look
from eelgrass.desktop.look.palette import px
from eelgrass.desktop.look.widgets import ROW_STEPS, WALKS, outline, take_keys_home
from eelgrass.desktop.services.translation import tr
from eelgrass.desktop.session.comparison import RunComparison
from eelgrass.desktop.session.session import Session
from eelgrass.desktop.session.view_options import ViewOptions
from eelgrass.reading.comparing.beside_rows import beside
from eelgrass.reading.stack.rows import FrameRows, MoreRow, Row, ValueRow
from eelgrass.reading.state.formats import FORMATS, formatted


class StackView(QAbstractScrollArea):
    """Shows the layers at the reader's step; a click on a container opens it, on a layer's title goes to its line.

    `watched(kind, path, frame)` asks for a breakpoint on a value, which `path` names in a frame; `needs(height)` says
    how high the innermost layer is, in pixels."""

    watched = pyqtSignal(str, str, int)
    needs = pyqtSignal(int)

    def __init__(self, session: Session, options: ViewOptions, comparison: RunComparison, look: Look) -> None:
        super().__init__()
        self.setFocusPolicy(Qt.FocusPolicy.TabFocus)
        self.setProperty(WALKS, True)
        self._session = session
        self._comparison = comparison
        self._options = options
        self._look = look
        self._painter = StackPainter(look)
        self._lit: str | None = None
        self._walked = -1  # which of the titles and rows, counted from the top, the keys are at; -1 for none
        self.placed: list[PlacedLayer] = []
        self.setFrameShape(self.Shape.NoFrame)
        # A bar that comes and goes would change the width, and everything would have to be laid out again.
        self.setVerticalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOn)
        self.setAccessibleName(tr("Depths: call frames with their variables"))
        self.viewport().setMouseTracking(True)
        session.moved.connect(self.refresh)
        options.changed.connect(self.refresh)
        comparison.compared.connect(self.refresh)
        look.changed.connect(self._dress)

    def _dress(self) -> None:
        self._painter.dress()
        self.refresh()
        self.viewport().update()

    def refresh(self) -> None:
        """Takes the layers from the reader's step."""
        recording = self._session.recording
        stack_rows = recording.stack_rows.at(self._session.step, frozenset(self._options.unfolded)) if recording else []
        if self._options.focused and recording is not None:
            stack_rows = recording.stack_rows.focused(stack_rows, recording.worked_lines.names_at(self._session.step))
        stack_rows = [self._dressed(layer) for layer in stack_rows]
        if (its := self._comparison.beside) is not None and its.alignment.a is recording:
            opened = frozenset(self._options.unfolded)
            stack_rows = beside(stack_rows, its.alignment, self._session.step, opened)
        before, self.placed = self.placed, place(stack_rows, self.viewport().width())
        bottom = max((its.rect.bottom() for its in self.placed), default=-px(EDGE)) + px(EDGE)
        bar = self.verticalScrollBar()
        assert bar is not None
        bar.setRange(0, max(0, int(bottom) - self.viewport().height()))
        bar.setPageStep(self.viewport().height())
        bar.setSingleStep(int(px(ROW_HEIGHT)))
        if self.placed:
            active = self.placed[-1].rect
            top = max(0, int(active.bottom() + px(EDGE)) - self.viewport().height())
            bar.setValue(min(max(bar.value(), top), max(0, int(active.top() - px(EDGE)))))
            self.needs.emit(int(active.height() + 2 * px(EDGE)))
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
        painter.fillRect(self.viewport().rect(), QColor(self._look.colours.water))
        bar = self.verticalScrollBar()
        painter.translate(0, -(bar.value() if bar else 0))
        deepest = len(self.placed) - 1
        for number, placed in enumerate(self.placed):
            if event is None or event.region().intersects(self._on_view(placed.rect)):
                self._painter.paint(painter, placed, number / max(deepest, 1), self._lit)

        walked = self._walked_place()
        if walked is not None:
            outline(painter, walked[1], self._look)

    # Keys

    @property
    def _places(self) -> list[tuple[PlacedLayer, PlacedRow | None, QRectF]]:
        """Titles and rows from the top down, with where they are."""
        found: list[tuple[PlacedLayer, PlacedRow | None, QRectF]] = []
        for placed in self.placed:
            first = placed.rows[0].rect.top() if placed.rows else placed.rect.bottom()
            title = QRectF(placed.rect.left(), placed.rect.top(), placed.rect.width(), first - placed.rect.top())
            found += [(placed, None, title), *((placed, row, row.rect) for row in placed.rows)]
        return found

    def _walked_place(self) -> tuple[tuple[PlacedLayer, PlacedRow | None], QRectF] | None:
        places = self._places if self.hasFocus() and self._walked >= 0 else []
        if not places:
            return None
        layer, row, rect = places[min(self._walked, len(places) - 1)]
        return (layer, row), rect

    def focusInEvent(self, event: QFocusEvent | None) -> None:
        super().focusInEvent(event)
        titles = [number for number, (_, row, _) in enumerate(self._places) if row is None]
        self._walk_to(titles[-1] if titles else -1)

    def focusOutEvent(self, event: QFocusEvent | None) -> None:
        super().focusOutEvent(event)
        self.viewport().update()

    def _walk_to(self, number: int) -> None:
        places = self._places
        self._walked = min(max(number, 0), len(places) - 1)
        bar = self.verticalScrollBar()
        if places and bar is not None:
            layer, row, rect = places[self._walked]
            bar.setValue(int(min(max(bar.value(), rect.bottom() - self.viewport().height()), rect.top())))
            self.setAccessibleDescription(row_words(row.row) if row is not None else layer.layer.title)
        self.viewport().update()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Up and Down walk titles and rows, Enter does what a click does, Left and Right close and open, the menu key
        offers what can be done with a value."""
        walked = self._walked_place()
        if event is None or walked is None:
            return
        (layer, row), rect = walked
        key = event.key()
        if key in ROW_STEPS:
            self._walk_to(self._walked + ROW_STEPS[key])
        elif key in (Qt.Key.Key_Home, Qt.Key.Key_End):
            self._walk_to(0 if key == Qt.Key.Key_Home else len(self._places))
        elif key in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self._press(row or layer)
        elif key in (Qt.Key.Key_Left, Qt.Key.Key_Right) and row is not None and isinstance(row.row, ValueRow):
            if row.row.can_open and row.row.is_open != (key == Qt.Key.Key_Right):
                self._press(row)
        elif key == Qt.Key.Key_Menu and row is not None:
            self._offer(layer, row, self.viewport().mapToGlobal(self._on_view(rect).bottomLeft()))
        else:
            super().keyPressEvent(event)

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
        found = list(self._at(QPointF(event.pos()))) if event else []
        if event is not None and len(found) == 2:
            row, placed = found
            if isinstance(row, PlacedRow) and isinstance(placed, PlacedLayer):
                self._offer(placed, row, event.globalPos())

    def _offer(self, placed: PlacedLayer, row: PlacedRow, at: QPoint) -> None:
        recording = self._session.recording
        if recording is None:
            return
        plain = recording.stack_rows.plain_value(placed.layer, row.row, self._session.step)
        menu = value_menu(
            self,
            row.row.path,
            plain,
            lambda how: self._options.set_format(row.row.name, how if how in FORMATS else ""),
            lambda kind, path: self.watched.emit(kind, path, placed.layer.frame),
        )
        menu.exec(at)

    def _dressed(self, layer: FrameRows) -> FrameRows:
        """A layer with its values in the formats that were chosen."""
        recording = self._session.recording
        formats = self._options.formats
        if recording is None or not any(row.name in formats for row in layer.rows):
            return layer
        rows = [
            replace(row, text=text, was=None)
            if isinstance(row, ValueRow)
            and (how := formats.get(row.name))
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
        take_keys_home(self)
        if found is not None:
            self._press(found)

    def _press(self, found: PlacedLayer | PlacedRow) -> None:
        if isinstance(found, PlacedRow) and _opens(found.row):
            self._options.toggle(found.row.path)
        elif isinstance(found, PlacedLayer):
            self._session.go(found.layer.step)

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        found = next(self._at(event.position()), None) if event else None
        lit = found.row.tag if isinstance(found, PlacedRow) and isinstance(found.row, ValueRow) else None
        if lit != self._lit:
            self._lit = lit
            self.viewport().update()


def row_words(row: Row) -> str:
    """A row for who hears it."""
    parts = [row.name, getattr(row, "type_word", ""), getattr(row, "text", "")]
    return " ".join(filter(None, parts))


def _opens(row: Row) -> bool:
    """Whether a click on a row opens or closes something."""
    return row.can_open if isinstance(row, ValueRow) else isinstance(row, MoreRow) and bool(row.path)
