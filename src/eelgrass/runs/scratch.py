"""A copy of a program's folder to run in, so that a run never alters the originals; and what it wrote there."""

from __future__ import annotations

import os
import shutil
import tempfile
from collections.abc import Iterator
from contextlib import suppress
from pathlib import Path
from typing import Any

_PREFIX = "eelgrass-run-"
#: What only Python looks at, and would be written anew beside the originals.
_LEFT_OUT = "__pycache__"
#: What a program that is stepped through hardly reads, and what would take long to copy: links do.
_LINKED = frozenset((".git", ".venv", "venv", "node_modules", ".mypy_cache", ".pytest_cache"))
#: Copied are so many files, bytes in all and bytes of one file; beyond that they are links.
MOST_FILES, MOST_BYTES, MOST_OF_ONE = 2_000, 100 << 20, 16 << 20
#: With more links than this, whole folders are links.
MOST_LINKS = 50_000
#: So much of a text file that the program wrote is kept with the recording.
_KEPT_CHARACTERS = 20_000
#: Of all the files that a run wrote together.
_MOST_CHARACTERS = 300_000


class Scratch:
    """A copy of `original`; what is too much to be copied stands there as links. Whoever runs a
    program there has to keep it from writing through them (`recorder/process/linked_files`).

    Raises OSError when the copy cannot be made.
    """

    def __init__(self, original: Path, parent: Path | None = None) -> None:
        self.original = original.resolve()
        self.folder = Path(tempfile.mkdtemp(prefix=_PREFIX, dir=parent)).resolve()
        self._links: set[Path] = set()
        self._files = self._bytes = 0
        folders = [Path()]
        while folders:  # those that are nearer to the program first
            folders += self._fill(folders.pop(0))
        self._before = _state(self.folder)

    @property
    def linked(self) -> str:
        """The folder, if anything in it is only linked; else ''."""
        return str(self.folder) if self._links else ""

    def _fill(self, inner: Path) -> list[Path]:
        """Copies or links what is directly in a folder; gives the folders in it that are to be filled as well."""
        folders = []
        for entry in _entries(self.original / inner):
            path = inner / entry.name
            if entry.name.startswith(_PREFIX):
                continue  # a program in the folder for temporary files: that has this copy in it, and others
            if entry.is_symlink():
                self._link(path, Path(entry.path).parent / os.readlink(entry.path))
            elif entry.is_dir():
                if entry.name in _LINKED or len(self._links) >= MOST_LINKS:
                    self._link(path, Path(entry.path))
                else:
                    (self.folder / path).mkdir(exist_ok=True)
                    folders.append(path)
            elif entry.is_file() and os.access(entry.path, os.R_OK):
                self._take(path, entry)
        return folders

    @property
    def _is_full(self) -> bool:
        return self._files >= MOST_FILES or self._bytes >= MOST_BYTES

    def _take(self, path: Path, entry: os.DirEntry[str]) -> None:
        with suppress(FileNotFoundError):  # another program has just taken it away, or put another in its place
            size = entry.stat().st_size
            if self._is_full or size > MOST_OF_ONE:
                self._link(path, Path(entry.path))
            else:
                shutil.copy2(entry.path, self.folder / path)
                self._files, self._bytes = self._files + 1, self._bytes + size

    def _link(self, path: Path, target: Path) -> None:
        """A link to what is in the folder leads to the copy of that."""
        inside = Path(os.path.normpath(target))
        if inside.is_relative_to(self.original) and inside != self.original / path:
            target = self.folder / inside.relative_to(self.original)
        else:
            self._links.add(path)
        (self.folder / path).symlink_to(target)

    def written(self) -> list[dict[str, Any]]:
        """The files that are new, changed or gone since: `name`, `change` ("new", "changed" or "removed"), `bytes`, and
        `text` where it is one, as long as there is not too much of it."""
        room = _MOST_CHARACTERS
        after = _state(self.folder)
        told: list[dict[str, Any]] = []
        gone = {path for path in self._links if not os.path.lexists(self.folder / path)}
        for path in sorted({*self._before, *after, *gone}):
            if path not in gone and self._before.get(path) == after.get(path):
                continue
            was_there = path in self._before or os.path.lexists(self.original / path)
            change = "new" if not was_there else "changed" if path in after else "removed"
            row: dict[str, Any] = {"name": str(path), "change": change}
            if path in after:
                row["bytes"] = after[path][0]
                row["text"] = _text(self.folder / path) if room > 0 else None
                room -= len(row["text"] or "")
            told.append(row)
        return told

    def remove(self) -> None:
        """Takes the copy away."""
        shutil.rmtree(self.folder, ignore_errors=True)


def _entries(folder: Path) -> list[os.DirEntry[str]]:
    try:
        found = sorted(os.scandir(folder), key=lambda entry: entry.name)
    except OSError:
        return []  # a folder that cannot be read, or that the program has taken away
    return [entry for entry in found if entry.name != _LEFT_OUT]


def _files(folder: Path) -> Iterator[Path]:
    for entry in _entries(folder):
        if entry.is_file(follow_symlinks=False):
            yield Path(entry.path)
        elif entry.is_dir(follow_symlinks=False):
            yield from _files(Path(entry.path))


def _state(folder: Path) -> dict[Path, tuple[int, int]]:
    """Size and time of last change, in nanoseconds, of each file."""
    stats = ((path, path.stat(follow_symlinks=False)) for path in _files(folder))
    return {path.relative_to(folder): (stat.st_size, stat.st_mtime_ns) for path, stat in stats}


def _text(path: Path) -> str | None:
    try:
        with path.open(encoding="utf-8") as file:
            return file.read(_KEPT_CHARACTERS)
    except (OSError, UnicodeDecodeError):
        return None
