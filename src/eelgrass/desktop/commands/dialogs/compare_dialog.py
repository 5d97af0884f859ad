"""Asking what the run on view is to be held against."""

from __future__ import annotations

from pathlib import Path

from PyQt6.QtWidgets import QComboBox, QFileDialog, QLineEdit, QPushButton, QWidget

from eelgrass.desktop.look.dialog import FormDialog
from eelgrass.desktop.look.look import Look
from eelgrass.desktop.look.widgets import row_of
from eelgrass.desktop.services.translation import tr
from eelgrass.desktop.workspace.running.other_runs import OtherRun, of_file

_LEAST_PX = 420


class CompareDialog(FormDialog):
    """`chosen`: the run that was chosen."""

    def __init__(self, parent: QWidget, offered: list[OtherRun], look: Look) -> None:
        self._offered = offered
        self.runs, self.file = QComboBox(), QLineEdit()
        self.runs.setMinimumWidth(_LEAST_PX)
        self.runs.addItems([its.name for its in offered] or [tr("no other run is at hand")])
        self.runs.setEnabled(bool(offered))
        self.file.setPlaceholderText(tr("the file of a recording"))
        browse = QPushButton(tr("Look for it…"))
        browse.clicked.connect(self._browse)
        chosen = QWidget()
        row = row_of(self.file, browse)
        row.setContentsMargins(0, 0, 0, 0)
        chosen.setLayout(row)
        super().__init__(parent, "Compare with", (("This run beside", self.runs), ("or beside", chosen)), look)

    def _browse(self) -> None:
        name, _ = QFileDialog.getOpenFileName(self, tr("Compare with"), "", tr("Recordings (*.eelrec)"))
        if name:
            self.file.setText(name)

    @property
    def chosen(self) -> OtherRun:
        """What was chosen."""
        if self.file.text().strip():
            return of_file(Path(self.file.text().strip()).expanduser())
        return self._offered[self.runs.currentIndex()]

    def _trouble(self) -> str:
        file = self.file.text().strip()
        if file:
            return "" if Path(file).expanduser().is_file() else tr("There is no file at “{0}”.").format(file)
        return "" if self._offered else tr("Choose a recording to hold this run against.")
