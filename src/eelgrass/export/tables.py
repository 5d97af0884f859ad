"""Trace tables as CSV, Markdown and JSON."""

from __future__ import annotations

import csv
import io
import json
from collections.abc import Callable, Iterator
from typing import Any

from eelgrass.reading.tables.trace_table import Table

#: A text that begins with one of these could come alive in a spreadsheet.
_LIVE = ("=", "+", "-", "@", "\t", "\r", "\n")


def csv_lines(table: Table, rows: range | None = None, between: str = ",") -> Iterator[str]:
    """Lines of values with a comma, or another sign, between them, the titles first; formulas stay text."""
    yield csv_line([column.title for column in table.columns], between)
    for row in rows if rows is not None else range(len(table.rows)):
        yield csv_line(_texts(table, row), between)


def markdown_lines(table: Table, rows: range | None = None) -> Iterator[str]:
    """Lines of a Markdown table."""
    yield _markdown_line([column.title for column in table.columns])
    yield "|" + "---|" * len(table.columns) + "\n"
    for row in rows if rows is not None else range(len(table.rows)):
        yield _markdown_line(_texts(table, row))


def json_lines(table: Table, rows: range | None = None) -> Iterator[str]:
    """JSON Lines: for each row its step and its cells by title, those that hold nothing left out."""
    for row in rows if rows is not None else range(len(table.rows)):
        cells = (table.cell(row, place) for place in range(len(table.columns)))
        told: dict[str, Any] = {
            column.title: {"text": cell.text, "changed": cell.changed, "set_by": cell.set_by}
            for column, cell in zip(table.columns, cells, strict=True)
            if cell.text
        }
        yield json.dumps({"step": int(table.rows[row]), "cells": told}) + "\n"


FORMATS: dict[str, Callable[..., Iterator[str]]] = {"csv": csv_lines, "md": markdown_lines, "json": json_lines}


def safe(text: str) -> str:
    """A text that no spreadsheet takes for a formula; numbers stay numbers."""
    if text.startswith(_LIVE) and not _is_number(text):
        return "'" + text
    return text


def _is_number(text: str) -> bool:
    try:
        float(text)
    except ValueError:
        return False
    return True


def _texts(table: Table, row: int) -> list[str]:
    return [table.cell(row, place).text for place in range(len(table.columns))]


def csv_line(texts: list[str], between: str = ",") -> str:
    """One line of values; formulas stay text."""
    line = io.StringIO()
    csv.writer(line, delimiter=between).writerow(map(safe, texts))
    return line.getvalue()


def _markdown_line(texts: list[str]) -> str:
    escaped = (text.replace("\\", "\\\\").replace("|", "\\|").replace("\n", " ") for text in texts)
    return "| " + " | ".join(f"`{text}`" if text and "`" not in text else text for text in escaped) + " |\n"
