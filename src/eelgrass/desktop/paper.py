"""Documents on paper: HTML laid out by Qt, on pages of A4, one or several of the document's on each."""

from __future__ import annotations

import os

from PyQt6.QtCore import QBuffer, QIODevice, QMarginsF, QRectF, QSizeF
from PyQt6.QtGui import (
    QGuiApplication,
    QPagedPaintDevice,
    QPageLayout,
    QPageSize,
    QPainter,
    QPdfWriter,
    QTextDocument,
)

_MARGIN_MM = 15.0
#: By how many of a document's pages are on one of paper: whether that lies on its side, and columns and rows on it.
_PLACED = {1: (False, 1, 1), 2: (True, 2, 1), 4: (False, 2, 2)}
SEVERAL = tuple(_PLACED)
#: How wide a page of the document is, so that as many words are in a line whatever the printer can do; a little more,
#: and so smaller letters, where all of it goes on one page then.
_WIDTHS_PX, _GAP = (640.0, 700.0, 760.0), 0.05


def as_pdf(html: str, on_each: int = 1) -> bytes:
    """A document as a PDF, with `on_each` (one of `SEVERAL`) of its pages on one of paper."""
    os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")  # nothing is shown
    application = QGuiApplication.instance() or QGuiApplication(["eelgrass"])  # kept until the end
    buffer = QBuffer()
    buffer.open(QIODevice.OpenModeFlag.WriteOnly)
    writer = QPdfWriter(buffer)
    writer.setPageSize(QPageSize(QPageSize.PageSizeId.A4))
    paint(html, writer, on_each)
    del writer  # which writes the end
    data = bytes(buffer.data().data())
    del buffer, application
    return data


def paint(html: str, device: QPagedPaintDevice, on_each: int = 1) -> None:
    """Puts a document on a printer's pages, or those of a file; where there are fewer pages in it than have room on
    one, it stands there several times."""
    on_side, columns, rows = _PLACED[on_each]
    device.setPageOrientation(QPageLayout.Orientation.Landscape if on_side else QPageLayout.Orientation.Portrait)
    device.setPageMargins(QMarginsF(*[_MARGIN_MM] * 4), QPageLayout.Unit.Millimeter)
    painter = QPainter(device)
    room = QRectF(painter.viewport())
    cell = QSizeF(room.width() / columns, room.height() / rows)
    inner = cell * (1 - _GAP * (on_each > 1))
    document = _laid_out(html, inner)
    size, pages = document.pageSize(), document.pageCount()
    scale = inner.width() / size.width()
    places = [place % pages for place in range(max(pages, on_each))] if pages <= on_each else list(range(pages))
    for number, page in enumerate(places):
        if number and number % on_each == 0:
            device.newPage()
        painter.save()
        painter.translate((number % columns) * cell.width(), (number % on_each // columns) * cell.height())
        painter.scale(scale, scale)
        shown = QRectF(0, page * size.height(), size.width(), size.height())
        painter.translate(0, -shown.top())
        document.drawContents(painter, shown)
        painter.restore()
    painter.end()


def _laid_out(html: str, room: QSizeF) -> QTextDocument:
    document = QTextDocument()
    document.setHtml(html)
    for width in (*_WIDTHS_PX, _WIDTHS_PX[0]):
        document.setPageSize(QSizeF(width, width * room.height() / room.width()))
        if document.pageCount() == 1:
            break
    return document
