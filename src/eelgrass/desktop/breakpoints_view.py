"""The list of breakpoints, with how often each is hit; switched off and on by its box."""

from __future__ import annotations

from dataclasses import replace

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QKeyEvent
from PyQt6.QtWidgets import QInputDialog, QListWidget, QListWidgetItem

from eelgrass.desktop.lists import dress
from eelgrass.desktop.palette import Palette
from eelgrass.desktop.reader import Reader
from eelgrass.desktop.words import tr
from eelgrass.reading.breakpoints import Breakpoint, Hits


def words(breakpoint_: Breakpoint, hits: Hits) -> str:
    """One breakpoint, told in a line."""
    condition = f" where {breakpoint_.condition}" if breakpoint_.condition else ""
    every = f", every {breakpoint_.every} times" if breakpoint_.every > 1 else ""
    count = len(hits.steps)
    told = "off" if not breakpoint_.on else "never hit" if not count else f"{count:,} {'hit' if count == 1 else 'hits'}"
    return f"line {breakpoint_.line}{condition}{every}: {told}{' – ' + hits.why if hits.why else ''}"


class BreakpointsView(QListWidget):
    """A click goes to the next hit; a double click asks for the condition; Delete takes a breakpoint away."""

    def __init__(self, reader: Reader, colours: Palette) -> None:
        super().__init__()
        self._reader = reader
        dress(self, tr("Breakpoints"), colours)
        self.itemChanged.connect(self._switch)
        self.itemDoubleClicked.connect(lambda _item: self.ask_condition())
        reader.marked.connect(self.refresh)

    def refresh(self) -> None:
        """Takes the breakpoints and their hits."""
        row = self.currentRow()
        self.blockSignals(True)
        self.clear()
        for its, hits in zip(self._reader.breakpoints, self._reader.hits, strict=True):
            item = QListWidgetItem(words(its, hits))
            item.setFlags(item.flags() | Qt.ItemFlag.ItemIsUserCheckable)
            item.setCheckState(Qt.CheckState.Checked if its.on else Qt.CheckState.Unchecked)
            self.addItem(item)
        self.setCurrentRow(row)
        self.blockSignals(False)

    def _switch(self, item: QListWidgetItem) -> None:
        row = self.row(item)
        on = item.checkState() == Qt.CheckState.Checked
        self._change(row, replace(self._reader.breakpoints[row], on=on))

    def _change(self, row: int, changed: Breakpoint) -> None:
        its = self._reader.breakpoints
        self._reader.set_breakpoints([*its[:row], changed, *its[row + 1 :]])

    def ask_condition(self) -> None:
        """Asks for the chosen breakpoint's condition."""
        row = self.currentRow()
        if 0 <= row < len(self._reader.breakpoints):
            its = self._reader.breakpoints[row]
            words_ = tr("Stop here only where this is true (nothing: always):")
            text, given = QInputDialog.getText(self, tr("Condition"), words_, text=its.condition)
            if given:
                self._change(row, replace(its, condition=text.strip()))

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Delete takes the chosen breakpoint away."""
        row = self.currentRow()
        if event is not None and event.key() == Qt.Key.Key_Delete and 0 <= row < len(self._reader.breakpoints):
            its = self._reader.breakpoints
            self._reader.set_breakpoints([*its[:row], *its[row + 1 :]])
        elif event is not None:
            super().keyPressEvent(event)
