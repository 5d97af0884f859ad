"""Looks for answers on a thread of its own, so that the window stays alive; says how far it is, and can be told that
nobody waits any longer."""

from __future__ import annotations

import threading
import traceback
from collections.abc import Callable
from typing import Any

from PyQt6.QtCore import QObject, pyqtSignal

from eelgrass.reading.expressions.batch import Progress

#: What is found sooner than this is not worth a word about how far it is.
PATIENCE_MS = 300


class Seeker(QObject):
    """One search at a time; a new one gives up the one before. `found(what)` tells the result of the latest search
    only, `progressed(share)` how much of it is done, from 0 to 1; both on the window's thread."""

    found = pyqtSignal(object)
    progressed = pyqtSignal(float)
    _ended = pyqtSignal(object, object)
    _told = pyqtSignal(object, float)

    def __init__(self, name: str) -> None:
        super().__init__()
        self._name = name
        self._going: Progress | None = None
        self._ended.connect(self._take)
        self._told.connect(self._tell)

    @property
    def is_seeking(self) -> bool:
        """Whether a search is on its way."""
        return self._going is not None

    def seek(self, work: Callable[[Progress], Any]) -> None:
        """Begins a search; `work` is called on another thread and must touch nothing of the window's."""
        self.give_up()
        going = Progress()
        going.told = lambda share: self._told.emit(going, share)
        self._going = going
        threading.Thread(target=self._work, args=(work, going), name=f"eelgrass-{self._name}", daemon=True).start()

    def give_up(self) -> None:
        """Nobody waits for the search any longer."""
        if self._going is not None:
            self._going.given_up.set()
            self._going = None

    def _work(self, work: Callable[[Progress], Any], going: Progress) -> None:
        try:
            result = work(going)
        except Exception:  # an error of ours; the window tells of it, and goes on
            traceback.print_exc()
            result = None
        self._ended.emit(going, result)

    def _take(self, going: Progress, result: Any) -> None:
        if going is self._going:
            self._going = None
            self.found.emit(result)

    def _tell(self, going: Progress, share: float) -> None:
        if going is self._going:
            self.progressed.emit(share)
