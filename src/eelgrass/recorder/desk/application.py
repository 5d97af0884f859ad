"""What answers for the interpreter of Tk's commands: variables, callbacks, the tree of widgets."""

from __future__ import annotations

import re
from collections.abc import Callable
from typing import Any

from eelgrass.recorder.desk.commands.commands import Commands
from eelgrass.recorder.desk.commands.notebooks import shown
from eelgrass.recorder.desk.events import pointing, reactions
from eelgrass.recorder.desk.events.bindings import Event, hears, pattern
from eelgrass.recorder.desk.events.substitution import substituted
from eelgrass.recorder.desk.language.words import TclError, as_text, joined, split, truth, whole
from eelgrass.recorder.desk.person import Person
from eelgrass.recorder.desk.telling import Telling
from eelgrass.recorder.desk.widgets.canvas import Canvas, Item
from eelgrass.recorder.desk.widgets.geometry import Geometry
from eelgrass.recorder.desk.widgets.widget import Widget

_CALLED = re.compile(r"\[(\S+)((?: [^\]]*)?)\]")


class Application:
    """One `Tk`. What C's `tkapp` does has here the same names."""

    def __init__(self, person: Person, telling: Telling) -> None:
        self.person, self.telling = person, telling
        self.widgets: dict[str, Widget] = {".": Widget(".", "toplevel")}
        self.widgets["."].class_ = "Tk"
        self.canvases: dict[str, Canvas] = {}
        self.functions: dict[str, Callable[..., Any]] = {}
        self.variables: dict[str, Any] = {
            "tk_version": "8.6",
            "tcl_version": "8.6",
            "tcl_library": "",
            "tk_library": "",
        }
        self.traces: dict[str, list[tuple[str, str]]] = {}
        self.class_bindings: dict[str, dict[str, str]] = {}
        self.images: dict[str, dict[str, Any]] = {}
        self.focus = "."
        self.pressed = self.under_mouse = ""  # paths
        self.is_over = self.is_displayed = False
        self.geometry: Geometry = Geometry(lambda: self.widgets.values(), self.words_of)
        self._pending: list[Callable[[], None]] = []
        self._laid_out = -1
        self._ordered = 0
        self._commands = Commands(self)
        person.meet(self)

    # What tkinter asks for

    def call(self, *words: Any) -> Any:
        """Runs one command. Raises TclError."""
        if len(words) == 1 and isinstance(words[0], (tuple, list)):
            words = tuple(words[0])
        its = []
        for word in words:
            if word is None:
                break
            its.append(word)
        if self.is_over and as_text(its[0]) not in ("destroy", "after", "update", "info"):
            raise TclError(f'can\'t invoke "{as_text(its[0])}" command: application has been destroyed')
        return self._commands.run(as_text(its[0]), tuple(its[1:]))

    def eval(self, script: str) -> Any:
        """Runs a script of one simple command a line."""
        result: Any = ""
        for line in script.split("\n"):
            words = split(line)
            if words:
                result = self.call(*words)
        return result

    def createcommand(self, name: str, function: Callable[..., Any]) -> None:
        """Makes a function known by a name."""
        self.functions[name] = function

    def deletecommand(self, name: str) -> None:
        """Makes it unknown."""
        if self.functions.pop(name, None) is None:
            raise TclError(f'can\'t delete Tcl command "{name}"')

    def splitlist(self, text: Any) -> tuple[Any, ...]:
        """The elements of a list."""
        return split(text)

    def getint(self, value: Any) -> int:
        """A whole number. Raises TclError."""
        return whole(value)

    def getdouble(self, value: Any) -> float:
        """A number. Raises TclError."""
        try:
            return float(value)
        except (TypeError, ValueError):
            raise TclError(f'expected floating-point number but got "{as_text(value)}"') from None

    def getboolean(self, value: Any) -> bool:
        """A truth value. Raises TclError."""
        return value if isinstance(value, bool) else truth(value)

    def wantobjects(self, *_value: Any) -> bool:
        """Values are handed over as they are."""
        return True

    def loadtk(self) -> None:
        """All is there already."""

    def willdispatch(self) -> None:
        """Nothing to be prepared."""

    def interpaddr(self) -> int:
        """There is no interpreter in C."""
        return 0

    def getvar(self, name: str) -> Any:
        """A variable. Raises TclError."""
        if as_text(name) not in self.variables:
            raise TclError(f'can\'t read "{as_text(name)}": no such variable')
        return self._traced(as_text(name), "read", self.variables[as_text(name)])

    globalgetvar = getvar

    def setvar(self, name: str, value: Any) -> None:
        """Sets a variable, and what shows it."""
        self.variables[as_text(name)] = value
        self._traced(as_text(name), "write", None)
        self.show_variable(as_text(name))

    globalsetvar = setvar

    def unsetvar(self, name: str) -> None:
        """Takes a variable away."""
        self._traced(as_text(name), "unset", None)
        self.variables.pop(as_text(name), None)

    globalunsetvar = unsetvar

    def _traced(self, name: str, mode: str, value: Any) -> Any:
        for modes, callback in list(self.traces.get(name, ())):
            if mode in modes:
                self.run_callback(callback, name, "", mode)
        return value

    def mainloop(self, _threshold: int = 0) -> None:
        """Lives through what the person does and what timers do, until the window is closed."""
        self.person.mainloop()

    def quit(self) -> None:
        """Ends `mainloop`."""
        self.person.quit()

    def dooneevent(self, _flags: int = 0) -> bool:
        """Lives through one thing."""
        return self.person.one()

    # Widgets

    def widget(self, path: Any) -> Widget:
        """A widget by its path. Raises TclError."""
        found = self.widgets.get(as_text(path))
        if found is None:
            raise TclError(f'bad window path name "{as_text(path)}"')
        return found

    def children(self, widget: Widget) -> list[Widget]:
        """What is laid out within a widget, in order."""
        within = (its for its in self.widgets.values() if its.path != "." and not its.is_window)
        return sorted((its for its in within if its.around == widget.path), key=lambda its: its.order)

    def next_order(self) -> int:
        """That of one that is laid out after all others."""
        self._ordered += 1
        return self._ordered

    def window_of(self, widget: Widget) -> Widget:
        """The window that a widget is in, by its path."""
        while not widget.is_window:
            widget = self.widgets.get(widget.parent, self.widgets["."])
        return widget

    def lay_out(self) -> None:
        """Places everything, where anything has changed since."""
        if self._laid_out != self.telling.changes:
            self.geometry.lay_out([its for its in self.widgets.values() if its.is_window])
            self._laid_out = self.telling.changes

    def make(self, kind: str, path: str, words: tuple[Any, ...]) -> str:
        """Makes a widget. Raises TclError."""
        parent = path.rpartition(".")[0] or "."
        if parent not in self.widgets:
            raise TclError(f'bad window path name "{parent}"')
        made = Widget(path, kind)
        made.configure(words)
        self.widgets[path] = made
        if made.class_ == "Canvas":
            self.canvases[path] = Canvas()
        variable = made.text_of("textvariable")
        if variable and variable in self.variables and made.shows_text:
            made.text = as_text(self.variables[variable])
        if made.is_window:
            made.title = path[1:]
        self.telling.changed(path)
        return path

    def destroy(self, path: str) -> None:
        """Takes a widget away, with all that is in it."""
        gone = [its for its in self.widgets if its == path or its.startswith("." if path == "." else f"{path}.")]
        for one in reversed(gone):
            self.happen(self.widgets[one], Event("Destroy"))
            self.widgets.pop(one, None)
            canvas = self.canvases.pop(one, None)
            self.telling.gone(one, () if canvas is None else {*canvas.items, *canvas.changed})
        if path == ".":
            self.is_over = True
            self.person.quit()

    def words_of(self, widget: Widget) -> str:
        """The words that a widget shows."""
        variable = widget.text_of("textvariable")
        if variable:
            return as_text(self.variables.get(variable, ""))
        if widget.shows_text:
            return widget.text
        return widget.text_of("text") or widget.text_of("label")

    def show_variable(self, name: str) -> None:
        """A variable has changed: so have the widgets that show it."""
        for its in list(self.widgets.values()):
            if name in (its.text_of("textvariable"), its.text_of("variable"), its.text_of("listvariable")):
                if its.class_ == "Scale" and its.text_of("variable") == name:
                    self._keep_in_range(its, name)
                if its.shows_text and its.text_of("textvariable") == name:
                    its.text = as_text(self.variables[name])
                    its.cursor = len(its.text)
                if its.text_of("listvariable") == name:
                    its.lines = list(split(self.variables[name]))
                self.telling.changed(its.path)

    def _keep_in_range(self, scale: Widget, name: str) -> None:
        """A scale puts back into its range what its variable was set to beyond."""
        low, high = sorted((float(scale.get("from")), float(scale.get("to"))))
        try:
            value = float(self.variables[name])
        except (TypeError, ValueError):
            return
        if not low <= value <= high:
            self.setvar(name, type(self.variables[name])(min(max(value, low), high)))

    def is_behind(self, page: Widget) -> bool:
        """Whether it is a page behind another one."""
        return page.manager == "notebook" and shown(self.widgets[page.around]) != page.path

    def is_from_middle(self, canvas: Widget) -> bool:
        """Whether a canvas counts from its middle, and upwards, as that of a turtle does."""
        region = split(canvas.get("scrollregion"))
        return len(region) == 4 and float(region[0]) < 0

    def set_text(self, widget: Widget, text: str) -> None:
        """What is written into a widget is another text now."""
        widget.text = text
        widget.cursor = min(widget.cursor, len(text))
        variable = widget.text_of("textvariable")
        if variable:
            self.variables[variable] = text
            self._traced(variable, "write", None)
            self.show_variable(variable)
        self.telling.changed(widget.path)

    # Callbacks

    def later(self, happens: Callable[[], None]) -> None:
        """Something happens when the program next looks."""
        self._pending.append(happens)

    def catch_up(self) -> None:
        """Lives through all that was to happen then."""
        while self._pending:
            self._pending.pop(0)()

    def run_callback(self, script: Any, *more: Any) -> Any:
        """Runs what was registered as a command. Raises whatever it raises."""
        words = split(script)
        if not words:
            return ""
        name = as_text(words[0])
        function = self.functions.get(name)
        if function is None:
            return self.call(*words, *more)
        return function(*map(as_text, words[1:]), *more)

    def happen(self, widget: Widget, event: Event) -> None:
        """An event takes place at a widget: it is heard there, by its kind, by its window and by all, unless one of
        them breaks it off; at a canvas by its items first."""
        canvas = self.canvases.get(widget.path)
        if canvas is not None:
            pointing.of_items(self, widget, canvas, event)
        tags = widget.tags or (widget.path, widget.class_, self.window_of(widget).path, "all")
        for tag in dict.fromkeys(tags):
            bindings = self.widgets[tag].bindings if tag in self.widgets else self.class_bindings.get(tag, {})
            if self._hear(bindings, widget, event):
                return
            if tag == widget.class_ and widget.path in self.widgets:
                reactions.of_class(self, widget, event)

    def happen_to_item(self, canvas: Widget, item: Item, event: Event) -> None:
        """An event takes place at an item of a canvas: it is heard by all items, its tags, and itself."""
        for tag in dict.fromkeys(("all", *item.tags, str(item.number))):
            its = self.canvases.get(canvas.path)
            if its is None or self._hear(its.bindings.get(tag, {}), canvas, event):
                return

    def _hear(self, bindings: dict[str, str], widget: Widget, event: Event) -> bool:
        """The most specific binding hears it; gives whether nobody else is to."""
        best = max(bindings, key=lambda its: hears(pattern(its), event), default=None)
        if best is None or not hears(pattern(best), event):
            return False
        script = bindings[best]
        told = f"<<{event.detail}>>" if event.type == "Virtual" else f"<{event.type}> {event.detail}".strip()
        self.telling.cause(told)
        if not _CALLED.search(script):
            self.run_callback(script)
        for name, given in _CALLED.findall(script):
            words = substituted(given.split(), widget, event, self.person.now)
            if self.run_callback(joined([name]), *words) == "break":
                return True
        return False
