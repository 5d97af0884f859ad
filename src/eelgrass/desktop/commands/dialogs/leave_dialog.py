"""Asking what the open program may reach besides its own folder."""

from __future__ import annotations

from pathlib import Path

from PyQt6.QtWidgets import QCheckBox, QLineEdit, QWidget

from eelgrass.desktop.look.dialog import FormDialog
from eelgrass.desktop.look.look import Look
from eelgrass.desktop.look.plain_text import PlainLabel
from eelgrass.desktop.services.translation import tr
from eelgrass.runs.order import Leave

_LEAST_PX = 460


class LeaveDialog(FormDialog):
    """`leave`: what the person lets it reach. `missing` is what this machine cannot keep it from, in words."""

    def __init__(self, parent: QWidget, program: str, leave: Leave, missing: str, look: Look) -> None:
        self.display = QCheckBox(tr("It may then see the screen, and type into other windows."))
        self.network = QCheckBox(tr("It may then send what it can read to anybody."))
        self.folder = QLineEdit(str(leave.folders[0]) if leave.folders else "")
        self.folder.setPlaceholderText(tr("a folder in which it may then read and change everything"))
        self.folder.setMinimumWidth(_LEAST_PX)
        self.display.setChecked(leave.display)
        self.network.setChecked(leave.network)
        told = PlainLabel(tr("{0} runs in a copy of its folder, and reaches nothing else.").format(program))
        held = PlainLabel(missing)
        for label in (told, held):
            label.setWordWrap(True)
        rows = (
            ("", told),
            *((("On this machine", held),) if missing else ()),
            ("Windows of its own", self.display),
            ("The network", self.network),
            ("Another folder", self.folder),
        )
        super().__init__(parent, "What it may reach", rows, look)

    @property
    def leave(self) -> Leave:
        """What was chosen."""
        text = self.folder.text().strip()
        folders = (Path(text).expanduser(),) if text else ()
        return Leave(self.display.isChecked(), self.network.isChecked(), folders)

    def _trouble(self) -> str:
        folders = self.leave.folders
        return tr("There is no folder at “{0}”.").format(folders[0]) if folders and not folders[0].is_dir() else ""
