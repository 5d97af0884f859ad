"""One group of a class set: a typical program, who is in it, and what is said to them."""

from __future__ import annotations

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import (
    QAbstractItemView,
    QDoubleSpinBox,
    QLineEdit,
    QListWidgetItem,
    QPlainTextEdit,
    QPushButton,
    QSplitter,
    QVBoxLayout,
    QWidget,
)

from eelgrass.desktop.activities.classes.class_work import ClassWork
from eelgrass.desktop.look.look import Look
from eelgrass.desktop.look.palette import code_font
from eelgrass.desktop.look.plain_text import visible
from eelgrass.desktop.look.widgets import Heading, PlainList, SoftLabel, lay_out, row_of, show_text, writing
from eelgrass.desktop.services.translation import tr
from eelgrass.lessons.class_sets.class_runs import Judged
from eelgrass.lessons.class_sets.decisions import GroupDecision
from eelgrass.lessons.class_sets.grouping import Group

_MOST_POINTS = 1000.0


class GroupView(QWidget):
    """Signals: `wanted(Judged)` for a hand-in that is to be read, `beside(Judged, Judged)` for two of them."""

    wanted = pyqtSignal(object)
    beside = pyqtSignal(object, object)

    def __init__(self, work: ClassWork, look: Look) -> None:
        super().__init__()
        self._work, self._look = work, look
        self.group: Group | None = None
        self._is_showing = False  # so that nothing is decided by showing it
        self.name = QLineEdit()
        self.name.setAccessibleName(tr("What the group is called"))
        self.difference = SoftLabel(look, 10)
        self.difference.setWordWrap(True)
        self.reason = SoftLabel(look, 10)
        self.reason.setWordWrap(True)
        self.text = QPlainTextEdit()
        self.text.setReadOnly(True)
        self.text.setLineWrapMode(QPlainTextEdit.LineWrapMode.NoWrap)
        self.text.setAccessibleName(tr("The chosen program"))
        self.members = PlainList(tr("Hand-ins of the group"), look)
        self.members.setSelectionMode(QAbstractItemView.SelectionMode.ExtendedSelection)
        self.comment = writing("Comment for all of them", "What you would say to each of them …")
        self.points = QDoubleSpinBox()
        self.points.setAccessibleName(tr("Points for each"))
        self.points.setRange(-1, _MOST_POINTS)
        self.points.setSingleStep(0.5)
        self.points.setSuffix(tr(" points"))
        self.points.setSpecialValueText(tr("no points"))
        self.read, self.side = QPushButton(tr("Read it")), QPushButton(tr("Two side by side"))
        self.own = QPushButton(tr("A group of its own"))
        self._put_together()
        self._connect()
        look.dresses(self._dress)

    def _put_together(self) -> None:
        who, words = QWidget(), QWidget()
        lay_out(
            who,
            Heading(tr("Handed in by"), self._look),
            self.members,
            row_of(self.read, self.side, self.own),
            grows=[self.members],
        )
        lay_out(
            words, Heading(tr("To each of them"), self._look), self.comment, row_of(self.points), grows=[self.comment]
        )
        below = QSplitter(Qt.Orientation.Horizontal)
        below.addWidget(who)
        below.addWidget(words)
        split = QSplitter(Qt.Orientation.Vertical)
        split.addWidget(self.text)
        split.addWidget(below)
        split.setSizes([360, 260])
        layout = QVBoxLayout(self)
        for its in (self.name, self.difference, self.reason):
            layout.addWidget(its)
        layout.addWidget(split, 1)

    def _connect(self) -> None:
        self.name.editingFinished.connect(lambda: self._decide(name=self._named()))
        self.comment.textChanged.connect(lambda: self._decide(comment=self.comment.toPlainText()))
        self.points.valueChanged.connect(lambda value: self._decide(points=None if value < 0 else value))
        self.members.currentItemChanged.connect(self._show_text)
        self.members.itemActivated.connect(self._read)
        self.read.clicked.connect(self._read)
        self.side.clicked.connect(self._read_two)
        self.own.clicked.connect(lambda: self._work.part([its.hand_in.name for its in self.chosen]))

    def _dress(self) -> None:
        c = self._look.colours
        self.text.setFont(code_font(10))
        self.text.setStyleSheet(f"background: {c.foam}; color: {c.ink};")

    def _named(self) -> str:
        """The name that was given; '' where it is the group's own sentence."""
        named = self.name.text().strip()
        group = self.group
        return (
            ""
            if group is None or (named == visible(group.name) and not self._work.decisions.of(group.key).name)
            else named
        )

    def _decide(self, **changes: object) -> None:
        if self.group is not None and not self._is_showing:
            self._work.decide_group(self.group.key, **changes)

    def show_group(self, group: Group | None) -> None:
        """Shows a group, or that there is none."""
        self._is_showing = True
        is_other = group is None or self.group is None or group.key != self.group.key
        told = self._work.decisions.of(group.key) if group is not None else GroupDecision()
        self.setEnabled(group is not None)
        if is_other or not self.name.hasFocus():
            self.name.setText(visible(group.name) if group is not None else "")
        show_text(self.comment, told.comment)
        self.points.setValue(-1 if told.points is None else told.points)
        if group != self.group or self.members.property("names") != self._work.shows_names:
            row = 0 if is_other else self.members.currentRow()
            self.group = group
            self._fill(group)
            self.members.setCurrentRow(min(max(row, 0), self.members.count() - 1))
        self.difference.setText(visible(self._work.differences.get(group.key if group is not None else "", "")))
        self._is_showing = False

    def _fill(self, group: Group | None) -> None:
        self.members.setProperty("names", self._work.shows_names)
        self.members.clear()
        members = group.members if group is not None else ()
        for its in sorted(members, key=lambda one: group is not None and one != group.typical):
            way = self._work.its.ways.get(its.hand_in.name, []) if self._work.its is not None else []
            before = ", ".join(str(one.passed) for one in way[:-1])
            words = tr(" (passed before: {0})").format(before) if before else ""
            item = QListWidgetItem(visible(self._work.name_of(its.hand_in) + words))
            item.setData(Qt.ItemDataRole.UserRole, its)
            self.members.addItem(item)

    def _show_text(self, item: QListWidgetItem | None) -> None:
        its = self._held(item)
        if its is not None:
            show_text(self.text, visible(its.hand_in.text or its.hand_in.trouble))
            reason = its.hand_in.reason
            self.reason.setText(tr("The reason given: {0}").format(visible(reason)) if reason else "")
            self.reason.setVisible(bool(reason))

    def _held(self, item: QListWidgetItem | None) -> Judged | None:
        held = item.data(Qt.ItemDataRole.UserRole) if item is not None else None
        return held if isinstance(held, Judged) else None

    @property
    def chosen(self) -> list[Judged]:
        """The hand-ins that are chosen, from above."""
        held = (
            self._held(self.members.item(row))
            for row in sorted(self.members.row(its) for its in self.members.selectedItems())
        )
        return [its for its in held if its is not None]

    def _read(self) -> None:
        its = self._held(self.members.currentItem())
        if its is not None:
            self.wanted.emit(its)

    def _read_two(self) -> None:
        """The two that are chosen; where there is one alone, with the typical one."""
        two = self.chosen[:2]
        if len(two) == 1 and self.group is not None:
            two.append(self.group.typical)
        if len(two) == 2:
            self.beside.emit(two[0], two[1])
