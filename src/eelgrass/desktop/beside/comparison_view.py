"""Two runs: what differs, in words, each difference leading to its moment; both texts; and the tree of what-ifs."""

from __future__ import annotations

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QListWidgetItem, QPushButton, QSplitter, QWidget

from eelgrass.desktop.beside.level_view import LevelView
from eelgrass.desktop.look.look import Look
from eelgrass.desktop.look.widgets import PlainList, SoftLabel, lay_out, row_of
from eelgrass.desktop.services.translation import tr
from eelgrass.desktop.session.comparison import Beside, RunComparison
from eelgrass.desktop.session.session import Session
from eelgrass.desktop.session.what_ifs import WhatIfs

_MOST_ROWS = 500
_LEAST = 44
_MOST_RUNS = 4
_NUMBER = Qt.ItemDataRole.UserRole


class ComparisonView(QWidget):
    """A sentence; the runs of the tree, if there are what-ifs; the differences beside both texts."""

    def __init__(self, session: Session, comparison: RunComparison, what_ifs: WhatIfs, look: Look) -> None:
        super().__init__()
        self._session = session
        self._comparison = comparison
        self._what_ifs = what_ifs
        self.said = SoftLabel(look)
        self.said.setWordWrap(True)
        self.swap = _button(tr("Swap"), tr("Put the other run on view, and this one beside it (H)"))
        self.swap.clicked.connect(comparison.swap)
        self.alone = _button(tr("One run alone"), tr("End the comparison"))
        self.alone.clicked.connect(comparison.end)
        self.tree = PlainList(tr("The run and its what-ifs"), look)
        self.rows = PlainList(tr("Differences of the two runs"), look)
        self.texts = LevelView(session, comparison, look)
        self._parts = QSplitter(Qt.Orientation.Vertical)
        self._parts.setChildrenCollapsible(False)
        for part in (self.rows, self.texts):
            self._parts.addWidget(part)
        self.rows.setMinimumHeight(_LEAST)
        self.texts.setMinimumHeight(_LEAST)
        head = row_of(self.swap, self.alone)
        head.insertWidget(0, self.said, 1)
        head.setStretch(head.count() - 1, 0)
        lay_out(self, head, self.tree, self._parts, grows=[self._parts])
        layout = self.layout()
        if layout is not None:
            layout.setContentsMargins(8, 6, 8, 4)
        self.rows.itemClicked.connect(lambda item: comparison.go(item.data(_NUMBER)))
        self.rows.itemActivated.connect(lambda item: comparison.go(item.data(_NUMBER)))
        self.tree.itemClicked.connect(lambda item: what_ifs.go_in(item.data(_NUMBER)))
        self.tree.itemActivated.connect(lambda item: what_ifs.go_in(item.data(_NUMBER)))
        comparison.compared.connect(self.refresh)
        comparison.said.connect(self._say)
        what_ifs.changed.connect(self.refresh)
        session.moved.connect(self._mark)
        self.refresh()

    @property
    def is_wanted(self) -> bool:
        """Whether there is anything to show."""
        return bool(self.said.text()) or len(self._what_ifs.runs) > 1

    def _say(self, sentence: str) -> None:
        self.said.setText(sentence)

    def refresh(self) -> None:
        """Shows the comparison on view."""
        beside = self._comparison.beside
        waiting = tr("The runs are being compared …") if self._comparison.lane.is_busy else ""
        self.said.setText(_summary(beside) if beside is not None else waiting)
        self.rows.clear()
        for number in range(min(len(beside.differences), _MOST_ROWS)) if beside is not None else ():
            assert beside is not None
            item = QListWidgetItem(beside.words(number))
            item.setData(_NUMBER, number)
            self.rows.addItem(item)
        for widget in (self.rows, self.texts, self.swap, self.alone):
            widget.setVisible(beside is not None)
        self._show_tree()
        self._mark()

    def _show_tree(self) -> None:
        runs = self._what_ifs.runs
        self.tree.clear()
        for number, depth in _in_order([its.parent for its in runs]):
            its = runs[number]
            words = tr("{0}, before step {1:,}").format(its.name, its.step) if depth else its.name
            here = tr("   ← you are here") if number == self._what_ifs.current else ""
            item = QListWidgetItem("    " * depth + words + here)
            item.setData(_NUMBER, number)
            self.tree.addItem(item)
        self.tree.setVisible(len(runs) > 1)
        row = self.tree.sizeHintForRow(0) if self.tree.count() else 0
        self.tree.setFixedHeight(min(self.tree.count(), _MOST_RUNS) * max(row, 1) + 2 * self.tree.count() + 8)

    def _mark(self) -> None:
        """Marks the difference that the shown step shows."""
        beside = self._comparison.beside
        if beside is None:
            return
        chosen = [number for number in range(self.rows.count()) if beside.place_of(number) == self._session.step]
        if self.rows.currentRow() not in chosen:
            self.rows.setCurrentRow(chosen[0] if chosen else -1)


def _summary(beside: Beside) -> str:
    """How much differs; the rows below say what."""
    count = len(beside.differences)
    if not count:
        return tr("Beside {0}: {1}").format(beside.name, beside.said)
    shown = tr(", of which the first {0} are here").format(_MOST_ROWS) if count > _MOST_ROWS else ""
    words = tr("one difference") if count == 1 else tr("{0:,} differences").format(count)
    return tr("Beside {0}: {1}{2}.").format(beside.name, words, shown)


def _button(words: str, tip: str) -> QPushButton:
    button = QPushButton(words)
    button.setToolTip(tip)
    return button


def _in_order(parents: list[int]) -> list[tuple[int, int]]:
    """(number, how deep) of the runs of a tree, each followed by those that depart from it."""
    found: list[tuple[int, int]] = []

    def add(parent: int, depth: int) -> None:
        for number, its in enumerate(parents):
            if its == parent:
                found.append((number, depth))
                add(number, depth + 1)

    add(-1, 0)
    return found
