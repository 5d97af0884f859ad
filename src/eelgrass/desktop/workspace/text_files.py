"""The texts of the open program and their files: drafts, saving, and what others do to the files meanwhile.

Nothing that was typed is ever written over something newer, and nothing newer over something typed: where both have
changed, the person is asked.
"""

from __future__ import annotations

import hashlib
from collections.abc import Callable, Mapping
from dataclasses import dataclass
from pathlib import Path

from PyQt6.QtCore import QFileSystemWatcher, QObject, pyqtSignal

from eelgrass.atomic_write import replace_file
from eelgrass.desktop.services.disk_writer import DiskWriter
from eelgrass.desktop.services.translation import tr
from eelgrass.desktop.session.edited_texts import EditedText, EditedTexts
from eelgrass.desktop.workspace import session_file
from eelgrass.desktop.workspace.session_file import Draft
from eelgrass.errors import EelgrassError, FileError
from eelgrass.runs.texts.source_text import decoded, encoded

_NO_DRAFT_GONE = "A draft could not be taken away: {0}."


@dataclass(frozen=True)
class Conflict:
    """A text that was changed here and elsewhere."""

    file: str
    mine: str
    theirs: str


class ConflictError(EelgrassError):
    """A text is not saved, since its file holds something newer."""

    def __init__(self, file: str) -> None:
        sentence = tr("“{0}” was not saved: its file has been changed elsewhere. Choose which of the two to keep.")
        super().__init__(sentence.format(Path(file).name))


def kept_beside(file: Path, text: str) -> Path:
    """Keeps a text that gives way to another in a new file beside it, as `tides 2.py`. Raises FileError."""
    number = 2
    while (path := file.with_stem(f"{file.stem} {number}")).exists():
        number += 1
    try:
        replace_file(path, text.encode("utf-8", "surrogatepass"))
    except OSError as error:
        raise FileError(tr("What you have written cannot be kept, so nothing was changed: {0}."), error) from error
    return path


class TextFiles(QObject):
    """`conflicts`, by file. Signals: `conflicts_changed`; `taken_over(file)` when a text that was not edited here is
    another on the disk now, and so here."""

    conflicts_changed = pyqtSignal()
    taken_over = pyqtSignal(str)

    def __init__(self, texts: EditedTexts, writer: DiskWriter) -> None:
        super().__init__()
        self._texts = texts
        self._writer = writer
        self._program: Path | None = None
        self._keeps = True
        self._known: dict[str, bytes | None] = {}  # by file, what it held when it was looked at last
        self.conflicts: dict[str, Conflict] = {}
        self._watcher = QFileSystemWatcher(self)
        self._watcher.fileChanged.connect(self.look)
        texts.changed.connect(self._keep_draft)

    # Opening

    def open(self, program: Path, keeps: bool) -> str:
        """A program is opened: the drafts of its texts come back. Without `keeps`, nothing is written here. Gives a
        sentence when a draft was damaged, else ''."""
        self._program, self._keeps = program, keeps
        self.watch([str(program.absolute())])
        drafts, trouble = session_file.load_drafts(program, self._writer)
        for draft in drafts:
            self._restore(draft)
        return trouble

    def _restore(self, draft: Draft) -> None:
        data = _data(draft.file)
        if data is not None and decoded(data) == draft.text:
            self._forget_draft(draft.file)
            return
        same = draft.base == _digest(data)
        base = data if same else (draft.base or "").encode()  # which is not what the file holds, and so in conflict
        self.watch([draft.file])
        self._texts.put(draft.file, EditedText(draft.text, base))
        self._judge(draft.file)

    def close(self) -> None:
        """The program is closed."""
        self._program = None
        self._known = {}
        if self._watcher.files():
            self._watcher.removePaths(self._watcher.files())
        self._set_conflicts({})

    def move(self, program: Path, moved: Callable[[str], str]) -> None:
        """A copy of the program is gone on with: texts, drafts and conflicts are those of its files."""
        for file in self._texts.files:
            self._forget_draft(file)
        self._program = program
        self._known = {}
        if self._watcher.files():
            self._watcher.removePaths(self._watcher.files())
        self.conflicts = {moved(file): its for file, its in self.conflicts.items()}
        self._texts.move(moved)
        self.watch([str(program.absolute()), *self._texts.files])
        for file in self._texts.files:
            self._keep_draft(file)

    def forget_drafts(self, program: Path) -> None:
        """Whatever was being edited of a program begins afresh."""
        for draft in session_file.load_drafts(program, self._writer)[0]:
            self._writer.remove(session_file.draft_path(program, draft.file), _NO_DRAFT_GONE)

    def set_keeps(self, keeps: bool) -> None:
        """Whether anything is written from here."""
        self._keeps = keeps
        self._set_conflicts(self.conflicts)

    def watch(self, files: list[str]) -> None:
        """Follows what happens to files from now on."""
        for file in files:
            if file not in self._known:
                self._known[file] = _data(file)
        if paths := [file for file in self._known if _exists(file) and file not in self._watcher.files()]:
            self._watcher.addPaths(paths)

    def follow(self, sources: Mapping[str, str]) -> None:
        """A run of these texts, by file, is on view: what was changed elsewhere since it began is seen, and from now on
        what happens to the files."""
        self.watch([*sources])
        for file, source in sources.items():
            data, edited = self._known[file], self._texts.of(file)
            if data is not None and decoded(data) != source and (edited is None or not self._is_edited(edited)):
                self._texts.put(file, EditedText(decoded(data), data))

    # What others do

    def look_at_all(self) -> None:
        """Looks at all files, as when the window comes back."""
        for file in [*self._known]:
            self.look(file)

    def look(self, file: str) -> None:
        """A file may hold something else now."""
        data = _data(file)
        if data == self._known.get(file):
            self.watch([])  # which takes up the file again when it was replaced
            return
        self._known[file] = data
        self.watch([])
        edited = self._texts.of(file)
        if edited is not None and self._is_edited(edited):
            self._judge(file)
        elif data is not None:
            self._texts.put(file, EditedText(decoded(data), data))
            self.taken_over.emit(file)

    @staticmethod
    def _is_edited(edited: EditedText) -> bool:
        return edited.base is None or decoded(edited.base) != edited.text

    def _judge(self, file: str) -> None:
        """Whether a text that was edited here and its file have gone different ways."""
        edited, data = self._texts.of(file), _data(file)
        others = {name: its for name, its in self.conflicts.items() if name != file}
        if edited is None or data == edited.base or data is None or decoded(data) == edited.text:
            self._set_conflicts(others)
        else:
            self._set_conflicts({**others, file: Conflict(file, edited.text, decoded(data))})

    def _set_conflicts(self, conflicts: dict[str, Conflict]) -> None:
        conflicts = conflicts if self._keeps else {}  # who reads along has nothing to choose
        if conflicts != self.conflicts:
            self.conflicts = conflicts
            self.conflicts_changed.emit()

    def resolve(self, file: str, keep_mine: bool) -> Path | None:
        """The person has chosen: the text here is kept, and saved over the file when it is saved; or the file's is
        taken. Gives the file in which the text here is kept then. Raises FileError, when it cannot be."""
        data, edited = _data(file), self._texts.of(file)
        if edited is None or data is None:
            return None
        beside = None if keep_mine else kept_beside(Path(file), edited.text)
        self._texts.put(file, EditedText(edited.text if keep_mine else decoded(data), data))
        self._set_conflicts({name: its for name, its in self.conflicts.items() if name != file})
        if keep_mine:
            self._keep_draft(file)
        else:
            self._forget_draft(file)
        return beside

    # Editing

    def edit(self, file: str, text: str, started_from: str) -> None:
        """The person has changed a text; it began as `started_from`."""
        before = self._texts.of(file)
        if before is None:
            data = _data(file)
            is_same = data is None or decoded(data) == started_from
            before = EditedText(started_from, data if is_same else started_from.encode("utf-8", "surrogatepass"))
        self.watch([file])
        self._texts.put(file, EditedText(text, before.base))
        self._judge(file)

    def _keep_draft(self, file: str) -> None:
        edited = self._texts.of(file)
        if edited is None or self._program is None or not self._keeps:
            return
        if not self._is_edited(edited):
            self._forget_draft(file)
            return
        draft = Draft(file, edited.text, _digest(edited.base))
        trouble = tr("What you have written could not be kept: {0}. It stays here while Eelgrass is open.")
        self._writer.write(session_file.draft_path(self._program, file), session_file.encoded(draft), trouble)

    def _forget_draft(self, file: str) -> None:
        if self._program is not None and self._keeps:
            path = session_file.draft_path(self._program, file)
            self._writer.remove(path, _NO_DRAFT_GONE)

    # Saving

    @property
    def unsaved(self) -> list[str]:
        """The files whose texts have been edited and not saved."""
        return [file for file in self._texts.files if (its := self._texts.of(file)) and self._is_edited(its)]

    def save(self, file: str) -> bool:
        """Saves an edited text; gives whether there was anything to save. Raises FileError and ConflictError."""
        edited = self._texts.of(file)
        if edited is None or not self._is_edited(edited):
            return False
        self._judge(file)
        if file in self.conflicts:
            raise ConflictError(file)
        try:
            data = encoded(edited.text, edited.base or b"")
            Path(file).parent.mkdir(parents=True, exist_ok=True)
            replace_file(Path(file), data)
        except (OSError, ValueError) as error:
            sentence = tr("{0} could not be saved: {1}. Your changes are kept.").format(Path(file).name, "{0}")
            raise FileError(sentence, error) from error
        self._known[file] = data
        self.watch([])
        self._texts.put(file, EditedText(edited.text, data))
        self._forget_draft(file)
        return True


def _data(file: str) -> bytes | None:
    """What a file holds; None where there is none, or it cannot be read."""
    try:
        return Path(file).read_bytes()
    except OSError:
        return None


def _exists(file: str) -> bool:
    try:
        return Path(file).exists()
    except OSError:
        return False


def _digest(data: bytes | None) -> str | None:
    return None if data is None else hashlib.sha256(data).hexdigest()
