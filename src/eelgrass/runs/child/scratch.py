"""A copy of a program's folder to run in, so that a run never alters the originals; and what it wrote there."""

from __future__ import annotations

import os
import shutil
import subprocess
import tempfile
from contextlib import suppress
from pathlib import Path
from typing import Any, NamedTuple

_PREFIX = "eelgrass-run-"
#: What only Python looks at, and would be written anew beside the originals.
_LEFT_OUT = "__pycache__"
#: What the folder of an exercise holds besides its program, where the first of these is: nothing for a run of it.
_OF_EXERCISE = ("exercise.toml", "sealed", "sealed.txt")
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
#: So many files that it wrote are told of, and so many are looked at to find them.
_MOST_WRITTEN, _MOST_LOOKED_AT = 2_000, 200_000


class Scratch:
    """A copy of `original`; what is too much to be copied stands there as links. Whoever runs a
    program there has to keep it from writing through them (`recorder/process/modules/linked_files`).

    Raises OSError when the copy cannot be made.
    """

    def __init__(self, original: Path, parent: Path | None = None) -> None:
        self.original = original.resolve()
        is_exercise = (self.original / _OF_EXERCISE[0]).is_file()
        self._hidden = frozenset(_OF_EXERCISE if is_exercise else ())
        self._is_home = self.original == Path(os.path.expanduser("~")).resolve()
        self.folder = Path(tempfile.mkdtemp(prefix=_PREFIX, dir=parent)).resolve()
        self._links = self._files = self._bytes = 0
        folders = [Path()]
        while folders:  # those that are nearer to the program first
            folders += self._fill(folders.pop(0))
        self._before = _state(self.folder)
        its = os.lstat(self.folder)
        self._identity = its.st_dev, its.st_ino

    @property
    def linked(self) -> str:
        """The folder, if anything in it is only linked; else ''."""
        return str(self.folder) if self._links else ""

    @property
    def readable(self) -> list[Path]:
        """What a program may read of the original, where it has to."""
        if not self._hidden and not self._is_home:
            return [self.original]
        return [Path(its.path) for its in _entries(self.original) if not self._is_private(its, Path(its.name))]

    def _is_private(self, entry: os.DirEntry[str], path: Path) -> bool:
        """Whether something in the folder is none of the program's: what an exercise knows; of a program that lies in a
        person's home itself, all but the files beside it."""
        return str(path) in self._hidden or (self._is_home and (entry.name[0] == "." or entry.is_dir()))

    def _fill(self, inner: Path) -> list[Path]:
        """Copies or links what is directly in a folder; gives the folders in it that are to be filled as well."""
        folders = []
        for entry in _entries(self.original / inner):
            path = inner / entry.name
            if entry.name.startswith(_PREFIX) or self._is_private(entry, path):
                continue  # a program in the folder for temporary files: that has this copy in it, and others
            if entry.is_symlink():
                self._link(path, Path(entry.path).parent / os.readlink(entry.path))
            elif entry.is_dir():
                if entry.name in _LINKED or self._links >= MOST_LINKS:
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
            self._links += 1
        (self.folder / path).symlink_to(target)

    def written(self) -> list[dict[str, Any]]:
        """The files that are new, changed or gone since: `name`, `change` ("new", "changed" or "removed"), `bytes`, and
        `text` where it is one, as long as there is not too much of it. Behind links that
        lead out of the folder nothing is looked for."""
        if not self._is_there:
            return []
        room = _MOST_CHARACTERS
        before, after = dict(self._before), _state(self.folder)
        for state, other in ((before, after), (after, before)):
            for path, its in list(state.items()):
                if isinstance(its, Path) and other.get(path) != its:  # a folder that is a link no more, or a new one
                    del state[path]
                    if its.is_relative_to(self.original):
                        state |= {path / inner: what for inner, what in _state(its).items()}
        told: list[dict[str, Any]] = []
        for path in sorted({*before, *after}):
            if before.get(path) == after.get(path):
                continue
            if len(told) == _MOST_WRITTEN:
                break
            change = "new" if path not in before else "changed" if path in after else "removed"
            row: dict[str, Any] = {"name": str(path), "change": change}
            if isinstance(now := after.get(path), _File):
                row["bytes"] = now.size
                row["text"] = self._text(path) if room > 0 else None
                room -= len(row["text"] or "")
            told.append(row)
        return told

    def _text(self, path: Path) -> str | None:
        """The text of a file of the copy, or of what was linked to from it; of nothing else that a link leads to."""
        really = Path(os.path.realpath(self.folder / path))
        if not (really.is_relative_to(self.folder) or really.is_relative_to(self.original)):
            return None
        try:
            opened = os.open(really, os.O_RDONLY | os.O_NOFOLLOW | os.O_NONBLOCK | os.O_CLOEXEC)
            with open(opened, encoding="utf-8") as file:
                return file.read(_KEPT_CHARACTERS)
        except (OSError, UnicodeDecodeError):
            return None

    @property
    def _is_there(self) -> bool:
        """Whether the folder is the one that was made, and no other in its place."""
        with suppress(OSError):
            its = os.lstat(self.folder)
            return (its.st_dev, its.st_ino) == self._identity
        return False

    def remove(self) -> None:
        """Takes the copy away."""
        removed_whole(self.folder)


def mebibytes_in(folder: Path) -> float:
    """What the files below a folder take on the disk, of a great many the first ones."""
    size, looked_at, folders = 0, 0, [str(folder)]
    while folders and looked_at < _MOST_LOOKED_AT:
        with suppress(OSError), os.scandir(folders.pop()) as entries:
            for entry in entries:
                looked_at += 1
                if entry.is_dir(follow_symlinks=False):
                    folders.append(entry.path)
                else:
                    size += entry.stat(follow_symlinks=False).st_blocks * 512
    return size / (1 << 20)


def removed_whole(folder: Path) -> None:
    """Takes a folder away with all that a program has put there: also what is nested deeper than Python's own way goes,
    or was made unreadable. What is behind links stays."""
    with suppress(OSError, RecursionError):
        shutil.rmtree(folder)
    if not os.path.islink(folder) and os.path.isdir(folder):
        for command in (("chmod", "-R", "u+rwX"), ("rm", "-rf")):
            subprocess.run([*command, "--", str(folder)], capture_output=True, check=False)


def _entries(folder: Path) -> list[os.DirEntry[str]]:
    try:
        found = sorted(os.scandir(folder), key=lambda entry: entry.name)
    except OSError:
        return []  # a folder that cannot be read, or that the program has taken away
    return [entry for entry in found if entry.name != _LEFT_OUT]


class _File(NamedTuple):
    """What tells whether a file is another: its size, and when it was changed, in nanoseconds."""

    size: int
    changed_ns: int


def _state(folder: Path) -> dict[Path, _File | Path]:
    """Each file below a folder; a folder that is a link stands for all that is in it, by where it leads. Of a great
    many the first ones."""
    found: dict[Path, _File | Path] = {}
    folders = [Path()]
    while folders and len(found) + len(folders) < _MOST_LOOKED_AT:
        inner = folders.pop()
        for entry in _entries(folder / inner):
            path = inner / entry.name
            with suppress(OSError):  # a link that leads round in a circle, or a name that is too long by now
                if entry.is_dir() and entry.is_symlink():
                    found[path] = Path(os.path.realpath(entry.path))
                elif entry.is_dir():
                    folders.append(path)
                elif entry.is_file():
                    found[path] = _File(entry.stat().st_size, entry.stat().st_mtime_ns)
    return found
