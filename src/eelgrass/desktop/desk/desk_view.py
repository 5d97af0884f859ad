"""The tab of the simulated desk: the windows at the shown step, what called the program's code, what is done there."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QMouseEvent, QPainter, QPaintEvent, QShowEvent
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
from eelgrass.desktop.desk.desk_painter import DeskPainter, PlacedWindow, place
from eelgrass.desktop.look.look import Look
from eelgrass.desktop.look.palette import ui_font
from eelgrass.desktop.look.plain_text import as_rich, visible
from eelgrass.desktop.look.widgets import PlainList, SoftLabel
from eelgrass.desktop.services.background import Lane
from eelgrass.desktop.services.translation import tr
from eelgrass.desktop.session.session import Session
from eelgrass.reading.desk.desk_states import DeskState
from eelgrass.reading.desk.handlers import HandlerCall, handler_calls

_NTH = ("", "st", "nd", "rd")
_MOST_ROWS = 2_000


def nth(number: int) -> str:
    """1st, 2nd, 3rd, 4th."""
    last = number % 10
    return f"{number}{_NTH[last] if 0 < last < 4 and number % 100 not in (11, 12, 13) else 'th'}"


def call_words(its: HandlerCall) -> str:
    """A call of a handler in a line."""
    told = f"{its.function}, {nth(its.number)}: {its.cause}"
    given = tr(" · given {0}").format(its.arguments) if its.arguments else ""
    changed = f" · {its.changes}" if its.changes else ""
    gave = tr(" · gave {0}").format(its.result) if its.result else ""
    return told + given + changed + gave


class DeskPicture(QWidget):
    """The windows as they were; `clicked(path, x, y)` with the place in a widget, in pixels of the program's own."""

    clicked = pyqtSignal(str, float, float)

    def __init__(self, session: Session, look: Look) -> None:
        super().__init__()
        self._session, self._look = session, look
        self._painter = DeskPainter(look)
        self.desk = DeskState({}, {})
        self.placed: list[PlacedWindow] = []
        self.setMinimumSize(160, 100)
        self.setAccessibleName(tr("The program's windows"))

    def sizeHint(self) -> QSize:
        return QSize(360, 240)

    def show_step(self) -> None:
        """Takes the desk of the shown step."""
        recording = self._session.recording
        self.desk = recording.desk.at(self._session.step) if recording is not None else DeskState({}, {})
        words = [str(its.get("words", "")) for its in self.desk.widgets.values()]
        self.setAccessibleDescription(", ".join(filter(None, words))[:400])
        self.update()

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.fillRect(self.rect(), QColor(self._look.colours.foam))
        recording = self._session.recording
        drawn = recording.desk.drawn if recording is not None else {}
        self.placed = place(self.desk, self.width(), self.height(), drawn)
        self._painter.paint(painter, self.desk, self.placed)

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        found = self.widget_at(event.position()) if event is not None else None
        if found is not None:
            self.clicked.emit(*found)

    def widget_at(self, at: QPointF) -> tuple[str, float, float] | None:
        """The innermost widget at a place, and where in it that is."""
        window = next((its for its in self.placed if its.rect.contains(at)), None)
        if window is None:
            return None
        x = (at.x() - window.rect.left()) / window.scale + window.part.left()
        y = (at.y() - window.rect.top()) / window.scale + window.part.top()
        for path in reversed(self.desk.within(window.path)):
            left, top, width, height = self.desk.at(path)
            if left <= x <= left + width and top <= y <= top + height and not self.desk.widgets[path].get("hidden"):
                return path, x - left, y - top
        return window.path, x, y


class DeskView(QWidget):
    """The picture, the calls beside it, and below what a person does at the desk in this case."""

    def __init__(self, session: Session, acts: DeskActs, look: Look) -> None:
        super().__init__()
        self._session, self._acts, self._look = session, acts, look
        self.picture = DeskPicture(session, look)
        self.calls = PlainList(tr("What called the program's functions"), look)
        self._told: list[HandlerCall] = []
        self._finding = Lane("handlers")
        self._finding.done.connect(self._take_calls)
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
        self.calls.itemClicked.connect(self._go)
        self.calls.itemActivated.connect(self._go)
        session.opened.connect(self._take)
        session.moved.connect(self.refresh)
        acts.changed.connect(self.refresh)
        look.changed.connect(self.refresh)

    def _button(self, title: str, stays: bool = False) -> QPushButton:
        button = QPushButton(title)
        button.setCheckable(stays)
        button.setFocusPolicy(Qt.FocusPolicy.TabFocus)
        return button

    def _take(self) -> None:
        self._told = []
        recording = self._session.recording
        if recording is not None and recording.desk.is_there and self._session.visible.is_whole:
            self._finding.start(lambda _progress: handler_calls(recording))
        else:
            self._finding.give_up()
        self._list_calls()
        self.refresh()

    def _take_calls(self, found: list[HandlerCall]) -> None:
        self._told = found
        self._list_calls()
        self.refresh()

    def _list_calls(self) -> None:
        self.calls.clear()
        for its in self._told[:_MOST_ROWS]:
            item = QListWidgetItem(visible(call_words(its)))
            item.setData(Qt.ItemDataRole.UserRole, its.first)
            self.calls.addItem(item)

    def showEvent(self, event: QShowEvent | None) -> None:
        super().showEvent(event)
        self.refresh()

    def refresh(self) -> None:
        """Shows the desk just before the shown step, and which call that is in."""
        if not self.isVisible():
            return
        self.picture.show_step()
        step, here = self._session.step, -1
        for row, its in enumerate(self._told[:_MOST_ROWS]):
            item = self.calls.item(row)
            is_here = its.first <= step and (its.last < 0 or step <= its.last)
            if item is not None and item.font().bold() != is_here:
                item.setFont(ui_font(10, bold=is_here))
            here = row if is_here else here
        if here >= 0:
            self.calls.scrollToItem(self.calls.item(here))
        self.calls.setVisible(bool(self._told))
        self.script.setText(self._acts.words)
        for button in (self.click, self.key):
            button.setEnabled(self._acts.can_act)
        self.undo.setEnabled(self._acts.can_act and bool(self._acts.lines))

    def _go(self, item: QListWidgetItem) -> None:
        self._session.go(int(item.data(Qt.ItemDataRole.UserRole)))

    # Doing something

    def _click_at(self, path: str, x: float, y: float) -> None:
        if not self.click.isChecked():
            return
        its = self.picture.desk.widgets.get(path, {})
        name = (
            str(its.get("words", ""))
            if str(its.get("kind", "")).endswith("utton")
            else path.rpartition(".")[2].lstrip("!")
        )
        kind = str(its.get("kind", "")).removeprefix("T")
        if kind in ("Entry", "Spinbox", "Combobox", "Text"):
            text, given = QInputDialog.getText(
                self, tr("Type"), as_rich(tr("What is typed into “{0}”:").format(name)), QLineEdit.EchoMode.Normal, ""
            )
            if given:
                self._acts.do("type", on=name, text=text)
        elif kind == "Canvas":
            self._acts.do("click", on=name, at=self._place_on(path, x, y))
        else:
            self._acts.do("click", on=name)

    def _place_on(self, path: str, x: float, y: float) -> tuple[float, float]:
        """A place on a canvas, as its program counts: a turtle's from the middle, and upwards."""
        origin = self.picture.desk.widgets[path].get("origin", [0, 0])
        if float(origin[0]) < 0:
            return round(x + float(origin[0])), round(-(y + float(origin[1])))
        return round(x), round(y)

    def _ask_key(self) -> None:
        words = tr("Which key: a letter, or a name as Left, Up, space, Return:")
        key, given = QInputDialog.getText(self, tr("Press a key"), as_rich(words), QLineEdit.EchoMode.Normal, "")
        if given and key.strip():
            self._acts.do("key", text=key.strip())
