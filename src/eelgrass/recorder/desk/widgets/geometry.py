"""Where widgets lie: how pack, grid and place share out the space of a window.

The two algorithms are Tk's, simplified: the cavity of the packer, from which each widget takes a slice; rows and
columns as large as what is in them, and what is left shared by weights. Letters are all taken to be as wide.
"""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from eelgrass.recorder.desk.language.words import as_text, number, split, whole
from eelgrass.recorder.desk.widgets.widget import Widget

_LETTER, _LINE = 7.2, 17.0
Size = tuple[float, float]


def font_scale(font: Any) -> float:
    """How large a font is, beside the usual one."""
    parts = split(font) if not isinstance(font, str) or " " in font else (font,)
    sizes = [abs(int(part)) for part in map(as_text, parts) if part.lstrip("-").isdecimal()]
    return sizes[0] / 10 if sizes else 1.0


class Geometry:
    """Lays out the widgets of one application; `children` gives those within one, in order."""

    def __init__(self, children: Callable[[Widget], list[Widget]], words_of: Callable[[Widget], str]) -> None:
        self._children = children
        self._words_of = words_of

    def lay_out(self, window: Widget) -> None:
        """Places everything in a window, which is as large as it was set to be, or as it needs to be."""
        width, height = self.wanted(window)
        if "x" in window.size:
            given = window.size.partition("+")[0].partition("-")[0].partition("x")
            width, height = float(whole(given[0] or 1)), float(whole(given[2] or 1))
        window.rect = (0.0, 0.0, max(width, 1.0), max(height, 1.0))
        self._place_within(window)

    def wanted(self, widget: Widget) -> Size:
        """How large a widget wants to be."""
        inside = [its for its in self._children(widget) if its.manager in ("pack", "grid")]
        if inside and widget.propagates and widget.class_ != "Canvas":
            border = widget.size_of("borderwidth") + widget.size_of("padx")
            packed = [its for its in inside if its.manager == "pack"]
            gridded = [its for its in inside if its.manager == "grid"]
            one, other = self._wanted_by_pack(packed), self._wanted_by_grid(widget, gridded)
            head = _LINE if widget.class_ in ("Labelframe", "TLabelframe") else 0.0
            return max(one[0], other[0]) + 2 * border, max(one[1], other[1]) + 2 * border + head
        return self._own(widget)

    def _own(self, widget: Widget) -> Size:
        class_, scale = widget.class_.removeprefix("T") if widget.kind.startswith("ttk") else widget.class_, 1.0
        scale = font_scale(widget.get("font"))
        letter, line = _LETTER * scale, _LINE * scale
        width, height = widget.size_of("width"), widget.size_of("height")
        border = 2 * (widget.size_of("borderwidth") + widget.size_of("highlightthickness"))
        if class_ in ("Frame", "Toplevel", "Tk", "Canvas", "Labelframe"):
            extra = border if class_ == "Canvas" else 0
            return max(width + extra, 1.0), max(height + extra, 1.0)
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
        text = max(map(len, lines)) * letter, len(lines) * line
        mark = 20.0 if class_ in ("Checkbutton", "Radiobutton") else 0.0
        padding = (2 * widget.size_of("padx"), 2 * widget.size_of("pady"))
        return (
            (width * letter if width else text[0]) + padding[0] + border + mark,
            (height * line if height else text[1]) + padding[1] + border,
        )

    # Pack

    def _wanted_by_pack(self, packed: list[Widget]) -> Size:
        width = height = most_width = most_height = 0.0
        for its in packed:
            own, (before, after), (above, below) = self._padded(its)
            if as_text(its.place.get("side", "top")) in ("top", "bottom"):
                most_width = max(most_width, own[0] + before + after + width)
                height += own[1] + above + below
            else:
                most_height = max(most_height, own[1] + above + below + height)
                width += own[0] + before + after
        return max(most_width, width), max(most_height, height)

    def _padded(self, widget: Widget) -> tuple[Size, Size, Size]:
        own, place = self.wanted(widget), widget.place
        inner = number(place.get("ipadx", 0)), number(place.get("ipady", 0))
        return (own[0] + 2 * inner[0], own[1] + 2 * inner[1]), _pair(place.get("padx", 0)), _pair(place.get("pady", 0))

    def _pack(self, packed: list[Widget], room: tuple[float, float, float, float]) -> None:
        x, y, width, height = room
        for place, its in enumerate(packed):
            side, fill = as_text(its.place.get("side", "top")), as_text(its.place.get("fill", "none"))
            own, (before, after), (above, below) = self._padded(its)
            is_down = side in ("top", "bottom")
            share = (
                self._share(packed[place:], is_down, height if is_down else width) if _is_set(its, "expand") else 0.0
            )
            slice_ = min(
                (own[1] + above + below if is_down else own[0] + before + after) + share, height if is_down else width
            )
            left, top = (
                (x, y) if side in ("top", "left") else (x, y + height - slice_) if is_down else (x + width - slice_, y)
            )
            slot = (width, slice_) if is_down else (slice_, height)
            if is_down:
                height -= slice_
                y += slice_ if side == "top" else 0
            else:
                width -= slice_
                x += slice_ if side == "left" else 0
            free = max(slot[0] - before - after, 1.0), max(slot[1] - above - below, 1.0)
            size = (
                free[0] if fill in ("x", "both") else min(own[0], free[0]),
                free[1] if fill in ("y", "both") else min(own[1], free[1]),
            )
            shift = _anchored(as_text(its.place.get("anchor", "center")), free[0] - size[0], free[1] - size[1])
            its.rect = (left + before + shift[0], top + above + shift[1], *size)

    def _share(self, rest: list[Widget], is_down: bool, room: float) -> float:
        along = [its for its in rest if (as_text(its.place.get("side", "top")) in ("top", "bottom")) == is_down]
        wanted = 0.0
        for its in along:
            own, across, down = self._padded(its)
            wanted += own[1] + sum(down) if is_down else own[0] + sum(across)
        expanding = sum(_is_set(its, "expand") for its in along)
        return max(room - wanted, 0.0) / max(expanding, 1)

    # Grid

    def _tracks(self, widget: Widget, gridded: list[Widget], is_row: bool) -> list[float]:
        """How large each row or column wants to be."""
        key, span_key = ("row", "rowspan") if is_row else ("column", "columnspan")
        axis = 1 if is_row else 0
        count = max((whole(its.place.get(key, 0)) + whole(its.place.get(span_key, 1)) for its in gridded), default=0)
        sizes = [number(widget.rows.get((key, place), {}).get("minsize", 0)) for place in range(count)]
        for its in sorted(gridded, key=lambda one: whole(one.place.get(span_key, 1))):
            own, *padding = self._padded(its)
            first, span = whole(its.place.get(key, 0)), whole(its.place.get(span_key, 1))
            missing = own[axis] + sum(padding[axis]) - sum(sizes[first : first + span])
            for place in range(first, first + span):
                sizes[place] += max(missing, 0.0) / span
        return sizes

    def _wanted_by_grid(self, widget: Widget, gridded: list[Widget]) -> Size:
        return sum(self._tracks(widget, gridded, False)), sum(self._tracks(widget, gridded, True))

    def _grid(self, widget: Widget, gridded: list[Widget], room: tuple[float, float, float, float]) -> None:
        starts: list[list[float]] = []
        for axis, key in enumerate(("column", "row")):
            sizes = self._tracks(widget, gridded, axis == 1)
            weights = [whole(widget.rows.get((key, place), {}).get("weight", 0)) for place in range(len(sizes))]
            left = room[2 + axis] - sum(sizes)
            if sum(weights) and left > 0:
                sizes = [size + left * weight / sum(weights) for size, weight in zip(sizes, weights, strict=True)]
                left = 0.0
            at = [room[axis] + max(left, 0.0) / 2 * (not sum(weights))]
            for size in sizes:
                at.append(at[-1] + size)
            starts.append(at)
        for its in gridded:
            cells = []
            for axis, (key, span_key) in enumerate((("column", "columnspan"), ("row", "rowspan"))):
                first = whole(its.place.get(key, 0))
                cells.append((starts[axis][first], starts[axis][first + whole(its.place.get(span_key, 1))]))
            own, *padding = self._padded(its)
            sticky, rect = as_text(its.place.get("sticky", "")).lower(), []
            for axis, (low, high) in enumerate((("w", "e"), ("n", "s"))):
                start, end = cells[axis][0] + padding[axis][0], cells[axis][1] - padding[axis][1]
                size = end - start if low in sticky and high in sticky else min(own[axis], end - start)
                free = end - start - size
                rect.append((start + (0 if low in sticky else free if high in sticky else free / 2), max(size, 1.0)))
            its.rect = (rect[0][0], rect[1][0], rect[0][1], rect[1][1])

    # All

    def _place_within(self, widget: Widget) -> None:
        inside, (_, _, width, height) = self._children(widget), widget.rect
        border = widget.size_of("borderwidth") + widget.size_of("padx") if widget.class_ != "Canvas" else 0.0
        head = _LINE if widget.class_ in ("Labelframe", "TLabelframe") else 0.0
        room = (border, border + head, max(width - 2 * border, 1.0), max(height - 2 * border - head, 1.0))
        self._pack([its for its in inside if its.manager == "pack"], room)
        gridded = [its for its in inside if its.manager == "grid"]
        if gridded:
            self._grid(widget, gridded, room)
        for its in inside:
            if its.manager == "place":
                self._put(its, width, height)
            if its.manager:
                self._place_within(its)

    def _put(self, its: Widget, width: float, height: float) -> None:
        own, place = self.wanted(its), {key: as_text(value) for key, value in its.place.items()}

        def at(name: str, whole_: float, otherwise: float) -> float:
            given, share = place.get(name, ""), place.get(f"rel{name}", "")
            return otherwise if not given and not share else number(given or 0) + float(share or 0) * whole_

        size = at("width", width, own[0]), at("height", height, own[1])
        shift = _anchored(place.get("anchor", "nw"), -size[0], -size[1])
        its.rect = (at("x", width, 0.0) + shift[0], at("y", height, 0.0) + shift[1], *size)


def _anchored(anchor: str, across: float, down: float) -> Size:
    x = 0.0 if "w" in anchor else across if "e" in anchor and anchor != "center" else across / 2
    y = 0.0 if "n" in anchor and anchor != "center" else down if "s" in anchor else down / 2
    return x, y


def _is_set(widget: Widget, name: str) -> bool:
    return as_text(widget.place.get(name, 0)).lower() in ("1", "yes", "true", "on")


def _pair(value: Any) -> Size:
    parts = [number(part) for part in split(value)] or [0.0]
    return parts[0], parts[-1]


def _wrapped(text: str, most: int) -> list[str]:
    lines, line = [], ""
    for word in text.split(" "):
        if line and len(line) + 1 + len(word) > most:
            lines.append(line)
            line = word
        else:
            line = f"{line} {word}" if line else word
    return [*lines, line]
