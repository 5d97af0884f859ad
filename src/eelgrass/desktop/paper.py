"""Documents on paper: HTML as PDF, by Qt's own printing."""

from __future__ import annotations

import os

from PyQt6.QtCore import QBuffer, QIODevice, QMarginsF
from PyQt6.QtGui import QGuiApplication, QPageLayout, QPageSize, QPdfWriter, QTextDocument

_MARGIN_MM = 18.0


def as_pdf(html: str) -> bytes:
    """A document as a PDF, on A4."""
    os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")  # nothing is shown
    application = QGuiApplication.instance() or QGuiApplication(["eelgrass"])  # kept until the end
    buffer = QBuffer()
    buffer.open(QIODevice.OpenModeFlag.WriteOnly)
    writer = QPdfWriter(buffer)
    writer.setPageSize(QPageSize(QPageSize.PageSizeId.A4))
    writer.setPageMargins(QMarginsF(*[_MARGIN_MM] * 4), QPageLayout.Unit.Millimeter)
    document = QTextDocument()
    document.setHtml(html)
    document.print(writer)
    del writer  # which writes the end
    data = bytes(buffer.data().data())
    del buffer, document, application
    return data
