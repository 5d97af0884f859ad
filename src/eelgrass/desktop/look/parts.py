"""Small things that parts of the bench are put together from."""

from __future__ import annotations

from collections.abc import Sequence

from PyQt6.QtWidgets import (
    QAbstractButton,
    QHBoxLayout,
    QLabel,
    QLineEdit,
    QPlainTextEdit,
    QSizePolicy,
    QVBoxLayout,
    QWidget,
)

from eelgrass.desktop.look.palette import ui_font
from eelgrass.desktop.services.translation import tr

#: Below this a place to write in is scrolled away, not squeezed.
_LEAST = 60


def heading(words: str) -> QLabel:
    """A title above a part."""
    label = QLabel(tr(words))
    label.setFont(ui_font(9.5, bold=True))
    return label


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
