"""Asking what is to get another value."""

from __future__ import annotations

from PyQt6.QtWidgets import QWidget

from eelgrass.desktop.look.dialog import FormDialog
from eelgrass.desktop.look.look import Look
from eelgrass.desktop.look.widgets import CodeLine
from eelgrass.desktop.services.translation import tr
from eelgrass.errors import EelgrassError
from eelgrass.reading.recording import Recording
from eelgrass.reading.watches.settable import wish


class WhatIfDialog(FormDialog):
    """`text`: what is to be set, as `TARGET = EXPRESSION`."""

    def __init__(self, parent: QWidget, recording: Recording, step: int, frame: int, target: str, look: Look) -> None:
        self._asked = recording, step, frame
        self.target, self.value = CodeLine(look), CodeLine(look)
        self.target.setText(target)
        self.target.setPlaceholderText("levels[2]")
        self.value.setPlaceholderText("5.1")
        rows = (("What if", self.target), ("were", self.value))
        super().__init__(parent, "What if", rows, look)
        (self.value if target else self.target).setFocus()

    @property
    def text(self) -> str:
        """What is to be set."""
        return f"{self.target.text().strip()} = {self.value.text().strip()}"

    def _trouble(self) -> str:
        recording, step, frame = self._asked
        if not self.target.text().strip() or not self.value.text().strip():
            return tr("Say what is to get another value, and which one.")
        try:
            wish(recording, step, frame, self.text)
        except EelgrassError as error:
            return str(error)
        return ""
