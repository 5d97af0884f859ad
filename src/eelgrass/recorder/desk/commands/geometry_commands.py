"""The commands of pack, grid and place."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from eelgrass.recorder.desk.language.words import TclError, as_text, number, options, split, whole

if TYPE_CHECKING:
    from eelgrass.recorder.desk.application import Application
    from eelgrass.recorder.desk.widgets.widget import Widget

#: How a widget is placed of which nothing is said.
_PLACES: dict[str, dict[str, Any]] = {
    "pack": {
        **{"in": "", "anchor": "center", "expand": 0, "fill": "none", "ipadx": 0, "ipady": 0, "padx": 0, "pady": 0},
        "side": "top",
    },
    "grid": {
        **{
            "in": "",
            "column": 0,
            "row": 0,
            "columnspan": 1,
            "rowspan": 1,
            "ipadx": 0,
            "ipady": 0,
            "padx": 0,
            "pady": 0,
        },
        "sticky": "",
    },
    "place": {
        **{"in": "", "x": "0", "relx": "0", "y": "0", "rely": "0", "width": "", "relwidth": "", "height": ""},
        **{"relheight": "", "anchor": "nw", "bordermode": "inside"},
    },
}
_WORDS = {
    "side": ("side", ("top", "bottom", "left", "right"), "top, bottom, left, or right"),
    "fill": ("fill style", ("none", "x", "y", "both"), "none, x, y, or both"),
    "anchor": (
        "anchor",
        ("n", "ne", "e", "se", "s", "sw", "w", "nw", "center"),
        "n, ne, e, se, s, sw, w, nw, or center",
    ),
}


def check_place(given: dict[str, Any]) -> None:
    """Refuses what is no way of placing a widget. Raises TclError."""
    for name, value in given.items():
        text = as_text(value)
        if name in _WORDS:
            what, known, words = _WORDS[name]
            if not any(one.startswith(text) for one in known) or not text:
                raise TclError(f'bad {what} "{text}": must be {words}')
        elif name == "sticky" and not set(text.lower()) <= set("nesw, "):
            raise TclError(f'bad stickyness value "{text}": must be a string containing n, e, s, and/or w')
        elif name in ("row", "column") and not text.isdecimal():
            raise TclError(f'bad {name} value "{text}": must be a non-negative integer')
        elif name in ("rowspan", "columnspan") and not (text.isdecimal() and int(text)):
            raise TclError(f'bad {name} value "{text}": must be a positive integer')
        elif name in ("padx", "pady"):
            for part in split(value):
                number(part)
        elif name in ("ipadx", "ipady"):
            number(value)


class GeometryCommands:
    """Runs them for one application."""

    app: Application

    def _managed(self, manager: str, words: tuple[Any, ...]) -> Any:
        first = as_text(words[0])
        if first in ("forget", "remove"):
            for path in words[1:]:
                its = self.app.widget(path)
                if its.manager != manager:
                    continue
                its.manager = ""
                self.app.telling.changed(its.path)
            return ""
        if first == "info":
            its = self.app.widget(words[1])
            if its.manager != manager:
                return ()
            place = {**_PLACES[manager], **its.place, "in": its.around}
            return tuple(part for name, value in place.items() for part in (f"-{name}", value))
        if first in ("slaves", "content"):
            within = self.app.children(self.app.widget(words[1]))
            wanted = options(words[2:])
            return tuple(
                its.path
                for its in (within if manager == "pack" else reversed(within))
                if its.manager == manager
                and all(as_text(its.place.get(key, 0)) == as_text(one) for key, one in wanted.items())
            )
        if first == "propagate":
            its = self.app.widget(words[1])
            its.propagates = self.app.getboolean(words[2]) if len(words) > 2 else its.propagates
            return its.propagates if len(words) < 3 else ""
        if first == "anchor":
            return "nw"
        if first in ("columnconfigure", "rowconfigure", "size", "bbox", "location"):
            return self._track(first, words[1:])
        return self._take_in(manager, words[1:] if first == "configure" else words)

    def _take_in(self, manager: str, words: tuple[Any, ...]) -> str:
        count = next((place for place, word in enumerate(words) if as_text(word).startswith("-")), len(words))
        given = options(words[count:])
        check_place(given)
        for its in (self.app.widget(path) for path in words[:count]):
            around = as_text(given.get("in", its.parent))
            others = [
                one.manager for one in self.app.children(self.app.widget(around)) if one is not its and one.manager
            ]
            clash = {"pack": "grid", "grid": "pack"}.get(manager)
            if clash in others:
                raise TclError(
                    f"cannot use geometry manager {manager} inside {around} which already has slaves managed by {clash}"
                )
            its.place = {**(its.place if its.manager == manager else {}), **given}
            if manager == "grid" and "row" not in its.place:
                rows = [
                    whole(one.place.get("row", 0)) + whole(one.place.get("rowspan", 1))
                    for one in self._gridded(around, its)
                ]
                its.place["row"] = max(rows, default=0)
            beside = [(where, as_text(its.place.pop(where))) for where in ("before", "after") if where in its.place]
            if beside:
                self._put_beside(its, *beside[0])
            elif not its.manager:
                its.order = self.app.next_order()
            its.manager = manager
            self.app.telling.changed(its.path)
        return ""

    def _put_beside(self, its: Widget, where: str, path: str) -> None:
        """Before or after another one, in the order in which they are laid out."""
        beside = self.app.widget(path)
        others = [one for one in self.app.children(self.app.widget(beside.around)) if one is not its]
        others.insert(others.index(beside) + (where == "after"), its)
        for order, one in enumerate(others):
            one.order = order

    def _gridded(self, around: str, besides: Widget) -> list[Widget]:
        within = self.app.children(self.app.widget(around))
        return [one for one in within if one.manager == "grid" and one is not besides]

    def _track(self, what: str, words: tuple[Any, ...]) -> Any:
        its = self.app.widget(words[0])
        if what == "size":
            inside = self._gridded(its.path, its)
            return tuple(
                max((whole(one.place.get(key, 0)) + 1 for one in inside), default=0) for key in ("column", "row")
            )
        if what not in ("columnconfigure", "rowconfigure"):
            return (0, 0, 0, 0)
        key = what.removesuffix("configure")
        if len(words) < 4:
            told = {"minsize": 0, "pad": 0, "uniform": "", "weight": 0} | its.rows.get(
                (key, whole(split(words[1])[0])), {}
            )
            if len(words) == 3:
                return told.get(as_text(words[2]).lstrip("-"), "")
            return tuple(part for name, value in told.items() for part in (f"-{name}", value))
        for place in split(words[1]):
            its.rows.setdefault((key, whole(place)), {}).update(options(words[2:]))
        self.app.telling.changed(its.path)
        return ""

    def _pack(self, *words: Any) -> Any:
        return self._managed("pack", words)

    def _grid(self, *words: Any) -> Any:
        return self._managed("grid", words)

    def _place(self, *words: Any) -> Any:
        return self._managed("place", words)
