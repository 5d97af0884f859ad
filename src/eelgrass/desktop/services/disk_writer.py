"""Writes what the person does to the disk, a moment later, on a thread of its own: no key waits for a disk."""

from __future__ import annotations

import threading
import traceback
from collections.abc import Callable, Hashable

from PyQt6.QtCore import QObject, pyqtSignal


class DiskWriter(QObject):
    """What is to be written under the same key, and has not been yet, is replaced by what comes later. Signal:
    `failed(sentence)` when something could not be written."""

    failed = pyqtSignal(str)

    def __init__(self) -> None:
        super().__init__()
        self._waiting: dict[Hashable, tuple[Callable[[], None], str]] = {}
        self._is_writing = False  # while its thread lives, which ends when there is nothing left to write
        self._changed = threading.Condition()

    def write(self, key: Hashable, work: Callable[[], None], trouble: str) -> None:
        """Has `work` called soon. When it raises OSError, `trouble` is told, with why in the place of {0}."""
        with self._changed:
            self._waiting[key] = (work, trouble)
            if not self._is_writing:
                self._is_writing = True
                threading.Thread(target=self._write, name="eelgrass-writer", daemon=True).start()

    def flush(self) -> None:
        """Waits until all is written: before it is read again, and at the end."""
        with self._changed:
            self._changed.wait_for(lambda: not self._is_writing)

    def _write(self) -> None:
        while (its := self._next()) is not None:
            work, trouble = its
            try:
                work()
            except OSError as error:
                self.failed.emit(trouble.format(error.strerror))
            except Exception:  # an error of ours; what is written next must still be written
                traceback.print_exc()

    def _next(self) -> tuple[Callable[[], None], str] | None:
        with self._changed:
            if self._waiting:
                return self._waiting.pop(next(iter(self._waiting)))
            self._is_writing = False
            self._changed.notify_all()
            return None
