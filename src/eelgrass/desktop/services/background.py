"""Work that does not belong on the window's thread: each job ends with a result or an error, says how far it is, and
can be given up."""

from __future__ import annotations

import sys
import threading
from collections.abc import Callable
from typing import Any

from PyQt6.QtCore import QObject, pyqtSignal

from eelgrass.errors import EelgrassError
from eelgrass.reading.progress import Progress

#: What is done sooner than this is not worth a word about how far it is.
PATIENCE_MS = 300


class Lane(QObject):
    """One job at a time; a new one gives up the one before, of which nothing more is heard.

    Signals, all on the window's thread: `done(result)` or `failed(error)` when the job has ended, whichever it was;
    `progressed(share)` with how much of it is done, from 0 to 1. An error that is not the person's to know of reaches
    the crash report besides.
    """

    done = pyqtSignal(object)
    failed = pyqtSignal(object)
    progressed = pyqtSignal(float)
    _ended = pyqtSignal(object, object, object)
    _told = pyqtSignal(object, float)

    def __init__(self, name: str) -> None:
        super().__init__()
        self._name = name
        self._progress: Progress | None = None
        self._ended.connect(self._take)
        self._told.connect(self._tell)

    @property
    def is_busy(self) -> bool:
        """Whether a job is on its way."""
        return self._progress is not None

    def start(self, work: Callable[[Progress], Any]) -> None:
        """Begins a job; `work` is called on another thread and must touch nothing of the window's."""
        self.give_up()
        progress = Progress()
        progress.told = lambda share: self._told.emit(progress, share)
        self._progress = progress
        threading.Thread(target=self._work, args=(work, progress), name=f"eelgrass-{self._name}", daemon=True).start()

    def give_up(self) -> None:
        """Nobody waits for the job any longer."""
        if self._progress is not None:
            self._progress.give_up()
            self._progress = None

    def _work(self, work: Callable[[Progress], Any], progress: Progress) -> None:
        result, failure = None, None
        try:
            result = work(progress)
        except BaseException as error:  # whatever it is: a job that ended without a word would be waited for for ever
            failure = error
        self._ended.emit(progress, result, failure)

    def _take(self, progress: Progress, result: Any, failure: BaseException | None) -> None:
        is_wanted = progress is self._progress
        if is_wanted:
            self._progress = None
        if failure is not None and not isinstance(failure, (EelgrassError, OSError)):
            sys.excepthook(type(failure), failure, failure.__traceback__)
        if is_wanted and failure is not None:
            self.failed.emit(failure)
        elif is_wanted:
            self.done.emit(result)

    def _tell(self, progress: Progress, share: float) -> None:
        if progress is self._progress:
            self.progressed.emit(share)
