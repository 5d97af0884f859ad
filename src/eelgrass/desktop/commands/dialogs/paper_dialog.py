"""What goes on paper, seen before it is printed."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

from PyQt6.QtPrintSupport import QPrintDialog, QPrinter, QPrintPreviewWidget
from PyQt6.QtWidgets import (
    QCheckBox,
    QComboBox,
    QDialog,
    QFileDialog,
    QHBoxLayout,
    QLabel,
    QPushButton,
    QVBoxLayout,
    QWidget,
)

from eelgrass.atomic_write import replace_file
from eelgrass.desktop import paper
from eelgrass.desktop.commands.base import written
from eelgrass.desktop.services.messages import Messages, told
from eelgrass.desktop.services.translation import tr

_SIZE = (760, 780)


class PaperDialog(QDialog):
    """Shows the pages of `document(with_solution)`, prints them, or saves them as PDF or HTML. Where there is nothing
    to solve, `has_solution` is False."""

    def __init__(
        self, parent: QWidget, title: str, document: Callable[[bool], str], has_solution: bool, messages: Messages
    ) -> None:
        super().__init__(parent)
        self.setWindowTitle(tr(title))
        self.resize(*_SIZE)
        self._document, self.messages = document, messages
        self.printer = QPrinter(QPrinter.PrinterMode.ScreenResolution)
        self.preview = QPrintPreviewWidget(self.printer)
        self.preview.setZoomMode(QPrintPreviewWidget.ZoomMode.FitInView)
        self.preview.paintRequested.connect(self._paint)
        self.solution = QCheckBox(tr("With the solution"))
        self.solution.setVisible(has_solution)
        self.on_each = QComboBox()
        for number in paper.SEVERAL:
            self.on_each.addItem(str(number), number)
        several = QLabel(tr("Pages on a sheet:"))
        several.setBuddy(self.on_each)
        self.print, self.save = QPushButton(tr("Print…")), QPushButton(tr("Save…"))
        row = QHBoxLayout()
        for its in (self.solution, several, self.on_each):
            row.addWidget(its)
        row.addStretch(1)
        for button, act in ((self.save, self._ask_target), (self.print, self._print)):
            row.addWidget(button)
            button.clicked.connect(act)
        layout = QVBoxLayout(self)
        layout.addLayout(row)
        layout.addWidget(self.preview, 1)
        self.solution.toggled.connect(self.preview.updatePreview)
        self.on_each.currentIndexChanged.connect(self.preview.updatePreview)

    def html(self) -> str:
        """The document as it is asked for."""
        return self._document(self.solution.isChecked())

    def _paint(self, printer: QPrinter) -> None:
        paper.paint(self.html(), printer, self.on_each.currentData())

    def _print(self) -> None:
        if QPrintDialog(self.printer, self).exec():
            self._paint(self.printer)

    def _ask_target(self) -> None:
        name, _ = QFileDialog.getSaveFileName(self, self.windowTitle(), "", "Paper (*.pdf);;Pages (*.html)")
        if name:
            self.save_as(Path(name))

    @told
    def save_as(self, path: Path) -> None:
        """Saves it, as HTML where the file is called so, else as PDF."""
        is_html = path.suffix == ".html"
        data = self.html().encode() if is_html else paper.as_pdf(self.html(), self.on_each.currentData())

        written(path, lambda: replace_file(path, data), tr("It could not be written to {0}: {1}."))
        self.messages.say(tr("It is saved as {0}.").format(path.name))
