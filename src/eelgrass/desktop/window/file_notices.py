"""What is said when others change the files of the open program, and the choice between two texts."""

from __future__ import annotations

from functools import partial
from pathlib import Path

from PyQt6.QtCore import QObject
from PyQt6.QtWidgets import QWidget

from eelgrass.desktop.services.messages import Choice, Message, Messages, told
from eelgrass.desktop.services.translation import tr
from eelgrass.desktop.window.conflict_dialog import ConflictDialog
from eelgrass.desktop.workspace.text_files import TextFiles


class FileNotices(QObject):
    """Keeps a notice for each text that was changed here and elsewhere, until the person has chosen."""

    def __init__(self, files: TextFiles, messages: Messages, window: QWidget) -> None:
        super().__init__(window)
        self._files = files
        self.messages = messages
        self._window = window
        self._told: set[str] = set()
        files.conflicts_changed.connect(self._tell_conflicts)
        files.taken_over.connect(self._tell_taken)

    def _tell_conflicts(self) -> None:
        conflicts = self._files.conflicts
        for file in self._told - {*conflicts}:
            self.messages.over(("conflict", file))
        self._told = {*conflicts}
        for file in conflicts:
            sentence = tr("“{0}” was changed here, and its file was changed elsewhere. Neither is lost.")
            choices = (
                Choice(tr("Show the difference…"), partial(self.show_conflict, file)),
                Choice(tr("Keep what is here"), partial(self.resolve, file, True)),
                Choice(tr("Take the file's"), partial(self.resolve, file, False)),
            )
            self.messages.stand(("conflict", file), Message(sentence.format(Path(file).name), True, choices))

    def show_conflict(self, file: str) -> None:
        """Shows the difference between a text and its file, and asks which to keep."""
        dialog = ConflictDialog(self._window, self._files.conflicts[file])
        if dialog.exec() and dialog.keeps_mine is not None:
            self.resolve(file, dialog.keeps_mine)

    @told
    def resolve(self, file: str, keep_mine: bool) -> None:
        """What is here is kept, or the file's taken; then the text that was here is in a file beside."""
        beside = self._files.resolve(file, keep_mine)
        if beside is not None:
            self.messages.say(tr("The file's text is here now; yours is kept in “{0}”.").format(beside.name))

    def _tell_taken(self, file: str) -> None:
        sentence = tr("“{0}” was changed elsewhere; its new text is here. Run it to see what it does.")
        self.messages.say(sentence.format(Path(file).name))
