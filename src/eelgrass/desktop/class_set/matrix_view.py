"""All hand-ins on all cases: a row for each, and in each cell what came of it."""

from __future__ import annotations

from typing import Any

from PyQt6.QtCore import QAbstractTableModel, QModelIndex, Qt, pyqtSignal
from PyQt6.QtGui import QColor
from PyQt6.QtWidgets import QHeaderView, QTableView

from eelgrass.desktop.activities.classes.class_work import ClassWork
from eelgrass.desktop.look.look import Look
from eelgrass.desktop.look.palette import ui_font
from eelgrass.desktop.look.plain_text import visible
from eelgrass.desktop.look.widgets import table_style
from eelgrass.desktop.services.translation import tr
from eelgrass.lessons.class_sets.class_runs import Judged

_FIRST_PX, _GROUP_PX, _CASE_PX = 190, 64, 250
_ROLE = Qt.ItemDataRole


class MatrixView(QTableView):
    """Signal: `wanted(Judged, case)` for a cell that is to be looked at, '' for no case of its own."""

    wanted = pyqtSignal(object, str)

    def __init__(self, work: ClassWork, look: Look) -> None:
        super().__init__()
        self._look = look
        self.rows = _MatrixModel(work, look)
        self.setModel(self.rows)
        self.setAccessibleName(tr("Hand-ins and cases"))
        self.setFrameShape(self.Shape.NoFrame)
        self.setWordWrap(False)
        self.setShowGrid(False)
        vertical, horizontal = self.verticalHeader(), self.horizontalHeader()
        assert vertical is not None
        assert horizontal is not None
        vertical.hide()
        vertical.setSectionResizeMode(QHeaderView.ResizeMode.Fixed)
        horizontal.setSectionResizeMode(QHeaderView.ResizeMode.Interactive)
        horizontal.setDefaultSectionSize(_CASE_PX)
        self.activated.connect(self._want)
        self.rows.modelReset.connect(self._widen)
        look.dresses(self._dress)

    def _dress(self) -> None:
        self.setFont(ui_font(10))
        self.setStyleSheet(table_style("QTableView", self._look))

    def _widen(self) -> None:
        for column, width in enumerate((_FIRST_PX, _GROUP_PX)):
            self.setColumnWidth(column, width)

    def _want(self, index: QModelIndex) -> None:
        its = self.rows.judged[index.row()][1]
        place = index.column() - 2
        self.wanted.emit(its, its.outcomes[place].case if place >= 0 else "")


class _MatrixModel(QAbstractTableModel):
    """Rows in the order of the groups."""

    def __init__(self, work: ClassWork, look: Look) -> None:
        super().__init__()
        self._work, self._look = work, look
        self.judged: list[tuple[int, Judged]] = []
        self._cases: list[str] = []
        work.changed.connect(self._take)
        look.changed.connect(self._look_again)

    def _take(self) -> None:
        judged = [(number, its) for number, group in enumerate(self._work.groups, 1) for its in group.members]
        if judged == self.judged:
            self._look_again()
            return
        self.beginResetModel()
        self.judged = judged
        self._cases = [case.name for case in self._work.its.exercise.cases] if self._work.its is not None else []
        self.endResetModel()

    def _look_again(self) -> None:
        """Names, or colours, are others now."""
        self.dataChanged.emit(self.index(0, 0), self.index(len(self.judged) - 1, self.columnCount() - 1))

    def rowCount(self, parent: QModelIndex | None = None) -> int:
        return len(self.judged)

    def columnCount(self, parent: QModelIndex | None = None) -> int:
        return 2 + len(self._cases)

    def headerData(self, section: int, orientation: Qt.Orientation, role: int = 0) -> Any:
        if orientation != Qt.Orientation.Horizontal or role != _ROLE.DisplayRole:
            return None
        return (tr("Hand-in"), tr("Group"), *map(visible, self._cases))[section]

    def data(self, index: QModelIndex, role: int = 0) -> Any:
        number, its = self.judged[index.row()]
        place = index.column() - 2
        if place < 0:
            told = self._work.name_of(its.hand_in) if place == -2 else str(number)
            return visible(told) if role == _ROLE.DisplayRole else None
        outcome, c = its.outcomes[place], self._look.colours
        if role == _ROLE.DisplayRole:
            return visible(tr(outcome.word) if outcome.word == "passed" else f"{tr(outcome.word)}: {outcome.why}")
        if role == _ROLE.ToolTipRole:
            return visible(outcome.why)
        if role == _ROLE.BackgroundRole and outcome.word != "passed":
            return QColor(c.coral_pale if outcome.word in ("failed", "raised") else c.tag)
        if role == _ROLE.ForegroundRole and outcome.word == "passed":
            return QColor(c.leaf_dark)
        return None
