"""What the simulated desk looked like just before a step: windows, widgets, items of canvases.

What was told is a key and a state, one after the other; the desk at a step is the latest of each key before it. Every
so many changes a whole desk is kept, so that going to a step costs as much in a long run as in a short one.
"""

from __future__ import annotations

import json
from collections.abc import Iterator
from dataclasses import dataclass, field
from functools import cached_property, lru_cache
from typing import Any

import numpy as np

from eelgrass.reading.desk.board_parts import MARK, BoardPart, part_of
from eelgrass.trace.columns import Ints, find
from eelgrass.trace.model import Texts, Trace

_EVERY = 256
#: Of so many changes it is looked where they are.
_MOST_MEASURED = 4_000
_MOST_CHARACTERS = 100_000
_PART = f'["{MARK}'
_FARTHEST = 1e6  # from the corner, in pixels


@dataclass(frozen=True)
class Item:
    """An item of a canvas: its kind, coordinates, options, and how high it lies."""

    kind: str
    coords: tuple[float, ...]
    options: dict[str, str]
    rank: int


@dataclass(frozen=True)
class DeskState:
    """The desk at a step: the state of each widget by its path, in order, the items of each canvas, the lowest first,
    and the parts of the board by their names."""

    widgets: dict[str, dict[str, Any]]
    items: dict[str, list[Item]]
    parts: dict[str, BoardPart] = field(default_factory=dict)

    @property
    def windows(self) -> list[str]:
        """The paths of the windows that are open, the first one first."""
        return [
            path
            for path, its in self.widgets.items()
            if its.get("kind") == "Toplevel" and not its.get("closed") and not its.get("hidden")
        ]

    def at(self, path: str) -> tuple[float, float, float, float]:
        """Where a widget lies in its window: left, top, width, height."""
        its = self.widgets[path]
        x, y, width, height = its["at"]
        around = its.get("in", "")
        for _ in range(len(self.widgets)):
            if around not in self.widgets or self.widgets[around].get("kind") == "Toplevel":
                break
            x, y = x + self.widgets[around]["at"][0], y + self.widgets[around]["at"][1]
            around = self.widgets[around].get("in", "")
        return x, y, width, height

    def within(self, window: str) -> list[str]:
        """The widgets that lie in a window, those further out first."""
        inside = [path for path in self.widgets if path != window and self.window_of(path) == window]
        return sorted(inside, key=self._depth)

    def _depth(self, path: str) -> int:
        depth = 0
        while path in self.widgets and self.widgets[path].get("kind") != "Toplevel" and depth <= len(self.widgets):
            path, depth = str(self.widgets[path].get("in", ".")), depth + 1
        return depth

    def widget_at(self, window: str, x: float, y: float) -> tuple[str, float, float]:
        """The innermost widget at a place in a window, and where in it that is."""
        for path in reversed(self.within(window)):
            left, top, width, height = self.at(path)
            if left <= x <= left + width and top <= y <= top + height and not self.is_hidden(path):
                return path, x - left, y - top
        return window, x, y

    def is_hidden(self, path: str) -> bool:
        """Whether a widget, or one that it lies in, does not show."""
        its = self.widgets.get(path)
        for _ in range(len(self.widgets)):
            if its is None or its.get("kind") == "Toplevel":
                return False
            if its.get("hidden"):
                return True
            its = self.widgets.get(its.get("in", "."))
        return True

    def window_of(self, path: str) -> str:
        """The window that a widget lies in."""
        for _ in range(len(self.widgets)):
            if self.widgets.get(path, {}).get("kind") == "Toplevel":
                return path
            path = self.widgets.get(path, {}).get("in", ".")
        return "."


class DeskStates:
    """The desk of one recording."""

    def __init__(self, trace: Trace) -> None:
        self.trace = trace
        self._rows = np.flatnonzero(trace.texts.channel == Texts.DESK)
        self._kept: list[dict[str, Any]] = [{}]
        self.at_change = lru_cache(64)(self._at_change)

    @property
    def is_there(self) -> bool:
        """Whether the program had windows."""
        return bool(len(self._rows))

    @cached_property
    def has_board(self) -> bool:
        """Whether there are parts of a board."""
        return next(self.parts(), None) is not None

    @property
    def steps(self) -> Ints:
        """The steps during which it changed."""
        return self.trace.texts.step[self._rows]

    @cached_property
    def drawn(self) -> dict[str, tuple[float, float, float, float]]:
        """For each canvas that counts from its middle, the smallest rectangle around all that is ever drawn there, in
        its own coordinates: left, top, right, bottom."""
        found: dict[str, list[float]] = {}
        every = max(len(self._rows) // _MOST_MEASURED, 1)
        for row in self._rows[::every].tolist():
            told = _told(self.trace.texts.pieces[row])
            item = told[1] if told is not None else None
            if isinstance(item, Item) and item.kind != "image" and len(item.coords) >= 2 and any(item.coords):
                xs, ys = item.coords[::2], item.coords[1::2]
                box = found.setdefault(told[0].partition("#")[0] if told else "", [0.0, 0.0, 0.0, 0.0])
                room = 60 if item.kind == "text" else 12
                box[:2] = min(box[0], min(xs) - room), min(box[1], min(ys) - room)
                box[2:] = max(box[2], max(xs) + room), max(box[3], max(ys) + room)
        last = self.at(len(self.trace.steps) - 1).widgets
        turned = {path for path, its in last.items() if its.get("from_middle")}
        return {path: (box[0], box[1], box[2], box[3]) for path, box in found.items() if path in turned}

    def parts(self) -> Iterator[tuple[int, str, BoardPart]]:
        """The steps at which a part of the board was told to look so, in order."""
        for row in self._rows.tolist():
            text = self.trace.texts.pieces[row]
            # Looked at before it is read: a desk's items are many, and none of them is a part of a board.
            told = _told(text) if text.startswith(_PART) and len(text) <= _MOST_CHARACTERS else None
            if told is not None and isinstance(told[1], BoardPart):
                yield int(self.trace.texts.step[row]), told[0].removeprefix(MARK), told[1]

    def at(self, step: int) -> DeskState:
        """The desk just before a step; at the end of a run, at the end."""
        end = step + 1 if step >= len(self.trace.steps) - 1 else step
        return self.at_change(find(self.steps, end))

    def _at_change(self, count: int) -> DeskState:
        """The desk after so many changes."""
        while len(self._kept) * _EVERY <= count:
            self._kept.append(self._after(self._kept[-1], (len(self._kept) - 1) * _EVERY, len(self._kept) * _EVERY))
        place = count // _EVERY
        return _state(self._after(self._kept[place], place * _EVERY, count))

    def _after(self, before: dict[str, Any], first: int, end: int) -> dict[str, Any]:
        desk = dict(before)
        for row in self._rows[first:end].tolist():
            text = self.trace.texts.pieces[row]
            told = _told(text) if len(text) <= _MOST_CHARACTERS else None
            if told is None:
                continue
            key, state = told
            if state is None:
                desk.pop(key, None)
            else:
                desk[key] = state
        return desk


@lru_cache(4096)
def _told(text: str) -> tuple[str, Any] | None:
    """What was told, as far as it has the form that it should: a recording may be anybody's."""
    try:
        key, state = json.loads(text)
    except (ValueError, TypeError, RecursionError):
        return None
    if type(key) is not str:
        return None
    if key.startswith(MARK):
        part = part_of(state)
        return (key, part) if part is not None else None
    if "#" in key:
        return (key, _item(state)) if state is not None else (key, None)
    if state is None or key.startswith("?"):
        return key, state
    widget = _widget(state)
    return (key, widget) if widget is not None else None


_TEXTS = ("kind", "in", "words", "title", "background", "foreground", "relief", "font", "state", "anchor", "justify")
_FLAGS = ("hidden", "closed", "on", "focus", "from_middle")
#: Lists of numbers, and how many each has; lists of texts.
_NUMBERS = {"origin": 2, "range": 3}
_LISTS = ("lines", "choices", "tabs", "titles")


def _widget(state: Any) -> dict[str, Any] | None:
    """A widget's state, with all that has the form that it should; None where it lies nowhere."""
    if not isinstance(state, dict) or not _are_numbers(state.get("at"), 4):
        return None
    told = {name: str(state[name]) for name in _TEXTS if isinstance(state.get(name), str)}
    found: dict[str, Any] = {**told, **{name: True for name in _FLAGS if state.get(name) is True}, "at": state["at"]}
    found |= {name: state[name] for name, count in _NUMBERS.items() if _are_numbers(state.get(name), count)}
    found |= {name: [str(its) for its in state[name]] for name in _LISTS if isinstance(state.get(name), list)}
    if _are_numbers([state.get("row")], 1) and state["row"] > 1:
        found["row"] = float(state["row"])
    widths = state.get("widths")
    if isinstance(widths, list) and _are_numbers(widths, len(widths)):
        found["widths"] = widths
    if isinstance(state.get("cells"), list):
        found["cells"] = [[str(cell) for cell in row] for row in state["cells"] if isinstance(row, list)]
    if isinstance(state.get("menus"), list):
        found["menus"] = [(str(its[0]), [str(one) for one in its[1]]) for its in state["menus"] if _is_menu(its)]
    if isinstance(state.get("share"), (int, float)):
        found["share"] = min(max(float(state["share"]), 0.0), 1.0)
    if isinstance(state.get("chosen"), list):
        found["chosen"] = [one for one in state["chosen"] if type(one) is int]
    return found


def _is_menu(told: Any) -> bool:
    return isinstance(told, list) and len(told) == 2 and isinstance(told[1], list)


def _are_numbers(told: Any, count: int) -> bool:
    return (
        isinstance(told, list)
        and len(told) == count
        and all(isinstance(part, (int, float)) and abs(part) < _FARTHEST for part in told)
    )


def _item(state: Any) -> Item | None:
    if not (isinstance(state, list) and len(state) == 4 and isinstance(state[1], list) and isinstance(state[2], dict)):
        return None
    kind, coords, options, rank = state
    if type(kind) is not str or type(rank) is not int or len(coords) % 2:
        return None
    if not all(isinstance(part, (int, float)) and abs(part) < 1e7 for part in coords):
        return None
    return Item(kind, tuple(map(float, coords)), {str(name): str(value) for name, value in options.items()}, rank)


def _state(desk: dict[str, Any]) -> DeskState:
    widgets = {key: its for key, its in desk.items() if isinstance(its, dict) and not key.startswith("?")}
    items: dict[str, list[Item]] = {}
    for key, its in desk.items():
        if isinstance(its, Item):
            items.setdefault(key.partition("#")[0], []).append(its)
    for one in items.values():
        one.sort(key=lambda its: its.rank)
    parts = {key.removeprefix(MARK): its for key, its in desk.items() if isinstance(its, BoardPart)}
    return DeskState(widgets, items, parts)
