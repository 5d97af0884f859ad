"""What is said when others change the files of the open program, and the choice between two texts."""

from __future__ import annotations

from functools import partial
from pathlib import Path

from PyQt6.QtCore import QObject
from PyQt6.QtWidgets import QWidget

from eelgrass.desktop.services.messages import Choice, Message, Messages
from eelgrass.desktop.services.translation import tr
from eelgrass.desktop.window.conflict_dialog import ConflictDialog
from eelgrass.desktop.workspace.text_files import TextFiles


class FileNotices(QObject):
    """Keeps a notice for each text that was changed here and elsewhere, until the person has chosen."""

    def __init__(self, files: TextFiles, messages: Messages, window: QWidget) -> None:
        super().__init__(window)
        self._files = files
        self._messages = messages
        self._window = window
        self._told: set[str] = set()
        files.conflicts_changed.connect(self._tell_conflicts)
        files.taken_over.connect(self._tell_taken)

    def _tell_conflicts(self) -> None:
        conflicts = self._files.conflicts
        for file in self._told - {*conflicts}:
            self._messages.over(("conflict", file))
        self._told = {*conflicts}
        for file in conflicts:
            sentence = tr("“{0}” was changed here, and its file was changed elsewhere. Neither is lost.")
            choices = (
                Choice(tr("Show the difference…"), partial(self.show_conflict, file)),
                Choice(tr("Keep what is here"), partial(self._files.resolve, file, True)),
                Choice(tr("Take the file's"), partial(self._files.resolve, file, False)),
            )
            self._messages.stand(("conflict", file), Message(sentence.format(Path(file).name), True, choices))

    def show_conflict(self, file: str) -> None:
        """Shows the difference between a text and its file, and asks which to keep."""
        dialog = ConflictDialog(self._window, self._files.conflicts[file])
        if dialog.exec() and dialog.keeps_mine is not None:
            self._files.resolve(file, dialog.keeps_mine)

    def _tell_taken(self, file: str) -> None:
        told = tr("“{0}” was changed elsewhere; its new text is here. Run it to see what it does.")
        self._messages.say(told.format(Path(file).name))
