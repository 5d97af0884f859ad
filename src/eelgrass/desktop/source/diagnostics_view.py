"""The list of what is wrong, or looks wrong, with the text; a click leads to the place."""

from __future__ import annotations

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtGui import QColor
from PyQt6.QtWidgets import QListWidget, QListWidgetItem

from eelgrass.desktop.look.palette import Palette
from eelgrass.desktop.look.widgets import dress
from eelgrass.desktop.services.translation import tr
from eelgrass.runs.source_text import Diagnostic


class DiagnosticsView(QListWidget):
    """Signal: `chosen(line, column)`."""

    chosen = pyqtSignal(int, int)

    def __init__(self, colours: Palette) -> None:
        super().__init__()
        self._colours = colours
        dress(self, tr("What is said of the text"), colours)
        self.itemActivated.connect(self._choose)
        self.itemClicked.connect(self._choose)

    def show_remarks(self, diagnostics: list[Diagnostic]) -> None:
        """Shows these remarks."""
        self.clear()
        for remark in diagnostics:
            item = QListWidgetItem(f"line {remark.line}: {remark.sentence}")
            item.setData(Qt.ItemDataRole.UserRole, (remark.line, remark.column))
            if remark.is_error:
                item.setForeground(QColor(self._colours.coral))
            self.addItem(item)

    def _choose(self, item: QListWidgetItem) -> None:
        self.chosen.emit(*item.data(Qt.ItemDataRole.UserRole))
