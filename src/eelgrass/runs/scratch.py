"""A copy of a program's folder to run in, so that a run never alters the originals; and what it wrote there."""

from __future__ import annotations

import os
import shutil
import tempfile
from collections.abc import Iterator
from contextlib import suppress
from pathlib import Path
from typing import Any

from eelgrass.runs.order import CannotRunError

#: What a program that is stepped through does not read, and what would take long to copy.
_LEFT_OUT = frozenset((".git", ".venv", "venv", "__pycache__", "node_modules", ".mypy_cache", ".pytest_cache"))
_LEFT_OUT_SUFFIXES = (".eelrec", ".pyc")
MOST_FILES = 2_000
MOST_BYTES = 100 << 20
#: So much of a text file that the program wrote is kept with the recording.
_KEPT_CHARACTERS = 20_000
#: Of all the files that a run wrote together.
_MOST_CHARACTERS = 300_000


class Scratch:
    """A copy of `original`. Of a folder with more than MOST_FILES or MOST_BYTES, only the files directly in it.

    Raises CannotRunError when these are too many as well, OSError when the copy cannot be made.
    """

    def __init__(self, original: Path, parent: Path | None = None) -> None:
        self.original = original
        found = _fitting(original, deep=True)
        if found is None:
            found = _fitting(original, deep=False)
        if found is None:
            raise CannotRunError(
                f"The folder “{original}” holds too much to be copied for a run. Put the program, and the files that "
                "it reads, into a folder of their own."
            )
        self.folder = Path(tempfile.mkdtemp(prefix="eelgrass-run-", dir=parent))
        self._before: dict[Path, tuple[int, int]] = {}
        for path in found:
            target = self.folder / path.relative_to(original)
            target.parent.mkdir(parents=True, exist_ok=True)
            with suppress(FileNotFoundError):  # another program has just taken it away, or put another in its place
                shutil.copy2(path, target)
        self._before = _state(self.folder)

    def written(self) -> list[dict[str, Any]]:
        """The files that are new, changed or gone since: `name`, `change` ("new", "changed" or "removed"), `bytes`, and
        `text` where it is one, as long as there is not too much of it."""
        room = _MOST_CHARACTERS
        after = _state(self.folder)
        told: list[dict[str, Any]] = []
        for path in sorted({**self._before, **after}):
            if self._before.get(path) == after.get(path):
                continue
            change = "new" if path not in self._before else "changed" if path in after else "removed"
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


def _fitting(folder: Path, deep: bool) -> list[Path] | None:
    """The regular files of a folder, or None when they are too many."""
    found: list[Path] = []
    size = 0
    for path in _files(folder, deep):
        found.append(path)
        with suppress(FileNotFoundError):
            size += path.stat(follow_symlinks=False).st_size
        if len(found) > MOST_FILES or size > MOST_BYTES:
            return None
    return found


def _files(folder: Path, deep: bool) -> Iterator[Path]:
    try:
        entries = sorted(os.scandir(folder), key=lambda entry: entry.name)
    except OSError:
        return  # a folder that cannot be read, or that the program has taken away
    for entry in entries:
        if entry.name in _LEFT_OUT or entry.name.endswith(_LEFT_OUT_SUFFIXES):
            continue
        if entry.is_file(follow_symlinks=False) and os.access(entry.path, os.R_OK):
            yield Path(entry.path)
        elif deep and entry.is_dir(follow_symlinks=False):
            yield from _files(Path(entry.path), deep)


def _state(folder: Path) -> dict[Path, tuple[int, int]]:
    """Size and time of last change, in nanoseconds, of each file."""
    stats = ((path, path.stat(follow_symlinks=False)) for path in _files(folder, deep=True))
    return {path.relative_to(folder): (stat.st_size, stat.st_mtime_ns) for path, stat in stats}


def _text(path: Path) -> str | None:
    try:
        with path.open(encoding="utf-8") as file:
            return file.read(_KEPT_CHARACTERS)
    except (OSError, UnicodeDecodeError):
        return None
