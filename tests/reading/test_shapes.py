"""What is drawn of values: shapes, index pointers, the layout of linked nodes."""

from __future__ import annotations

from conftest import Record
from support.programs import DATA

from eelgrass.reading.expressions.expression import parse_expression
from eelgrass.reading.pictures.node_layout import places
from eelgrass.reading.pictures.shapes import Cells, Grid, Link, Node, Nodes, Pairs, picture_of
from eelgrass.reading.recording import Recording
from eelgrass.reading.watches import identity

ARRAYS = """\
import numpy as np
flat = np.arange(6.0).reshape(2, 3)
edge = flat[1]
edge[0] = 9
end = np.zeros((99, 99))
"""


def shape(recording: Recording, path: str, line: int, visit: int = 0) -> object:
    return picture_of(recording, path, int(recording.visits.of_line(0, line)[visit])).shape


def test_rows_of_cells_have_indices_pointers_and_swaps(record: Record) -> None:
    recording = record(DATA)
    after = int(recording.visits.of_line(0, 7)[1])
    levels = picture_of(recording, "levels", after).shape
    assert isinstance(levels, Cells)
    assert [(cell.key, cell.text, cell.changed) for cell in levels.cells] == [
        ("0", "1", True),
        ("1", "3", True),
        ("2", "2", False),
    ]
    assert levels.swapped == (0, 1)
    assert [(its.label, its.index, its.end) for its in levels.pointers] == [
        ("j", 0, -1),
        ("j + 1", 1, -1),
        ("1:j", 1, 0),
    ]
    word = shape(recording, "word", 15)
    assert isinstance(word, Cells)
    assert [cell.text for cell in word.cells] == ["a", "⇥", "b", "\\u200b"]
    pair = shape(recording, "pair", 25)
    assert isinstance(pair, Cells)
    assert [cell.text for cell in pair.cells] == ["1", "'x'"]


def test_large_ones_show_a_window_around_what_happens(record: Record) -> None:
    recording = record(DATA)
    many = shape(recording, "many", 23)
    assert isinstance(many, Cells)
    assert (many.first, len(many.cells), many.size) == (100, 40, 200)
    assert [cell.key for cell in many.cells if cell.changed] == ["120"]
    assert [its.label for its in many.pointers] == ["spot"]


def test_grids_dictionaries_sets_and_what_is_nothing(record: Record) -> None:
    recording = record(DATA)
    flats = shape(recording, "flats", 12, 2)
    assert isinstance(flats, Grid)
    assert [[cell.text + "*" * cell.changed for cell in row] for row in flats.rows] == [["9", "1"], ["2", "9*", "4"]]
    assert ([its.label for its in flats.row_pointers], flats.row_pointers[0].index) == (["row"], 1)
    assert [its.label for its in flats.column_pointers] == ["row"]
    counts = shape(recording, "counts", 17)
    assert isinstance(counts, Pairs)
    assert [(pair.key, pair.changed) for pair in counts.pairs] == [("'mud'", False), ("'reef'", True)]
    assert picture_of(recording, "nowhere", 0).why == "It has no value here."
    assert "nothing to draw" in picture_of(recording, "spot", recording.stepping.last()).why


def test_arrays_are_grids_with_their_numbers(record: Record) -> None:
    recording = record(ARRAYS)
    flat = shape(recording, "flat", 5)
    assert isinstance(flat, Grid)
    assert [[cell.text for cell in row] for row in flat.rows] == [["0.0", "1.0", "2.0"], ["9.0", "4.0", "5.0"]]
    assert flat.rows[1][0].changed, "though it was written through a view of it"
    assert flat.heat is not None
    assert flat.heat[1][0] == 1.0
    last = recording.stepping.last()
    large = picture_of(recording, "end", last).shape
    assert isinstance(large, Grid)
    assert (large.size, len(large.rows)) == ((99, 99), 10), "as many rows as were recorded"


def test_linked_nodes_with_names_and_circles(record: Record) -> None:
    recording = record(DATA)
    nodes = shape(recording, "first", 20)
    assert isinstance(nodes, Nodes)
    assert [(node.title, node.names, [cell.text for cell in node.fields]) for node in nodes.nodes] == [
        ("Tag", ["first"], ["'ti'", "[]"]),
        ("Tag", ["last"], ["'mo'", "None"]),
    ]
    assert [(link.source, link.target, link.label) for link in nodes.links] == [(0, 1, "after"), (1, 0, "mates[0]")]


def test_branches_do_not_cross_and_stay_where_they_are() -> None:
    tree = Nodes(
        [Node(number, "Bed", [], []) for number in range(6)],
        [Link(*ends, "bed", False) for ends in ((0, 1), (0, 2), (1, 3), (1, 4), (2, 5), (5, 0))],
        0,
    )
    found = places(tree)
    assert found == places(tree)
    rows: dict[float, list[tuple[float, int]]] = {}
    for node, (column, row) in enumerate(found):
        rows.setdefault(row, []).append((column, node))
    assert [[node for _, node in sorted(its)] for _, its in sorted(rows.items())] == [[0], [1, 2], [3, 4, 5]]
    assert all(len({column for column, _ in its}) == len(its) for its in rows.values())
    chain = Nodes(tree.nodes, [Link(place, place + 1, "next", False) for place in range(5)], 0)
    assert places(chain) == [(float(place), 0.0) for place in range(6)]


def test_one_object_or_two_equal_ones(record: Record) -> None:
    recording = record(DATA)
    at = int(recording.visits.of_line(0, 26)[0])
    asked = parse_expression("crew is mates")
    names = identity.asks_of_identity(asked)
    assert names == ("crew", "mates")
    told = identity.identity(recording, 0, *names, at)
    assert told.startswith("crew and mates are one and the same object since step ")
    assert "(line 25)" in told
    later = identity.identity(recording, 0, *names, recording.stepping.last())
    assert "two objects, equal at this step. They were one object until line 26" in later
    assert identity.identity(recording, 0, "crew", "nowhere", at) == ""
    assert identity.asks_of_identity(parse_expression("crew < mates")) is None
