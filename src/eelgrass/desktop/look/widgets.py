"""The small widgets and ways of laying out that all views share."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from pathlib import Path
from typing import Any

from PyQt6.QtCore import QPoint, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QDragEnterEvent, QDropEvent, QKeyEvent, QPainter, QPen
from PyQt6.QtWidgets import (
    QAbstractButton,
    QAbstractItemView,
    QHBoxLayout,
    QLineEdit,
    QListWidget,
    QListWidgetItem,
    QMainWindow,
    QMenu,
    QPlainTextEdit,
    QProgressBar,
    QPushButton,
    QSizePolicy,
    QVBoxLayout,
    QWidget,
)

from eelgrass.desktop.look.look import Look
from eelgrass.desktop.look.palette import code_font, ui_font
from eelgrass.desktop.look.plain_text import PlainLabel
from eelgrass.desktop.services.translation import tr

#: Below this a place to write in is scrolled away, not squeezed.
_LEAST = 60


#: A property of views that are walked by the arrow keys, and one of lists in which a click leaves the keys.
WALKS, KEEPS_KEYS = "walks", "keepsKeys"


#: How far keys go in rows.
ROW_STEPS: dict[int, int] = {Qt.Key.Key_Up: -1, Qt.Key.Key_Down: 1, Qt.Key.Key_PageUp: -10, Qt.Key.Key_PageDown: 10}


def outline(painter: QPainter, rect: QRectF, look: Look) -> None:
    """Shows what the keys are at."""
    painter.setPen(QPen(QColor(look.colours.ink), 1.6, Qt.PenStyle.DashLine))
    painter.setBrush(Qt.BrushStyle.NoBrush)
    painter.drawRoundedRect(rect, 4, 4)


def take_keys_home(widget: QWidget) -> None:
    """After a click, the keys are those of the moves again."""
    window = widget.window()
    home = window.centralWidget() if isinstance(window, QMainWindow) else None
    if home is not None:
        home.setFocus(Qt.FocusReason.MouseFocusReason)


class PlainList(QListWidget):
    """A list in the look of all lists, with a name for a screen reader."""

    def __init__(self, name: str, look: Look, is_code: bool = False) -> None:
        super().__init__()
        self._look = look
        self._is_code = is_code
        self.setFrameShape(self.Shape.NoFrame)
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.setAccessibleName(name)
        self.setWordWrap(not is_code)
        look.dresses(self._dress_list)

    def _dress_list(self) -> None:
        c = self._look.colours
        self.setFont(code_font(9.5) if self._is_code else ui_font())
        padding = "" if self._is_code else " padding: 4px 8px;"
        self.setStyleSheet(f"background: {c.foam}; color: {c.ink};{padding}")


class Heading(PlainLabel):
    """A title above a part."""

    def __init__(self, words: str, look: Look) -> None:
        super().__init__(tr(words))
        look.dresses(self._dress)

    def _dress(self) -> None:
        self.setFont(ui_font(9.5, bold=True))


class CodeLine(QLineEdit):
    """A line to write code in."""

    def __init__(self, look: Look, points: float = 10) -> None:
        super().__init__()
        self._points = points
        look.dresses(self._dress)

    def _dress(self) -> None:
        self.setFont(code_font(self._points))

    def setPlaceholderText(self, words: str | None) -> None:
        """What is to be written there, which is its name for a screen reader, too, where it has no other."""
        super().setPlaceholderText(words)
        self.setAccessibleName(self.accessibleName() or words)


class SoftLabel(PlainLabel):
    """Words of less weight: plain text, in the soft ink."""

    def __init__(self, look: Look, points: float | None = None) -> None:
        super().__init__()
        self._look = look
        self._points = points
        look.dresses(self._dress)

    def _dress(self) -> None:
        if self._points is not None:
            self.setFont(ui_font(self._points))
        self.setStyleSheet(f"color: {self._look.colours.ink_soft};")


def take_files(event: QDragEnterEvent | None) -> None:
    """Lets files be dropped."""
    data = event.mimeData() if event else None
    if event is not None and data is not None and data.hasUrls():
        event.acceptProposedAction()


def dropped(event: QDropEvent | None) -> list[Path]:
    """The files and folders that were dropped."""
    data = event.mimeData() if event else None
    return [Path(url.toLocalFile()) for url in data.urls() if url.isLocalFile()] if data else []


def table_style(kind: str, look: Look) -> str:
    """The style of a table of a Qt class: rows on foam, the chosen one in the waterline's colour."""
    c = look.colours
    return (
        f"{kind} {{ background: {c.foam}; color: {c.ink}; }}"
        f"{kind}::item:selected {{ background: {c.waterline}; color: {c.ink}; }}"
        f"QHeaderView::section {{ background: {c.sand}; color: {c.ink}; border: none; padding: 3px 6px; }}"
    )


def thin_progress() -> QProgressBar:
    """A bar that says how far a job is, in the room of a line's space."""
    bar = QProgressBar()
    bar.setTextVisible(False)
    bar.setFixedHeight(8)
    return bar


def row_of(*widgets: QWidget) -> QHBoxLayout:
    """Widgets side by side; lines to write in take the room that is left."""
    row = QHBoxLayout()
    grows = [isinstance(widget, QLineEdit) for widget in widgets]
    for widget, does in zip(widgets, grows, strict=True):
        row.addWidget(widget, int(does))
        if isinstance(widget, QAbstractButton):
            widget.setSizePolicy(QSizePolicy.Policy.Fixed, QSizePolicy.Policy.Fixed)
    row.addStretch(0 if any(grows) else 1)
    return row


def lay_out(widget: QWidget, *parts: QWidget | QHBoxLayout, grows: Sequence[QWidget]) -> None:
    """Puts parts below each other; those that grow share the room that is left."""
    layout = QVBoxLayout(widget)
    layout.setContentsMargins(0, 0, 0, 0)
    layout.setSpacing(4)
    for part in parts:
        if isinstance(part, QHBoxLayout):
            layout.addLayout(part)
        else:
            layout.addWidget(part, int(part in grows))


def writing(name: str, hint: str) -> QPlainTextEdit:
    """A place to write a text of several lines."""
    made = QPlainTextEdit()
    made.setAccessibleName(tr(name))
    made.setPlaceholderText(tr(hint))
    made.setTabChangesFocus(True)
    made.setMinimumHeight(_LEAST)
    return made


def show_text(edit: QPlainTextEdit, words: str) -> None:
    """Puts a text where it is another; what is being written is not disturbed."""
    if edit.toPlainText() != words:
        edit.setPlainText(words)


class OwnList(PlainList):
    """A list whose rows can be put in another order by dragging, and taken away by Delete; with `edits`, written in.
    Signals: `ordered(rows)` with what the items hold, in their new order, without those taken away."""

    ordered = pyqtSignal(list)

    def __init__(self, name: str, look: Look, edits: bool = False) -> None:
        super().__init__(name, look)
        self.setProperty(KEEPS_KEYS, True)
        self.setDragDropMode(QAbstractItemView.DragDropMode.InternalMove)
        triggers = QAbstractItemView.EditTrigger
        self.setEditTriggers(triggers.DoubleClicked | triggers.EditKeyPressed if edits else triggers.NoEditTriggers)
        self._edits = edits
        self.setSpacing(2)
        self.setMinimumHeight(_LEAST)
        self.setToolTip(tr("Drag a row to another place; Delete takes it away."))
        model = self.model()
        assert model is not None
        model.rowsMoved.connect(self._tell)
        self.itemChanged.connect(lambda: self._tell())

    def fill(self, rows: Sequence[tuple[str, Any]]) -> None:
        """Shows rows, each a text and what it stands for."""
        now = [(self._at(row).text(), self._at(row).data(Qt.ItemDataRole.UserRole)) for row in range(self.count())]
        if now == list(rows):
            return
        place = self.currentRow()
        self.blockSignals(True)
        self.clear()
        for words, its in rows:
            item = QListWidgetItem(words)
            item.setData(Qt.ItemDataRole.UserRole, its)
            if self._edits:
                item.setFlags(item.flags() | Qt.ItemFlag.ItemIsEditable)
            self.addItem(item)
        self.setCurrentRow(min(place, self.count() - 1))
        self.blockSignals(False)

    def _at(self, row: int) -> QListWidgetItem:
        item = self.item(row)
        assert item is not None
        return item

    def _tell(self, *_: object) -> None:
        rows = [self._at(row) for row in range(self.count())]
        self.ordered.emit([its.text() if self._edits else its.data(Qt.ItemDataRole.UserRole) for its in rows])

    def take_away(self) -> None:
        """Takes the chosen row away."""
        if self.currentRow() >= 0:
            self.takeItem(self.currentRow())
            self._tell()

    def away(self) -> QPushButton:
        """A button that does so."""
        button = QPushButton(tr("Take away"))
        button.clicked.connect(self.take_away)
        return button

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is not None and event.key() == Qt.Key.Key_Delete:
            self.take_away()
        elif event is not None:
            super().keyPressEvent(event)


def offer_trail(widget: QWidget, at: QPoint, ask: Callable[[], object]) -> None:
    """Offers, at a place of the screen, to ask where something came from."""
    menu = QMenu(widget)
    action = menu.addAction(tr("Where from?"))
    assert action is not None
    action.triggered.connect(ask)
    menu.exec(at)
