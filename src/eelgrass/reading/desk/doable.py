"""What a person can do at a place of the simulated desk, by what is there."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from eelgrass.reading.desk.board_parts import BoardPart
from eelgrass.reading.desk.desk_states import DeskState

_WRITTEN_INTO = ("Entry", "Spinbox", "Text")
_TAB, _ROW = 90.0, 17.0
_OF_BUTTONS = ("Button", "Checkbutton", "Radiobutton")


@dataclass(frozen=True)
class Doable:
    """What is done, as acts have it, to what. Where `text` is None it is still to be asked for, from among `choices` if
    there are some; `at` is a place on a canvas as its program counts."""

    do: str
    on: str
    text: str | None = ""
    choices: tuple[str, ...] = ()
    at: tuple[float, float] | None = None


def doable(desk: DeskState, path: str, x: float, y: float) -> Doable:
    """What a click on a widget stands for, `x` and `y` pixels from its corner."""
    its = desk.widgets[path]
    kind = bare_kind(its)
    name = path.rpartition(".")[2].lstrip("!") or "."
    if kind in _WRITTEN_INTO:
        return Doable("type", name, None)
    if its.get("choices"):
        return Doable("choose", name, None, tuple(its["choices"]))
    if its.get("tabs"):
        return Doable("choose", name, its["tabs"][min(int(x / tab_width(its)), len(its["tabs"]) - 1)])
    if kind == "Listbox" and its.get("lines"):
        row = min(max(int(y / row_height(its)), 0), len(its["lines"]) - 1)
        return Doable("choose", name, its["lines"][row])
    if its.get("cells") is not None:
        return _in_table(its, name, x, y)
    if kind == "Scale" and "range" in its:
        return Doable("choose", name, _on_scale(its, x, y))
    if kind == "Canvas":
        return Doable("click", name, at=_on_canvas(its, x, y))
    words = str(its.get("words", ""))
    return Doable("click", words if words and kind in _OF_BUTTONS else name)


def bare_kind(its: dict[str, Any]) -> str:
    """The kind of a widget, of the themed ones, too."""
    kind = str(its.get("kind", ""))
    return kind if kind in ("Text", "Toplevel", "Treeview") else kind.removeprefix("T")


def doable_part(name: str, part: BoardPart, share: float) -> Doable | None:
    """What a click on a part of the board stands for, so far from its left; None for one that only shows something.
    A button that is pressed is let go soon."""
    pin = name.removeprefix("pin ")
    if part.kind == "pin" and part.mode == "in":
        return Doable("press", pin)
    if part.kind == "analog":
        return Doable("set", pin, f"{min(max(share, 0.0), 1.0):.0%}")
    return Doable("set", name, None) if part.kind == "sense" else None


def row_height(its: dict[str, Any]) -> float:
    """How high a row of a list or table is, in pixels."""
    return float(its.get("row", _ROW))


def column_edges(its: dict[str, Any]) -> list[float]:
    """Where the columns of a table begin, and the last one ends, in pixels: they share what room there is."""
    widths = [max(float(width), 1.0) for width in its.get("widths", ())]
    share = its["at"][2] / (sum(widths) or 1.0)
    return [share * sum(widths[:place]) for place in range(len(widths) + 1)]


def _in_table(its: dict[str, Any], name: str, x: float, y: float) -> Doable:
    """A title, or a row by what stands first in it."""
    titles, row = its.get("titles", []), int(y / row_height(its))
    if titles and row == 0:
        column = max(sum(edge <= x for edge in column_edges(its)) - 1, 0)
        return Doable("choose", name, titles[min(column, len(titles) - 1)])
    cells = its["cells"][min(max(row - bool(titles), 0), len(its["cells"]) - 1)] if its["cells"] else [""]
    return Doable("choose", name, next((cell.strip() for cell in cells if cell.strip()), ""))


def tab_width(its: dict[str, Any]) -> float:
    """How wide each tab of a widget with pages is, in pixels."""
    return float(min(_TAB, its["at"][2] / max(len(its["tabs"]), 1)))


def entries_of(desk: DeskState, window: str) -> tuple[str, ...]:
    """What can be chosen in the menus of a window."""
    menus = desk.widgets[window].get("menus", ())
    return tuple(its for title, labels in menus for its in (labels or (title,)))


def _on_scale(its: dict[str, Any], x: float, y: float) -> str:
    """The value at a place of a slider, as finely as it can be set."""
    (low, high, step), (_, _, width, height) = its["range"], its["at"]
    share = min(max((x / width if width >= height else y / height), 0.0), 1.0)
    value = low + share * (high - low)
    return f"{round(value / step) * step if step else value:g}"


def _on_canvas(its: dict[str, Any], x: float, y: float) -> tuple[float, float]:
    """A place on a canvas: a turtle's is counted from the middle, and upwards."""
    left, top = its.get("origin", (0, 0))
    return (round(x + left), round(-(y + top))) if its.get("from_middle") else (round(x), round(y))
