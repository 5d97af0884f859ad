"""Words of others, shown as they are: no tags are followed, nothing is loaded, and signs that hide others are seen."""

from __future__ import annotations

import unicodedata
from html import escape

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QLabel

#: Longer than this nobody reads a tip.
_MOST_CHARACTERS = 4_000


def visible(text: str) -> str:
    """A text in which control characters and marks of direction stand as what they are."""
    if text.isprintable():
        return text
    return "".join(map(_visible, text))


def _visible(character: str) -> str:
    is_shown = character in "\n\t" or unicodedata.category(character) not in ("Cc", "Cf", "Cs")
    return character if is_shown else f"‹U+{ord(character):04X}›"


def as_rich(text: str) -> str:
    """A text as Qt shows it unchanged where it takes tags for tags: in tips, and in its own dialogs."""
    return f"<qt>{escape(visible(text[:_MOST_CHARACTERS])).replace(chr(10), '<br>')}</qt>" if text else ""


class PlainLabel(QLabel):
    """A label that takes nothing for tags."""

    def __init__(self, text: str = "") -> None:
        super().__init__()
        self.setTextFormat(Qt.TextFormat.PlainText)
        self.setText(text)

    def setText(self, text: str | None) -> None:
        super().setText(visible(text or ""))
