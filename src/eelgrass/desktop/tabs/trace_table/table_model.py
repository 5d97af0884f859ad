"""A trace table as Qt asks for it: only the cells that are seen are ever looked up."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from PyQt6.QtCore import QAbstractTableModel, QModelIndex, Qt

from eelgrass.desktop.look.palette import ui_font
from eelgrass.desktop.session.desk_check_sheets import Sheet
from eelgrass.lessons.answering.desk_check import ASKED, Checked, checked
from eelgrass.reading.tables.trace_table import Table

_NONE = QModelIndex()


class TableModel(QAbstractTableModel):
    """`here` is the row of the shown moment (-1: none); `rows`, how many are shown; `filled`, what was written by hand
    (None: the table fills itself). `write(row, column id, words)` takes what is written."""

    def __init__(self, write: Callable[[int, str, str], None]) -> None:
        super().__init__()
        self._write = write
        self._small = ui_font(9)
        self.table: Table | None = None
        self.here = -1
        self.rows = 0
        self.filled: dict[tuple[int, int], str] | None = None
        self.checked = Checked()

    def dress(self) -> None:
        """The size of type is another."""
        self._small = ui_font(9)

    def show(self, table: Table | None, here: int, rows: int, sheet: Sheet | None = None) -> None:
        """Takes a table, and the sheet of it if it is filled in by hand."""
        self.beginResetModel()
        if sheet is None or self.table is None or table is None or table.key != self.table.key:
            self.checked = Checked()
        self.table, self.here, self.rows = table, here, rows if table is not None else 0
        self.filled = self._filled(table, sheet) if sheet is not None and table is not None else None
        self.endResetModel()

    @staticmethod
    def _filled(table: Table, sheet: Sheet) -> dict[tuple[int, int], str]:
        places = {column.id: place for place, column in enumerate(table.columns)}
        return {(cell.row, places[cell.column]): cell.words for cell in sheet.cells if cell.column in places}

    def move(self, here: int, rows: int) -> None:
        """Another row is that of the shown moment."""
        if rows != self.rows:
            self.beginResetModel()
            self.here, self.rows = here, rows
            self.endResetModel()
            return
        before, self.here = self.here, here
        for row in {before, here} - {-1}:
            self.dataChanged.emit(self.index(row, 0), self.index(row, max(self.columnCount() - 1, 0)))

    # By hand

    def check(self) -> Checked:
        """Compares what was filled in."""
        if self.table is not None and self.filled is not None:
            self.checked = checked(self.table, self.filled)
            self.dataChanged.emit(self.index(0, 0), self.index(self.rowCount() - 1, self.columnCount() - 1))
        return self.checked

    def is_asked(self, column: int) -> bool:
        """Whether the cells of a column are to be filled in."""
        return self.filled is not None and self.table is not None and self.table.columns[column].kind in ASKED

    def flags(self, index: QModelIndex) -> Qt.ItemFlag:
        usual = super().flags(index)
        return usual | Qt.ItemFlag.ItemIsEditable if index.isValid() and self.is_asked(index.column()) else usual

    def setData(self, index: QModelIndex, value: Any, role: int = 0) -> bool:
        if self.filled is None or self.table is None or role != Qt.ItemDataRole.EditRole:
            return False
        place, words = (index.row(), index.column()), str(value).strip()
        self.filled[place] = words
        if not words:
            del self.filled[place]
        for cells in (self.checked.right, self.checked.wrong, self.checked.missing):
            if place in cells:
                cells.remove(place)
        self._write(place[0], self.table.columns[place[1]].id, words)
        self.dataChanged.emit(index, index)
        return True

    # As Qt asks

    def text(self, row: int, column: int) -> str:
        """What stands in a cell on the screen."""
        if self.table is None:
            return ""
        if self.filled is not None and self.is_asked(column):
            return self.filled.get((row, column), "")
        return self.table.cell(row, column).text

    def rowCount(self, parent: QModelIndex = _NONE) -> int:
        return self.rows if not parent.isValid() else 0

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
