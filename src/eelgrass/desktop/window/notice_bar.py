"""The strip with sentences for the person, and what can be done about them."""

from __future__ import annotations

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QHBoxLayout, QPushButton, QVBoxLayout, QWidget

from eelgrass.desktop.look.look import Look
from eelgrass.desktop.look.plain_text import PlainLabel
from eelgrass.desktop.services.messages import Message, Messages


class NoticeBar(QWidget):
    """Shows what there is to say: what stands until it is over, then the latest."""

    def __init__(self, messages: Messages, look: Look) -> None:
        super().__init__()
        self._messages = messages
        self._look = look
        self._layout = QVBoxLayout(self)
        self._layout.setContentsMargins(0, 0, 0, 0)
        self._layout.setSpacing(0)
        messages.changed.connect(self.refresh)
        look.dresses(self.refresh)

    def refresh(self) -> None:
        """Shows all sentences anew."""
        while (item := self._layout.takeAt(0)) is not None:
            row = item.widget()
            if row is not None:
                row.hide()
                row.deleteLater()
        for message in self._messages.shown:
            self._layout.addWidget(self._row(message))
        self.setVisible(bool(self._messages.shown))

    def _row(self, message: Message) -> QWidget:
        c, row = self._look.colours, QWidget()
        fill, edge = (c.coral_pale, c.coral) if message.is_trouble else (c.shallow, c.deep)
        row.setObjectName("notice")
        row.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        row.setStyleSheet(
            f"#notice {{ background: {fill}; border-left: 5px solid {edge}; }} #notice QLabel {{ color: {c.ink}; }}"
        )
        layout = QHBoxLayout(row)
        layout.setContentsMargins(16, 7, 16, 7)
        words = PlainLabel(message.text)
        words.setWordWrap(True)
        words.setTextInteractionFlags(Qt.TextInteractionFlag.TextSelectableByMouse)
        layout.addWidget(words, 1)
        for choice in message.choices:
            button = QPushButton(choice.title)
            button.clicked.connect(lambda _checked, call=choice.call: call())
            layout.addWidget(button)
        return row

    def text(self) -> str:
        """All that it says, a sentence a line."""
        return "\n".join(message.text for message in self._messages.shown)
