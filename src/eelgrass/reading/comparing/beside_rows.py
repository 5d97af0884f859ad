"""Depths with the values of another run beside those that differ."""

from __future__ import annotations

from dataclasses import replace

from eelgrass.reading.comparing.alignment import Alignment
from eelgrass.reading.stack.stack_rows import ErrorRow, FrameRows, Path, ReturnRow, Row, UnsetRow, ValueRow

_NOTHING = "nothing"


def beside(layers: list[FrameRows], alignment: Alignment, step: int, opened: frozenset[Path]) -> list[FrameRows]:
    """The layers of a run at a step; where a value is another one in the other run, as `here 5.1 · there 7.8`."""
    theirs = alignment.b.stack_rows
    turned = frozenset(
        (str(alignment.frames[int(path[0])]), *path[1:]) for path in opened if int(path[0]) in alignment.frames
    )
    there = {layer.frame: layer for layer in theirs.at(alignment.counterpart(step), turned)}
    return [_layer(layer, there.get(alignment.frames.get(layer.frame, -1))) for layer in layers]


def _layer(layer: FrameRows, there: FrameRows | None) -> FrameRows:
    if there is None:
        return layer
    texts = {(type(row) is ReturnRow, row.path[1:], row.name): _text(row) for row in there.rows}
    rows = [_row(row, texts.get((type(row) is ReturnRow, row.path[1:], row.name), "")) for row in layer.rows]
    return replace(layer, rows=rows)


def _text(row: Row) -> str:
    """What a row shows of a value; '' where it is about none."""
    if isinstance(row, UnsetRow):
        return _NOTHING
    if isinstance(row, ValueRow) and row.cells:
        return f"[{', '.join(cell.text for cell in row.cells)}]"
    return row.text if isinstance(row, (ValueRow, ReturnRow, ErrorRow)) else ""


def _row(row: Row, there: str) -> Row:
    here = _text(row)
    if not here or (there or _NOTHING) == here:
        return row
    text = f"here {here} · there {there or _NOTHING}"
    if isinstance(row, (ReturnRow, ErrorRow)):
        return replace(row, text=text)
    if isinstance(row, ValueRow):
        return replace(row, text=text, was=None, cells=(), tag=None)
    return ValueRow(row.name, row.indent, row.path, "", text)
