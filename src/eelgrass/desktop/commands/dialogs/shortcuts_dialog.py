"""The sheet of keys: everything that can be done, found by a word, with keys that can be changed."""

from __future__ import annotations

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QKeySequence
from PyQt6.QtWidgets import (
    QDialog,
    QHBoxLayout,
    QHeaderView,
    QKeySequenceEdit,
    QLineEdit,
    QPushButton,
    QTreeWidget,
    QTreeWidgetItem,
    QVBoxLayout,
    QWidget,
)

from eelgrass.desktop.commands.action_table import ACTIONS
from eelgrass.desktop.commands.shortcuts import Shortcuts
from eelgrass.desktop.look.look import Look
from eelgrass.desktop.look.palette import ui_font
from eelgrass.desktop.look.plain_text import PlainLabel
from eelgrass.desktop.services.translation import tr

_WIDE, _TALL = 860, 640


class ShortcutsDialog(QDialog):
    """One row an action, by groups; a row is chosen to give it another key."""

    def __init__(self, parent: QWidget, shortcuts: Shortcuts, look: Look) -> None:
        super().__init__(parent)
        self._shortcuts = shortcuts
        self.setWindowTitle(tr("Keys"))
        self.resize(_WIDE, _TALL)
        self.word = QLineEdit()
        self.word.setPlaceholderText(tr("find an action by a word"))
        self.rows = QTreeWidget()
        self.rows.setHeaderLabels([tr("Keys"), tr("Action"), tr("What it does")])
        self.rows.setRootIsDecorated(False)
        self.rows.setIndentation(0)
        self.rows.setStyleSheet(
            f"QTreeWidget {{ background: {look.colours.foam}; color: {look.colours.ink}; border: none; }}"
        )
        header = self.rows.header()
        assert header is not None
        header.setSectionResizeMode(QHeaderView.ResizeMode.ResizeToContents)
        self.key = QKeySequenceEdit()
        self.key.setMaximumSequenceLength(1)
        self.take, self.usual, self.none = (QPushButton(tr(words)) for words in ("Take this key", "As usual", "No key"))
        self.said = PlainLabel()
        self.said.setStyleSheet(f"color: {look.colours.coral};")
        row = QHBoxLayout()
        row.addWidget(PlainLabel(tr("Another key for the chosen action:")))
        for widget in (self.key, self.take, self.usual, self.none):
            row.addWidget(widget)
        layout = QVBoxLayout(self)
        layout.addWidget(self.word)
        layout.addWidget(self.rows, 1)
        layout.addLayout(row)
        layout.addWidget(self.said)
        self._fill()
        self.word.textChanged.connect(self._find)
        self.rows.currentItemChanged.connect(lambda *_: self._show_chosen())
        self.take.clicked.connect(lambda: self._change(self.key.keySequence().toString()))
        self.none.clicked.connect(lambda: self._change(""))
        self.usual.clicked.connect(lambda: self._tell(shortcuts.reset(self.chosen)))
        self._show_chosen()

    def _fill(self) -> None:
        for group in dict.fromkeys(action.group for action in ACTIONS):
            head = QTreeWidgetItem([tr(group)])
            head.setFont(0, ui_font(11, bold=True))
            head.setFlags(Qt.ItemFlag.ItemIsEnabled)
            self.rows.addTopLevelItem(head)
            for action in ACTIONS:
                if action.group == group:
                    item = QTreeWidgetItem(["", tr(action.title), tr(action.tip)])
                    item.setData(0, Qt.ItemDataRole.UserRole, action.id)
                    item.setFont(0, ui_font(bold=True))
                    self.rows.addTopLevelItem(item)
        self._show_keys()

    def _items(self) -> list[QTreeWidgetItem]:
        items = (self.rows.topLevelItem(row) for row in range(self.rows.topLevelItemCount()))
        return [item for item in items if item is not None and item.data(0, Qt.ItemDataRole.UserRole)]

    def _show_keys(self) -> None:
        for item in self._items():
            name = item.data(0, Qt.ItemDataRole.UserRole)
            item.setText(0, ", ".join(self._shortcuts.keys(name)) + (" *" if self._shortcuts.is_changed(name) else ""))

    def _find(self, word: str) -> None:
        """Shows the rows that have a word in them."""
        for item in self._items():
            item.setHidden(word.lower() not in " ".join(item.text(column) for column in range(3)).lower())

    @property
    def chosen(self) -> str:
        """The id of the chosen action, or ''."""
        item = self.rows.currentItem()
        return item.data(0, Qt.ItemDataRole.UserRole) or "" if item is not None else ""

    def _show_chosen(self) -> None:
        for widget in (self.key, self.take, self.usual, self.none):
            widget.setEnabled(bool(self.chosen))
        keys = self._shortcuts.keys(self.chosen) if self.chosen else ()
        self.key.setKeySequence(QKeySequence(keys[0] if keys else ""))
        self.said.clear()

    def _change(self, key: str) -> None:
        self._tell(self._shortcuts.change(self.chosen, key))

    def _tell(self, trouble: str) -> None:
        self.said.setText(trouble)
        self._show_keys()
