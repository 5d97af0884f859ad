"""Files of the program's folder that are too many or too large to be copied for a run: they stand there as links.
Before anything is changed through one, it is replaced by a copy, so that the originals stay as they are."""

from __future__ import annotations

import os
import sys
from _thread import get_ident
from stat import S_IMODE, S_ISDIR, S_ISLNK
from typing import Any

from eelgrass.recorder.packing import IS_COMPILED

if IS_COMPILED:
    from eelgrass.recorder.process import handlers

#: What changes the things that it names, what changes only the folders that they are in, and what tells what is in one.
_CHANGING = frozenset(
    (
        *(f"os.{name}" for name in ("chmod", "chown", "truncate", "utime", "setxattr", "removexattr")),
        *("os.rename", "os.link", "os.rmdir"),
        *(f"shutil.{name}" for name in ("rmtree", "move", "copytree", "chown")),
    )
)
_MOVING = frozenset(("os.remove", "os.mkdir", "os.symlink"))
_LISTING = frozenset(("os.listdir", "os.scandir"))
_OPENING, _CONNECTING = "open", "sqlite3.connect"
_HEARD = _CHANGING | _MOVING | _LISTING | {_OPENING, _CONNECTING}
_WRITING = os.O_WRONLY | os.O_RDWR | os.O_APPEND | os.O_TRUNC | os.O_CREAT
_CHUNK_BYTES = 1 << 20


def keep_originals(folder: str) -> None:
    """From now on nothing that links in `folder` lead to is changed by this process."""
    links = Links(folder)
    sys.addaudithook(handlers.WithRoom(links.hear) if IS_COMPILED else links.hear)


class Links:
    """The links below a folder that lead out of it. `hear` is an audit hook."""

    def __init__(self, folder: str) -> None:
        self._inside = os.path.join(os.path.realpath(folder), "")
        self._at_work: set[int] = set()  # threads

    def hear(self, event: str, arguments: tuple[Any, ...]) -> None:
        """Something is about to happen. Raises OSError when a copy cannot be made."""
        if event not in _HEARD or get_ident() in self._at_work:  # what is done here is heard here, too
            return
        self._at_work.add(get_ident())
        try:
            self._prepare(event, arguments)
        finally:
            self._at_work.remove(get_ident())

    def _prepare(self, event: str, arguments: tuple[Any, ...]) -> None:
        if event == _OPENING:
            if isinstance(arguments[2], int) and arguments[2] & _WRITING:
                self._own(arguments[0], itself=True)
        elif event in _LISTING:
            self._own_folders(arguments[0])
        else:
            for its in arguments:
                self._own(its, itself=event not in _MOVING)

    def _own_folders(self, path: Any) -> None:
        """Folders that are links would not be gone into by who walks through a folder."""
        folder = self._own("." if path is None else path, itself=True)
        if folder and os.path.isdir(folder):
            for name in os.listdir(folder):
                if os.path.isdir(inner := os.path.join(folder, name)):
                    self._replace(inner)

    def _own(self, path: Any, itself: bool) -> str:
        """Makes what leads to a path the folder's own, and what it names, too, if that is meant `itself`; gives the
        whole path, '' for one elsewhere."""
        if not isinstance(path, (str, bytes)):
            path = path.__fspath__() if type(path).__module__.partition(".")[0] == "pathlib" else ""
        full = os.path.abspath(os.fsdecode(path)) if path else ""
        if not os.path.join(full, "").startswith(self._inside):
            return ""
        current, parts = self._inside[:-1], [*filter(None, full[len(self._inside) :].split(os.sep))]
        for place, part in enumerate(parts, 1):
            current = os.path.join(current, part)
            if place < len(parts) or itself:
                self._replace(current)
        return full

    def _replace(self, path: str) -> None:
        """Puts something of its own in the place of a link: a copy, or a folder of links."""
        try:
            if not S_ISLNK(os.lstat(path).st_mode):
                return
            target = os.path.realpath(path)
            its = os.stat(target)
        except OSError:
            return  # nothing there, or a link to nothing
        if target.startswith(self._inside):
            return
        os.unlink(path)
        if S_ISDIR(its.st_mode):
            os.mkdir(path)
            for name in os.listdir(target):
                os.symlink(os.path.join(target, name), os.path.join(path, name))
        else:
            _copy(target, path, its)


def _copy(source: str, target: str, its: os.stat_result) -> None:
    """As a copy that was made before the run: changed when the original was."""
    with open(source, "rb") as old, open(target, "xb") as new:
        while data := old.read(_CHUNK_BYTES):
            new.write(data)
    os.chmod(target, S_IMODE(its.st_mode))
    os.utime(target, ns=(its.st_atime_ns, its.st_mtime_ns))
