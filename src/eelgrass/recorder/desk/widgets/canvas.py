"""A canvas: its items, and what it is asked about them."""

from __future__ import annotations

import math
from typing import Any

from eelgrass.recorder.desk.language.colours import rgb
from eelgrass.recorder.desk.language.letters import anchored, font_scale, text_size
from eelgrass.recorder.desk.language.words import TclError, as_text, joined, number, options, split
from eelgrass.recorder.desk.widgets.shapes import Box, Shape, curve, rectangle

_DEFAULTS: dict[str, dict[str, Any]] = {
    "line": {"fill": "#000000", "width": 1.0},
    "polygon": {"fill": "#000000", "outline": "", "width": 1.0},
    "rectangle": {"fill": "", "outline": "#000000", "width": 1.0},
    "oval": {"fill": "", "outline": "#000000", "width": 1.0},
    "arc": {"fill": "", "outline": "#000000", "width": 1.0, "start": 0.0, "extent": 90.0, "style": "pieslice"},
    "text": {"fill": "#000000", "text": "", "anchor": "center", "font": "TkDefaultFont"},
    "image": {"image": "", "anchor": "center"},
    "bitmap": {"bitmap": "", "anchor": "center"},
    "window": {"window": "", "anchor": "center"},
}


#: The options that show.
_SHOWN = (
    *("fill", "outline", "width", "text", "anchor", "font", "smooth", "start", "extent", "style", "state", "arrow"),
    *("image", "dash"),
)
#: How many coordinates an item has, where that is always the same.
_COUNTS = {**dict.fromkeys(("rectangle", "oval", "arc"), 4), **dict.fromkeys(("text", "image", "bitmap", "window"), 2)}


def _upright(kind: str, coords: list[float]) -> list[float]:
    """Coordinates with the upper left corner first, where two corners are what there is."""
    if kind not in ("rectangle", "oval", "arc") or len(coords) != 4:
        return coords
    left, top, right, bottom = coords
    return [min(left, right), min(top, bottom), max(left, right), max(top, bottom)]


class Item:
    """One item: its kind, coordinates, options and tags."""

    def __init__(self, number_: int, kind: str, coords: list[float], given: dict[str, Any]) -> None:
        self.number = number_
        self.kind = kind
        self.coords = coords
        self.options: dict[str, Any] = {**_DEFAULTS[kind], **given}
        self.tags: list[str] = [as_text(its) for its in split(self.options.pop("tags", ""))]
        self.rank = number_  # how high it lies

    @property
    def is_hidden(self) -> bool:
        """Whether it is not shown."""
        return as_text(self.options.get("state")) == "hidden"

    def told(self) -> list[Any]:
        """What is told of it: kind, coordinates, the options that show, and how high it lies."""
        shown = {}
        for name in _SHOWN:
            value = self.options.get(name, "")
            if value != "" and (name in ("fill", "outline") or value != _DEFAULTS[self.kind].get(name, "")):
                shown[name] = as_text(value)
        return [self.kind, [round(its, 2) for its in self.coords], shown, self.rank]

    def box(self) -> Box:
        """The smallest upright rectangle around it."""
        if self.kind == "text":
            width, height = text_size(as_text(self.options["text"]).split("\n"), font_scale(self.options["font"]))
            left, top = anchored(as_text(self.options["anchor"]), width, height)
            x, y = self.coords[0] - left, self.coords[1] - top
            return x, y, x + width, y + height
        half = self._half
        if self.kind == "arc":
            across, down = map(list, zip(*self.shape().points, strict=True))
        else:
            across, down = self.coords[::2] or [0.0], self.coords[1::2] or [0.0]
        return min(across) - half, min(down) - half, max(across) + half, max(down) + half

    def shape(self) -> Shape:
        """The lines that it is made of; what has no line around it counts as filled."""
        its, half = self.coords, self._half
        is_filled = bool(as_text(self.options.get("fill", ""))) or not half
        if self.kind in ("text", "image", "bitmap", "window"):
            return rectangle(self.box(), True)
        if self.kind == "rectangle":
            return rectangle((its[0], its[1], its[2], its[3]), is_filled, half)
        if self.kind in ("oval", "arc"):
            start, extent = (number(self.options.get(name, 0)) for name in ("start", "extent"))
            whole = (0.0, 360.0, "oval") if self.kind == "oval" else (start, extent, as_text(self.options["style"]))
            return curve((its[0], its[1], its[2], its[3]), *whole, is_filled, half)
        points = list(zip(its[::2], its[1::2], strict=False))
        is_closed = self.kind == "polygon"
        return Shape([*points, points[0]] if is_closed and points else points, is_closed, half)

    @property
    def _half(self) -> float:
        """Half as wide as the lines around it, or of it."""
        is_drawn = as_text(self.options.get("outline", self.options.get("fill", "")))
        least = 1.0 if self.kind == "line" else 0.0
        return max(number(self.options.get("width", 0) or 0), least) / 2 if is_drawn else 0.0


class Canvas:
    """The items of one canvas, the lowest first."""

    def __init__(self) -> None:
        self.items: dict[int, Item] = {}
        self.changed: dict[int, None] = {}  # items that are to be told
        self.origin = [0.0, 0.0]  # what is at its upper left corner
        self.bindings: dict[str, dict[str, str]] = {}  # of items, by number and tag
        self._windows: dict[int, Item] = {}
        self.current: Item | None = None  # where the mouse is
        self._next, self._highest = 1, 0

    def call(self, command: str, words: tuple[Any, ...]) -> Any:
        """One of a canvas's commands. Raises TclError."""
        its = getattr(
            self, f"_{command.replace('itemconfig', 'itemconfigure') if command == 'itemconfig' else command}", None
        )
        if its is None:
            raise TclError(f'bad option "{command}"')
        return its(*words)

    def of(self, tag: Any) -> list[Item]:
        """The items by a number or tag, or by what `||`, `&&` and `!` make of several tags."""
        text = as_text(tag)
        if text.isdecimal():
            found = self.items.get(int(text))
            return [found] if found is not None else []
        if text == "all":
            return list(self.items.values())
        if not any(sign in text for sign in ("||", "&&", "!")):
            return [item for item in self.items.values() if text in item.tags]
        ways = [[one.strip() for one in part.split("&&")] for part in text.split("||")]
        return [item for item in self.items.values() if any(all(_is_tagged(item, its) for its in way) for way in ways)]

    def top_at(self, x: float, y: float) -> Item | None:
        """The highest item that is no more than a pixel from a place."""
        for item in reversed(self.items.values()):
            left, top, right, bottom = item.box()
            is_near = left - 1 <= x <= right + 1 and top - 1 <= y <= bottom + 1
            if is_near and not item.is_hidden and item.shape().distance((x, y)) <= 1:
                return item
        return None

    def pick(self, current: Item | None) -> None:
        """Another item is where the mouse is; it is called "current"."""
        if self.current is not None:
            self.current.tags = [its for its in self.current.tags if its != "current"]
        if current is not None and current.number in self.items:
            current.tags.append("current")
        self.current = current

    def windows(self) -> list[Item]:
        """The items that show a widget."""
        return list(self._windows.values())

    def changed_windows(self) -> list[Item]:
        """Those of them that have changed since they were told; one that is gone is given once."""
        found = [item for number_, item in self._windows.items() if number_ in self.changed]
        self._windows = {number_: item for number_, item in self._windows.items() if number_ in self.items}
        return found

    def _note(self, item: Item) -> None:
        self.changed[item.number] = None

    def _create(self, kind: Any, *words: Any) -> int:
        name, coords, place = as_text(kind), list[float](), 0
        if name not in _DEFAULTS:
            raise TclError(f'unknown or ambiguous item type "{name}"')
        flat = [
            part
            for word in words
            for part in (
                split(word) if not (isinstance(word, str) and word.startswith("-")) or _is_number(word) else (word,)
            )
        ]
        while place < len(flat) and (not isinstance(flat[place], str) or _is_number(flat[place])):
            coords.append(number(flat[place]))
            place += 1
        rest = _pairs(words)
        self._next += 1  # also where it comes to nothing
        item = Item(self._next - 1, name, _upright(name, coords), _checked(options(rest)))
        self._highest += 1
        item.rank = self._highest
        self.items[item.number] = item
        if name == "window":
            self._windows[item.number] = item
        self._note(item)
        return item.number

    def _coords(self, tag: Any, *words: Any) -> Any:
        found = self.of(tag)
        if not found:
            return ""
        if not words:
            return tuple(found[0].coords)
        given = [number(part) for word in words for part in split(word)]
        count = _COUNTS.get(found[0].kind)
        if count is not None and len(given) != count:
            raise TclError(f"wrong # coordinates: expected 0 or {count}, got {len(given)}")
        found[0].coords = _upright(found[0].kind, given)
        self._note(found[0])
        return ""

    def _itemconfigure(self, tag: Any, *words: Any) -> Any:
        found = self.of(tag)
        if len(words) < 2:
            item = found[0] if found else None
            names = [as_text(words[0]).lstrip("-")] if words else sorted(item.options if item else ())
            rows = [(f"-{name}", "", "", "", item.options.get(name, "") if item else "") for name in names]
            return rows[0] if words else tuple(rows)
        for item in found:
            given = _checked(options(words))
            if "tags" in given:
                item.tags = [as_text(its) for its in split(given.pop("tags"))]
            if any(item.options.get(name) != value for name, value in given.items()):
                item.options.update(given)
                self._note(item)
        return ""

    def _itemcget(self, tag: Any, option: Any) -> Any:
        found, name = self.of(tag), as_text(option).lstrip("-")
        if not found:
            return ""
        return joined(found[0].tags) if name == "tags" else found[0].options.get(name, "")

    def _delete(self, *tags: Any) -> str:
        for item in [its for tag in tags for its in self.of(tag)]:
            self.items.pop(item.number, None)
            self._note(item)
        return ""

    def _move(self, tag: Any, across: Any, down: Any) -> str:
        step = number(across), number(down)
        for item in self.of(tag):
            item.coords = [its + step[place % 2] for place, its in enumerate(item.coords)]
            self._note(item)
        return ""

    def _moveto(self, tag: Any, x: Any, y: Any) -> str:
        for item in self.of(tag):
            left, top, _, _ = item.box()
            self._move(item.number, number(x) - left if as_text(x) else 0, number(y) - top if as_text(y) else 0)
        return ""

    def _scale(self, tag: Any, x: Any, y: Any, across: Any, down: Any) -> str:
        origin, factor = (number(x), number(y)), (number(across), number(down))
        for item in self.of(tag):
            item.coords = [origin[n % 2] + (its - origin[n % 2]) * factor[n % 2] for n, its in enumerate(item.coords)]
            self._note(item)
        return ""

    def _bbox(self, *tags: Any) -> Any:
        boxes = [item.box() for tag in tags for item in self.of(tag)]
        if not boxes:
            return ""
        low, high = zip(*((box[:2], box[2:]) for box in boxes), strict=True)
        left, top = (min(part) for part in zip(*low, strict=True))
        right, bottom = (max(part) for part in zip(*high, strict=True))
        return math.floor(left), math.floor(top), math.ceil(right), math.ceil(bottom)

    def _type(self, tag: Any) -> str:
        found = self.of(tag)
        return found[0].kind if found else ""

    def _gettags(self, tag: Any) -> Any:
        found = self.of(tag)
        return tuple(found[0].tags) if found else ()

    def _addtag(self, tag: Any, how: Any, *words: Any) -> str:
        for number_ in self._find(how, *words):
            if as_text(tag) not in self.items[number_].tags:
                self.items[number_].tags.append(as_text(tag))
        return ""

    def _dtag(self, tag: Any, other: Any = None) -> str:
        name = as_text(tag if other is None else other)
        for item in self.of(tag):
            item.tags = [its for its in item.tags if its != name]
        return ""

    def _find(self, how: Any, *words: Any) -> tuple[int, ...]:
        way = as_text(how)
        if way == "all":
            return tuple(self.items)
        if way == "withtag":
            return tuple(item.number for item in self.of(words[0]))
        if way in ("overlapping", "enclosed"):
            left, top, right, bottom = map(number, words)
            shown = [item for item in self.items.values() if not item.is_hidden]
            if way == "overlapping":
                return tuple(item.number for item in shown if item.shape().reaches((left, top, right, bottom)))
            boxes = ((item.number, item.box()) for item in shown)
            return tuple(n for n, b in boxes if left <= b[0] and top <= b[1] and b[2] <= right and b[3] <= bottom)
        if way == "closest":
            return self._closest((number(words[0]), number(words[1])), *words[2:])
        order = list(self.items)
        found = self.of(words[0])
        place = order.index(found[0].number) + (1 if way == "above" else -1) if found else -1
        return (order[place],) if 0 <= place < len(order) else ()

    def _closest(self, place: tuple[float, float], halo: Any = 0, below: Any = None) -> tuple[int, ...]:
        """The item that is nearest, the highest of several; only those below one that is named."""
        its = [item for item in self.items.values() if not item.is_hidden]
        if below is not None and (found := self.of(below)):
            its = [item for item in its if item.rank < found[0].rank] or its
        far = {item.number: max(item.shape().distance(place) - number(halo), 0.0) for item in its}
        return (min(reversed(far), key=lambda its: far[its]),) if far else ()

    def _raise(self, tag: Any, above: Any = None) -> str:
        self._reorder(tag, above, 1)
        return ""

    def _lower(self, tag: Any, below: Any = None) -> str:
        self._reorder(tag, below, 0)
        return ""

    def _reorder(self, tag: Any, beside: Any, is_above: int) -> None:
        """Moves items above or below all others, or those that another tag has, which are in the same order still."""
        moved = {item.number: item for item in self.of(tag)}
        others = [item for item in self.items.values() if item.number not in moved]
        place = len(others) if is_above else 0
        if beside is not None:
            named = {item.number for item in self.of(beside)}
            wanted = [place for place, item in enumerate(others) if item.number in named]
            if not wanted:
                return
            place = wanted[-1] + 1 if is_above else wanted[0]
        order = [*others[:place], *moved.values(), *others[place:]]
        if [item.number for item in order] == list(self.items):
            return
        self.items = {item.number: item for item in order}
        highest = 0
        for item in order:
            if item.rank <= highest:
                item.rank = highest + 1
                self._note(item)
            highest = item.rank
        self._highest = max(self._highest, highest)

    def _canvasx(self, x: Any, _grid: Any = None) -> float:
        return number(x) + self.origin[0]

    def _canvasy(self, y: Any, _grid: Any = None) -> float:
        return number(y) + self.origin[1]

    def _focus(self, *_words: Any) -> str:
        return ""

    def _postscript(self, *_words: Any) -> str:
        return ""


def _is_tagged(item: Item, tag: str) -> bool:
    """Whether an item has a tag; with `!`, whether it has not."""
    return (tag.removeprefix("!").strip() in item.tags) != tag.startswith("!")


def _checked(given: dict[str, Any]) -> dict[str, Any]:
    """Options whose colours are some. Raises TclError."""
    for name in ("fill", "outline"):
        if as_text(given.get(name, "")):
            rgb(given[name])
    return given


def _is_number(word: str) -> bool:
    try:
        float(word)
    except ValueError:
        return False
    return True


def _pairs(words: tuple[Any, ...]) -> list[Any]:
    """The options at the end of some words."""
    for place, word in enumerate(words):
        if isinstance(word, str) and word.startswith("-") and not _is_number(word) and " " not in word.strip():
            return list(words[place:])
    return []
