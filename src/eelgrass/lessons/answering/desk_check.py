"""Desk checks: a trace table filled in by hand, and compared cell by cell."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field

from eelgrass.lessons.cases.literals import read_value
from eelgrass.lessons.judging.judging import alike
from eelgrass.reading.tables.trace_table import Cell, Table

#: Kinds of columns that are there to be filled in.
ASKED = ("name", "expression", "condition")
#: Rows further down are not compared.
MOST_ROWS = 2_000


@dataclass(frozen=True)
class Checked:
    """The cells, as (row, column), that are right and wrong; those left empty are neither, unless something should
    stand there: then they are missing. In the order of the table."""

    right: list[tuple[int, int]] = field(default_factory=list)
    wrong: list[tuple[int, int]] = field(default_factory=list)
    missing: list[tuple[int, int]] = field(default_factory=list)

    @property
    def first(self) -> tuple[int, int] | None:
        """The first cell that is wrong or missing."""
        return min([*self.wrong[:1], *self.missing[:1]], default=None)


def checked(table: Table, filled: Mapping[tuple[int, int], str]) -> Checked:
    """Compares what was filled in, up to the last row in which something was. A value that has not changed since the
    row before need not be written again."""
    last = max((row for row, _ in filled), default=-1)
    result = Checked()
    for row in range(min(last + 1, len(table.rows), MOST_ROWS)):
        for place, column in enumerate(table.columns):
            if column.kind not in ASKED:
                continue
            given, cell = filled.get((row, place), "").strip(), table.cell(row, place)
            if given:
                (result.right if is_right(given, cell) else result.wrong).append((row, place))
            elif cell.text and (cell.changed or column.kind == "condition"):
                result.missing.append((row, place))
    return result


def is_right(given: str, cell: Cell) -> bool:
    """Whether what was written for a cell is its value, however it is spelt."""
    if given == cell.text or (cell.text in ("true", "false") and given.lower() == cell.text):
        return True
    said, value = read_value(given), read_value(cell.text)
    return said is not None and value is not None and alike(said[0], value[0])
