"""A list that the person orders, shortens and, where that is meant, writes in."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent
from PyQt6.QtWidgets import QAbstractItemView, QListWidget, QListWidgetItem, QPushButton

from eelgrass.desktop.look.palette import Palette
from eelgrass.desktop.look.widgets import dress
from eelgrass.desktop.services.translation import tr

_LEAST = 60


class OwnList(QListWidget):
    """A list whose rows can be put in another order by dragging, and taken away by Delete; with `edits`, written in.
    Signals: `ordered(rows)` with what the items hold, in their new order, without those taken away."""

    ordered = pyqtSignal(list)

    def __init__(self, name: str, colours: Palette, edits: bool = False) -> None:
        super().__init__()
        dress(self, name, colours)
        self.setDragDropMode(QAbstractItemView.DragDropMode.InternalMove)
        triggers = QAbstractItemView.EditTrigger
        self.setEditTriggers(triggers.DoubleClicked | triggers.EditKeyPressed if edits else triggers.NoEditTriggers)
        self._edits = edits
        self.setSpacing(2)
        self.setMinimumHeight(_LEAST)
        self.setToolTip(tr("Drag a row to another place; Delete takes it away."))
        model = self.model()
        assert model is not None
        model.rowsMoved.connect(self._tell)
        self.itemChanged.connect(lambda: self._tell())

    def fill(self, rows: Sequence[tuple[str, Any]]) -> None:
        """Shows rows, each a text and what it stands for."""
        now = [(self._at(row).text(), self._at(row).data(Qt.ItemDataRole.UserRole)) for row in range(self.count())]
        if now == list(rows):
            return
        place = self.currentRow()
        self.blockSignals(True)
        self.clear()
        for words, its in rows:
            item = QListWidgetItem(words)
            item.setData(Qt.ItemDataRole.UserRole, its)
            if self._edits:
                item.setFlags(item.flags() | Qt.ItemFlag.ItemIsEditable)
            self.addItem(item)
        self.setCurrentRow(min(place, self.count() - 1))
        self.blockSignals(False)

    def _at(self, row: int) -> QListWidgetItem:
        item = self.item(row)
        assert item is not None
        return item

    def _tell(self, *_: object) -> None:
        rows = [self._at(row) for row in range(self.count())]
        self.ordered.emit([its.text() if self._edits else its.data(Qt.ItemDataRole.UserRole) for its in rows])

    def take_away(self) -> None:
        """Takes the chosen row away."""
        if self.currentRow() >= 0:
            self.takeItem(self.currentRow())
            self._tell()

    def away(self) -> QPushButton:
        """A button that does so."""
        button = QPushButton(tr("Take away"))
        button.clicked.connect(self.take_away)
        return button

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is not None and event.key() == Qt.Key.Key_Delete:
            self.take_away()
        elif event is not None:
            super().keyPressEvent(event)
