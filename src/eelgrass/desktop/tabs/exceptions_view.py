"""The list of all exceptions of a run, also of those that were caught and of which nothing was ever said."""

from __future__ import annotations

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QColor
from PyQt6.QtWidgets import QListWidget, QListWidgetItem

from eelgrass.desktop.look.palette import Palette
from eelgrass.desktop.look.widgets import dress
from eelgrass.desktop.services.translation import tr
from eelgrass.desktop.session.session import Session
from eelgrass.reading.lines.exception_paths import ExceptionPath

_MOST = 500


def words(exception_path: ExceptionPath) -> str:
    """One exception, told in a line."""
    message = f": {exception_path.message}" if exception_path.message else ""
    first, last = exception_path.stations[0], exception_path.stations[-1]
    end = "not caught"
    if exception_path.is_caught:
        end = (
            tr("caught where it was raised")
            if len(exception_path.stations) == 1
            else tr("caught at line {0}").format(last.line)
        )
        end += ", and nothing was ever said of it" if exception_path.is_silenced else ""
    return f"line {first.line}: {exception_path.type}{message} – {end}"


class ExceptionsView(QListWidget):
    """A click leads to where an exception was raised."""

    def __init__(self, session: Session, colours: Palette) -> None:
        super().__init__()
        self._session = session
        self._colours = colours
        dress(self, tr("Exceptions of the run"), colours)
        self.itemClicked.connect(self._go)
        self.itemActivated.connect(self._go)
        session.opened.connect(self.refresh)
        session.marked.connect(self.refresh)

    def refresh(self) -> None:
        """Takes the exceptions of the recording on view."""
        self.clear()
        recording = self._session.recording
        for exception_path in (recording.exceptions if recording else [])[:_MOST]:
            if self._session.is_hidden(exception_path.stations[-1].step):
                continue
            item = QListWidgetItem(words(exception_path))
            item.setData(Qt.ItemDataRole.UserRole, exception_path.stations[0].step)
            if not exception_path.is_caught or exception_path.is_silenced:
                item.setForeground(QColor(self._colours.coral))
            self.addItem(item)

    def _go(self, item: QListWidgetItem) -> None:
        self._session.go(item.data(Qt.ItemDataRole.UserRole))
