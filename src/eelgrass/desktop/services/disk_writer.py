"""Writes what the person does to the disk, a moment later, on a thread of its own: no key waits for a disk.

What is written counts as written from the moment that it is handed over: whoever reads it through `DiskWriter` gets
what was handed over last, whether it is on the disk yet or could not be written at all. What could not be written stays
in memory and is tried again with whatever is written next, and whenever somebody asks for it.
"""

from __future__ import annotations

import sys
import threading
from collections.abc import Callable, Hashable
from dataclasses import dataclass
from pathlib import Path

from PyQt6.QtCore import QObject, pyqtSignal

from eelgrass.atomic_write import replace_file
from eelgrass.errors import FileError


@dataclass(frozen=True)
class _Job:
    """`sentence` says, with {0} for why, that it could not be done; `data` is what a file is to hold (None: the file is
    to be gone), where the job is about one file."""

    work: Callable[[], None]
    sentence: str
    data: bytes | None = None


class DiskWriter(QObject):
    """Jobs by key; what is to be written under the same key, and has not been yet, is replaced by what comes later.

    Signals, on the window's thread: `failed(key, error)` when something could not be written, `written(key)` when
    something that had failed has been.
    """

    failed = pyqtSignal(object, object)
    written = pyqtSignal(object)

    def __init__(self) -> None:
        super().__init__()
        self._waiting: dict[Hashable, _Job] = {}
        self._at_work: dict[Hashable, _Job] = {}
        self._failed: dict[Hashable, _Job] = {}
        self._troubles: set[Hashable] = set()  # the keys of which a failure has been told, and no success since
        self._is_writing = False  # while its thread lives, which ends when there is nothing left to write
        self._changed = threading.Condition()

    def write(self, path: Path, data: bytes, sentence: str) -> None:
        """Has a file replaced soon; `sentence` is told where that cannot be, with why in the place of {0}."""

        def work() -> None:
            path.parent.mkdir(parents=True, exist_ok=True)
            replace_file(path, data)

        self._put(path, _Job(work, sentence, data))

    def remove(self, path: Path, sentence: str) -> None:
        """Has a file taken away soon."""
        self._put(path, _Job(lambda: path.unlink(missing_ok=True), sentence))

    def run(self, key: Hashable, work: Callable[[], None], sentence: str) -> None:
        """Has something else written soon, by `work`, which may raise OSError."""
        self._put(key, _Job(work, sentence))

    def read(self, path: Path, most_bytes: int) -> bytes | None:
        """What a file holds, or is going to hold, at most so many bytes of it; None where there is none. Raises
        OSError."""
        with self._changed:
            for jobs in (self._waiting, self._at_work, self._failed):
                if path in jobs:
                    return jobs[path].data
        try:
            with path.open("rb") as file:
                return file.read(most_bytes)
        except FileNotFoundError:
            return None

    def pending_in(self, folder: Path) -> list[Path]:
        """The files of a folder that are going to be written, or could not be."""
        with self._changed:
            keys = {**self._failed, **self._at_work, **self._waiting}
            return [key for key in keys if isinstance(key, Path) and key.parent == folder]

    def retry(self) -> None:
        """Tries again to write what could not be written."""
        with self._changed:
            if self._failed:
                self._waiting = {**self._failed, **self._waiting}
                self._begin()

    def flush(self) -> bool:
        """Waits until all is written; gives whether it could be."""
        self.retry()
        with self._changed:
            self._changed.wait_for(lambda: not self._is_writing)
            return not self._failed

    def _put(self, key: Hashable, job: _Job) -> None:
        with self._changed:
            self._waiting = {**self._failed, **self._waiting, key: job}
            self._begin()

    def _begin(self) -> None:
        if not self._is_writing:
            self._is_writing = True
            threading.Thread(target=self._write, name="eelgrass-writer", daemon=True).start()

    def _write(self) -> None:
        while (next_ := self._next()) is not None:
            key, job = next_
            error: OSError | None = None
            try:
                job.work()
            except OSError as caught:
                error = caught
            except Exception as caught:  # an error of ours; what is written next must still be written
                sys.excepthook(type(caught), caught, caught.__traceback__)
            self._settle(key, job, error)

    def _next(self) -> tuple[Hashable, _Job] | None:
        with self._changed:
            if self._waiting:
                key = next(iter(self._waiting))
                self._at_work[key] = job = self._waiting.pop(key)
                self._failed.pop(key, None)  # it is older: nobody is to try it again after this one
                return key, job
            self._is_writing = False
            self._changed.notify_all()
            return None

    def _settle(self, key: Hashable, job: _Job, error: OSError | None) -> None:
        with self._changed:
            self._at_work.pop(key, None)
            had_failed = key in self._troubles
            if error is None:
                self._troubles.discard(key)
            else:
                self._failed[key] = job
                self._troubles.add(key)
        if error is not None:
            self.failed.emit(key, FileError(job.sentence, error))
        elif had_failed:
            self.written.emit(key)
