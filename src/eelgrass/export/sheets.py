"""A desk check for pen and paper: the text, an empty trace table, room for the output; or all of it filled in.

Plain HTML with nothing from elsewhere, in what both a browser and Qt's documents print alike.
"""

from __future__ import annotations

from collections.abc import Iterator
from html import escape

from eelgrass.export.documents import document
from eelgrass.reading.tables.columns import Column
from eelgrass.reading.tables.trace_table import Table
from eelgrass.trace.model import Texts

#: So many rows and lines of text have room on paper.
MOST_ROWS, MOST_LINES = 80, 120
_LEAST_OUTPUT, _MORE_ROWS = 2, 2
#: Columns that are given: the pen has the rest to say.
_GIVEN = ("step", "pass")
STYLE = """
@page { margin: 18mm; }
body { font-family: sans-serif; font-size: 10pt; color: #000; background: #fff; }
pre { font-family: monospace; font-size: 10pt; margin: 0; }
td, th { font-family: monospace; font-size: 10pt; text-align: left; }
table { border-collapse: collapse; }
"""


def sheet(table: Table, title: str, with_solution: bool = False) -> str:
    """The sheet of a trace table as an HTML document."""
    heading = f"{title}: solution" if with_solution else title
    return document(
        heading,
        STYLE,
        f"<h1>{escape(heading)}</h1>",
        "" if with_solution else "<p>Name: ______________________________</p>",
        _text(table),
        f"<h2>{escape(table.title)}</h2>",
        *_rows(table, with_solution),
        "<h2>Output</h2>",
        _output(table, with_solution),
    )


def _text(table: Table) -> str:
    """The program with the numbers of its lines; of a long one what the table is about."""
    recording = table.recording
    module = recording.module_at(int(table.rows[0])) if len(table.rows) else 0
    lines = recording.trace.program.modules[module].lines
    first, last = 1, len(lines)
    if len(lines) > MOST_LINES:
        told = [recording.trace.line_of(int(step)) for step in table.rows.tolist()]
        first, last = max(min(told) - 5, 1), min(min(told) + MOST_LINES, len(lines))
    width = len(str(last))
    numbered = (f"{number:{width}}  {lines[number - 1]}" for number in range(first, last + 1))
    return "<pre>" + "\n".join(map(escape, numbered)) + "</pre>"


def _rows(table: Table, with_solution: bool) -> Iterator[str]:
    yield '<table border="1" cellspacing="0" cellpadding="5">'
    yield "<tr>" + "".join(f'<th scope="col">{escape(its.title)}</th>' for its in table.columns) + "</tr>"
    for row in range(min(len(table.rows), MOST_ROWS)):
        cells = (_cell(table, row, place, its, with_solution) for place, its in enumerate(table.columns))
        yield "<tr>" + "".join(f"<td>{cell}</td>" for cell in cells) + "</tr>"
    for _ in range(0 if with_solution else _MORE_ROWS):  # how many there are is not to be read off
        yield "<tr>" + "<td>&nbsp;</td>" * len(table.columns) + "</tr>"
    yield "</table>"
    if len(table.rows) > MOST_ROWS:
        yield f"<p>The first {MOST_ROWS} of {len(table.rows):,} rows.</p>"


def _cell(table: Table, row: int, place: int, column: Column, with_solution: bool) -> str:
    is_told = with_solution or column.kind in _GIVEN
    return escape(table.cell(row, place).text) if is_told else "&nbsp;" * max(len(column.title) + 4, 10)


def _output(table: Table, with_solution: bool) -> str:
    """What was printed while the table went on; or as much room."""
    texts, trace = table.recording.trace.texts, table.recording.trace
    first, last = (int(table.rows[0]), int(table.rows[-1])) if len(table.rows) else (0, len(trace.steps))
    within = (texts.channel == Texts.OUTPUT) & (texts.step >= first) & (texts.step <= last)
    printed = "".join(piece for piece, its in zip(texts.pieces, within.tolist(), strict=True) if its)
    lines = printed.splitlines()[:MOST_ROWS]
    if with_solution:
        return "<pre>" + escape("\n".join(lines) or "(nothing)") + "</pre>"
    room = "<br>&nbsp;".join([""] * (max(len(lines), _LEAST_OUTPUT) + 1))
    return f'<table border="1" cellspacing="0" cellpadding="5" width="100%"><tr><td>{room}</td></tr></table>'
