"""A dialog that asks until what is asked for makes sense."""

from __future__ import annotations

from PyQt6.QtWidgets import QDialog, QDialogButtonBox, QFormLayout, QWidget

from eelgrass.desktop.look.look import Look
from eelgrass.desktop.look.plain_text import PlainLabel
from eelgrass.desktop.services.translation import tr


class FormDialog(QDialog):
    """Rows of a title and a field; below, what is wrong with them."""

    def __init__(self, parent: QWidget, title: str, fields: tuple[tuple[str, QWidget], ...], look: Look) -> None:
        super().__init__(parent)
        self.setWindowTitle(tr(title))
        self.said = PlainLabel()
        self.said.setWordWrap(True)
        self.said.setStyleSheet(f"color: {look.colours.coral};")
        box = QDialogButtonBox(QDialogButtonBox.StandardButton.Ok | QDialogButtonBox.StandardButton.Cancel)
        box.accepted.connect(self._accept)
        box.rejected.connect(self.reject)
        self._rows = QFormLayout(self)
        for name, field in fields:
            self._rows.addRow(tr(name), field)
        self._rows.addRow("", self.said)
        self._rows.addRow(box)

    def _accept(self) -> None:
        trouble = self._trouble()
        self.said.setText(trouble)
        if not trouble:
            self.accept()

    def done(self, result: int) -> None:
        """What was asked for can still be read; then the dialog goes."""
        super().done(result)
        self.deleteLater()

    def _trouble(self) -> str:
        """What is wrong with what was asked for, in a sentence; '' for nothing."""
        raise NotImplementedError
