"""The window of a class set, beside the reading window."""

from __future__ import annotations

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QDragEnterEvent, QDropEvent
from PyQt6.QtWidgets import QHBoxLayout, QMenu, QPushButton, QSplitter, QTabWidget, QToolButton, QVBoxLayout, QWidget

from eelgrass.desktop.activities.classes.class_work import ClassWork
from eelgrass.desktop.class_set.group_cards import GroupCards
from eelgrass.desktop.class_set.group_view import GroupView
from eelgrass.desktop.class_set.matrix_view import MatrixView
from eelgrass.desktop.look.look import Look
from eelgrass.desktop.look.palette import ui_font
from eelgrass.desktop.look.widgets import SoftLabel, dropped, lay_out, row_of, take_files, thin_progress
from eelgrass.desktop.services.translation import tr
from eelgrass.lessons.class_sets.failures import by_clue, by_moment

_SIZE, _CARDS_PX = (1180, 760), 440


class ClassSetWindow(QWidget):
    """Cards on the left; the group in front, or all hand-ins, on the right. What is dropped here is handed in, too."""

    def __init__(self, parent: QWidget, work: ClassWork, look: Look) -> None:
        super().__init__(parent, Qt.WindowType.Window)
        self._work, self._look = work, look
        self.setWindowTitle(tr("Class set – Eelgrass"))
        self.resize(*_SIZE)
        self.setAcceptDrops(True)
        self.told = SoftLabel(look, 10)
        self.progress = thin_progress()
        self.enough = QPushButton(tr("Enough"))
        self.enough.setToolTip(tr("Judge no more; what is known stays"))
        self.names = QToolButton()
        self.names.setText(tr("Names"))
        self.names.setToolTip(tr("Names, or numbers in their place"))
        self.names.setCheckable(True)
        self.more, self.save = QPushButton(tr("More hand-ins…")), QPushButton(tr("Save…"))
        self.part, parting = QPushButton(tr("Part by")), QMenu(self)
        self.part.setToolTip(tr("Those that do the same, but are wrong in another way, are groups of their own"))
        self.part.setMenu(parting)
        for title, key_of in ((tr("First wrong moment"), by_moment), (tr("Clue"), by_clue)):
            parting.addAction(title, lambda key_of=key_of: work.part_by(key_of))
        self.merge, self.as_found = QPushButton(tr("Make one group")), QPushButton(tr("As they were found"))
        self.cards, self.group, self.matrix = GroupCards(work, look), GroupView(work, look), MatrixView(work, look)
        self.tabs = QTabWidget()
        self._put_together()
        self._connect()
        look.dresses(self._dress)
        self.refresh()

    def _put_together(self) -> None:
        left, top = QWidget(), QHBoxLayout()
        lay_out(left, self.cards, row_of(self.merge, self.part, self.as_found), grows=[self.cards])
        self.tabs.addTab(self.group, tr("Group"))
        self.tabs.addTab(self.matrix, tr("All hand-ins"))
        split = QSplitter(Qt.Orientation.Horizontal)
        split.addWidget(left)
        split.addWidget(self.tabs)
        split.setSizes([_CARDS_PX, _SIZE[0] - _CARDS_PX])
        top.addWidget(self.told, 1)
        for its in (self.enough, self.names, self.more, self.save):
            top.addWidget(its)
        layout = QVBoxLayout(self)
        layout.addLayout(top)
        layout.addWidget(self.progress)
        layout.addWidget(split, 1)

    def _connect(self) -> None:
        work = self._work
        self.enough.clicked.connect(work.enough)
        self.names.toggled.connect(work.set_names)
        self.merge.clicked.connect(lambda: work.merge(self.cards.keys))
        self.as_found.clicked.connect(work.as_found)
        self.cards.opened.connect(self._open)
        self.cards.itemSelectionChanged.connect(self._enable)
        work.changed.connect(self.refresh)
        work.progressed.connect(lambda share: self.progress.setValue(int(share * 100)))

    def _dress(self) -> None:
        c = self._look.colours
        self.setFont(ui_font())
        self.setStyleSheet(f"ClassSetWindow {{ background: {c.beach}; }}")

    def _open(self, key: str) -> None:
        self.group.show_group(next((its for its in self._work.groups if its.key == key), None))

    def _enable(self) -> None:
        self.merge.setEnabled(len(self.cards.keys) > 1)

    def refresh(self) -> None:
        """Shows how far it is, and how many there are."""
        work, is_busy = self._work, self._work.lane.is_busy
        self.progress.setVisible(is_busy)
        self.enough.setVisible(is_busy)
        self.save.setEnabled(work.its is not None and not is_busy)
        self.more.setEnabled(bool(work.paths) and not is_busy)
        self.part.setEnabled(work.its is not None and not is_busy)
        self.as_found.setEnabled(bool(work.decisions.merged or work.decisions.parted))
        self.told.setText(_words(work))
        self._enable()

    def dragEnterEvent(self, event: QDragEnterEvent | None) -> None:
        take_files(event)

    def dropEvent(self, event: QDropEvent | None) -> None:
        paths = dropped(event)
        if paths:
            (self._work.add if self._work.paths else self._work.open)(paths)


def _words(work: ClassWork) -> str:
    if work.its is None:
        return tr("Being judged …") if work.lane.is_busy else tr("Drop a folder or a zip of hand-ins here.")
    words = tr("{0}: {1:,} hand-ins in {2:,} groups").format(
        work.its.exercise.title, len(work.its.judged), len(work.groups)
    )
    if work.lane.is_busy:
        return words + tr(" so far")
    same, given = sum(map(len, work.its.same_texts)), len(work.its.as_given)
    if same:
        words += tr("; {0} are the same as another’s but for names and layout").format(same)
    return words + (tr("; {0} as it was given").format(given) if given else "")
