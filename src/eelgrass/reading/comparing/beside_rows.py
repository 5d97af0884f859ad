"""Depths with the values of another run beside those that differ."""

from __future__ import annotations

from dataclasses import replace

from eelgrass.reading.comparing.alignment import Alignment
from eelgrass.reading.stack.rows import ErrorRow, FrameRows, Path, ReturnRow, Row, UnsetRow, ValueRow

_NOTHING = "nothing"


def beside(layers: list[FrameRows], alignment: Alignment, step: int, opened: frozenset[Path]) -> list[FrameRows]:
    """The layers of a run at a step; where a value is another one in the other run, as `here 5.1 · there 7.8`."""
    theirs = alignment.b.stack_rows
    frames = alignment.frames
    turned = frozenset(_there(alignment, path) for path in opened if int(path[0]) in frames)
    there = {layer.frame: layer for layer in theirs.at(alignment.counterpart(step), turned)}
    return [_layer(layer, there.get(frames.get(layer.frame, -1)), alignment) for layer in layers]


def _there(alignment: Alignment, path: Path) -> Path:
    """The path in the other run to what a path leads to."""
    frame = int(path[0])
    function = int(alignment.a.trace.frames.function[frame])
    names = [alignment.names.of(function, name) for name in path[1:2]]
    return (str(alignment.frames[frame]), *names, *path[2:])


def _layer(layer: FrameRows, there: FrameRows | None, alignment: Alignment) -> FrameRows:
    if there is None:
        return layer
    texts = {(type(row) is ReturnRow, row.path or row.name): _text(row) for row in there.rows}
    rows = []
    for row in layer.rows:
        where = _there(alignment, row.path) if row.path else row.name
        rows.append(_row(row, texts.get((type(row) is ReturnRow, where), "")))
    return replace(layer, rows=rows)


def _text(row: Row) -> str:
    """What a row shows of a value; '' where it is about none."""
    if isinstance(row, UnsetRow):
        return _NOTHING
    if isinstance(row, ValueRow):
        return row.shown
    return row.text if isinstance(row, (ReturnRow, ErrorRow)) else ""


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
