"""Texts as they are now where that is not as they were recorded: edited here, changed on the disk, or somebody else's
that runs in place of the program's own."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

from PyQt6.QtCore import QObject, pyqtSignal

from eelgrass.reading.recording import Recording
from eelgrass.trace.program import Module


@dataclass(frozen=True)
class LentText:
    """A text that runs in place of the program's own, and whose it is, in words."""

    text: str
    whose: str


@dataclass(frozen=True)
class EditedText:
    """A text as it is now, and what its file held when the editing of it began (None: there was no file)."""

    text: str
    base: bytes | None


class EditedTexts(QObject):
    """`lent` is what runs in place of the program's own text; `shows_lent`, whether the recording on view is of such a
    text, or of a part of it, which nobody edits. Signal: `changed(file)` when a text has."""

    changed = pyqtSignal(str)

    def __init__(self) -> None:
        super().__init__()
        self._texts: dict[str, EditedText] = {}
        self.lent: LentText | None = None
        self.shows_lent = False

    def forget(self) -> None:
        """Another program is being opened."""
        self._texts.clear()
        self.lent, self.shows_lent = None, False

    @property
    def files(self) -> list[str]:
        """The files whose texts are known to be others than recorded, or have been edited."""
        return [*self._texts]

    def of(self, file: str) -> EditedText | None:
        """The text of a file, if it is known here."""
        return self._texts.get(file)

    def put(self, file: str, text: EditedText) -> None:
        """A text is another now."""
        before = self._texts.get(file)
        self._texts[file] = text
        if before is None or before.text != text.text:
            self.changed.emit(file)

    def move(self, moved: Callable[[str], str]) -> None:
        """A copy of the program is gone on with: the texts are those of its files."""
        self._texts = {moved(file): text for file, text in self._texts.items()}

    def now(self, module: Module) -> str:
        """The text of a module of the recording on view as it is now."""
        its = None if self.shows_lent else self._texts.get(module.file)
        return module.source if its is None else its.text

    def are_newer_than(self, recording: Recording | None) -> bool:
        """Whether a recording is of an older text."""
        modules = recording.trace.program.modules if recording is not None else []
        return any(self.now(module) != module.source for module in modules)
