"""What a page holds of a run, as its script reads it: lists of small numbers that lead into tables of what is told.

A *moment* is a place to stand at, counted from 0 on the page. `page.js` reads the fields by these names.
"""

from __future__ import annotations

from collections.abc import Hashable
from typing import Generic, TypeVar

import msgspec

_Row = TypeVar("_Row", bound=Hashable)


class Interned(Generic[_Row]):
    """A table in which each row stands once."""

    def __init__(self) -> None:
        self._numbers: dict[_Row, int] = {}
        self.rows: list[_Row] = []

    def number(self, row: _Row) -> int:
        """The place of a row, which is put there if it is new."""
        if row not in self._numbers:
            self._numbers[row] = len(self.rows)
            self.rows.append(row)
        return self._numbers[row]


class PageRow(msgspec.Struct, frozen=True, array_like=True):
    """A row of a layer. `kind`: heading, folded, more, unset, value, returns or error; `was` is what a name held
    before ('' where it is the same), `cells` are the short elements of a list, as (text, changed, tag)."""

    kind: str
    indent: int
    name: str
    type_word: str = ""
    text: str = ""
    was: str = ""
    changed: bool = False
    tag: str = ""
    cells: tuple[tuple[str, bool, str], ...] = ()


class PageLayer(msgspec.Struct, frozen=True, array_like=True):
    """A call frame: its title, its depth, whether it is the one that is on, and the numbers of its rows."""

    title: str
    depth: int
    active: bool
    rows: tuple[int, ...]


class PageNote(msgspec.Struct, frozen=True, array_like=True):
    """What a line did, whether that is trouble, and the same without what is still to come."""

    text: str
    trouble: bool
    so_far: str


class PageLine(msgspec.Struct, array_like=True):
    """A line of the text: its visits before the first moment and in all, the moments that visit it, the moment at which
    it is first reached (-1: it never is, -2: there is nothing to reach), and its notes as (moment, note) by turns, the
    note -1 where it has none."""

    before: int
    in_all: int
    visits: list[int]
    reached: int
    notes: list[int]


class PageBody(msgspec.Struct, frozen=True, array_like=True):
    """A call on the tide line: from one moment to another, at its depth."""

    name: str
    depth: int
    first: int
    last: int
    raised: bool


class PageOutput(msgspec.Struct, frozen=True, array_like=True):
    """A piece of output or input, and the moment from which it is there. `kind`: output, errors, typed or picture."""

    kind: str
    text: str
    moment: int


class PageStop(msgspec.Struct, frozen=True, array_like=True):
    """A stop of the route: its number, and what there is to say, in HTML."""

    moment: int
    number: int
    say: str


class PageQuestion(msgspec.Struct, frozen=True, array_like=True):
    """What is to be said first at a moment, as in `Prediction`, and what is told afterwards."""

    moment: int
    kind: str
    ask: str
    expected: str
    told: str


class PageRun(msgspec.Struct):
    """One run. By moment: `steps`, `files`, `lines`, `functions` (the place in `names`), `stands` (line: about to run,
    return, raise) and the moments that the moves lead to, as differences; `stacks` are (layer, place of what it is
    doing in `names`) by turns, outermost first."""

    title: str
    cut: str
    steps: list[int]
    files: list[int]
    lines: list[int]
    functions: list[int]
    stands: list[int]
    moves: dict[str, list[int]]
    stacks: list[list[int]]
    layers: list[PageLayer]
    rows: list[PageRow]
    names: list[str]
    notes: list[PageNote]
    text: list[dict[int, PageLine]]
    output: list[PageOutput]
    bodies: list[PageBody]
    raises: list[int]
    stops: list[PageStop]
    questions: list[PageQuestion]
