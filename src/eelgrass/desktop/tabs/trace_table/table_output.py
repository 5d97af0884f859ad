"""A trace table out of the window: copied, saved, printed."""

from __future__ import annotations

from html import escape

from PyQt6.QtGui import QTextDocument
from PyQt6.QtWidgets import QApplication, QWidget

from eelgrass.export.tables import csv_lines
from eelgrass.reading.tables.trace_table import Table

#: So many rows are copied or saved from the window at once.
MOST_ROWS = 100_000
_MOST_PRINTED = 2_000


def as_csv(table: Table, rows: int) -> str:
    """The first rows of a table, as comma-separated values."""
    return "".join(csv_lines(table, range(min(rows, MOST_ROWS))))


def copy(table: Table, rows: int) -> None:
    """Copies the first rows of a table, tab by tab, as spreadsheets take them."""
    clipboard = QApplication.clipboard()
    if clipboard is not None:
        lines = (line.rstrip("\r\n") for line in csv_lines(table, range(min(rows, MOST_ROWS)), "\t"))
        clipboard.setText("\n".join(lines))


def document(table: Table, rows: int) -> QTextDocument:
    """The first rows of a table, as a document to print."""
    body = []
    for row in range(min(rows, _MOST_PRINTED)):
        cells = (table.cell(row, place) for place in range(len(table.columns)))
        body.append("".join(_html_cell(cell.text, cell.changed) for cell in cells))
    titles = "".join(f"<th>{escape(column.title)}</th>" for column in table.columns)
    lines = "".join(f"<tr>{row}</tr>" for row in body)
    made = QTextDocument()
    made.setHtml(
        f"<h3>{escape(table.title)}</h3>"
        f"<table border='1' cellspacing='0' cellpadding='3'><tr>{titles}</tr>{lines}</table>"
    )
    return made


def print_table(table: Table, rows: int, parent: QWidget) -> None:
    """Asks for a printer, and prints."""
    from PyQt6.QtPrintSupport import QPrintDialog, QPrinter  # loads slowly, and is needed seldom

    printer = QPrinter()
    if QPrintDialog(printer, parent).exec():
        document(table, rows).print(printer)


def _html_cell(text: str, changed: bool) -> str:
    return f"<td><b>{escape(text)}</b></td>" if changed else f"<td>{escape(text)}</td>"
