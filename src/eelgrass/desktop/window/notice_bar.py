"""The strip with a sentence for the person."""

from __future__ import annotations

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QLabel

from eelgrass.desktop.look.palette import Palette


class NoticeBar(QLabel):
    """`told` is what it says: a sentence, '' for nothing, and whether it is about trouble."""

    def __init__(self, colours: Palette) -> None:
        super().__init__()
        self._colours = colours
        self.told = ("", False)
        self.setWordWrap(True)
        self.setTextInteractionFlags(Qt.TextInteractionFlag.TextSelectableByMouse)
        self.setContentsMargins(16, 7, 16, 7)
        self.setTextFormat(Qt.TextFormat.PlainText)
        self.hide()

    def tell(self, sentence: str, is_trouble: bool) -> None:
        """Shows a sentence, or takes it away when it is ''."""
        c = self._colours
        self.told = (sentence, is_trouble)
        fill, edge = (c.coral_pale, c.coral) if is_trouble else (c.shallow, c.deep)
        self.setStyleSheet(f"background: {fill}; color: {c.ink}; border-left: 5px solid {edge};")
        self.setText(sentence)
        self.setVisible(bool(sentence))
