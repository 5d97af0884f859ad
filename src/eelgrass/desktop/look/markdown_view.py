"""Markdown from elsewhere, shown without anything else from elsewhere."""

from __future__ import annotations

import re
from pathlib import Path, PurePosixPath

from PyQt6.QtCore import QBuffer, QByteArray, QUrl
from PyQt6.QtGui import QImage, QImageReader, QTextDocument
from PyQt6.QtWidgets import QTextBrowser

from eelgrass.desktop.look.look import Look
from eelgrass.desktop.look.palette import ui_font
from eelgrass.desktop.look.plain_text import visible
from eelgrass.desktop.services.translation import tr

_SIGNS = re.compile(r"([\\`*_{}\[\]()#+\-.!<>|~&])")
#: Nobody reads more; and laying it out would hold up the window.
_MOST_CHARACTERS, _MOST_LINES, _MOST_SIGNS = 60_000, 2_000, 4_000
#: Pictures are of these kinds, so many bytes and pixels at most.
_KINDS = {".png": b"png", ".jpg": b"jpeg", ".jpeg": b"jpeg", ".gif": b"gif", ".bmp": b"bmp"}
_MOST_BYTES, _MOST_PIXELS, _WIDEST = 8 << 20, 25_000_000, 560


def plain(text: str) -> str:
    """A text that is no Markdown, as Markdown shows it unchanged."""
    return _SIGNS.sub(r"\\\1", text).replace("\n", "  \n")


def bounded(text: str) -> str:
    """As much of a text as is shown; that there is more is said."""
    lines = visible(text[:_MOST_CHARACTERS]).split("\n")
    kept = "\n".join(lines[:_MOST_LINES])
    if len(_SIGNS.findall(kept)) > _MOST_SIGNS:  # it nests, and would take as long as the square of them
        kept = plain(kept[:_MOST_SIGNS])
    is_whole = len(text) <= _MOST_CHARACTERS and len(lines) <= _MOST_LINES
    return kept if is_whole else f"{kept}\n\n{tr('… (there is more than can be shown here)')}"


class MarkdownView(QTextBrowser):
    """No link is followed, and nothing is loaded but pictures inside of `folder`, if there is one."""

    def __init__(self, look: Look, points: float = 10) -> None:
        super().__init__()
        self._look = look
        self._points = points
        self.folder: Path | None = None
        self.setOpenLinks(False)
        self.setAccessibleName(tr("Words"))
        self.setFrameShape(self.Shape.NoFrame)
        look.dresses(self._dress)

    def _dress(self) -> None:
        c = self._look.colours
        self.setFont(ui_font(self._points))
        self.setStyleSheet(f"background: {c.foam}; color: {c.ink};")

    def setMarkdown(self, markdown: str | None) -> None:
        """Shows a text of somebody else: tags in it are no tags."""
        features = QTextDocument.MarkdownFeature
        document = self.document()
        assert document is not None
        how = features.MarkdownDialectGitHub | features.MarkdownNoHTML
        document.setMarkdown(bounded(markdown or ""), how)

    def loadResource(self, kind: int, name: QUrl) -> object:
        """A picture of the folder; for anything else an empty one, since Qt would look for it elsewhere itself."""
        if kind != QTextDocument.ResourceType.ImageResource.value:
            return QByteArray()
        found = picture(self.folder, name.toString()) if self.folder is not None else None
        return found if found is not None else QImage(1, 1, QImage.Format.Format_ARGB32)


def picture(folder: Path, name: str) -> QImage | None:
    """A picture by its name inside of a folder; None for what is none, lies elsewhere, or is too large."""
    path = PurePosixPath(name)
    if path.is_absolute() or ".." in path.parts or path.suffix.lower() not in _KINDS or ":" in name:
        return None
    file = folder / path
    try:
        if not file.resolve().is_relative_to(folder.resolve()) or not file.is_file():
            return None
        with file.open("rb") as opened:
            data = opened.read(_MOST_BYTES + 1)
    except OSError:
        return None
    buffer = QBuffer()
    buffer.setData(data)
    reader = QImageReader(buffer, QByteArray(_KINDS[path.suffix.lower()]))
    size = reader.size()
    if len(data) > _MOST_BYTES or not size.isValid() or size.width() * size.height() > _MOST_PIXELS:
        return None
    image = reader.read()
    if image.isNull():
        return None
    return image.scaledToWidth(_WIDEST) if image.width() > _WIDEST else image
