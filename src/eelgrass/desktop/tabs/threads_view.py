"""The threads of a run at the shown step: what each does, waits for and holds."""

from __future__ import annotations

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QColor, QShowEvent
from PyQt6.QtWidgets import QListWidgetItem

from eelgrass.desktop.look.look import Look
from eelgrass.desktop.look.palette import ui_font
from eelgrass.desktop.look.plain_text import visible
from eelgrass.desktop.look.widgets import PlainList
from eelgrass.desktop.services.translation import tr
from eelgrass.desktop.session.session import Session
from eelgrass.reading.threads.waiting import ThreadReader, Threads


def words(threads: Threads, place: int) -> str:
    """One thread, told in a line."""
    its = threads.states[place]
    does = {
        "not started": tr("has not started"),
        "ended": tr("has ended"),
        "running": tr("is at line {0}").format(its.line),
        "waiting": threads.wait(place),
    }[its.state]
    held = ", ".join(tr("{0} since line {1}").format(one.lock.name, one.line) for one in its.holds)
    return f"{its.its.name}: {does}" + (tr(" · has {0}").format(held) if held else "")


class ThreadsView(PlainList):
    """The thread that the shown step is of stands out, as do those of a deadlock. A click leads to where one stands."""

    def __init__(self, session: Session, look: Look) -> None:
        super().__init__(tr("Threads"), look)
        self._session = session
        self._look = look
        self._reader: ThreadReader | None = None
        self.itemClicked.connect(self._go)
        self.itemActivated.connect(self._go)
        session.opened.connect(self._take)
        session.moved.connect(self.refresh)
        look.changed.connect(self.refresh)

    def _take(self) -> None:
        self._reader = None
        self.refresh()

    def showEvent(self, event: QShowEvent | None) -> None:
        super().showEvent(event)
        self.refresh()

    def refresh(self) -> None:
        """Shows the threads just before the shown step."""
        recording = self._session.recording
        if recording is None or not self.isVisible():
            self.clear()
            return
        if self._reader is None:
            self._reader = ThreadReader(recording)
        told, row = self._reader.at(self._session.step), self.currentRow()
        here = int(recording.trace.frames.thread[recording.stepping.frame_of(self._session.step)])
        self.clear()
        for place, its in enumerate(told.states):
            item = QListWidgetItem(visible(words(told, place)))
            item.setData(Qt.ItemDataRole.UserRole, its.last)
            if its.its.thread == here:
                item.setFont(ui_font(10, bold=True))
            if place in told.deadlock:
                item.setForeground(QColor(self._look.colours.coral))
            self.addItem(item)
        self.setCurrentRow(min(row, self.count() - 1))

    def _go(self, item: QListWidgetItem) -> None:
        step = item.data(Qt.ItemDataRole.UserRole)
        if step >= 0:
            self._session.go(step)
