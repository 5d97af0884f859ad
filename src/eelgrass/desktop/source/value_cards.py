"""Little cards with the value of a name: shown on pointing, kept open and moved on a click, several at once."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QEvent, QObject, QPoint, Qt
from PyQt6.QtGui import QHelpEvent, QKeyEvent, QMouseEvent
from PyQt6.QtWidgets import QFrame, QVBoxLayout, QWidget

from eelgrass.desktop.look.look import Look
from eelgrass.desktop.look.palette import code_font, ui_font
from eelgrass.desktop.look.plain_text import PlainLabel
from eelgrass.desktop.services.translation import tr
from eelgrass.desktop.session.session import Session
from eelgrass.desktop.source.editor import Editor
from eelgrass.reading.hover import Pointed

#: What is worth telling of a name on a line: asked anew whenever the reader moves.
Ask = Callable[[int, str], Pointed | None]


class ValueCard(QFrame):
    """One name's card. A click keeps it open; then it can be dragged, and Escape or a right click closes it."""

    def __init__(self, over: QWidget, line: int, name: str, ask: Ask, look: Look) -> None:
        super().__init__(over)
        self.line, self.name, self.is_kept = line, name, False
        self._ask = ask
        self._grip: QPoint | None = None
        self._look = look
        self.head, self.text = PlainLabel(), PlainLabel()
        self.text.setWordWrap(True)
        self.setMaximumWidth(460)
        self.setFocusPolicy(Qt.FocusPolicy.ClickFocus)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(10, 6, 10, 7)
        layout.setSpacing(2)
        layout.addWidget(self.head)
        layout.addWidget(self.text)
        self.dress()

    def dress(self) -> None:
        """Takes the look that everything has now."""
        c = self._look.colours
        self.head.setFont(ui_font(9, bold=True))
        self.text.setFont(code_font(10))
        edge = f"2px solid {c.deep}" if self.is_kept else f"1px solid {c.sand_edge}"
        self.setStyleSheet(f"ValueCard {{ background: {c.sand}; border: {edge}; border-radius: 8px; }}")

    def refresh(self) -> bool:
        """Asks again; False when there is nothing to tell."""
        told = self._ask(self.line, self.name)
        if told is None:
            self.head.setText(tr("{0}  ·  no value here").format(self.name))
            self.text.setText("")
        else:
            self.head.setText(f"{self.name}  ·  {told.type_word}")
            then = tr("\nwhen line {0} last ran: {1}").format(self.line, told.then) if told.then else ""
            self.text.setText(told.text + then)
        self.text.setVisible(bool(self.text.text()))
        self.adjustSize()
        return told is not None

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if event is None:
            return
        if event.button() == Qt.MouseButton.RightButton:
            self.close()
            self.deleteLater()
            return
        self.is_kept = True
        self._grip = event.position().toPoint()
        self.dress()

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        if event is not None and self._grip is not None:
            self.move(self.mapToParent(event.position().toPoint() - self._grip))

    def event(self, event: QEvent | None) -> bool:
        if isinstance(event, QKeyEvent) and event.type() == QEvent.Type.ShortcutOverride:
            event.setAccepted(event.key() == Qt.Key.Key_Escape)  # which is this card's while it has the keys
            return event.isAccepted()
        return super().event(event)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is not None and event.key() == Qt.Key.Key_Escape:
            self.close()
            self.deleteLater()


class ValueCards(QObject):
    """The cards over one editor. `ask(line, name)` knows the values, `name_at(line, column)` the names."""

    def __init__(
        self, editor: Editor, session: Session, ask: Ask, name_at: Callable[[int, int], str], look: Look
    ) -> None:
        super().__init__(editor)
        self._editor, self._ask, self._name_at, self._look = editor, ask, name_at, look
        self.cards: list[ValueCard] = []
        viewport = editor.viewport()
        assert viewport is not None
        viewport.setMouseTracking(True)
        viewport.installEventFilter(self)
        session.moved.connect(self.refresh)
        look.changed.connect(self._dress)

    def _dress(self) -> None:
        for card in self.cards:
            card.dress()

    def refresh(self) -> None:
        """Cards that are kept follow the reader; the one that only showed goes."""
        self._drop_passing()
        for card in self.cards:
            card.refresh()

    def _drop_passing(self) -> None:
        for card in self.cards:
            if not card.is_kept:
                card.close()
                card.deleteLater()
        self.cards = [card for card in self.cards if card.is_kept and card.isVisible()]

    def point_at(self, position: QPoint) -> ValueCard | None:
        """Shows the card of the name at a place of the viewport, if there is one that has a value."""
        line, column = self._editor.place_at(position)
        name = self._name_at(line, column) if line else ""
        if any(card.name == name and card.line == line for card in self.cards if card.isVisible()):
            return None
        self._drop_passing()
        if not name:
            return None
        card = ValueCard(self._editor, line, name, self._ask, self._look)
        if not card.refresh():
            card.deleteLater()
            return None
        x = min(position.x() + 12, max(self._editor.width() - card.width() - 8, 0))
        card.move(x, self._editor.top_of(line) + self._editor.line_height() + 2)
        card.show()
        card.raise_()
        self.cards.append(card)
        return card

    def eventFilter(self, watched: QObject | None, event: QEvent | None) -> bool:
        """Pointing for a moment shows a card."""
        if isinstance(event, QHelpEvent) and event.type() == QEvent.Type.ToolTip:
            self.point_at(event.pos())
        return False
