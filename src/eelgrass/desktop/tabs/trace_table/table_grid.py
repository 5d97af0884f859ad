"""The cells of a trace table: how they lie, and the keys in them."""

from __future__ import annotations

from PyQt6.QtCore import QEvent, QModelIndex, QObject, Qt
from PyQt6.QtGui import QKeyEvent
from PyQt6.QtWidgets import QAbstractItemView, QHeaderView, QStyleOptionViewItem, QTableView, QWidget

from eelgrass.desktop.look.look import Look
from eelgrass.desktop.look.palette import px
from eelgrass.desktop.look.widgets import KEEPS_KEYS
from eelgrass.desktop.services.translation import tr
from eelgrass.desktop.session.view_options import TableLayout
from eelgrass.desktop.tabs.trace_table.table_delegate import TableDelegate
from eelgrass.desktop.tabs.trace_table.table_model import TableModel
from eelgrass.reading.tables.columns import Column
from eelgrass.reading.tables.trace_table import Table

#: What a column takes of its own accord: what its values need, within these, in pixels at the usual size.
_WIDE, _NARROW = 280, 44
_LEAST_WIDTH, _MOST_WIDTH = 20, 2_000


class _ByHandDelegate(TableDelegate):
    """While a cell is written in, all keys without Ctrl are the cell's."""

    def createEditor(self, parent: QWidget | None, option: QStyleOptionViewItem, index: QModelIndex) -> QWidget | None:
        editor = super().createEditor(parent, option, index)
        if editor is not None:
            editor.installEventFilter(self)
        return editor

    def eventFilter(self, watched: QObject | None, event: QEvent | None) -> bool:
        if _is_ours(event):
            assert event is not None
            event.accept()
            return True
        return super().eventFilter(watched, event)


class TableGrid(QTableView):
    """A table whose columns can be put in another order, made wider and hidden; `remember` keeps that."""

    def __init__(self, model: TableModel, look: Look) -> None:
        super().__init__()
        self._model = model
        self._look = look
        self._delegate = _ByHandDelegate(look, model)
        self.setModel(model)
        self.setItemDelegate(self._delegate)
        self.setAccessibleName(tr("Trace table"))
        self.setProperty(KEEPS_KEYS, True)  # cells are written in
        self.setFrameShape(self.Shape.NoFrame)
        self.setWordWrap(False)
        rows, titles = self.verticalHeader(), self.horizontalHeader()
        assert rows is not None
        assert titles is not None
        rows.hide()
        rows.setSectionResizeMode(QHeaderView.ResizeMode.Fixed)
        titles.setSectionsMovable(True)
        titles.setSectionsClickable(True)
        titles.setDefaultAlignment(Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter)
        titles.setStretchLastSection(True)
        titles.setResizeContentsPrecision(30)  # rows that say how wide a column is
        self._rows, self.titles = rows, titles
        self.set_by_hand(False)
        look.dresses(self._dress)

    def _dress(self) -> None:
        c = self._look.colours
        self._model.dress()
        self._delegate.dress()
        self._rows.setDefaultSectionSize(int(px(24)))
        self.setStyleSheet(
            f"QTableView {{ background: {c.foam}; color: {c.ink}; gridline-color: {c.sand_edge}; }}"
            f"QHeaderView::section {{ background: {c.sand}; color: {c.ink}; padding: 3px 6px; border: none;"
            f" border-right: 1px solid {c.sand_edge}; border-bottom: 1px solid {c.sand_edge}; }}"
        )
        if viewport := self.viewport():
            viewport.update()

    def set_by_hand(self, on: bool) -> None:
        """Lets cells be written in, or not."""
        triggers, modes = QAbstractItemView.EditTrigger, QAbstractItemView.SelectionMode
        self.setEditTriggers(triggers.AllEditTriggers if on else triggers.NoEditTriggers)
        self.setSelectionMode(modes.SingleSelection if on else modes.NoSelection)

    def event(self, event: QEvent | None) -> bool:
        """While a table is filled in, the keys that move in it are its own, and no moves in the run."""
        if self._model.filled is not None and _is_ours(event):
            assert event is not None
            event.accept()
            return True
        return super().event(event)

    # Columns

    def lay_out(self, table: Table, kept: TableLayout) -> None:
        """Puts the columns as they were put the last time that there were such."""
        self.titles.blockSignals(True)
        order = {id_: place for place, id_ in enumerate(kept.columns.get(table.key.family, []))}
        for place, column in enumerate(table.columns):
            usual = max(self.sizeHintForColumn(place), self.titles.sectionSizeHint(place))
            usual = min(max(usual, int(px(_NARROW))), int(px(_WIDE)))
            width = min(max(kept.widths.get(column.id, usual), _LEAST_WIDTH), _MOST_WIDTH)
            self.titles.resizeSection(place, width)
            self.titles.setSectionHidden(place, column.id in kept.hidden)
        wanted = sorted(range(len(table.columns)), key=lambda place: order.get(table.columns[place].id, 1000 + place))
        for visual, logical in enumerate(wanted):
            self.titles.moveSection(self.titles.visualIndex(logical), visual)
        self.titles.blockSignals(False)

    def remember(self, table: Table, kept: TableLayout) -> None:
        """Keeps how the columns are put."""
        places = sorted(range(len(table.columns)), key=self.titles.visualIndex)
        kept.columns[table.key.family] = [table.columns[place].id for place in places]
        for place in places:
            if not self.titles.isSectionHidden(place) and place != places[-1]:
                kept.widths[table.columns[place].id] = self.titles.sectionSize(place)

    def shown_columns(self) -> list[Column]:
        """The columns that are not hidden, in their order on the screen."""
        table = self._model.table
        places = sorted(range(self._model.columnCount()), key=self.titles.visualIndex)
        return [table.columns[place] for place in places if not self.titles.isSectionHidden(place)] if table else []


def _is_ours(event: QEvent | None) -> bool:
    """Whether an event asks if a key without Ctrl or Alt is wanted here before it becomes a move or a command."""
    if not isinstance(event, QKeyEvent) or event.type() != QEvent.Type.ShortcutOverride:
        return False
    others = Qt.KeyboardModifier.ControlModifier | Qt.KeyboardModifier.AltModifier
    return not event.modifiers() & others and event.key() != Qt.Key.Key_F1
