"""The tab of the simulated desk: the windows at the shown step, what called the program's code, what is done there."""

from __future__ import annotations

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QShowEvent
from PyQt6.QtWidgets import (
    QHBoxLayout,
    QInputDialog,
    QLineEdit,
    QListWidgetItem,
    QPushButton,
    QSplitter,
    QVBoxLayout,
    QWidget,
)

from eelgrass.desktop.activities.desk_acts import DeskActs
from eelgrass.desktop.desk.desk_picture import DeskPicture
from eelgrass.desktop.look.look import Look
from eelgrass.desktop.look.palette import ui_font
from eelgrass.desktop.look.plain_text import as_rich, visible
from eelgrass.desktop.look.widgets import PlainList, SoftLabel
from eelgrass.desktop.services.translation import tr
from eelgrass.desktop.session.handler_list import HandlerList
from eelgrass.desktop.session.session import Session
from eelgrass.desktop.session.wording import nth_of
from eelgrass.reading.desk.doable import doable, doable_part, entries_of
from eelgrass.reading.handlers import HandlerCall


def call_words(its: HandlerCall) -> str:
    """A call of a handler in a line."""
    told = f"{nth_of(its)}: {its.cause}"
    given = tr(" · given {0}").format(its.arguments) if its.arguments else ""
    changed = f" · {its.changes}" if its.changes else ""
    gave = tr(" · gave {0}").format(its.result) if its.result else ""
    return told + given + changed + gave


class DeskView(QWidget):
    """The picture, the calls beside it, and below what a person does at the desk in this case."""

    def __init__(self, session: Session, acts: DeskActs, handlers: HandlerList, look: Look) -> None:
        super().__init__()
        self._session, self._acts, self._handlers, self._look = session, acts, handlers, look
        self.picture = DeskPicture(session, look)
        self.calls = PlainList(tr("What called the program's functions"), look)
        self._marked = set[int]()  # rows
        self.script = SoftLabel(look)
        self.script.setWordWrap(True)
        self.click = self._button(tr("Click at it"), True)
        self.key = self._button(tr("Press a key…"))
        self.undo = self._button(tr("Take the last away"))
        self.key.clicked.connect(self._ask_key)
        self.undo.clicked.connect(acts.take_last_away)
        parts, row, column = QSplitter(), QHBoxLayout(), QVBoxLayout(self)
        parts.addWidget(self.picture)
        parts.addWidget(self.calls)
        parts.setSizes([300, 320])
        row.addWidget(self.script, 1)
        for button in (self.click, self.key, self.undo):
            row.addWidget(button)
        row.setContentsMargins(10, 4, 10, 6)
        column.setContentsMargins(0, 0, 0, 0)
        column.addWidget(parts, 1)
        column.addLayout(row)
        self.picture.clicked.connect(self._click_at)
        self.picture.title_clicked.connect(self._choose_in_menu)
        self.picture.part_clicked.connect(self._click_part)
        self.calls.itemClicked.connect(self._go)
        self.calls.itemActivated.connect(self._go)
        handlers.changed.connect(self._list_calls)
        session.moved.connect(self.refresh)
        acts.changed.connect(self.refresh)
        look.changed.connect(self.refresh)

    def _button(self, title: str, stays: bool = False) -> QPushButton:
        button = QPushButton(title)
        button.setCheckable(stays)
        button.setFocusPolicy(Qt.FocusPolicy.TabFocus)
        return button

    def _list_calls(self) -> None:
        self._marked = set()
        self.calls.clear()
        for its in self._handlers.calls:
            self._add_row(visible(call_words(its)), its.first)
        if self._handlers.more:
            self._add_row(tr("and {0:,} more, later").format(self._handlers.more), self._handlers.calls[-1].first)
        self.refresh()

    def _add_row(self, words: str, step: int) -> None:
        item = QListWidgetItem(words)
        item.setData(Qt.ItemDataRole.UserRole, step)
        self.calls.addItem(item)

    def showEvent(self, event: QShowEvent | None) -> None:
        super().showEvent(event)
        self.refresh()

    def refresh(self) -> None:
        """Shows the desk just before the shown step, and which call that is in."""
        if not self.isVisible():
            return
        self.picture.show_step()
        self._mark(self._handlers.rows_at(self._session.step))
        self.calls.setVisible(bool(self._handlers.calls))
        self.script.setText(self._acts.words)
        for button in (self.click, self.key):
            button.setEnabled(self._acts.can_act)
        self.undo.setEnabled(self._acts.can_act and bool(self._acts.lines))

    def _mark(self, rows: set[int]) -> None:
        for row in rows ^ self._marked:
            item = self.calls.item(row)
            if item is not None:
                item.setFont(ui_font(10, bold=row in rows))
        self._marked = rows
        if rows:
            self.calls.scrollToItem(self.calls.item(max(rows)))

    def _go(self, item: QListWidgetItem) -> None:
        self._session.go(int(item.data(Qt.ItemDataRole.UserRole)))

    # Doing something

    def _click_at(self, path: str, x: float, y: float) -> None:
        if not self.click.isChecked():
            return
        its = doable(self.picture.desk, path, x, y)
        text = its.text if its.text is not None else self._asked(its.on, its.choices)
        if text is not None:
            self._acts.do(its.do, its.on, text, its.at)

    def _click_part(self, name: str, share: float) -> None:
        its = doable_part(name, self.picture.desk.parts[name], share) if self.click.isChecked() else None
        text = None if its is None else its.text if its.text is not None else self._asked(its.on, ())
        if its is not None and text is not None:
            self._acts.do(its.do, its.on, text)

    def _choose_in_menu(self, path: str) -> None:
        entries = entries_of(self.picture.desk, path)
        if self.click.isChecked() and entries:
            chosen = self._asked(str(self.picture.desk.widgets[path].get("title", "")), entries)
            if chosen is not None:
                self._acts.do("click", chosen)

    def _asked(self, name: str, choices: tuple[str, ...]) -> str | None:
        """What is chosen, or typed, there; None for nothing."""
        if choices:
            words = as_rich(tr("What is chosen in “{0}”:").format(name))
            text, is_given = QInputDialog.getItem(self, tr("Choose"), words, choices, 0, False)
        else:
            words = as_rich(tr("What is typed into “{0}”:").format(name))
            text, is_given = QInputDialog.getText(self, tr("Type"), words, QLineEdit.EchoMode.Normal, "")
        return text if is_given else None

    def _ask_key(self) -> None:
        words = tr("Which key: a letter, or a name as Left, Up, space, Return:")
        key, given = QInputDialog.getText(self, tr("Press a key"), as_rich(words), QLineEdit.EchoMode.Normal, "")
        if given and key.strip():
            self._acts.do("key", text=key.strip())
