"""The recording on view, the step at which it is shown, and how far one may see: what all views follow."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QObject, pyqtSignal

from eelgrass.reading.moves import MOVES
from eelgrass.reading.progress import window_draws
from eelgrass.reading.recording import Recording
from eelgrass.reading.visible import VisibleRun


class Session(QObject):
    """`hold`, while the student says first, says how far a move from one step to another may go.

    Signals: `opened` when another recording (or none) comes on view; `moved` when another step is shown; `revealed`
    when one may see further than before, or less far.
    """

    opened = pyqtSignal()
    moved = pyqtSignal()
    revealed = pyqtSignal()

    def __init__(self) -> None:
        super().__init__()
        self.recording: Recording | None = None
        self.step = 0
        self.hold: Callable[[int, int], int] | None = None
        self._horizon: int | None = None
        self.visible = VisibleRun(None)

    def show(self, recording: Recording | None, step: int | None = None) -> None:
        """Puts a recording on view, at a step or at its first stop."""
        usable = recording is not None and len(recording.stepping.stops) > 0
        self.recording = recording if usable else None
        if self.recording is not None:
            stepping = self.recording.stepping
            self.step = stepping.first() if step is None else stepping.nearest(step)
        self._see(None if self._horizon is None else self.step)
        self.opened.emit()
        self.moved.emit()

    def go(self, step: int) -> None:
        """Shows the stop at `step`, or the next one after it."""
        if self.recording is None:
            return
        step = self.recording.stepping.nearest(step)
        if self.hold is not None:
            step = self.hold(self.step, step)
        if step != self.step:
            self.step = step
            if self._horizon is not None and step > self._horizon:
                self._see(step)
            window_draws()
            self.moved.emit()

    def move(self, name: str) -> bool:
        """Makes one of the moves of `reading.moves`, by its name; False where that leads nowhere."""
        if self.recording is None:
            return False
        before, step = self.step, MOVES[name](self.recording, self.step)
        if step >= 0:
            self.go(step)
        return self.step != before

    # How far one may see

    @property
    def horizon(self) -> int | None:
        """The step beyond which nothing is shown; None for none. Views ask `visible`."""
        return self._horizon

    def set_horizon(self, step: int | None) -> None:
        """Sets the step beyond which nothing is shown; None for none."""
        self._see(step)
        self.moved.emit()
        self.revealed.emit()

    def _see(self, end: int | None) -> None:
        self._horizon = end
        self.visible = VisibleRun(self.recording, end)
