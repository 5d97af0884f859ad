"""Arrays and tables of packages: what is recorded after every change is what the program prints of them then."""

from __future__ import annotations

import ast
import random
from typing import Any

import pytest
from conftest import Record

from eelgrass.reading.pictures.shapes import Grid, picture_of
from eelgrass.reading.recording import Recording
from eelgrass.reading.state import insides, value_text
from eelgrass.reading.state.call_stack import value_of_name

_BEGIN = """
import numpy as np
import pandas as pd
sites = pd.DataFrame({"site": ["Mon", "Ana", "Reef"], "crabs": [4, 7, 2], "depth": [1.5, 0.25, 3.25]})
counts = pd.Series([3, 1, 2], index=["mon", "ana", "reef"])
grid = np.zeros((3, 4), dtype=int)
row = grid[1]
names = np.array(["Mon", "Ana", "Reef"], dtype=object)
days = np.array(["2026-01-02", "2026-02-03"], dtype="datetime64[D]")
pair = np.array([0.5, 1.5], dtype=np.float16)
def shown():
    print([sites.columns.tolist(), list(map(str, sites.index)), sites.values.tolist(), counts.to_dict(),
        grid.tolist(), row.tolist(), names.tolist(), days.astype("U").tolist(), pair.tolist()])
shown()
"""
_CHANGES = (
    *('sites["twice"] = sites["crabs"] * 2', 'sites.loc[sites.index[0], "crabs"] = {n}', "sites.iloc[-1, 1] = {n}"),
    *(
        'sites["crabs"] += {n}',
        'sites.sort_values("crabs", inplace=True)',
        "sites.reset_index(drop=True, inplace=True)",
    ),
    *(
        'sites = sites.rename(columns={{"twice": "double"}}) if "double" not in sites else sites',
        "sites = sites[::-1]",
        'sites.at[sites.index[1], "depth"] = {n}.5',
    ),
    *(
        "sites = pd.concat([sites, sites.head(1)], ignore_index=True)",
        "sites = sites.drop(sites.index[-1]) if len(sites) > 2 else sites",
    ),
    *('counts["new"] = {n}', "counts = counts.sort_values()", 'counts["mon"] += {n}', "counts.iloc[0] = {n}"),
    *(
        "grid[1, 2] = {n}",
        "grid += 1",
        "row[0] = {n}",
        "grid[:, 1] = {n}",
        "grid.sort(axis=0)",
        "row[:] = 0",
        "grid.fill({n})",
    ),
    *('names[0] = "Reef{n}"', "names[::-1].sort()", "days[0] += {n}", "pair *= 0.5", "np.add(grid, 1, out=grid)"),
)


def _program(seed: int) -> str:
    draw = random.Random(seed)
    changes = (draw.choice(_CHANGES).format(n=draw.randrange(9)) for _ in range(40))
    return _BEGIN + "".join(f"{change}\nshown()\n" for change in changes)


def _held(recording: Recording, name: str, step: int) -> tuple[list[Any], list[list[Any]]]:
    """(the elements of an array or table as they were recorded; the names of a table's columns and rows)."""
    trace = recording.trace
    number = trace.values.object_of(value_of_name(trace, 0, name, step))
    assert number is not None
    elements = [trace.values.get(value) for _, value in insides.items(trace, number, step)]
    elements = [None if its != its else its for its in elements]
    return elements, [insides.names(trace, number, its, step) for its in insides.NAMED]


def _flat(rows: list[list[Any]]) -> list[Any]:
    return [element for row in rows for element in row]


@pytest.mark.parametrize("seed", range(3))
def test_arrays_and_tables_are_right_after_every_change(record: Record, seed: int) -> None:
    recording = record(_program(seed))
    trace = recording.trace
    assert trace.outcome.outcome == "finished"
    printed = "".join(trace.texts.pieces).splitlines()
    printed = [line.replace("nan", "None") for line in printed if line.startswith("[[")]  # and no warnings
    calls = recording.visits.of_line(0, 1 + _BEGIN.split("\n").index("def shown():") + 1).tolist()
    assert len(printed) == 41 == len(calls)
    for call, line in zip(calls, printed, strict=True):
        columns, rows, cells, counts, grid, row, names, days, pair = ast.literal_eval(line)
        recorded, names_of = _held(recording, "sites", call)
        assert (names_of[0], [str(its) for its in names_of[1]], recorded) == (columns, rows, _flat(cells)), line
        recorded, names_of = _held(recording, "counts", call)
        assert dict(zip(names_of[1], recorded, strict=True)) == counts, line
        for name, wanted in (("grid", _flat(grid)), ("row", row), ("names", names), ("days", days), ("pair", pair)):
            assert _held(recording, name, call)[0] == wanted, (name, line)


def test_a_table_is_drawn_with_the_names_of_its_rows_and_columns(record: Record) -> None:
    source = (
        'import pandas as pd\nsites = pd.DataFrame({"crabs": [4, 7]}, index=["Mon", "Ana"])\n'
        'sites.loc["Ana", "crabs"] = 70\nprint()'
    )
    recording = record(source)
    last = len(recording.trace.steps) - 1
    picture = picture_of(recording, "sites", last)
    assert isinstance(picture.shape, Grid)
    assert (picture.title, picture.shape.row_names, picture.shape.column_names) == (
        "sites: DataFrame of 2 × 1",
        ["Mon", "Ana"],
        ["crabs"],
    )
    assert [[cell.text for cell in row] for row in picture.shape.rows] == [["4"], ["70"]]
    note = recording.line_notes.of_line(0, 3, last)
    assert note is not None
    assert note.did == "sites['Ana', 'crabs'] ← 70"


def test_of_an_unknown_build_of_table_nothing_is_shown_and_nothing_fails(record: Record) -> None:
    source = (
        "import sys, types\n"
        "class DataFrame:\n    __module__ = 'pandas'\n    def __init__(self):\n        self._mgr = 3\n"
        "sites = DataFrame()\nsites.crabs = 4\nprint(sites.crabs)"
    )
    trace = record(source).trace
    last = len(trace.steps) - 1
    value = value_of_name(trace, 0, "sites", last)
    assert (trace.outcome.outcome, value_text.type_word(trace, value, last)) == ("finished", "DataFrame")
