"""Walking on by itself, at a chosen speed."""

from __future__ import annotations

from PyQt6.QtCore import QObject, QTimer, pyqtSignal

from eelgrass.desktop.session.session import Session

#: Lines a second.
SPEEDS = (0.5, 1.0, 2.0, 4.0, 8.0, 16.0, 30.0)


class Player(QObject):
    """Makes one move after the other while it plays, and stops at the end. Signal: `changed` when it begins, stops or
    takes another speed."""

    changed = pyqtSignal()

    def __init__(self, session: Session, speed: int) -> None:
        super().__init__()
        self._session = session
        self.speed = min(max(speed, 0), len(SPEEDS) - 1)
        self._timer = QTimer(self)
        self._timer.timeout.connect(self.walk_on)
        session.opened.connect(self.stop)

    @property
    def is_playing(self) -> bool:
        """Whether it is walking."""
        return self._timer.isActive()

    def toggle(self) -> None:
        """Begins to walk, or stops."""
        if self.is_playing:
            self.stop()
        elif self._session.recording is not None:
            self._timer.start(int(1000 / SPEEDS[self.speed]))
            self.changed.emit()

    def stop(self) -> None:
        """Stops walking."""
        if self.is_playing:
            self._timer.stop()
            self.changed.emit()

    def change_speed(self, by: int) -> None:
        """Takes the next speed, faster (1) or slower (-1)."""
        self.speed = min(max(self.speed + by, 0), len(SPEEDS) - 1)
        self._timer.setInterval(int(1000 / SPEEDS[self.speed]))
        self.changed.emit()

    def walk_on(self) -> None:
        """One line on, whatever the level; stops where there is none."""
        before = self._session.step
        self._session.move("next_any")
        if self._session.step == before:
            self.stop()
