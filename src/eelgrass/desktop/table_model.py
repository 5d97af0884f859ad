"""A trace table as Qt asks for it: only the cells that are seen are ever looked up."""

from __future__ import annotations

from typing import Any

from PyQt6.QtCore import QAbstractTableModel, QModelIndex, Qt

from eelgrass.desktop.palette import ui_font
from eelgrass.reading.table import Table

_NONE = QModelIndex()


class TableModel(QAbstractTableModel):
    """`here` is the row of the shown moment (-1: none); with `hides_rest`, there are no rows after it."""

    def __init__(self) -> None:
        super().__init__()
        self._small = ui_font(9)
        self.table: Table | None = None
        self.here = -1
        self.hides_rest = False

    def show(self, table: Table | None, here: int, hides_rest: bool) -> None:
        """Takes a table."""
        self.beginResetModel()
        self.table, self.here, self.hides_rest = table, here, hides_rest
        self.endResetModel()

    def move(self, here: int) -> None:
        """Another row is that of the shown moment."""
        before, self.here = self.here, here
        if self.hides_rest:
            self.beginResetModel()
            self.endResetModel()
            return
        for row in {before, here} - {-1}:
            self.dataChanged.emit(self.index(row, 0), self.index(row, max(self.columnCount() - 1, 0)))

    def rowCount(self, parent: QModelIndex = _NONE) -> int:
        if self.table is None or parent.isValid():
            return 0
        # What a pass came to is to come until the pass is over.
        return self.here + (not self.table.of_passes) if self.hides_rest else len(self.table.rows)

    def columnCount(self, parent: QModelIndex = _NONE) -> int:
        return len(self.table.columns) if self.table is not None and not parent.isValid() else 0

    def headerData(self, section: int, orientation: Qt.Orientation, role: int = 0) -> Any:
        if self.table is None or orientation != Qt.Orientation.Horizontal:
            return None
        if role == Qt.ItemDataRole.DisplayRole:
            return self.table.columns[section].title
        return self._small if role == Qt.ItemDataRole.FontRole else None

    def data(self, index: QModelIndex, role: int = 0) -> Any:
        if self.table is None or not index.isValid():
            return None
        if role in (Qt.ItemDataRole.DisplayRole, Qt.ItemDataRole.ToolTipRole):
            return self.table.cell(index.row(), index.column()).text
        return None
