"""The recording on view and the step at which it is shown: the one thing that all views follow."""

from __future__ import annotations

from PyQt6.QtCore import QObject, pyqtSignal

from eelgrass.reading.recording import Recording


class Reader(QObject):
    """Signals: `opened` when another recording (or none) comes on view; `moved` when another step is shown."""

    opened = pyqtSignal()
    moved = pyqtSignal()

    def __init__(self) -> None:
        super().__init__()
        self.recording: Recording | None = None
        self.step = 0

    def show(self, recording: Recording | None, step: int | None = None) -> None:
        """Puts a recording on view, at a step or at its first stop."""
        usable = recording is not None and len(recording.places.stops) > 0
        self.recording = recording if usable else None
        if self.recording is not None:
            places = self.recording.places
            self.step = places.first() if step is None else places.nearest(step)
        self.opened.emit()
        self.moved.emit()

    def go(self, step: int) -> None:
        """Shows the stop at `step`, or the next one after it."""
        if self.recording is None:
            return
        step = self.recording.places.nearest(step)
        if step != self.step:
            self.step = step
            self.moved.emit()

    def move(self, name: str) -> None:
        """Makes one of the moves of `Places`, by its name."""
        if self.recording is None:
            return
        places = self.recording.places
        self.go(getattr(places, name)() if name in ("first", "last") else getattr(places, name)(self.step))
