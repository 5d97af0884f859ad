"""The list of breakpoints, notes and claims, with what came of each; switched off and on by its box."""

from __future__ import annotations

from dataclasses import replace

from PyQt6.QtCore import QPointF, QSize, Qt
from PyQt6.QtGui import QColor, QIcon, QKeyEvent, QPainter, QPixmap
from PyQt6.QtWidgets import QHBoxLayout, QListWidgetItem, QPushButton, QVBoxLayout, QWidget

from eelgrass.desktop.look import icons
from eelgrass.desktop.look.look import Look
from eelgrass.desktop.look.widgets import PlainList, thin_progress
from eelgrass.desktop.services.translation import tr
from eelgrass.desktop.session.breakpoint_set import BreakpointSet
from eelgrass.desktop.session.session import Session
from eelgrass.desktop.tabs.breakpoints.breakpoint_dialog import BreakpointDialog
from eelgrass.reading.breakpoints.breakpoint import Breakpoint, described, outcome
from eelgrass.trace.columns import find

_SIGN_PX = 20


class BreakpointsView(QWidget):
    """A click goes to the next hit (after the last, to the first); Enter changes a breakpoint; Delete takes it away."""

    def __init__(self, session: Session, breakpoints: BreakpointSet, look: Look) -> None:
        super().__init__()
        self._session = session
        self._breakpoints = breakpoints
        self._look = look
        self.list = PlainList(tr("Breakpoints, notes and claims"), look)
        self.list.setIconSize(QSize(_SIGN_PX, _SIGN_PX))
        self.new, self.change, self.all = (QPushButton(tr(text)) for text in ("New…", "Change…", "All off"))
        self.progress = thin_progress()
        row = QHBoxLayout()
        for button in (self.new, self.change, self.all):
            row.addWidget(button)
        row.addWidget(self.progress, 1)
        row.addStretch(1)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(8, 4, 8, 4)
        layout.setSpacing(4)
        layout.addWidget(self.list, 1)
        layout.addLayout(row)
        self.new.clicked.connect(lambda: self.make_new(Breakpoint("")))
        self.change.clicked.connect(self.change_chosen)
        self.all.clicked.connect(breakpoints.switch_all)
        self.list.itemChanged.connect(self._switch)
        self.list.itemClicked.connect(lambda item: self._go_on(self.list.row(item)))
        self.list.currentRowChanged.connect(lambda row: self.change.setEnabled(row >= 0))
        breakpoints.changed.connect(self.refresh)
        breakpoints.lane.progressed.connect(self._tell)
        look.changed.connect(self.refresh)
        self.refresh()

    def refresh(self) -> None:
        """Takes the breakpoints and their hits."""
        row = self.list.currentRow()
        self.list.blockSignals(True)
        self.list.clear()
        tells_all = self._session.visible.is_whole
        for its, hits in zip(self._breakpoints.breakpoints, self._breakpoints.hits, strict=True):
            told = f"{described(its)}: {outcome(its, hits)}" if tells_all else described(its)
            item = QListWidgetItem(self._sign(its), told)
            item.setFlags(item.flags() | Qt.ItemFlag.ItemIsUserCheckable)
            item.setCheckState(Qt.CheckState.Checked if its.on else Qt.CheckState.Unchecked)
            if its.is_gone or (its.claims and len(hits.steps) and tells_all):
                item.setForeground(QColor(self._look.colours.coral))
            self.list.addItem(item)
        self.list.setCurrentRow(min(row, self.list.count() - 1))
        self.list.blockSignals(False)
        self.change.setEnabled(self.list.currentRow() >= 0)
        self.all.setEnabled(bool(self._breakpoints.breakpoints))
        is_any_on = any(its.on for its in self._breakpoints.breakpoints)
        self.all.setText(tr("All off") if is_any_on or not self._breakpoints.breakpoints else tr("All on"))
        self.progress.setVisible(self._breakpoints.lane.is_busy)

    def _tell(self, share: float) -> None:
        self.progress.setValue(int(share * 100))

    def _sign(self, its: Breakpoint) -> QIcon:
        ratio = self.devicePixelRatioF()
        picture = QPixmap(int(_SIGN_PX * ratio), int(_SIGN_PX * ratio))
        picture.setDevicePixelRatio(ratio)
        picture.fill(Qt.GlobalColor.transparent)
        painter = QPainter(picture)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        icons.breakpoint_sign(painter, its, QPointF(_SIGN_PX / 2, _SIGN_PX - 2), _SIGN_PX - 4, self._look.colours)
        painter.end()
        return QIcon(picture)

    def _switch(self, item: QListWidgetItem) -> None:
        row = self.list.row(item)
        on = item.checkState() == Qt.CheckState.Checked
        if on != self._breakpoints.breakpoints[row].on:
            self._breakpoints.put(row, replace(self._breakpoints.breakpoints[row], on=on))

    def _go_on(self, row: int) -> None:
        steps = self._breakpoints.hits[row].steps
        if len(steps):
            place = find(steps, self._session.step + 1)
            self._session.go(int(steps[place if place < len(steps) else 0]))

    def make_new(self, its: Breakpoint) -> None:
        """Asks for a new breakpoint, beginning with what is known of it; without a file, it is for the waterline."""
        recording = self._session.recording
        if recording is None:
            return
        if not its.file:
            place = recording.place_at(self._session.step)
            its = replace(its, file=place.file, line=place.line)
        form = BreakpointDialog(self, recording, its, self._look)
        if form.exec():
            self._breakpoints.add(form.made())

    def change_chosen(self) -> None:
        """Asks what to change of the chosen breakpoint."""
        row = self.list.currentRow()
        if self._session.recording is not None and 0 <= row < len(self._breakpoints.breakpoints):
            form = BreakpointDialog(self, self._session.recording, self._breakpoints.breakpoints[row], self._look)
            if form.exec():
                self._breakpoints.put(row, form.made())

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Delete takes the chosen breakpoint away, Enter changes it."""
        row = self.list.currentRow()
        if event is not None and event.key() == Qt.Key.Key_Delete and 0 <= row < len(self._breakpoints.breakpoints):
            self._breakpoints.put(row)
        elif event is not None and event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self.change_chosen()
        elif event is not None:
            super().keyPressEvent(event)
