"""Trace tables that are being filled in by hand: what was written stays until the table is taken away."""

from __future__ import annotations

import msgspec
from PyQt6.QtCore import QObject, pyqtSignal

from eelgrass.reading.tables.trace_table import TableKey


class FilledCell(msgspec.Struct, frozen=True):
    """What was written into a cell: its row, the id of its column, and the words."""

    row: int
    column: str
    words: str


class Sheet(msgspec.Struct, frozen=True):
    """A table to be filled in, in the run of a case, and what stands in it so far."""

    case: str
    table: TableKey
    cells: tuple[FilledCell, ...] = ()


class DeskCheckSheets(QObject):
    """`sheets` are all that were begun; `open` is the one that is being filled in: it stays on view, whatever step is
    shown, until it is left. Signal: `changed` when another one is open, or something was written."""

    changed = pyqtSignal()

    def __init__(self) -> None:
        super().__init__()
        self.sheets: tuple[Sheet, ...] = ()
        self.open: Sheet | None = None

    def forget(self) -> None:
        """Another program is being opened."""
        self.sheets, self.open = (), None

    def restore(self, sheets: tuple[Sheet, ...], is_open: bool) -> None:
        """Takes what was kept; the first of the sheets is the one that was open, if one was."""
        self.sheets, self.open = sheets, (sheets[0] if sheets and is_open else None)
        self.changed.emit()

    def begin(self, case: str, table: TableKey) -> Sheet:
        """Opens the sheet of a table, with what was written into it before."""
        found = [its for its in self.sheets if (its.case, its.table) == (case, table)]
        return self._put(found[0] if found else Sheet(case, table))

    def leave(self) -> None:
        """The open sheet is put away; what is in it stays."""
        self.open = None
        self.changed.emit()

    def write(self, row: int, column: str, words: str) -> None:
        """Writes into a cell of the open sheet; '' empties it."""
        if self.open is not None:
            others = tuple(its for its in self.open.cells if (its.row, its.column) != (row, column))
            cells = (*others, FilledCell(row, column, words)) if words else others
            self._put(msgspec.structs.replace(self.open, cells=cells))

    def _put(self, sheet: Sheet) -> Sheet:
        others = (its for its in self.sheets if (its.case, its.table) != (sheet.case, sheet.table))
        self.sheets, self.open = (sheet, *others), sheet
        self.changed.emit()
        return sheet
