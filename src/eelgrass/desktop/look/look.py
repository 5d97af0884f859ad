"""The look that everything has now: colours and size. Views follow it; none is built anew for another look."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QObject, pyqtSignal

from eelgrass.colours import LIGHT, LOOKS, Palette
from eelgrass.desktop.look.palette import CODE_POINTS, set_scale


class Look(QObject):
    """The one owner of colours and size. Signal: `changed`; views then dress themselves again."""

    changed = pyqtSignal()

    def __init__(self) -> None:
        super().__init__()
        self.name = "light"
        self.points = float(CODE_POINTS)
        set_scale(1.0)

    @property
    def colours(self) -> Palette:
        """The colours of the look."""
        return LOOKS.get(self.name, LIGHT)

    def take(self, name: str, points: float) -> None:
        """Takes another look, by its name, and another size of the program text, in points."""
        if (name, points) != (self.name, self.points):
            self.name, self.points = name, points
            set_scale(points / CODE_POINTS)
            self.changed.emit()

    def dresses(self, dress: Callable[[], None]) -> None:
        """Has a view dress itself, now and whenever the look changes. `dress` has to be a method of the view: it is
        forgotten with it."""
        dress()
        self.changed.connect(dress)
