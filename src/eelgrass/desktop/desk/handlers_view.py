"""The calls of handlers as a table: each with why, what it was given, what it changed, what it gave back."""

from __future__ import annotations

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QShowEvent
from PyQt6.QtWidgets import QTreeWidget, QTreeWidgetItem

from eelgrass.desktop.look.look import Look
from eelgrass.desktop.look.palette import ui_font
from eelgrass.desktop.look.plain_text import visible
from eelgrass.desktop.look.widgets import table_style
from eelgrass.desktop.services.translation import tr
from eelgrass.desktop.session.handler_list import HandlerList
from eelgrass.desktop.session.session import Session
from eelgrass.desktop.session.wording import nth_of
from eelgrass.reading.handlers import HandlerCall


def cells(its: HandlerCall) -> list[str]:
    """What stands in the columns for a call."""
    return [nth_of(its), its.cause, its.arguments, its.changes, its.result]


class HandlersView(QTreeWidget):
    """A row leads to where its call begins; those that the shown step is in stand out."""

    def __init__(self, session: Session, handlers: HandlerList, look: Look) -> None:
        super().__init__()
        self._session, self._handlers, self._look = session, handlers, look
        self._marked = set[int]()
        self.setRootIsDecorated(False)
        self.setUniformRowHeights(True)
        self.setHeaderLabels([tr("Call"), tr("Called by"), tr("Given"), tr("Changed"), tr("Gave back")])
        self.setFrameShape(self.Shape.NoFrame)
        self.setAccessibleName(tr("Calls of handlers"))
        for column, width in enumerate((130, 180, 110, 110)):
            self.setColumnWidth(column, width)
        self.itemClicked.connect(self._go)
        self.itemActivated.connect(self._go)
        handlers.changed.connect(self._list)
        session.moved.connect(self.refresh)
        look.dresses(self._dress)

    def _dress(self) -> None:
        self.setFont(ui_font(10))
        self.setStyleSheet(table_style("QTreeWidget", self._look))

    def _list(self) -> None:
        self.clear()
        self._marked = set()
        for its in self._handlers.calls:
            self._add([visible(cell) for cell in cells(its)], its.first)
        if self._handlers.more:
            self._add([tr("and {0:,} more, later").format(self._handlers.more)], self._handlers.calls[-1].first)
        self.refresh()

    def _add(self, texts: list[str], step: int) -> None:
        item = QTreeWidgetItem(texts)
        item.setData(0, Qt.ItemDataRole.UserRole, step)
        for column, text in enumerate(texts):
            item.setToolTip(column, text)
        self.addTopLevelItem(item)

    def showEvent(self, event: QShowEvent | None) -> None:
        super().showEvent(event)
        self.refresh()

    def refresh(self) -> None:
        """Shows which calls the shown step is in."""
        if not self.isVisible():
            return
        rows = self._handlers.rows_at(self._session.step)
        for row in rows ^ self._marked:
            item = self.topLevelItem(row)
            if item is not None:
                for column in range(self.columnCount()):
                    item.setFont(column, ui_font(10, bold=row in rows))
        self._marked = rows
        if rows:
            self.scrollToItem(self.topLevelItem(max(rows)))

    def _go(self, item: QTreeWidgetItem) -> None:
        self._session.go(int(item.data(0, Qt.ItemDataRole.UserRole)))
