"""Markdown from elsewhere, shown without anything else from elsewhere."""

from __future__ import annotations

import re

from PyQt6.QtCore import QUrl
from PyQt6.QtWidgets import QTextBrowser

from eelgrass.desktop.look.palette import Palette, ui_font

_SIGNS = re.compile(r"([\\`*_{}\[\]()#+\-.!<>|~&])")


def plain(text: str) -> str:
    """A text that is no Markdown, as Markdown shows it unchanged."""
    return _SIGNS.sub(r"\\\1", text).replace("\n", "  \n")


class MarkdownView(QTextBrowser):
    """No pictures are loaded and no link is followed."""

    def __init__(self, colours: Palette, points: float = 10) -> None:
        super().__init__()
        self.setOpenLinks(False)
        self.setFrameShape(self.Shape.NoFrame)
        self.setFont(ui_font(points))
        self.setStyleSheet(f"background: {colours.foam}; color: {colours.ink};")

    def loadResource(self, _kind: int, _name: QUrl) -> object:
        return None
