"""Asking which Python runs the programs of a folder."""

from __future__ import annotations

from pathlib import Path

from PyQt6.QtWidgets import QComboBox, QLineEdit, QWidget

from eelgrass.desktop.look.dialog import FormDialog
from eelgrass.desktop.look.look import Look
from eelgrass.desktop.services.translation import tr
from eelgrass.runs.pythons.choosing import Place

_LEAST_PX = 420


class PythonDialog(FormDialog):
    """`chosen`: the Python that was chosen, or None for what is usual in the folder."""

    def __init__(self, parent: QWidget, offered: list[Place], look: Look) -> None:
        self._offered = offered
        self.places, self.other = QComboBox(), QLineEdit()
        self.places.setMinimumWidth(_LEAST_PX)
        self.places.addItem(tr("as usual: its environment, or python3 of the PATH"))
        self.places.addItems([tr("{0}: {1}").format(its.words, its.file) if its.file else its.words for its in offered])
        self.other.setPlaceholderText(tr("the file of another Python"))
        rows = (("Programs of this folder are run by", self.places), ("or by", self.other))
        super().__init__(parent, "Which Python", rows, look)

    @property
    def chosen(self) -> Place | None:
        """What was chosen; None: as usual."""
        if self.other.text().strip():
            return Place(Path(self.other.text().strip()).expanduser(), "")
        place = self.places.currentIndex() - 1
        return self._offered[place] if place >= 0 else None

    def _trouble(self) -> str:
        """What it is is asked when it is to run something, off the window's thread."""
        file = self.chosen.file if self.chosen is not None else None
        return "" if file is None or file.is_file() else tr("There is no Python at “{0}”.").format(file)
