"""The call frames of a moment, with what can be opened in them."""

from __future__ import annotations

from dataclasses import replace

from eelgrass.export.pages.content import PageRow
from eelgrass.reading.recording import Recording
from eelgrass.reading.stack.rows import (
    ErrorRow,
    FoldedRow,
    FrameRows,
    HeadingRow,
    MoreRow,
    Path,
    ReturnRow,
    Row,
    UnsetRow,
    ValueRow,
)

#: So deep can be opened, and so many rows of a layer come along for it.
_DEEPEST, _MOST_ROWS = 3, 120
_KINDS = {
    HeadingRow: "heading",
    FoldedRow: "folded",
    MoreRow: "more",
    UnsetRow: "unset",
    ValueRow: "value",
    ReturnRow: "returns",
    ErrorRow: "error",
}


def opened_layers(recording: Recording, step: int) -> list[FrameRows]:
    """The layers at a step, each container and object as it looks closed, followed by what is in it; what a closed one
    tells anyway is not told twice."""
    opened, closed = frozenset[Path](), dict[Path, Row]()
    layers = recording.stack_rows.at(step)
    for _ in range(_DEEPEST):
        new = set[Path]()
        for layer in layers:
            room = _MOST_ROWS - len(layer.rows)
            for row in layer.rows:
                if isinstance(row, ValueRow) and row.can_open and not row.is_open and room > 0:
                    closed[row.path] = row
                    new.add(row.path)
                    room -= 1
        if not new:
            break
        opened |= new
        layers = recording.stack_rows.at(step, opened)
    return [
        replace(its, rows=_worth_opening([closed.get(row.path, row) if row.path else row for row in its.rows]))
        for its in layers
    ]


def _worth_opening(rows: list[Row]) -> list[Row]:
    kept, place = list[Row](), 0
    while place < len(rows):
        row = rows[place]
        end = next((its for its in range(place + 1, len(rows)) if rows[its].indent <= row.indent), len(rows))
        kept.append(row)
        inside = rows[place + 1 : end]
        place = end if isinstance(row, ValueRow) and _tells_all(row, inside) else place + 1
    return kept


def _tells_all(row: ValueRow, inside: list[Row]) -> bool:
    """Whether the elements of a container, which are plain values, can be read from its own row."""
    is_plain = all(isinstance(its, ValueRow) and not its.can_open for its in inside)
    return is_plain and (bool(row.cells) or (row.text[:1] in ("[", "(", "{") and "…" not in row.text))


def page_row(row: Row) -> PageRow:
    """A row as the page has it."""
    kind = "deleted" if isinstance(row, UnsetRow) and row.is_deleted else _KINDS[type(row)]
    if isinstance(row, ValueRow):
        cells = tuple((its.text, its.changed, its.tag or "") for its in row.cells)
        told = (row.type_word, row.text, row.was or "", row.changed, row.tag or "", cells)
        return PageRow(kind, row.indent, row.name, *told)
    if isinstance(row, ReturnRow):
        return PageRow(kind, row.indent, row.name, row.type_word, row.text)
    return PageRow(kind, row.indent, row.name, text=row.text if isinstance(row, ErrorRow) else "")
