"""A text that was changed here and elsewhere: the difference, and which of the two to keep."""

from __future__ import annotations

import difflib
from pathlib import Path

from PyQt6.QtWidgets import QDialog, QDialogButtonBox, QPlainTextEdit, QPushButton, QVBoxLayout, QWidget

from eelgrass.desktop.look.palette import code_font
from eelgrass.desktop.look.plain_text import PlainLabel
from eelgrass.desktop.services.translation import tr
from eelgrass.desktop.workspace.text_files import Conflict

_WIDE, _TALL = 820, 520


class ConflictDialog(QDialog):
    """`keeps_mine` says what was chosen: True, False, or None while nothing was."""

    def __init__(self, parent: QWidget, conflict: Conflict) -> None:
        super().__init__(parent)
        self.keeps_mine: bool | None = None
        name = Path(conflict.file).name
        self.setWindowTitle(tr("Two texts of {0}").format(name))
        self.resize(_WIDE, _TALL)
        words = tr("“{0}” was changed here, and its file was changed elsewhere. Lines with − are only in the file, ")
        words += tr("lines with + only here.")
        head = PlainLabel(words.format(name))
        head.setWordWrap(True)
        self.difference = QPlainTextEdit(difference(conflict))
        self.difference.setReadOnly(True)
        self.difference.setFont(code_font(10))
        self.difference.setAccessibleName(tr("The difference"))
        self.mine, self.theirs = QPushButton(tr("Keep what is here")), QPushButton(tr("Take the file's"))
        box = QDialogButtonBox(QDialogButtonBox.StandardButton.Cancel)
        box.addButton(self.mine, QDialogButtonBox.ButtonRole.ActionRole)
        box.addButton(self.theirs, QDialogButtonBox.ButtonRole.ActionRole)
        layout = QVBoxLayout(self)
        layout.addWidget(head)
        layout.addWidget(self.difference, 1)
        layout.addWidget(box)
        self.mine.clicked.connect(lambda: self._choose(True))
        self.theirs.clicked.connect(lambda: self._choose(False))
        box.rejected.connect(self.reject)

    def _choose(self, keeps_mine: bool) -> None:
        self.keeps_mine = keeps_mine
        self.accept()


def difference(conflict: Conflict) -> str:
    """The two texts line by line, each line that is in one alone with a sign."""
    signs = {"- ": "− ", "+ ": "+ ", "  ": "  "}
    lines = difflib.ndiff(conflict.theirs.split("\n"), conflict.mine.split("\n"))
    return "\n".join(signs[line[:2]] + line[2:] for line in lines if line[:2] in signs)
