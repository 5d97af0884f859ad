"""The log of the notes: each text with its values, at the step where it was noted."""

from __future__ import annotations

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QFont
from PyQt6.QtWidgets import QListWidgetItem

from eelgrass.desktop.look.look import Look
from eelgrass.desktop.look.widgets import PlainList
from eelgrass.desktop.services.translation import tr
from eelgrass.desktop.session.breakpoint_set import BreakpointSet
from eelgrass.desktop.session.session import Session

_MOST = 5_000


class LogView(PlainList):
    """In order of time; a click leads to the step of a note. Those of the shown step are set in bold."""

    def __init__(self, session: Session, breakpoints: BreakpointSet, look: Look) -> None:
        super().__init__(tr("Notes, in order of time"), look)
        self._session = session
        self._breakpoints = breakpoints
        self.setUniformItemSizes(True)
        self.itemClicked.connect(lambda item: session.go(item.data(Qt.ItemDataRole.UserRole)))
        breakpoints.changed.connect(self.refresh)
        session.moved.connect(self._mark)
        look.changed.connect(self.refresh)
        self.refresh()

    def refresh(self) -> None:
        """Takes the notes."""
        self.clear()
        recording = self._session.recording
        if recording is None:
            return
        for step, text in self._breakpoints.log[:_MOST]:
            item = QListWidgetItem(tr("step {0}, line {1}:  {2}").format(step, recording.trace.line_of(step), text))
            item.setData(Qt.ItemDataRole.UserRole, step)
            self.addItem(item)
        self._mark()

    def _mark(self) -> None:
        if not self.isVisible():
            return
        for row in range(self.count()):
            item = self.item(row)
            assert item is not None
            is_here = item.data(Qt.ItemDataRole.UserRole) == self._session.step
            font = QFont(item.font())
            if font.bold() != is_here:
                font.setBold(is_here)
                item.setFont(font)
            if is_here:
                self.scrollToItem(item)

    def showEvent(self, event: object) -> None:
        super().showEvent(event)  # type: ignore[arg-type]
        self._mark()
