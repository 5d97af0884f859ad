"""Who sits at the desk: does at its time what the script says, and lets time pass.

A script is a list of what is done, each with a moment in milliseconds: `click` on a widget, `type` a text into one,
`key`, `move` and `drag` to a place, `close` a window, `answer` a question. A widget is called by its words, its name or
its path.
"""

from __future__ import annotations

import heapq
from collections.abc import Callable, Sequence
from typing import TYPE_CHECKING, Any

from eelgrass.recorder.desk.events import reactions
from eelgrass.recorder.desk.events.bindings import KEY_LETTERS, KEY_NAMES, TYPE_NUMBERS, Event
from eelgrass.recorder.desk.language.words import TclError, as_text, whole

if TYPE_CHECKING:
    from eelgrass.recorder.desk.application import Application
    from eelgrass.recorder.desk.widgets.widget import Widget

#: So long after what the script says last, the window is closed, if timers go on; without a script, so long after
#: it began.
_AFTER_MS, _IDLE_MS = 3_000, 10_000
#: So many things happen at one moment, at most: a timer may set itself again at once, for ever.
_MOST_AT_ONCE = 100_000


class Person:
    """`now` is the time in milliseconds. `say(words)` tells what is done that cannot be."""

    def __init__(self, script: Sequence[dict[str, Any]], until: float, say: Callable[[str], None]) -> None:
        self.now = 0.0
        self._say = say
        self._script = sorted(script, key=lambda its: float(its.get("at", 0)))
        last = float(self._script[-1].get("at", 0)) + _AFTER_MS if self._script else _IDLE_MS
        self.until = until or last
        self._timers: list[tuple[float, int, str, Any]] = []
        self._cancelled: set[str] = set()
        self._made = 0
        self._is_quitting = False
        self._apps: list[Application] = []
        self.answers: list[str] = [as_text(its.get("text", "")) for its in self._script if its.get("do") == "answer"]
        self._script = [its for its in self._script if its.get("do") != "answer"]

    def meet(self, its: Application) -> None:
        """One more application."""
        self._apps.append(its)

    def seconds(self) -> float:
        """What a clock says. Asking takes time, too."""
        self.now += 0.001
        return self.now / 1000

    # Timers

    def after(self, its: Application, milliseconds: float, script: Any) -> str:
        """Has a script run later; gives a name for that."""
        self._made += 1
        name = f"after#{self._made}"
        heapq.heappush(self._timers, (self.now + max(milliseconds, 0.0), self._made, name, (its, script, milliseconds)))
        return name

    def cancel(self, name: str) -> None:
        """Has it not run."""
        self._cancelled.add(name)
        for _, _, one, (_, script, _) in self._timers:
            if as_text(script) == name:
                self._cancelled.add(one)

    def waiting(self, name: str) -> tuple[Any, str]:
        """What is to run by a name. Raises TclError."""
        for _, _, one, (_, script, milliseconds) in self._timers:
            if one == name and one not in self._cancelled:
                return script, "timer" if milliseconds else "idle"
        raise TclError(f'event "{name}" doesn\'t exist')

    def all_waiting(self) -> tuple[str, ...]:
        """The names of all that is to run."""
        return tuple(one for _, _, one, _ in sorted(self._timers, reverse=True) if one not in self._cancelled)

    def sleep(self, seconds: float) -> None:
        """Time passes in which nobody looks at the window."""
        self.now += max(seconds, 0.0) * 1000

    # The loop

    def mainloop(self) -> None:
        """Until the window is closed, or the program wants no more."""
        self._is_quitting = False
        while not self._is_quitting and any(not its.is_over for its in self._apps) and self._next(self.until):
            pass
        if not self._is_quitting:
            self._close_all()

    def quit(self) -> None:
        """The loop ends."""
        self._is_quitting = True

    def one(self) -> bool:
        """Lives through the next thing; gives whether there was one."""
        return self._next(self.until)

    def update(self) -> None:
        """Lives through all that is due by now."""
        self.tell()
        for _ in range(_MOST_AT_ONCE):
            if not self._next(self.now):
                break
        self.tell()

    def until_true(self, is_so: Callable[[], bool]) -> bool:
        """Lives on until something is so; gives whether it ever was."""
        while not is_so():
            if not self._next(self.until):
                return False
        return True

    def _next(self, until: float) -> bool:
        """Lives through the next thing that happens by a moment; gives whether there was one."""
        self.tell()
        self._timers = (
            [its for its in self._timers if its[2] not in self._cancelled] if self._cancelled else self._timers
        )
        self._cancelled.clear()
        heapq.heapify(self._timers)
        timer = self._timers[0] if self._timers else None
        act = self._script[0] if self._script else None
        when = min(timer[0] if timer else until + 1, float(act.get("at", 0)) if act else until + 1)
        if when > until:
            return False
        self.now = max(self.now, when)
        if act is not None and float(act.get("at", 0)) <= when:
            self._script.pop(0)
            self._do(act)
        elif timer is not None:
            heapq.heappop(self._timers)
            its, script, milliseconds = timer[3]
            if not its.is_over:
                its.telling.because(f"after {milliseconds:g} ms" if milliseconds else "when there was time")
                its.telling.cause("")
                its.run_callback(script)
                its.telling.because("")
        self.tell()
        return True

    def tell(self) -> None:
        """Tells what looks different now."""
        for its in self._apps:
            its.telling.tell(its)

    def _close_all(self) -> None:
        for its in list(self._apps):
            if not its.is_over:
                its.telling.because("the window was closed")
                its.telling.keep()
                reactions.close(its, ".")
        self._apps = [its for its in self._apps if not its.is_over]

    # What is done

    def _do(self, act: dict[str, Any]) -> None:
        app = next((its for its in reversed(self._apps) if not its.is_over), None)
        if app is None:
            return
        what, on = as_text(act.get("do", "")), act.get("on", "")
        widget = self._found(app, on)
        if widget is None:
            self._say(f"At {act.get('at', 0)} ms nothing is there that is called “{as_text(on)}”.")
            return
        called = as_text(on) or widget.title or app.words_of(widget) or widget.path
        words = f"{what} {as_text(act.get('text', ''))}".strip() if not on else f"{what} on “{called}”"
        words = f"{words} at {float(act.get('at', 0)):g} ms"
        app.telling.because(words)
        do = {"click": self._click, "type": self._type, "key": self._key, "move": self._move, "drag": self._drag}.get(
            what
        )
        if what == "close":
            reactions.close(app, widget.path if widget.is_window else ".")
        elif do is None:
            self._say(f"“{what}” is nothing that can be done at the desk.")
        else:
            do(app, widget, act)
        app.telling.because("")

    def _found(self, app: Application, on: Any) -> Widget | None:
        """What is called so: by its path, its words, the last part of its path, or the words of its label."""
        name = as_text(on)
        shown = [its for its in app.widgets.values() if its.manager or its.is_window]
        if not name:
            canvas = next((its for its in shown if its.class_ == "Canvas"), None)
            focus = app.widgets.get(app.focus)
            return canvas or focus or app.widgets["."]
        ways: tuple[Callable[[Widget], bool], ...] = (
            lambda its: its.path == name,
            lambda its: app.words_of(its) == name and its.class_.endswith("button"),
            lambda its: app.words_of(its) == name,
            lambda its: its.path.rpartition(".")[2].lstrip("!") == name,
            lambda its: its.title == name,
            lambda its: any(as_text(one.get("label", "")) == name for one in its.entries),
        )
        return next((its for way in ways for its in (*shown, *app.widgets.values()) if way(its)), None)

    def _at(self, app: Application, widget: Widget, act: dict[str, Any]) -> tuple[float, float]:
        """Where in a widget something is done: as the script says (for a turtle, by its own coordinates), else in the
        middle."""
        if act.get("x") is None or act.get("y") is None:
            return widget.rect[2] / 2, widget.rect[3] / 2
        x, y = float(act["x"]), float(act["y"])
        if widget.path in app.canvases and app.is_from_middle(widget):
            origin = app.canvases[widget.path].origin
            return x - origin[0], -y - origin[1]
        return x, y

    def _click(self, app: Application, widget: Widget, act: dict[str, Any]) -> None:
        button, (x, y) = as_text(act.get("button", 1)), self._at(app, widget, act)
        if widget.shows_text:
            reactions.focus_on(app, widget)
        bindings = reactions.item_bindings_at(app, widget, x, y)
        app.happen(widget, Event("ButtonPress", button, x=x, y=y), bindings)
        reactions.pressed(app, widget, as_text(act.get("on", "")), act)
        if widget.path in app.widgets:
            app.happen(widget, Event("ButtonRelease", button, frozenset((f"B{button}",)), x=x, y=y), bindings)

    def _type(self, app: Application, widget: Widget, act: dict[str, Any]) -> None:
        if widget.shows_text:
            reactions.focus_on(app, widget)
        for letter in as_text(act.get("text", "")):
            self._press_key(app, app.widgets.get(app.focus, widget), KEY_NAMES.get(letter, letter), letter)

    def _key(self, app: Application, widget: Widget, act: dict[str, Any]) -> None:
        name = as_text(act.get("text", ""))
        target = widget if act.get("on") else app.widgets.get(app.focus, widget)
        self._press_key(app, target, KEY_NAMES.get(name, name), KEY_LETTERS.get(name, name if len(name) == 1 else ""))

    def _press_key(self, app: Application, widget: Widget, name: str, letter: str) -> None:
        app.happen(widget, Event("KeyPress", name, letter=letter))
        if widget.path in app.widgets:
            reactions.typed(app, widget, name, letter)
            app.happen(widget, Event("KeyRelease", name, letter=letter))

    def _move(self, app: Application, widget: Widget, act: dict[str, Any]) -> None:
        x, y = self._at(app, widget, act)
        app.happen(widget, Event("Motion", x=x, y=y), reactions.item_bindings_at(app, widget, x, y))

    def _drag(self, app: Application, widget: Widget, act: dict[str, Any]) -> None:
        button, (x, y) = as_text(act.get("button", 1)), self._at(app, widget, act)
        held = frozenset((f"B{button}",))
        app.happen(widget, Event("Motion", "", held, x=x, y=y), reactions.item_bindings_at(app, widget, x, y))

    def substituted(self, word: str, widget: Widget, event: Event) -> Any:
        """What stands for a `%` word in a binding."""
        known: dict[str, Any] = {
            **{
                "%#": 1,
                "%b": event.detail if event.type.startswith("Button") else "??",
                "%f": "0",
                "%h": widget.rect[3],
            },
            **{"%k": ord(event.letter) if event.letter else "??", "%s": 0, "%t": round(self.now), "%w": widget.rect[2]},
            **{
                "%x": round(event.x),
                "%y": round(event.y),
                "%A": event.letter,
                "%E": "0",
                "%N": "??",
                "%W": widget.path,
            },
            **{"%K": event.detail if event.type.startswith("Key") else "??", "%T": TYPE_NUMBERS.get(event.type, 0)},
            **{"%X": round(event.x + 100), "%Y": round(event.y + 100), "%D": event.delta, "%d": event.data},
        }
        value = known.get(word, word)
        return whole(round(value)) if isinstance(value, float) else as_text(value)
