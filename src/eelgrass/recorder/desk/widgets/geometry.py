"""Where widgets lie: how large each wants to be, and how `pack`, `grid` and `place` share out the space of a window."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterable
from typing import Any

from eelgrass.recorder.desk.language.letters import LETTER, LINE, Size, anchored, font_scale, text_size
from eelgrass.recorder.desk.language.words import as_text, number, split, whole
from eelgrass.recorder.desk.widgets.gridding import Span, Track, boundaries, fitted
from eelgrass.recorder.desk.widgets.packing import Packed, Rect, arranged, wanted
from eelgrass.recorder.desk.widgets.tree import COLUMN, listed
from eelgrass.recorder.desk.widgets.widget import Widget

#: How wide and high a window is of which nothing is said.
_WINDOW = 200.0
#: How high the tabs above pages are, and how far from the edges a page lies.
_TABS, _PAGE_EDGE = 24, 2
#: How high a row of a tree is.
ROW = 20


class Geometry:
    """Lays out the widgets of one application; `widgets` gives all of them, in order."""

    def __init__(self, widgets: Callable[[], Iterable[Widget]], words_of: Callable[[Widget], str]) -> None:
        self._widgets = widgets
        self._words_of = words_of
        self._inside: dict[str, list[Widget]] = {}  # as they are now, with how large each wants to be
        self._sizes: dict[str, tuple[int, int]] = {}

    def lay_out(self, windows: Iterable[Widget]) -> None:
        """Places everything in windows, each as large as it was set to be, or as it needs to be."""
        self._look()
        for window in windows:
            self._lay_out(window)

    def wanted(self, widget: Widget) -> tuple[int, int]:
        """How large a widget wants to be."""
        self._look()
        return self._wanted(widget)

    def _look(self) -> None:
        self._inside, self._sizes = {}, {}
        for its in self._widgets():
            if its.path != "." and not its.is_window:
                self._inside.setdefault(its.around, []).append(its)
        for inside in self._inside.values():
            inside.sort(key=lambda its: its.order)

    def _children(self, widget: Widget) -> list[Widget]:
        return self._inside.get(widget.path, [])

    def _lay_out(self, window: Widget) -> None:
        width, height = self._wanted(window)
        if "x" in window.size:
            given = window.size.partition("+")[0].partition("-")[0].partition("x")
            width, height = whole(given[0] or 1), whole(given[2] or 1)
        window.rect = (0, 0, max(width, 1), max(height, 1))
        self._place_within(window)

    def _wanted(self, widget: Widget) -> tuple[int, int]:
        size = self._sizes.get(widget.path)
        if size is None:
            size = self._sizes[widget.path] = self._worked_out(widget)
        return size

    def _worked_out(self, widget: Widget) -> tuple[int, int]:
        pages = [self._wanted(its) for its in self._children(widget) if its.manager == "notebook"]
        if pages:
            widest, highest = (max(page[axis] for page in pages) for axis in range(2))
            return widest + 2 * _PAGE_EDGE, highest + _PAGE_EDGE + _TABS
        inside = [its for its in self._children(widget) if its.manager in ("pack", "grid")]
        if not inside or not widget.propagates:
            return widget.wanted_within or self._own(widget)
        gridded, (left, above) = [its for its in inside if its.manager == "grid"], self._borders(widget)
        packed = wanted(self._packed(inside))
        columns, rows = (self._ends(widget, gridded, axis)[0][-1] for axis in range(2)) if gridded else (0, 0)
        size = max(packed[0], columns) + 2 * left, max(packed[1], rows) + left + above
        widget.wanted_within = size
        return size

    def _own(self, widget: Widget) -> tuple[int, int]:
        width, height = self._own_size(widget)
        return math.ceil(width), math.ceil(height)

    def _own_size(self, widget: Widget) -> Size:
        class_, scale = widget.bare_class, font_scale(widget.get("font"))
        letter, line = LETTER * scale, LINE * scale
        width, height = widget.size_of("width"), widget.size_of("height")
        border = 2 * (widget.size_of("borderwidth") + widget.size_of("highlightthickness"))
        if class_ in ("Frame", "Toplevel", "Tk", "Canvas", "Labelframe"):
            extra, least = border if class_ == "Canvas" else 0, _WINDOW if widget.is_window else 1.0
            return (width or least) + extra, (height or least) + extra
        if class_ == "Treeview":
            titles = ROW if "headings" in (widget.text_of("show") or "headings") else 0
            return sum(shown_widths(widget)), (height or 10) * ROW + titles
        if class_ in ("Scale", "Scrollbar", "Progressbar"):
            long, thick = widget.size_of("length") or 100.0, 42.0 if class_ == "Scale" else 15.0
            return (long, thick) if widget.text_of("orient") == "horizontal" else (thick, long)
        if class_ in ("Entry", "Spinbox", "Combobox"):
            return (width or 20) * letter + border + 4, line + border + 2
        if class_ in ("Text", "Listbox"):
            return (width or 20) * letter + border + 2, (height or 10) * line + border + 2
        lines = self._words_of(widget).split("\n")
        wrap = widget.size_of("wraplength")
        if wrap:
            lines = [part for its in lines for part in _wrapped(its, max(int(wrap / letter), 1))]
        text = text_size(lines, scale)
        mark = 20.0 if class_ in ("Checkbutton", "Radiobutton") else 0.0
        padding = (2 * widget.size_of("padx"), 2 * widget.size_of("pady"))
        return (
            (width * letter if width else text[0]) + padding[0] + border + mark,
            (height * line if height else text[1]) + padding[1] + border,
        )

    # What is within

    def _packed(self, within: list[Widget]) -> list[Packed]:
        return [
            Packed(
                *self._padded(its),
                as_text(its.place.get("side", "top")),
                as_text(its.place.get("fill", "none")),
                as_text(its.place.get("anchor", "center")),
                _is_set(its, "expand"),
            )
            for its in within
            if its.manager == "pack"
        ]

    def _padded(self, widget: Widget) -> tuple[int, int, int, int, int, int]:
        """How large it wants to be with its inner padding, and the padding around it: left, right, above, below."""
        (width, height), place = self._wanted(widget), widget.place
        across, down = (2 * round(number(place.get(name, 0))) for name in ("ipadx", "ipady"))
        return width + across, height + down, *_pair(place.get("padx", 0)), *_pair(place.get("pady", 0))

    def _ends(self, widget: Widget, gridded: list[Widget], axis: int) -> tuple[list[int], list[Track]]:
        """Where the columns (axis 0) or rows end, as small as they can be, and what was said of them."""
        key, span_key = (("column", "columnspan"), ("row", "rowspan"))[axis]
        spans = []
        for its in gridded:
            first, count, padded = whole(its.place.get(key, 0)), whole(its.place.get(span_key, 1)), self._padded(its)
            spans.append(Span(first, count, padded[axis] + sum(padded[2 + 2 * axis : 4 + 2 * axis])))
        said = [place for name, place in widget.rows if name == key]
        count = max([0, *(its.first + its.over for its in spans), *(place + 1 for place in said)])
        tracks = [_track(widget.rows.get((key, place), {})) for place in range(count)]
        return boundaries(spans, tracks), tracks

    def _place_within(self, widget: Widget) -> None:
        inside = self._children(widget)
        if not inside:
            return
        left, above = self._borders(widget)
        width, height = widget.rect[2] - 2 * left, widget.rect[3] - left - above
        packed = [its for its in inside if its.manager == "pack"]
        for its, rect in zip(packed, arranged(self._packed(packed), (left, above, width, height)), strict=True):
            its.rect = rect or its.rect
        gridded = [its for its in inside if its.manager == "grid"]
        if gridded:
            self._grid(widget, gridded, (left, above, width, height))
        for its in inside:
            if its.manager in ("place", "canvas"):
                its.rect = self._put(its, widget)
            elif its.manager == "notebook":
                its.rect = _PAGE_EDGE, _TABS, widget.rect[2] - 2 * _PAGE_EDGE, widget.rect[3] - _PAGE_EDGE - _TABS
            if its.manager:
                self._place_within(its)

    def _grid(self, widget: Widget, gridded: list[Widget], room: Rect) -> None:
        ends = []
        for axis in range(2):
            found, tracks = self._ends(widget, gridded, axis)
            ends.append(fitted(found, tracks, room[2 + axis]))
        for its in gridded:
            padded, sticky, rect = self._padded(its), as_text(its.place.get("sticky", "")).lower(), []
            for axis, (key, span_key, sides) in enumerate((("column", "columnspan", "we"), ("row", "rowspan", "ns"))):
                first, (before, after) = whole(its.place.get(key, 0)), padded[2 + 2 * axis : 4 + 2 * axis]
                start, end = ends[axis][first] + before, ends[axis][first + whole(its.place.get(span_key, 1))] - after
                size = end - start if all(its in sticky for its in sides) else min(padded[axis], end - start)
                shift = 0 if sides[0] in sticky else end - start - size
                rect.append((room[axis] + start + (shift if sides[1] in sticky else shift // 2), size))
            if rect[0][1] > 0 and rect[1][1] > 0:
                its.rect = (rect[0][0], rect[1][0], rect[0][1], rect[1][1])

    def _put(self, its: Widget, around: Widget) -> Rect:
        """Where `place`, or a canvas, puts a widget."""
        place = {key: as_text(value) for key, value in its.place.items()}
        is_inside = its.manager == "place" and place.get("bordermode", "inside") == "inside"
        borders = self._borders(around) if is_inside else (0, 0)
        room = around.rect[2] - 2 * borders[0], around.rect[3] - borders[0] - borders[1]
        starts, sizes = [], []
        for axis, (at, size) in enumerate((("x", "width"), ("y", "height"))):
            start = number(place.get(at) or 0) + borders[axis] + float(place.get(f"rel{at}") or 0) * room[axis]
            starts.append(_rounded(start))
            if place.get(size) or place.get(f"rel{size}"):
                share = _rounded(start + float(place.get(f"rel{size}") or 0) * room[axis]) - starts[-1]
                sizes.append(round(number(place.get(size) or 0)) + (share if place.get(f"rel{size}") else 0))
            else:
                sizes.append(self._wanted(its)[axis])
        across, down = anchored(place.get("anchor", "nw"), *sizes)
        return starts[0] - int(across), starts[1] - int(down), max(sizes[0], 1), max(sizes[1], 1)

    def _borders(self, widget: Widget) -> tuple[int, int]:
        """How far from its edges others lie in a widget: at the sides and below, and above."""
        border = round(widget.size_of("borderwidth") + widget.size_of("highlightthickness") + widget.size_of("padx"))
        return border, border + (round(LINE) if widget.bare_class == "Labelframe" else 0)


def shown_widths(tree: Widget) -> list[float]:
    """How wide its columns are, that of the texts first, if that is shown."""
    names = listed(tree.get("columns"))
    shown = ["#0", *names] if "tree" in (tree.text_of("show") or "tree") else names
    return [float(tree.tree.columns.get(name, {}).get("width", COLUMN)) for name in shown]


def _is_set(widget: Widget, name: str) -> bool:
    return as_text(widget.place.get(name, 0)).lower() in ("1", "yes", "true", "on")


def _pair(value: Any) -> tuple[int, int]:
    parts = [round(number(part)) for part in split(value)] or [0]
    return parts[0], parts[-1]


def _track(said: dict[str, Any]) -> Track:
    least, weight, pad = (round(number(said.get(name, 0))) for name in ("minsize", "weight", "pad"))
    return Track(least, weight, pad, as_text(said.get("uniform", "")))


def _rounded(value: float) -> int:
    """To the nearest whole number, halves away from 0."""
    return int(value + (0.5 if value > 0 else -0.5))


def _wrapped(text: str, most: int) -> list[str]:
    lines, line = [], ""
    for word in text.split(" "):
        if line and len(line) + 1 + len(word) > most:
            lines.append(line)
            line = word
        else:
            line = f"{line} {word}" if line else word
    return [*lines, line]
