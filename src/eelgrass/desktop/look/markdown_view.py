"""Markdown from elsewhere, shown without anything else from elsewhere."""

from __future__ import annotations

import re

from PyQt6.QtCore import QUrl
from PyQt6.QtWidgets import QTextBrowser

from eelgrass.desktop.look.look import Look
from eelgrass.desktop.look.palette import ui_font
from eelgrass.desktop.services.translation import tr

_SIGNS = re.compile(r"([\\`*_{}\[\]()#+\-.!<>|~&])")


def plain(text: str) -> str:
    """A text that is no Markdown, as Markdown shows it unchanged."""
    return _SIGNS.sub(r"\\\1", text).replace("\n", "  \n")


class MarkdownView(QTextBrowser):
    """No pictures are loaded and no link is followed."""

    def __init__(self, look: Look, points: float = 10) -> None:
        super().__init__()
        self._look = look
        self._points = points
        self.setOpenLinks(False)
        self.setAccessibleName(tr("Words"))
        self.setFrameShape(self.Shape.NoFrame)
        look.dresses(self._dress)

    def _dress(self) -> None:
        c = self._look.colours
        self.setFont(ui_font(self._points))
        self.setStyleSheet(f"background: {c.foam}; color: {c.ink};")

    def loadResource(self, _kind: int, _name: QUrl) -> object:
        return None
