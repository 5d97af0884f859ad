"""The kept cases of a program: what came of each the last time that all were run."""

from __future__ import annotations

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QColor
from PyQt6.QtWidgets import QListWidgetItem, QPushButton, QWidget

from eelgrass.desktop.activities.kept_cases import KeptCases
from eelgrass.desktop.look.look import Look
from eelgrass.desktop.look.widgets import PlainList, lay_out, row_of
from eelgrass.desktop.services.translation import tr


class CasesView(QWidget):
    """A row leads into the run of its case; one that did otherwise than before stands beside how it ran before."""

    def __init__(self, cases: KeptCases, look: Look) -> None:
        super().__init__()
        self._cases = cases
        self._look = look
        self.list = PlainList(tr("Kept cases"), look)
        self.run_all = QPushButton(tr("Run all cases"))
        self.accept = QPushButton(tr("Right as they are now"))
        self.accept.setToolTip(tr("From now on the cases are held against how they ran now"))
        lay_out(self, row_of(self.run_all, self.accept), self.list, grows=[self.list])
        self.run_all.clicked.connect(cases.run_all)
        self.accept.clicked.connect(cases.accept)
        self.list.itemClicked.connect(self._show)
        self.list.itemActivated.connect(self._show)
        cases.changed.connect(self.refresh)
        look.changed.connect(self.refresh)
        self.refresh()

    def refresh(self) -> None:
        """Tells of all cases anew."""
        kept = self.list.currentRow()
        self.list.clear()
        for case in self._cases.cases:
            its = self._cases.outcomes.get(case.name)
            waits = tr("is running …") if self._cases.lane.is_busy else tr("not run yet")
            item = QListWidgetItem(f"{case.name} – {its.words if its is not None else waits}")
            item.setData(Qt.ItemDataRole.UserRole, case)
            if its is not None and its.is_as_before is False:
                item.setForeground(QColor(self._look.colours.coral))
            self.list.addItem(item)
        self.list.setCurrentRow(min(kept, self.list.count() - 1))
        self.run_all.setEnabled(bool(self._cases.cases) and not self._cases.lane.is_busy)
        self.accept.setEnabled(any(its.is_as_before is False for its in self._cases.outcomes.values()))

    def _show(self, item: QListWidgetItem) -> None:
        self._cases.show(item.data(Qt.ItemDataRole.UserRole))
