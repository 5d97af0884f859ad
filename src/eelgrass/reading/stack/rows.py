"""The rows that Depths is made of: a layer for each call frame; in it names, elements, fields, with what they hold."""

from __future__ import annotations

from dataclasses import dataclass, field

#: Leads from a layer to a row: the frame, then names, keys and fields as text.
Path = tuple[str, ...]


@dataclass(frozen=True)
class Cell:
    """One element of a list that is shown as cells, with the tag of an object that something else leads to as well."""

    text: str
    changed: bool
    tag: str | None = None

    @property
    def characters(self) -> int:
        return len(self.text) + (len(self.tag) + 2 if self.tag else 0)


@dataclass(frozen=True)
class _Line:
    """What all rows have: the name at their beginning, how far it is indented, and where they lead."""

    name: str
    indent: int = 0
    path: Path = ()


@dataclass(frozen=True)
class HeadingRow(_Line):
    """The heading of a scope, or of the fields that belong to a class."""


@dataclass(frozen=True)
class FoldedRow(_Line):
    """Names that a beginner has no use for, in one line."""


@dataclass(frozen=True)
class MoreRow(_Line):
    """So many elements, or names, are left out; with a path, they can be had by opening it."""


@dataclass(frozen=True)
class UnsetRow(_Line):
    """A name that has no value: not assigned yet, or deleted."""

    is_deleted: bool = False


@dataclass(frozen=True)
class ValueRow(_Line):
    """A name, element or field with its value."""

    type_word: str = ""
    text: str = ""
    was: str | None = None
    changed: bool = False
    tag: str | None = None
    cells: tuple[Cell, ...] = ()
    can_open: bool = False
    is_open: bool = False

    @property
    def shown(self) -> str:
        """What it holds, in a line."""
        return f"[{', '.join(its.text for its in self.cells)}]" if self.cells else self.text


@dataclass(frozen=True)
class ReturnRow(_Line):
    """The value that a frame hands back."""

    type_word: str = ""
    text: str = ""


@dataclass(frozen=True)
class ErrorRow(_Line):
    """The exception that goes through a frame."""

    text: str = ""


Row = HeadingRow | FoldedRow | MoreRow | UnsetRow | ValueRow | ReturnRow | ErrorRow


@dataclass(frozen=True)
class FrameRows:
    """One call frame: its title, what it is doing, its rows; the innermost one is `active`. Where several threads have
    calls, these stand beside each other, each in a `lane` of so many `lanes` (-1: in none)."""

    frame: int
    title: str
    detail: str
    depth: int
    active: bool
    step: int
    rows: list[Row] = field(default_factory=list)
    lane: int = -1
    lanes: int = 0
