"""The manual, offline and in a window of its own: its pages, beside each other."""

from __future__ import annotations

from importlib import resources
from pathlib import Path

from PyQt6.QtCore import QUrl
from PyQt6.QtWidgets import QDialog, QHBoxLayout, QTextBrowser, QWidget

from eelgrass.desktop.look.look import Look
from eelgrass.desktop.look.palette import ui_font
from eelgrass.desktop.look.widgets import PlainList
from eelgrass.desktop.services.translation import tr

_SIZE = (1080, 720)
_LIST_PX = 250


def pages() -> list[tuple[str, str]]:
    """Every page in its order: its title, and its text in Markdown."""
    folder = resources.files("eelgrass") / "manual"
    texts = [its.read_text("utf-8") for its in sorted(folder.iterdir(), key=lambda its: its.name) if _is_page(its.name)]
    return [(text.partition("\n")[0].removeprefix("# "), text) for text in texts]


def _is_page(name: str) -> bool:
    return name.endswith(".md")


class ManualWindow(QDialog):
    """Stands beside the window that it explains; closing it only hides it."""

    def __init__(self, parent: QWidget, look: Look) -> None:
        super().__init__(parent)
        self.setWindowTitle(tr("Manual – Eelgrass"))
        self.resize(*_SIZE)
        self._pages = pages()
        self.list = PlainList(tr("Pages of the manual"), look)
        self.list.addItems([title for title, _ in self._pages])
        self.list.setFixedWidth(_LIST_PX)
        self.page = QTextBrowser()
        self.page.setAccessibleName(tr("A page of the manual"))
        self.page.setOpenLinks(False)
        self.page.setFrameShape(self.page.Shape.NoFrame)
        self.page.setSearchPaths([str(Path(str(resources.files("eelgrass") / "manual")))])
        layout = QHBoxLayout(self)
        layout.addWidget(self.list)
        layout.addWidget(self.page, 1)
        self.list.currentRowChanged.connect(self._show_page)
        look.dresses(lambda: self._dress(look))
        self.list.setCurrentRow(0)

    def _dress(self, look: Look) -> None:
        c = look.colours
        self.page.setFont(ui_font(10.5))
        self.page.setStyleSheet(f"background: {c.foam}; color: {c.ink}; padding: 10px 18px;")
        self._show_page(self.list.currentRow())

    def _show_page(self, row: int) -> None:
        if row >= 0:
            self.page.setSource(QUrl())
            self.page.setMarkdown(self._pages[row][1])
