"""What a person does at the desk: the events that come of it, in the order in which a screen would send them.

`click` on a widget, at a place where one is given; `type` a text into one; `key`; `choose` what a list, menu or slider
has; `move` and `drag` the mouse to a place; `close` a window. A widget is called by its words, its name or its path.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from typing import TYPE_CHECKING, Any

from eelgrass.recorder.desk.events import crossings, reactions
from eelgrass.recorder.desk.events.bindings import KEY_NAMES, Event, key_letter, pattern
from eelgrass.recorder.desk.language.words import as_text

if TYPE_CHECKING:
    from eelgrass.recorder.desk.application import Application
    from eelgrass.recorder.desk.widgets.widget import Widget

#: Two clicks at one place within so many milliseconds are a double one. A drag has so many steps on its way.
_DOUBLE_MS, _DRAG_STEPS = 500.0, 4


class Doing:
    """Knows where the mouse is. `say(words)` tells what is done that cannot be."""

    def __init__(self, say: Callable[[str], None]) -> None:
        self._say = say
        self._mouse = 0.0, 0.0  # within the widget that it is over
        self._clicked: tuple[str, str, float, float, float] = "", "", 0.0, 0.0, 0.0
        self._do: dict[str, Callable[[Application, Widget, dict[str, Any]], None]] = {
            **{"click": self._click, "type": self._type, "key": self._key, "choose": self._choose},
            **{"move": self._move, "drag": self._drag, "close": self._close},
        }

    def do(self, app: Application, act: dict[str, Any]) -> None:
        """Does one thing with the windows of an application."""
        what, on, at = as_text(act.get("do", "")), as_text(act.get("on", "")), float(act.get("at", 0))
        widget, do = _found(app, on), self._do.get(what)
        if widget is None:
            self._say(f"At {at:g} ms nothing is there that is called “{on}”.")
        elif do is None:
            self._say(f"“{what}” is nothing that can be done at the desk.")
        else:
            called = on or widget.title or app.words_of(widget) or widget.path
            words = f"{what} on “{called}”" if on else f"{what} {as_text(act.get('text', ''))}".strip()
            app.telling.because(f"{words} at {at:g} ms")
            do(app, widget, act)
            app.catch_up()
            app.telling.because("")

    # The mouse

    def _click(self, app: Application, widget: Widget, act: dict[str, Any]) -> None:
        if widget.class_ == "Menu":
            return self._choose(app, widget, {**act, "text": act.get("on", "")})
        button, (x, y) = as_text(act.get("button", 1)), _place(app, widget, act)
        self._go(app, widget, x, y)
        self._press(app, widget, button, float(act.get("at", 0)))
        self._release(app, widget, button)
        return None

    def _move(self, app: Application, widget: Widget, act: dict[str, Any]) -> None:
        x, y = _place(app, widget, act)
        self._go(app, widget, x, y)
        _happen(app, widget, Event("Motion", x=x, y=y))

    def _drag(self, app: Application, widget: Widget, act: dict[str, Any]) -> None:
        """With the button pressed, from where the mouse is to a place."""
        button, end = as_text(act.get("button", 1)), _place(app, widget, act)
        start = self._mouse if app.under_mouse == widget.path else (widget.rect[2] / 2, widget.rect[3] / 2)
        self._go(app, widget, *start)
        self._press(app, widget, button, float(act.get("at", 0)))
        for number in range(1, _DRAG_STEPS + 1):
            share = number / _DRAG_STEPS
            self._mouse = start[0] + (end[0] - start[0]) * share, start[1] + (end[1] - start[1]) * share
            _happen(app, widget, Event("Motion", "", frozenset((f"B{button}",)), *self._mouse))
        self._release(app, widget, button)

    def _go(self, app: Application, widget: Widget, x: float, y: float) -> None:
        """The mouse is there now."""
        before, self._mouse, app.under_mouse = app.widgets.get(app.under_mouse), (x, y), widget.path
        crossings.leave(app, before, widget, Event("Leave"))
        crossings.enter(app, before, widget, Event("Enter", x=x, y=y))

    def _press(self, app: Application, widget: Widget, button: str, at: float) -> None:
        path, last, before, x, y = self._clicked
        is_near = abs(x - self._mouse[0]) < 5 and abs(y - self._mouse[1]) < 5
        is_double = (path, last) == (widget.path, button) and at - before <= _DOUBLE_MS and is_near
        self._clicked = ("", "", 0.0, 0.0, 0.0) if is_double else (widget.path, button, at, *self._mouse)
        modifiers = frozenset(("Double",) if is_double else ())
        _happen(app, widget, Event("ButtonPress", button, modifiers, *self._mouse))

    def _release(self, app: Application, widget: Widget, button: str) -> None:
        _happen(app, widget, Event("ButtonRelease", button, frozenset((f"B{button}",)), *self._mouse))

    # Keys and choices

    def _type(self, app: Application, widget: Widget, act: dict[str, Any]) -> None:
        if widget.shows_text:
            reactions.focus_on(app, widget)
        for letter in as_text(act.get("text", "")):
            name = KEY_NAMES.get(letter, letter)
            _press_key(app, app.widgets.get(app.focus, widget), Event("KeyPress", name, letter=key_letter(name)))

    def _key(self, app: Application, widget: Widget, act: dict[str, Any]) -> None:
        """A key by its letter or its name, with others held as `Control-s`."""
        name, held = as_text(act.get("text", "")), frozenset[str]()
        if "-" in name[:-1]:
            its = pattern(f"<{name}>")
            name, held = its.detail, its.modifiers
        name = KEY_NAMES.get(name, name)
        target = widget if act.get("on") else app.widgets.get(app.focus, widget)
        _press_key(app, target, Event("KeyPress", name, held, letter=key_letter(name, held)))

    def _choose(self, app: Application, widget: Widget, act: dict[str, Any]) -> None:
        choice = as_text(act.get("text", ""))
        if not reactions.choose(app, widget, choice):
            self._say(f"At {float(act.get('at', 0)):g} ms there is no “{choice}” to be chosen.")

    def _close(self, app: Application, widget: Widget, _act: dict[str, Any]) -> None:
        reactions.close(app, widget.path if widget.is_window else ".")


def _happen(app: Application, widget: Widget, event: Event) -> None:
    """Between two things that a person does, there is time to paint."""
    if widget.path in app.widgets:
        app.happen(widget, event)
    app.catch_up()
    app.telling.tell(app)


def _press_key(app: Application, widget: Widget, event: Event) -> None:
    _happen(app, widget, event)
    released = app.widgets.get(app.focus, widget)  # the key may have moved the focus
    _happen(app, released, replace(event, type="KeyRelease"))


def _found(app: Application, name: str) -> Widget | None:
    """What is called so: by its path, its words, the last part of its path, or the words of its label."""
    shown = [its for its in app.widgets.values() if its.manager or its.is_window]
    if not name:
        canvas = next((its for its in shown if its.class_ == "Canvas"), None)
        return canvas or app.widgets.get(app.focus) or app.widgets["."]
    ways: tuple[Callable[[Widget], bool], ...] = (
        lambda its: its.path == name,
        lambda its: app.words_of(its) == name and its.class_.endswith("utton"),
        lambda its: app.words_of(its) == name,
        lambda its: its.path.rpartition(".")[2].lstrip("!") == name,
        lambda its: its.title == name,
        lambda its: any(as_text(one.get("label", "")) == name for one in its.entries),
    )
    return next((its for way in ways for its in (*shown, *app.widgets.values()) if way(its)), None)


def _place(app: Application, widget: Widget, act: dict[str, Any]) -> tuple[float, float]:
    """Where in a widget something is done: as the script says (for a turtle, by its own coordinates), else in the
    middle."""
    if act.get("x") is None or act.get("y") is None:
        return widget.rect[2] / 2, widget.rect[3] / 2
    x, y = float(act["x"]), float(act["y"])
    if widget.path in app.canvases and app.is_from_middle(widget):
        origin = app.canvases[widget.path].origin
        return x - origin[0], -y - origin[1]
    return x, y
