"""What a widget of rows and columns holds: rows within rows, with a text and values."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, field
from typing import Any

from eelgrass.recorder.desk.language.words import TclError, as_text, split, whole

#: How wide a column is of which nothing is said, in pixels.
COLUMN = 200


@dataclass
class Row:
    """`above` is the row that it is within ('': none; None: it is taken out of the tree)."""

    above: str | None
    text: str = ""
    values: tuple[str, ...] = ()
    tags: tuple[str, ...] = ()
    is_open: bool = False
    image: str = ""
    within: list[str] = field(default_factory=list)


class Tree:
    """Its rows by name; '' is what is around all of them."""

    def __init__(self) -> None:
        self.rows: dict[str, Row] = {"": Row(None)}
        self.selected: list[str] = []
        self.focus = ""
        self.columns: dict[str, dict[str, Any]] = {}
        self.headings: dict[str, dict[str, Any]] = {}
        self._made = 0

    def row(self, name: Any) -> Row:
        """A row. Raises TclError."""
        found = self.rows.get(as_text(name))
        if found is None:
            raise TclError(f"Item {as_text(name)} not found")
        return found

    def place(self, index: Any, count: int) -> int:
        """Where among so many an index is."""
        return count if as_text(index) == "end" else min(max(whole(index), 0), count)

    def insert(self, above: str, index: Any, name: str | None, row: Row) -> str:
        """Puts a new row in, under a name of its own for None; gives that. Raises TclError."""
        around = self.row(above)
        if name in self.rows:
            raise TclError(f"Item {name} already exists")
        while name is None or name in self.rows:
            self._made += 1
            name = f"I{self._made:03X}"
        self.rows[name] = row
        around.within.insert(self.place(index, len(around.within)), name)
        return name

    def take_out(self, name: str) -> Row:
        """Takes a row out of the tree, with all that is in it. Raises TclError."""
        row = self.row(name)
        if row.above is not None:
            self.rows[row.above].within.remove(name)
        row.above = None
        return row

    def delete(self, name: str) -> None:
        """Takes it away, with all that is in it. Raises TclError."""
        row = self.take_out(name)
        for within in list(row.within):
            self.delete(within)
        del self.rows[name]
        self.focus = "" if self.focus == name else self.focus

    def in_order(self, above: str = "", only_open: bool = False) -> Iterator[tuple[int, str]]:
        """All rows as they stand below each other, each with how deep it is within others, from 0; or only those whose
        rows around them are open."""
        for name in self.rows[above].within:
            yield 0, name
            if self.rows[name].is_open or not only_open:
                yield from ((depth + 1, its) for depth, its in self.in_order(name, only_open))


def listed(value: Any) -> tuple[str, ...]:
    """The words of a list as texts."""
    return tuple(as_text(its) for its in split(value))
