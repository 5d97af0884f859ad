"""Tk's commands that are not of a widget's own: windows, time, focus, geometry, bindings, images, questions."""

from __future__ import annotations

from collections.abc import Callable
from typing import TYPE_CHECKING, Any

from eelgrass.recorder.desk.commands.geometry_commands import GeometryCommands
from eelgrass.recorder.desk.commands.widget_commands import WidgetCommands
from eelgrass.recorder.desk.commands.window_commands import WindowCommands
from eelgrass.recorder.desk.events import reactions
from eelgrass.recorder.desk.events.bindings import Event, bound, key_letter, pattern
from eelgrass.recorder.desk.language.letters import LINE, font_scale, text_size
from eelgrass.recorder.desk.language.words import TclError, as_text, number, options, split, whole
from eelgrass.recorder.desk.widgets.kinds import KINDS, THEMED

if TYPE_CHECKING:
    from eelgrass.recorder.desk.application import Application

#: What has nothing to show here.
_SILENT = frozenset(
    (
        *("option", "grab", "tk_setPalette", "bell", "package", "tk_bisque", "tk_focusFollowsMouse", "clipboard"),
        *("selection", "source", "tk_popup", "tk_focusNext", "tk_focusPrev", "send"),
    )
)


class Commands(GeometryCommands, WindowCommands):
    """Runs commands for one application."""

    def __init__(self, app: Application) -> None:
        self.app = app
        self._widgets = WidgetCommands(app)

    def run(self, name: str, words: tuple[Any, ...]) -> Any:
        """One command. Raises TclError."""
        app = self.app
        if name.startswith(".") and name in app.widgets:
            return self._widgets.run(app.widgets[name], as_text(words[0]), words[1:])
        if name in KINDS or name in THEMED:
            return app.make(name, as_text(words[0]), words[1:])
        if name in app.functions:
            return app.functions[name](*words)
        if name in app.images:
            return self._of_image(name, *words)
        its: Callable[..., Any] | None = getattr(self, f"_{name.replace('::', '_')}", None)
        if its is not None:
            return its(*words)
        if name in _SILENT:
            return ""
        raise TclError(f'invalid command name "{name}"')

    def _tk(self, what: Any, *_words: Any) -> Any:
        return {"windowingsystem": "x11", "scaling": 1.333}.get(as_text(what), "")

    # Values

    def _set(self, name: Any, *value: Any) -> Any:
        if value:
            self.app.setvar(as_text(name), value[0])
        return self.app.getvar(as_text(name))

    def _trace(self, action: Any, *words: Any) -> Any:
        what = as_text(action)
        if what in ("add", "remove"):
            name, modes, callback = as_text(words[1]), joined_modes(words[2]), as_text(words[3])
            told = self.app.traces.setdefault(name, [])
            if what == "add":
                told.insert(0, (modes, callback))
            elif (modes, callback) in told:
                told.remove((modes, callback))
            return ""
        if what == "variable":
            letters = {"r": "read", "w": "write", "u": "unset"}
            modes = " ".join(letters.get(one, one) for one in as_text(words[1]))
            self.app.traces.setdefault(as_text(words[0]), []).insert(0, (modes, as_text(words[2])))
            return ""
        if what in ("info", "vinfo"):
            letters = {"read": "r", "write": "w", "unset": "u"}
            told = self.app.traces.get(as_text(words[-1]), [])
            if what == "info":
                return tuple((tuple(modes.split()), callback) for modes, callback in told)
            return tuple(
                ("".join(letters.get(one, one) for one in modes.split()), callback) for modes, callback in told
            )
        return ""

    def _info(self, what: Any, *words: Any) -> Any:
        names = {"exists": self.app.variables, "commands": self.app.functions}.get(as_text(what), {})
        if as_text(what) == "patchlevel":
            return "8.6.13"
        if as_text(what) == "commands":
            return tuple(name for name in names if not words or name == as_text(words[0]))
        return as_text(words[0]) in names

    def _expr(self, *words: Any) -> Any:
        raise TclError(f"no expressions are worked out here: {as_text(words)}")

    # Time

    def _after(self, when: Any, *words: Any) -> Any:
        what = as_text(when)
        if what == "cancel":
            self.app.person.cancel(as_text(words[0]))
            return ""
        if what == "info":
            return self.app.person.waiting(as_text(words[0])) if words else self.app.person.all_waiting()
        if what == "idle":
            return self.app.person.after(self.app, 0.0, words[0])
        if not words:
            self.app.person.sleep(number(when) / 1000)
            return ""
        return self.app.person.after(self.app, number(when), words[0])

    def _update(self, *words: Any) -> str:
        if words:
            self.app.person.tell()
        else:
            self.app.person.update()
        return ""

    def _vwait(self, name: Any) -> str:
        before = self.app.variables.get(as_text(name))
        self.app.person.until_true(lambda: self.app.variables.get(as_text(name)) != before)
        return ""

    def _tkwait(self, what: Any, which: Any) -> str:
        kind, name = as_text(what), as_text(which)
        if kind == "variable":
            return self._vwait(name)
        if kind == "window" and not self.app.person.until_true(lambda: name not in self.app.widgets):
            self.app.telling.because("the window was closed")
            reactions.close(self.app, name)
        return ""

    # Widgets

    def _destroy(self, *paths: Any) -> str:
        for path in map(as_text, paths):
            if path in self.app.widgets:
                self.app.destroy(path)
        return ""

    def _bind(self, tag: Any, *words: Any) -> Any:
        name = as_text(tag)
        space = (
            self.app.widgets[name].bindings
            if name in self.app.widgets
            else self.app.class_bindings.setdefault(name, {})
        )
        return bound(space, words)

    def _bindtags(self, path: Any, *words: Any) -> Any:
        its = self.app.widget(path)
        if words:
            its.tags = tuple(map(as_text, split(words[0])))
            return ""
        return its.tags or (its.path, its.class_, ".", "all")

    def _event(self, action: Any, *words: Any) -> str:
        if as_text(action) == "generate" and self.app.is_displayed:  # before that, nobody hears
            its, heard, given = self.app.widget(words[0]), pattern(as_text(words[1])), options(words[2:])
            x, y, detail = number(given.get("x", 0)), number(given.get("y", 0)), heard.detail
            if heard.type in ("KeyPress", "KeyRelease"):
                its = self.app.widgets.get(self.app.focus, its)  # where all keys go
                detail = as_text(given.get("keysym", detail))
            elif heard.type in ("ButtonPress", "ButtonRelease"):
                detail = as_text(given.get("button", detail))
            event = Event(heard.type, detail, heard.modifiers, x, y, data=as_text(given.get("data", "")))
            event.letter = key_letter(detail, heard.modifiers) if heard.type.startswith("Key") else ""
            self.app.telling.because(f"the program's own {as_text(words[1])}")
            self.app.happen(its, event)
            self.app.telling.because("")
        return ""

    def _focus(self, *words: Any) -> str:
        paths = [as_text(word) for word in words if not as_text(word).startswith("-")]
        if not paths:
            return "" if self.app.focus not in self.app.widgets else self.app.focus
        if paths[0] in self.app.widgets and as_text(words[0]) not in ("-displayof", "-lastfor"):
            reactions.focus_on(self.app, self.app.widgets[paths[0]])
        return self.app.focus

    def _raise(self, *_words: Any) -> str:
        return ""

    _lower = _raise

    def _tk_ButtonInvokeEnd(self, path: Any) -> Any:  # Tk's name
        return reactions.invoke(self.app, self.app.widgets[path]) if path in self.app.widgets else ""

    # Images, fonts, questions

    def _image(self, action: Any, *words: Any) -> Any:
        what = as_text(action)
        if what == "create":
            given = list(words[1:])
            name = f"image{len(self.app.images) + 1}"
            if given and not as_text(given[0]).startswith("-"):
                name = as_text(given.pop(0))
            self.app.images[name] = options(given)
            return name
        if what == "delete":
            for name in map(as_text, words):
                self.app.images.pop(name, None)
            return ""
        if what == "names":
            return tuple(self.app.images)
        its = self.app.images.get(as_text(words[0]), {}) if words else {}
        return whole(its.get(what, 1)) if what in ("width", "height") else "photo"

    def _of_image(self, name: str, action: Any, *words: Any) -> Any:
        what, its = as_text(action), self.app.images[name]
        if what == "configure":
            its.update(options(words) if len(words) > 1 else {})
        return its.get(as_text(words[0]).lstrip("-"), "") if what == "cget" else ""

    def _font(self, action: Any, *words: Any) -> Any:
        what = as_text(action)
        if what == "measure":
            return round(text_size((as_text(words[-1]),), font_scale(words[0]))[0])
        if what == "metrics":
            return round(LINE)
        if what == "families":
            return ("Courier", "Helvetica", "Times")
        if what == "names":
            return ("TkDefaultFont", "TkTextFont", "TkFixedFont")
        if what == "create":
            return as_text(words[0]) if words and not as_text(words[0]).startswith("-") else "font1"
        return split("-family Helvetica -size 10 -weight normal -slant roman -underline 0 -overstrike 0")

    def _tk_messageBox(self, *words: Any) -> str:  # Tk's name
        given = options(words)
        kind = as_text(given.get("type", "ok"))
        usual = {"okcancel": "ok", "retrycancel": "retry", "yesno": "yes", "yesnocancel": "yes"}.get(kind, "ok")
        return self._asked(as_text(given.get("message", "")), usual)

    def _asked(self, words: str, usual: str) -> str:
        person = self.app.person
        answer = person.answers.pop(0) if person.answers else usual
        self.app.telling.answered(words, answer)
        return answer

    def _tk_getOpenFile(self, *_words: Any) -> str:
        return self._asked("Which file is to be opened?", "")

    def _tk_getSaveFile(self, *_words: Any) -> str:
        return self._asked("As which file is it to be saved?", "")

    def _tk_chooseDirectory(self, *_words: Any) -> str:
        return self._asked("Which folder?", "")

    def _tk_chooseColor(self, *_words: Any) -> str:
        return self._asked("Which colour?", "#2e8b57")

    def _ttk_style(self, *_words: Any) -> Any:
        return ""

    _ttk_setTheme = _ttk_style


def joined_modes(modes: Any) -> str:
    """The modes of a trace in words."""
    return " ".join(map(as_text, split(modes)))
