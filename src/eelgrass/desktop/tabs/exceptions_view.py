"""The list of all exceptions of a run, also of those that were caught and of which nothing was ever said."""

from __future__ import annotations

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtGui import QColor, QContextMenuEvent
from PyQt6.QtWidgets import QListWidgetItem

from eelgrass.desktop.look.look import Look
from eelgrass.desktop.look.widgets import PlainList, offer_trail
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


class ExceptionsView(PlainList):
    """A click leads to where an exception was raised. Signal: `asked(step)` for one whose trail is wanted."""

    asked = pyqtSignal(int)

    def __init__(self, session: Session, look: Look) -> None:
        super().__init__(tr("Exceptions of the run"), look)
        self._session = session
        self.itemClicked.connect(self._go)
        self.itemActivated.connect(self._go)
        session.opened.connect(self.refresh)
        session.moved.connect(self._follow)
        session.revealed.connect(self.refresh)
        look.changed.connect(self.refresh)

    def refresh(self) -> None:
        """Takes the exceptions of the recording on view."""
        self.clear()
        for exception_path in self._session.visible.exceptions[:_MOST]:
            item = QListWidgetItem(words(exception_path))
            item.setData(Qt.ItemDataRole.UserRole, exception_path.stations[0].step)
            if not exception_path.is_caught or exception_path.is_silenced:
                item.setForeground(QColor(self._look.colours.coral))
            self.addItem(item)

    def _follow(self) -> None:
        """Who says first sees further with each step."""
        if not self._session.visible.is_whole:
            self.refresh()

    def contextMenuEvent(self, event: QContextMenuEvent | None) -> None:
        item = self.itemAt(event.pos()) if event is not None else None
        if event is None or item is None:
            return
        offer_trail(self, event.globalPos(), lambda: self.asked.emit(item.data(Qt.ItemDataRole.UserRole)))

    def _go(self, item: QListWidgetItem) -> None:
        self._session.go(item.data(Qt.ItemDataRole.UserRole))
