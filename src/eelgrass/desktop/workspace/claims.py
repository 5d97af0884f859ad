"""Who writes what: of two windows on one program, exercise or answer, one writes and the other reads along.

A claim is a small file that names the window which holds it. Whether that window still lives is told by a lock that it
keeps for as long as it does; the system lets go of it, however the window's process ends.
"""

from __future__ import annotations

import fcntl
import hashlib
import os
from collections.abc import Iterator
from contextlib import contextmanager, suppress
from pathlib import Path
from uuid import uuid4

import platformdirs
from PyQt6.QtCore import QFileSystemWatcher, QObject, pyqtSignal


def _folder() -> Path:
    return Path(platformdirs.user_state_dir("eelgrass")) / "claims"


def _claim_of(path: Path) -> Path:
    name = hashlib.sha256(str(path.resolve()).encode("utf-8", "surrogateescape")).hexdigest()[:24]
    return _folder() / f"{name}.claim"


class Claims(QObject):
    """The claims of one window. Where none can be kept, since there is no place for them, all are granted.

    Signal: `lost(path)` when another window has taken over what this one had.
    """

    lost = pyqtSignal(object)

    def __init__(self) -> None:
        super().__init__()
        self._token = f"{os.getpid()}-{uuid4().hex}"
        self._alive = -1  # the open file whose lock says that this window lives
        self._held: dict[Path, Path] = {}  # by claim, what it is about
        self._watcher = QFileSystemWatcher(self)
        self._watcher.fileChanged.connect(self._look)

    def take(self, path: Path, by_force: bool = False) -> bool:
        """Whether this window is the one that writes from now on. `by_force` takes over from another."""
        claim = _claim_of(path)
        try:
            with self._guarded():
                holder = _read(claim)
                if holder not in ("", self._token) and not by_force and _lives(holder):
                    return False
                claim.write_text(self._token)
        except OSError:
            return True
        self._held[claim] = path
        self._watcher.addPath(str(claim))
        return True

    def holds(self, path: Path) -> bool:
        """Whether this window still is the one that writes. Asked before every write."""
        claim = _claim_of(path)
        return claim in self._held and _read(claim) in ("", self._token)

    def release(self, path: Path) -> None:
        """What was claimed is closed."""
        claim = _claim_of(path)
        if self._held.pop(claim, None) is not None:
            self._watcher.removePath(str(claim))
            with suppress(OSError), self._guarded():
                if _read(claim) == self._token:
                    claim.unlink()

    def release_all(self) -> None:
        """The window is closed."""
        for path in [*self._held.values()]:
            self.release(path)
        if self._alive >= 0:
            with suppress(OSError):
                _sign_of_life(self._token).unlink()
            os.close(self._alive)
            self._alive = -1

    def _look(self, name: str) -> None:
        path = self._held.get(Path(name))
        if path is not None and not self.holds(path):
            del self._held[Path(name)]
            self._watcher.removePath(name)
            self.lost.emit(path)

    @contextmanager
    def _guarded(self) -> Iterator[None]:
        """Alone with the claims. Raises OSError."""
        folder = _folder()
        folder.mkdir(parents=True, exist_ok=True)
        if self._alive < 0:
            self._alive = os.open(_sign_of_life(self._token), os.O_CREAT | os.O_RDWR | os.O_CLOEXEC, 0o600)
            fcntl.flock(self._alive, fcntl.LOCK_EX)
        guard = os.open(folder / "guard", os.O_CREAT | os.O_RDWR | os.O_CLOEXEC, 0o600)
        try:
            fcntl.flock(guard, fcntl.LOCK_EX)
            yield
        finally:
            os.close(guard)


def _sign_of_life(token: str) -> Path:
    return _folder() / f"{token}.window"


def _read(claim: Path) -> str:
    try:
        return claim.read_text()
    except (OSError, ValueError):
        return ""


def _lives(token: str) -> bool:
    """Whether the window that a token names is still there; what it left behind is cleared away."""
    sign = _sign_of_life(token)
    if sign.parent != _folder():
        return False
    try:
        handle = os.open(sign, os.O_RDWR | os.O_CLOEXEC)
    except OSError:
        return False
    try:
        fcntl.flock(handle, fcntl.LOCK_EX | fcntl.LOCK_NB)
    except OSError:
        return True
    finally:
        os.close(handle)
    with suppress(OSError):
        sign.unlink()
    return False
