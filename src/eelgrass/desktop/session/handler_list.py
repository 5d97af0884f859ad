"""What called the program's functions from outside, over the recording on view."""

from __future__ import annotations

import numpy as np
from PyQt6.QtCore import QObject, pyqtSignal

from eelgrass.desktop.services.background import Lane
from eelgrass.desktop.session.session import Session
from eelgrass.reading.handlers import HandlerCall, handler_calls
from eelgrass.trace.columns import find

#: So many calls are listed.
_MOST = 2_000


class HandlerList(QObject):
    """`calls` in order, and how many `more` there are; empty until they are found, and while somebody says first.
    Signal: `changed`."""

    changed = pyqtSignal()

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self.calls: list[HandlerCall] = []
        self.more = 0
        self._firsts = np.empty(0, np.int64)
        self._finding = Lane("handlers")
        self._finding.done.connect(self._take)
        session.opened.connect(self._find)

    def rows_at(self, step: int) -> set[int]:
        """The calls that a step is in, by their places."""
        return {row for row in range(find(self._firsts, step + 1)) if not 0 <= self.calls[row].last < step}

    def _find(self) -> None:
        recording = self._session.recording
        if recording is not None and recording.has_handlers and self._session.visible.is_whole:
            self._finding.start(lambda progress: handler_calls(recording, progress))
        else:
            self._finding.give_up()
        self._take([])

    def _take(self, found: list[HandlerCall]) -> None:
        self.calls, self.more = found[:_MOST], max(len(found) - _MOST, 0)
        self._firsts = np.array([its.first for its in self.calls], np.int64)
        self.changed.emit()
