"""Pictures of data: what to draw for a value at a step, what has changed, and which index points where."""

from __future__ import annotations

import math
import unicodedata
from dataclasses import dataclass, field

from eelgrass.reading.pictures.index_pointers import Pointer, pointers_into
from eelgrass.reading.recording import Recording
from eelgrass.reading.state import insides, value_text
from eelgrass.reading.state.call_stack import bindings_of, stack_at
from eelgrass.reading.state.value_paths import value_at_path
from eelgrass.reading.state.value_text import brief
from eelgrass.trace.values import NOT_SET, Ref

#: So many cells of a row, rows of a grid and pairs are drawn; of larger ones, a part around where something happens.
MOST_CELLS = 40
MOST_ROWS = 16
MOST_NODES = 60
_CHARACTERS = 14
#: What cannot be seen, and the sign that stands for it.
_INVISIBLE = {" ": "␣", "\n": "↵", "\t": "⇥", "\r": "␍", "\xa0": "⍽"}


@dataclass(frozen=True)
class Cell:
    """One cell: its index or key, its text, whether it has changed since the line before, and the number of the object
    in it (-1: a plain value)."""

    key: str
    text: str
    changed: bool = False
    object: int = -1


@dataclass(frozen=True)
class Cells:
    """Cells in a row: `kind` "list", "tuple", "text" or "set". `first` is the index of the first one drawn, of `size`.
    `pointers` are the program's own indices into it; `swapped`, two places that have exchanged their values."""

    kind: str
    cells: list[Cell]
    first: int
    size: int
    pointers: list[Pointer] = field(default_factory=list)
    swapped: tuple[int, int] | None = None


@dataclass(frozen=True)
class Grid:
    """Rows of cells. `heat` has, for numbers, where each lies between the least and the greatest, from 0 to 1. Rows and
    columns of a table have names; others are counted."""

    rows: list[list[Cell]]
    first_row: int
    first_column: int
    size: tuple[int, int]
    row_pointers: list[Pointer]
    column_pointers: list[Pointer]
    heat: list[list[float]] | None = None
    row_names: list[str] = field(default_factory=list)
    column_names: list[str] = field(default_factory=list)


@dataclass(frozen=True)
class Pairs:
    """Keys with their values: a dictionary, or an object's fields under its type as `title`."""

    title: str
    pairs: list[Cell]
    size: int


@dataclass(frozen=True)
class Node:
    """One linked object: its number, type, plain fields, and the names that lead to it."""

    number: int
    title: str
    fields: list[Cell]
    names: list[str]


@dataclass(frozen=True)
class Link:
    """A field of one node that leads to another, both by their places among the nodes."""

    source: int
    target: int
    label: str
    changed: bool


@dataclass(frozen=True)
class Nodes:
    """Linked objects, from the first one outwards; `left_out` says how many more there are."""

    nodes: list[Node]
    links: list[Link]
    left_out: int


Shape = Cells | Grid | Pairs | Nodes


@dataclass(frozen=True)
class Picture:
    """What to draw for a path: a heading, and the shape; where there is none, `why` in words."""

    path: str
    title: str
    shape: Shape | None
    why: str = ""


def picture_of(recording: Recording, path: str, step: int) -> Picture:
    """The picture of what a path leads to at a step, seen from the innermost call that knows it."""
    trace = recording.trace
    for frame, _ in reversed(stack_at(trace, step)):
        value = value_at_path(trace, frame, path, step)
        if value != NOT_SET:
            artist = _Artist(recording, path, frame, step)
            title = f"{path}: {value_text.type_word(trace, value, step)}"
            shape = artist.shape(value)
            return Picture(path, title, shape, "" if shape else artist.why)
    return Picture(path, path, None, "It has no value here.")


class _Artist:
    """Makes the shape of one value; what has changed is told against the line before on the same level."""

    def __init__(self, recording: Recording, path: str, frame: int, step: int) -> None:
        self.recording = recording
        self.trace = recording.trace
        self.path = path
        self.frame = frame
        self.step = step
        before = recording.stepping.previous_in_frame(step)
        self.since = before if before >= 0 else recording.stepping.call_of(step)
        self.why = "There is nothing to draw of a single value."

    def shape(self, value: int) -> Shape | None:
        """What to draw."""
        got = self.trace.values.get(value)
        if isinstance(got, str):
            return self._text(got)
        if isinstance(got, list) and got and got[0] == "tuple":
            cells = [Cell(str(place), self._brief_told(part)) for place, part in enumerate(got[1:])]
            return Cells(
                "tuple", cells[:MOST_CELLS], 0, len(cells), pointers_into(self.recording, self.path, -1, self.step)
            )
        if not isinstance(got, Ref):
            return None
        kind = self.trace.objects.shape_of(got.number)
        if kind == "table":
            return self._table(got.number)
        if kind in ("list", "tuple", "array"):
            return self._array(got.number) if kind == "array" else self._list(got.number)
        if kind == "set":
            rows = insides.items(self.trace, got.number, self.step)
            size = len(rows) + insides.untold(self.trace, got.number, self.step)
            return Cells("set", [self._cell("", its, its) for _, its in rows[:MOST_CELLS]], 0, size)
        if kind == "dict":
            rows = insides.items(self.trace, got.number, self.step)
            size = len(rows) + insides.untold(self.trace, got.number, self.step)
            return Pairs("", [self._pair(got.number, key, its) for key, its in rows[:MOST_CELLS]], size)
        return self._object(got.number) if kind == "instance" else None

    # Cells

    def _text(self, text: str) -> Cells:
        pointers = pointers_into(self.recording, self.path, -1, self.step)
        first, end = _window(len(text), [place.index for place in pointers], MOST_CELLS)
        shown = text[first:end]
        cells = [Cell(str(first + place), _visible(character)) for place, character in enumerate(shown)]
        return Cells("text", cells, first, len(text), pointers)

    def _list(self, number: int) -> Cells | Grid:
        now = insides.beginning(self.trace, number, self.step)
        rows = [self._inner_list(value) for value in now]
        if rows and all(row is not None for row in rows) and any(rows):
            return self._grid(number, [row or [] for row in rows], now)
        before = insides.beginning(self.trace, number, self.since)
        pointers = pointers_into(self.recording, self.path, number, self.step)
        changed = [place for place, value in enumerate(now) if place >= len(before) or before[place] != value]
        first, end = _window(len(now), [*changed, *(its.index for its in pointers)], MOST_CELLS)
        cells = [
            self._cell(str(place), now[place], before[place] if place < len(before) else NOT_SET)
            for place in range(first, end)
        ]
        swapped = _swapped(before, now, changed)
        size = max(insides.size_of_object(self.trace, number, self.step), len(now))
        return Cells(self.trace.objects.shape_of(number), cells, first, size, pointers, swapped)

    def _cell(self, key: str, now: int, before: int) -> Cell:
        number = self.trace.values.object_of(now)
        histories = self.trace.histories
        changed = now != before or (number is not None and histories.written_inside(number, self.since, self.step))
        plain = self.trace.values.get(now) if now != NOT_SET else None
        is_short = type(plain) in (bool, float) or (type(plain) is int and -1_000_000 < plain < 1_000_000)
        text = repr(plain) if is_short else brief(self.trace, now, self.step, _CHARACTERS)
        return Cell(key, text, changed, -1 if number is None else number)

    def _pair(self, owner: int, key: int, now: int) -> Cell:
        before = dict(insides.items(self.trace, owner, self.since)).get(key, NOT_SET)
        return self._cell(value_text.text(self.trace, key, self.step, _CHARACTERS)[:_CHARACTERS], now, before)

    def _brief_told(self, told: object) -> str:
        text = str(told[1]) if isinstance(told, list) and told and told[0] == "int" else repr(told)
        return text if len(text) <= _CHARACTERS else text[: _CHARACTERS - 1] + "…"

    # Grids

    def _inner_list(self, value: int) -> list[int] | None:
        """The elements of a list in a list; None for anything else."""
        number = self.trace.values.object_of(value)
        if number is None or self.trace.objects.shape_of(number) != "list":
            return None
        return insides.beginning(self.trace, number, self.step)

    def _grid(self, number: int, rows: list[list[int]], owners: list[int]) -> Grid:
        across = pointers_into(self.recording, self.path, number, self.step, level=1)
        down = pointers_into(self.recording, self.path, number, self.step)
        first_row, end_row = _window(len(rows), [its.index for its in down], MOST_ROWS)
        widest = max(map(len, rows))
        first, end = _window(widest, [its.index for its in across], MOST_CELLS)
        drawn = []
        for place in range(first_row, end_row):
            inner = self.trace.values.object_of(owners[place])
            before = [] if inner is None else insides.beginning(self.trace, inner, self.since)
            drawn.append(
                [
                    self._cell(str(column), rows[place][column], before[column] if column < len(before) else NOT_SET)
                    for column in range(first, min(end, len(rows[place])))
                ]
            )
        return Grid(drawn, first_row, first, (len(rows), widest), down, across)

    def _array(self, number: int) -> Cells | Grid | None:
        """A NumPy array, as far as its elements were recorded."""
        sizes = insides.folding(self.trace, number, self.step)
        now = [value for _, value in insides.items(self.trace, number, self.step)]
        if not now and 0 not in sizes:
            self.why = "Of its elements none were recorded: they are too many, or of another kind."
            return None
        before = [value for _, value in insides.items(self.trace, number, self.since)]
        cells = [
            self._cell(str(place), value, before[place] if place < len(before) else NOT_SET)
            for place, value in enumerate(now)
        ]
        if len(sizes) != 2 or not cells:
            size = len(cells) + insides.untold(self.trace, number, self.step)
            pointers = pointers_into(self.recording, self.path, number, self.step)
            return Cells("list", cells[:MOST_CELLS], 0, size, pointers)
        width = sizes[1]
        height = min(sizes[0], MOST_ROWS, max(len(cells) // width, 1))
        rows = [cells[row * width : row * width + min(width, MOST_CELLS)] for row in range(height)]
        return Grid(rows, 0, 0, (sizes[0], width), [], [], self._heat(now, width, len(rows)))

    def _table(self, number: int) -> Pairs | Grid | None:
        """A table with its names, or one column under those of its rows, as far as they were recorded."""
        columns, rows = (insides.names(self.trace, number, its, self.step) for its in insides.NAMED)
        sizes = insides.folding(self.trace, number, self.step)
        before = dict(insides.items(self.trace, number, self.since))
        cells = [
            self._cell(self._key_text(key), its, before.get(key, NOT_SET))
            for key, its in insides.items(self.trace, number, self.step)
        ]
        if len(sizes) != 2 or len(cells) != len(rows) * len(columns):
            return Pairs("", cells[:MOST_CELLS], math.prod(sizes))
        width = len(columns)
        drawn = [cells[row * width : row * width + min(width, MOST_CELLS)] for row in range(min(len(rows), MOST_ROWS))]
        names = [list(map(str, rows[:MOST_ROWS])), list(map(str, columns[:MOST_CELLS]))]
        return Grid(drawn, 0, 0, (sizes[0], sizes[1]), [], [], None, *names)

    def _key_text(self, key: int) -> str:
        return str(self.trace.values.get(key))[:_CHARACTERS]

    def _heat(self, held: list[int], width: int, height: int) -> list[list[float]] | None:
        numbers = [self.trace.values.get(value) for value in held]
        if not all(isinstance(number, (int, float)) for number in numbers) or not numbers:
            return None
        if not all(map(math.isfinite, numbers)):
            return None
        least, most = min(numbers), max(numbers)
        scale = (most - least) or 1
        shares = [(number - least) / scale for number in numbers]
        return [shares[row * width : row * width + min(width, MOST_CELLS)] for row in range(height)]

    # Objects

    def _object(self, number: int) -> Pairs | Nodes:
        found = self._linked(number)
        if len(found) == 1:
            return Pairs(self.trace.objects.type_of(number), self._fields(number, frozenset()), len(found))
        return self._nodes(found)

    def _linked(self, root: int) -> list[int]:
        """The objects that fields lead to from one, the nearest first, in the order of the fields."""
        found, place = [root], 0
        while place < len(found) and len(found) <= 2 * MOST_NODES:
            found += [its for _, its in self._leads(found[place]) if its not in found]
            place += 1
        return found

    def _leads(self, number: int) -> list[tuple[str, int]]:
        """(label, object) for each field, or element of a list or dictionary in a field, that leads to an instance."""
        found: list[tuple[str, int]] = []
        for name, value in insides.fields(self.trace, number, self.step):
            inner = self.trace.values.object_of(value)
            if inner is None:
                continue
            if self.trace.objects.shape_of(inner) == "instance":
                found.append((name, inner))
            elif self.trace.objects.shape_of(inner) in ("list", "dict"):
                for key, held in insides.items(self.trace, inner, self.step, end=MOST_CELLS):
                    other = self.trace.values.object_of(held)
                    if other is not None and self.trace.objects.shape_of(other) == "instance":
                        found.append((f"{name}[{value_text.text(self.trace, key, self.step, 8)}]", other))
        return list(dict.fromkeys(found))

    def _fields(self, number: int, linked: frozenset[str]) -> list[Cell]:
        before = dict(insides.fields(self.trace, number, self.since))
        return [
            self._cell(name, value, before.get(name, NOT_SET))
            for name, value in insides.fields(self.trace, number, self.step)
            if name not in linked
        ]

    def _nodes(self, found: list[int]) -> Nodes:
        names: dict[int, list[str]] = {}
        for frame, _ in stack_at(self.trace, self.step):
            for binding in bindings_of(self.trace, frame, self.step):
                number = self.trace.values.object_of(binding.value) if binding.value != NOT_SET else None
                if number is not None and binding.name not in names.get(number, []):
                    names.setdefault(number, []).append(binding.name)
        shown = found[:MOST_NODES]
        place_of = {number: place for place, number in enumerate(shown)}
        nodes, links = [], []
        for place, number in enumerate(shown):
            leads = self._leads(number)
            linked = frozenset(label.partition("[")[0] for label, _ in leads)
            nodes.append(
                Node(number, self.trace.objects.type_of(number), self._fields(number, linked), names.get(number, []))
            )
            before = dict(insides.fields(self.trace, number, self.since))
            now = dict(insides.fields(self.trace, number, self.step))
            for label, other in leads:
                if other in place_of:
                    its = label.partition("[")[0]
                    links.append(Link(place, place_of[other], label, before.get(its) != now.get(its)))
        return Nodes(nodes, links, len(found) - len(shown))


def _window(size: int, places: list[int], most: int) -> tuple[int, int]:
    """(first, end) of the part of a long row that is drawn: around where something happens, else its beginning."""
    inside = [place for place in places if 0 <= place < size]
    if size <= most or not inside:
        return 0, min(size, most)
    first = min(max((min(inside) + max(inside)) // 2 - most // 2, 0), size - most)
    return first, first + most


def _swapped(before: list[int], now: list[int], changed: list[int]) -> tuple[int, int] | None:
    """The two places that have exchanged their values, when these are all that has changed."""
    if len(before) != len(now) or len(changed) != 2:
        return None
    one, other = changed
    return (one, other) if now[one] == before[other] and now[other] == before[one] else None


def _visible(character: str) -> str:
    sign = _INVISIBLE.get(character)
    if sign is not None:
        return sign
    hidden = unicodedata.category(character) in ("Cc", "Cf", "Cs", "Co", "Cn", "Zs", "Zl", "Zp", "Mn")
    return f"\\u{ord(character):04x}" if hidden else character
