"""A program's text with the margin notes and values of one moment, to hand out on paper.

Plain HTML with nothing from elsewhere, in what both a browser and Qt's documents print alike.
"""

from __future__ import annotations

from collections.abc import Iterator
from html import escape

from eelgrass.export.documents import document
from eelgrass.export.sheets import STYLE
from eelgrass.reading.recording import Recording
from eelgrass.reading.stack.rows import ErrorRow, FrameRows, ReturnRow, Row, UnsetRow, ValueRow


def handout(recording: Recording, step: int, title: str) -> str:
    """The module of a step as an HTML document: each line with its visits and its note; below, the call frames."""
    module = recording.module_at(step)
    heading = f"{title}, {recording.timeline.words(step)}"
    lines = "\n".join(_lines(recording, module, step))
    heads = "".join(f"<th>{its}</th>" for its in ("Line", "Visits", "Text", "What it did"))
    return document(
        heading,
        STYLE,
        f"<h1>{escape(title)}</h1>",
        f"<p>{escape(recording.timeline.words(step))}</p>",
        f'<table border="0" cellspacing="0" cellpadding="3">\n<tr>{heads}</tr>\n{lines}\n</table>',
        *map(_layer, recording.stack_rows.at(step)),
    )


def _lines(recording: Recording, module: int, step: int) -> Iterator[str]:
    counts, here = recording.visits.counts(module, step), recording.trace.line_of(step)
    for number, line in enumerate(recording.trace.program.modules[module].lines, 1):
        count, note = counts.get(number), recording.line_notes.of_line(module, number, step)
        visits = f"{count.so_far}/{count.in_all}" if count is not None and count.in_all else ""
        told = escape(note.text) if note is not None else ""
        text = escape(line).replace("  ", "&nbsp; ") or "&nbsp;"
        shown = f"<b>{text}</b>" if number == here else text
        shade = ' bgcolor="#e6e6e6"' if number == here else ""
        yield f"<tr{shade}><td>{number}</td><td>{visits}</td><td>{shown}</td><td><i>{told}</i></td></tr>"


def _layer(layer: FrameRows) -> str:
    rows = "\n".join(f"<tr><td>{escape(name)}</td><td>{escape(held)}</td></tr>" for name, held in _named(layer.rows))
    table = f'<table border="1" cellspacing="0" cellpadding="4">\n{rows}\n</table>' if rows else ""
    return f"<h2>{escape(layer.title)} ({escape(layer.detail)})</h2>\n{table}"


def _named(rows: list[Row]) -> Iterator[tuple[str, str]]:
    for row in rows:
        if isinstance(row, ValueRow):
            yield row.name, f"{row.was} → {row.shown}" if row.was else row.shown
        elif isinstance(row, (ReturnRow, ErrorRow)):
            yield row.name, row.text
        elif isinstance(row, UnsetRow):
            yield row.name, "no value yet" if not row.is_deleted else "deleted"
