"""Python's cyclic garbage is collected on the window's thread only.

A collection happens on whichever thread happens to allocate. Views that were built anew leave cycles behind, with fonts
and pictures in them; Qt crashes when these are taken apart on another thread while the window's is painting.
"""

from __future__ import annotations

import gc

from PyQt6.QtCore import QObject, QTimer

_PAUSE_MS = 250


class Housekeeping(QObject):
    """Collects as often as Python would, but between events."""

    def __init__(self, parent: QObject) -> None:
        super().__init__(parent)
        gc.disable()
        self._timer = QTimer(self)
        self._timer.setInterval(_PAUSE_MS)
        self._timer.timeout.connect(self.collect)
        self._timer.start()

    def collect(self) -> None:
        """Collects the oldest generation whose count is above Python's own threshold."""
        pairs = list(zip(gc.get_count(), gc.get_threshold(), strict=True))
        due = [generation for generation, (count, most) in enumerate(pairs) if count > most]
        if due:
            gc.collect(due[-1])
