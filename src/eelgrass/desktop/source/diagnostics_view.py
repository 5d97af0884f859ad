"""The list of what is wrong, or looks wrong, with the text; a click leads to the place."""

from __future__ import annotations

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtGui import QColor
from PyQt6.QtWidgets import QListWidgetItem

from eelgrass.desktop.look.look import Look
from eelgrass.desktop.look.widgets import PlainList
from eelgrass.desktop.services.translation import tr
from eelgrass.runs.texts.remarks import Diagnostic


class DiagnosticsView(PlainList):
    """Signal: `chosen(line, column)`."""

    chosen = pyqtSignal(int, int)

    def __init__(self, look: Look) -> None:
        super().__init__(tr("What is said of the text"), look)
        self._shown: list[Diagnostic] = []
        look.changed.connect(self._show)
        self.itemActivated.connect(self._choose)
        self.itemClicked.connect(self._choose)

    def show_diagnostics(self, diagnostics: list[Diagnostic]) -> None:
        """Shows these."""
        self._shown = diagnostics
        self._show()

    def _show(self) -> None:
        self.clear()
        for its in self._shown:
            item = QListWidgetItem(f"line {its.line}: {its.sentence}")
            item.setData(Qt.ItemDataRole.UserRole, (its.line, its.column))
            if its.is_error:
                item.setForeground(QColor(self._look.colours.coral))
            self.addItem(item)

    def _choose(self, item: QListWidgetItem) -> None:
        self.chosen.emit(*item.data(Qt.ItemDataRole.UserRole))
