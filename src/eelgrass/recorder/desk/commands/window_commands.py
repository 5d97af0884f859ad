"""The commands of windows, `winfo` and `wm`: where things lie, what windows are called."""

from __future__ import annotations

from collections.abc import Callable
from typing import TYPE_CHECKING, Any

from eelgrass.recorder.desk.language.colours import rgb
from eelgrass.recorder.desk.language.words import TclError, as_text, number

if TYPE_CHECKING:
    from eelgrass.recorder.desk.application import Application
    from eelgrass.recorder.desk.widgets.widget import Widget

_SCREEN = (1280, 800)
#: What is asked of no widget.
_OF_SCREEN: dict[str, Any] = {
    **{"screenwidth": _SCREEN[0], "screenheight": _SCREEN[1], "vrootwidth": _SCREEN[0], "vrootheight": _SCREEN[1]},
    **{"screenmmwidth": 338, "screenmmheight": 211, "depth": 24, "visual": "truecolor", "screen": ":0.0"},
    **{"pointerx": 0, "pointery": 0, "pointerxy": (0, 0), "server": "the desk", "containing": "", "interps": ()},
}


def _root_of(app: Application, its: Widget) -> tuple[float, float]:
    x = y = 0.0
    while not its.is_window:
        x, y = x + its.rect[0], y + its.rect[1]
        its = app.widget(its.around)
    return x, y


def _manager(_app: Application, its: Widget) -> str:
    return its.manager or ("wm" if its.is_window else "")


def _is_mapped(_app: Application, its: Widget) -> bool:
    return bool(its.manager or its.is_window)


def _children(app: Application, its: Widget) -> tuple[str, ...]:
    return tuple(one.path for one in app.widgets.values() if one.parent == its.path)


def _geometry(_app: Application, its: Widget) -> str:
    x, y, width, height = map(round, its.rect)
    return f"{width}x{height}+{x}+{y}"


#: What is asked of a widget, once all lies where it should.
_OF_WIDGET: dict[str, Callable[[Application, Widget], Any]] = {
    **{"x": lambda _, its: round(its.rect[0]), "y": lambda _, its: round(its.rect[1])},
    **{"width": lambda _, its: round(its.rect[2]), "height": lambda _, its: round(its.rect[3])},
    "reqwidth": lambda app, its: round(app.geometry.wanted(its)[0]),
    "reqheight": lambda app, its: round(app.geometry.wanted(its)[1]),
    "rootx": lambda app, its: round(_root_of(app, its)[0]),
    "rooty": lambda app, its: round(_root_of(app, its)[1]),
    **{"children": _children, "geometry": _geometry, "manager": _manager},
    **{"ismapped": _is_mapped, "viewable": _is_mapped, "id": lambda _app, _its: "0x1000"},
    **{"parent": lambda _, its: its.parent, "class": lambda _, its: its.class_},
    "toplevel": lambda app, its: app.window_of(its).path,
    "name": lambda _, its: its.path.rpartition(".")[2] or "tk",
}


class WindowCommands:
    """Runs them for one application."""

    app: Application

    def _winfo(self, what: Any, *words: Any) -> Any:
        name = as_text(what)
        args = words[2:] if words and as_text(words[0]) == "-displayof" else words
        if name == "exists":
            return as_text(args[0]) in self.app.widgets
        if name in _OF_SCREEN:
            return _OF_SCREEN[name]
        if name == "rgb":
            return tuple(part * 257 for part in rgb(args[1]))
        if name in ("fpixels", "pixels"):
            return number(args[1]) if name == "fpixels" else round(number(args[1]))
        if name not in _OF_WIDGET:
            raise TclError(f'bad option "{name}"')
        its = self.app.widget(args[0])
        self.app.lay_out()
        return _OF_WIDGET[name](self.app, its)

    def _wm(self, what: Any, path: Any, *words: Any) -> Any:
        its, name = self.app.widget(path), as_text(what)
        if name == "title":
            its.title = as_text(words[0]) if words else its.title
            self.app.telling.changed(its.path)
            return its.title
        if name == "geometry":
            if words:
                its.size = as_text(words[0])
                self.app.telling.changed(its.path)
                return ""
            self.app.lay_out()
            return f"{round(its.rect[2])}x{round(its.rect[3])}+0+0"
        if name == "protocol":
            told = its.rows.setdefault(("protocol", 0), {})
            if len(words) > 1:
                told[as_text(words[0])] = words[1]
            return as_text(told.get(as_text(words[0]), "")) if words else tuple(told)
        if name in ("withdraw", "deiconify", "iconify"):
            its.is_shown = name == "deiconify"
            self.app.telling.changed(its.path)
            return ""
        if name == "state":
            return "normal" if its.is_shown else "withdrawn"
        if name in ("resizable", "minsize", "maxsize"):
            return (1, 1) if not words else ""
        return ""
