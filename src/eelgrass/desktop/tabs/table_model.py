"""A trace table as Qt asks for it: only the cells that are seen are ever looked up."""

from __future__ import annotations

from typing import Any

from PyQt6.QtCore import QAbstractTableModel, QModelIndex, Qt

from eelgrass.desktop.look.palette import ui_font
from eelgrass.lessons.desk_check import ASKED, Checked, checked
from eelgrass.reading.tables.trace_table import Table

_NONE = QModelIndex()


class TableModel(QAbstractTableModel):
    """`here` is the row of the shown moment (-1: none); with `hides_rest`, there are no rows after it."""

    def __init__(self) -> None:
        super().__init__()
        self._small = ui_font(9)
        self.table: Table | None = None
        self.here = -1
        self.hides_rest = False
        self.filled: dict[tuple[int, int], str] | None = None  # what was written by hand; None: the table fills itself
        self.checked = Checked()

    def fill_by_hand(self, on: bool) -> None:
        """Empties the table, to be filled in by hand; or lets it fill itself again."""
        self.beginResetModel()
        self.filled, self.checked = ({} if on else None), Checked()
        self.endResetModel()

    def check(self) -> Checked:
        """Compares what was filled in."""
        if self.table is not None and self.filled is not None:
            self.checked = checked(self.table, self.filled)
            self.dataChanged.emit(self.index(0, 0), self.index(self.rowCount() - 1, self.columnCount() - 1))
        return self.checked

    def text(self, row: int, column: int) -> str:
        """What stands in a cell on the screen."""
        if self.table is None:
            return ""
        if self.filled is not None and self.table.columns[column].kind in ASKED:
            return self.filled.get((row, column), "")
        return self.table.cell(row, column).text

    def flags(self, index: QModelIndex) -> Qt.ItemFlag:
        usual = super().flags(index)
        is_asked = self.table is not None and index.isValid() and self.table.columns[index.column()].kind in ASKED
        return usual | Qt.ItemFlag.ItemIsEditable if self.filled is not None and is_asked else usual

    def setData(self, index: QModelIndex, value: Any, role: int = 0) -> bool:
        if self.filled is None or role != Qt.ItemDataRole.EditRole:
            return False
        place = (index.row(), index.column())
        self.filled[place] = str(value).strip()
        if not self.filled[place]:
            del self.filled[place]
        for its in (self.checked.right, self.checked.wrong, self.checked.missing):
            if place in its:
                its.remove(place)
        self.dataChanged.emit(index, index)
        return True

    def show(self, table: Table | None, here: int, hides_rest: bool) -> None:
        """Takes a table."""
        self.beginResetModel()
        if self.filled and (self.table is None or table is None or table.title != self.table.title):
            self.filled, self.checked = {}, Checked()  # what was filled in belonged to another table
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
        if role in (Qt.ItemDataRole.DisplayRole, Qt.ItemDataRole.ToolTipRole, Qt.ItemDataRole.EditRole):
            return self.text(index.row(), index.column())
        return None
