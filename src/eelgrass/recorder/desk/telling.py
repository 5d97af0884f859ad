"""Telling what the desk looks like: for each widget and each item of a canvas, whenever it looks different."""

from __future__ import annotations

import json
from collections.abc import Callable, Iterable
from itertools import islice
from typing import TYPE_CHECKING, Any

from eelgrass.recorder.desk.commands.notebooks import shown
from eelgrass.recorder.desk.events.bindings import Event
from eelgrass.recorder.desk.language.colours import rgb
from eelgrass.recorder.desk.language.letters import LINE, font_scale
from eelgrass.recorder.desk.language.words import TclError, as_text, split
from eelgrass.recorder.desk.widgets.geometry import ROW, shown_widths
from eelgrass.recorder.desk.widgets.tree import listed

if TYPE_CHECKING:
    from eelgrass.recorder.desk.application import Application
    from eelgrass.recorder.desk.widgets.widget import Widget


#: So often what hears of new sizes may change sizes.
_MOST_ROUNDS = 3
#: So many rows of a tree are told.
_MOST_ROWS = 200


class Telling:
    """`tell(text)` takes a JSON text: a key and what is there now, null for nothing more; `tell_cause(words)` what
    calls a function of the program next."""

    def __init__(self, tell: Callable[[str], None], tell_cause: Callable[[str], None]) -> None:
        self._tell, self._tell_cause = tell, tell_cause
        self._told: dict[str, str] = {}
        self._changed: dict[str, None] = {}
        self._cause = ""
        self._asked = 0
        self._is_kept = False
        self._rects: dict[str, tuple[float, ...]] = {}
        self.changes = 0  # how many there were

    def changed(self, path: str) -> None:
        """A widget may look different, and so may lie what is around it."""
        self._changed[path] = None
        self.changes += 1

    def gone(self, path: str, items: Iterable[int]) -> None:
        """A widget is there no longer, nor are these items of it."""
        self._changed.pop(path, None)
        self._rects.pop(path, None)
        self.changes += 1
        for key in (path, *(f"{path}#{number}" for number in items)):
            self.say(key, "null")

    def keep(self) -> None:
        """What is on view stays so: the script has come to its end."""
        self._is_kept = True

    def because(self, words: str) -> None:
        """What happens next is because of this."""
        self._cause = words

    def cause(self, words: str) -> None:
        """A function of the program is about to be called."""
        self._tell_cause(self._cause or words)

    def answered(self, words: str, answer: str) -> None:
        """A question was put, and answered."""
        self._asked += 1
        self._tell(json.dumps([f"?{self._asked}", {"kind": "question", "words": words, "answer": answer}]))

    def tell(self, its: Application) -> None:
        """Tells what looks different since it was last told."""
        its.is_displayed = True
        if self._changed and not its.is_over:
            different = self._lay_out(its)
            for widget in [one for one in its.widgets.values() if one.path in different or one.get("menu")]:
                self.say(widget.path, json.dumps(_state(its, widget)))
        for path, canvas in its.canvases.items():
            for number in list(canvas.changed):
                item = canvas.items.get(number)
                self.say(f"{path}#{number}", "null" if item is None else json.dumps(_item(item.told())))
            canvas.changed.clear()

    def _lay_out(self, its: Application) -> set[str]:
        """Places everything; gives the paths of what may look different: what has changed, and what lies elsewhere."""
        different: set[str] = set()
        for _ in range(_MOST_ROUNDS):
            different.update(self._changed)
            self._changed.clear()
            its.lay_out()
            for widget in [one for one in its.widgets.values() if self._rects.get(one.path) != one.rect]:
                before, self._rects[widget.path] = self._rects.get(widget.path), widget.rect
                different.add(widget.path)
                is_shown = widget.manager or widget.is_window
                if is_shown and (before is None or before[2:] != widget.rect[2:]):  # who wants to know hears of it
                    its.happen(widget, Event("Configure"))
            if not self._changed:
                break
        self._changed.clear()
        return different

    def say(self, key: str, state: str) -> None:
        """Tells the state of a key, as JSON, if it is another than was told."""
        if not self._is_kept and self._told.get(key, "null") != state:
            self._told[key] = state
            self._tell(f"[{json.dumps(key)}, {state}]")


def _item(told: list[Any]) -> list[Any]:
    for name in ("fill", "outline"):
        if name in told[2]:
            told[2][name] = colour(told[2][name])
    return told


def colour(value: Any) -> str:
    """A colour as `#rrggbb`; '' for none that is known."""
    try:
        return "#{:02x}{:02x}{:02x}".format(*rgb(value)) if as_text(value) else ""
    except TclError:
        return ""


def _state(its: Application, widget: Widget) -> dict[str, Any]:
    x, y, width, height = (round(part, 1) for part in widget.rect)
    state: dict[str, Any] = {
        "kind": "Toplevel" if widget.is_window else widget.class_,
        "at": [x, y, width, height],
        "in": widget.around,
    }
    if not (widget.manager or widget.is_window) or not widget.is_shown or its.is_behind(widget):
        state["hidden"] = True
    for name, value in (
        *(("background", colour(widget.get("background"))), ("foreground", colour(widget.get("foreground")))),
        *(("words", its.words_of(widget)), ("relief", widget.text_of("relief")), ("font", as_text(widget.get("font")))),
        *(
            ("state", widget.text_of("state")),
            ("anchor", widget.text_of("anchor")),
            ("justify", widget.text_of("justify")),
        ),
    ):
        if value and (name, value) not in _USUAL:
            state[name] = value
    _tell_kind(its, widget, state)
    return state


def _tell_kind(its: Application, widget: Widget, state: dict[str, Any]) -> None:
    """What only some kinds of widgets have to tell."""
    if widget.is_window:
        state["title"] = widget.title
        state["closed"] = not widget.is_shown
    if widget.class_ in ("Checkbutton", "TCheckbutton"):
        state["on"] = as_text(its.variables.get(widget.text_of("variable"), "")) == widget.text_of("onvalue")
    if widget.class_ in ("Radiobutton", "TRadiobutton"):
        state["on"] = as_text(its.variables.get(widget.text_of("variable"), "")) == widget.text_of("value")
    if widget.class_ in ("Scale", "TScale", "TProgressbar"):
        low, high = float(widget.get("from") or 0), float(widget.get("to") or widget.get("maximum") or 100)
        now = float(its.variables.get(widget.text_of("variable"), widget.get("value") or low) or 0)
        state["share"], state["words"] = round((now - low) / ((high - low) or 1), 3), f"{now:g}"
        if widget.bare_class == "Scale":
            state["range"] = [low, high, float(widget.get("resolution") or 0) if widget.class_ == "Scale" else 0.0]
    if widget.class_ == "Listbox":
        state["lines"], state["chosen"] = [as_text(one) for one in widget.lines[:200]], sorted(widget.selected)
        state["row"] = LINE * font_scale(widget.get("font"))
    if widget.class_ == "Canvas":
        state["origin"] = [round(part, 1) for part in its.canvases[widget.path].origin]
        state["from_middle"] = its.is_from_middle(widget)
    _tell_choices(its, widget, state)
    if widget.text_of("show") and "words" in state:
        state["words"] = widget.text_of("show") * len(state["words"])
    if its.focus == widget.path and widget.shows_text:
        state["focus"] = True


def _tell_choices(its: Application, widget: Widget, state: dict[str, Any]) -> None:
    """What can be chosen there."""
    if widget.class_ == "Treeview":
        _tell_tree(widget, state)
    if widget.class_ == "TNotebook":
        state["tabs"] = [as_text(page["text"]) for page in widget.entries]
        paths = [page["path"] for page in widget.entries]
        state["chosen"] = [paths.index(shown(widget))] if shown(widget) in paths else []
    if widget.class_ == "TCombobox":
        state["choices"] = [as_text(one) for one in split(widget.get("values"))]
    menu = its.widgets.get(widget.text_of("menu")) if widget.text_of("menu") else None
    if menu is not None and widget.is_window:
        state["menus"] = [[as_text(one.get("label", "")), _labels(its, one.get("menu"))] for one in menu.entries]
    elif menu is not None:
        state["choices"] = _labels(its, menu.path)


def _tell_tree(widget: Widget, state: dict[str, Any]) -> None:
    """Its titles, the widths of its columns, and what stands in them."""
    tree, names = widget.tree, listed(widget.get("columns"))
    show = widget.text_of("show") or "tree headings"
    columns = ["#0", *names] if "tree" in show else names
    rows = list(islice(tree.in_order(only_open=True), _MOST_ROWS))
    state["widths"], state["row"] = shown_widths(widget), ROW
    titles = [as_text(tree.headings.get(name, {}).get("text", "")) for name in columns]
    state["titles"] = titles if "headings" in show else []
    state["chosen"] = [place for place, (_, name) in enumerate(rows) if name in tree.selected]
    cells = []
    for depth, name in rows:
        its = tree.rows[name]
        values = [*its.values, *[""] * len(names)][: len(names)]
        cells.append([f"{'    ' * depth}{its.text}", *values] if "tree" in show else values)
    state["cells"] = cells


def _labels(its: Application, path: Any) -> list[str]:
    """What stands in a menu."""
    menu = its.widgets.get(as_text(path))
    return [as_text(one["label"]) for one in menu.entries if one.get("label")] if menu is not None else []


_USUAL = {
    *(
        ("background", "#d9d9d9"),
        ("foreground", "#000000"),
        ("relief", "flat"),
        ("state", "normal"),
        ("anchor", "center"),
    ),
    *(("justify", "center"), ("font", "TkDefaultFont"), ("font", "TkTextFont")),
}
