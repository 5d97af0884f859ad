"""Two runs: what differs first, each difference leading to its moment in the run on view."""

from __future__ import annotations

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QListWidgetItem, QWidget

from eelgrass.desktop.look.look import Look
from eelgrass.desktop.look.widgets import PlainList, SoftLabel, lay_out
from eelgrass.desktop.services.translation import tr
from eelgrass.desktop.session.comparison import RunComparison
from eelgrass.desktop.session.session import Session


class ComparisonView(QWidget):
    """A sentence, and the first differences of value, path and output below it."""

    def __init__(self, session: Session, comparison: RunComparison, look: Look) -> None:
        super().__init__()
        self._comparison = comparison
        self.said = SoftLabel(look)
        self.said.setWordWrap(True)
        self.rows = PlainList(tr("Differences of the two runs"), look)
        self.rows.setWordWrap(True)
        lay_out(self, self.said, self.rows, grows=[self.rows])
        layout = self.layout()
        if layout is not None:
            layout.setContentsMargins(8, 6, 8, 4)
        self.rows.itemClicked.connect(lambda item: session.go(item.data(Qt.ItemDataRole.UserRole)))
        comparison.compared.connect(self.refresh)
        comparison.said.connect(self._say)

    def _say(self, sentence: str) -> None:
        self.rows.clear()
        self.said.setText(sentence)

    def refresh(self) -> None:
        """Shows the comparison on view."""
        found = self._comparison.found
        self.rows.clear()
        waiting = tr("The runs are being compared …") if self._comparison.lane.is_busy else ""
        self.said.setText(tr("Beside {0}: {1}").format(found.name, found.said) if found is not None else waiting)
        for row in found.rows if found is not None else ():
            item = QListWidgetItem(row.text)
            item.setData(Qt.ItemDataRole.UserRole, row.step)
            self.rows.addItem(item)
