"""The list of all exceptions of a run, also of those that were caught and of which nothing was ever said."""

from __future__ import annotations

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QColor
from PyQt6.QtWidgets import QListWidget, QListWidgetItem

from eelgrass.desktop.look.palette import Palette
from eelgrass.desktop.look.widgets import dress
from eelgrass.desktop.services.translation import tr
from eelgrass.desktop.session.session import Reader
from eelgrass.reading.lines.exception_paths import Journey

_MOST = 500


def words(journey: Journey) -> str:
    """One exception, told in a line."""
    message = f": {journey.message}" if journey.message else ""
    first, last = journey.stations[0], journey.stations[-1]
    end = "not caught"
    if journey.is_caught:
        end = (
            tr("caught where it was raised")
            if len(journey.stations) == 1
            else tr("caught at line {0}").format(last.line)
        )
        end += ", and nothing was ever said of it" if journey.is_silenced else ""
    return f"line {first.line}: {journey.type}{message} – {end}"


class ExceptionsView(QListWidget):
    """A click leads to where an exception was raised."""

    def __init__(self, reader: Reader, colours: Palette) -> None:
        super().__init__()
        self._reader = reader
        self._colours = colours
        dress(self, tr("Exceptions of the run"), colours)
        self.itemClicked.connect(self._go)
        self.itemActivated.connect(self._go)
        reader.opened.connect(self.refresh)
        reader.marked.connect(self.refresh)

    def refresh(self) -> None:
        """Takes the exceptions of the recording on view."""
        self.clear()
        recording = self._reader.recording
        for journey in (recording.exceptions if recording else [])[:_MOST]:
            if self._reader.is_hidden(journey.stations[-1].step):
                continue
            item = QListWidgetItem(words(journey))
            item.setData(Qt.ItemDataRole.UserRole, journey.stations[0].step)
            if not journey.is_caught or journey.is_silenced:
                item.setForeground(QColor(self._colours.coral))
            self.addItem(item)

    def _go(self, item: QListWidgetItem) -> None:
        self._reader.go(item.data(Qt.ItemDataRole.UserRole))
