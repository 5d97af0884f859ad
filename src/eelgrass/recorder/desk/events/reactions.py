"""What widgets do of themselves when something is done to them: buttons run their commands, letters are written."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from eelgrass.recorder.desk.commands import notebooks
from eelgrass.recorder.desk.events import crossings
from eelgrass.recorder.desk.events.bindings import Event, pattern
from eelgrass.recorder.desk.language.letters import LINE, font_scale
from eelgrass.recorder.desk.language.words import TclError, as_text, number, split

if TYPE_CHECKING:
    from eelgrass.recorder.desk.application import Application
    from eelgrass.recorder.desk.widgets.widget import Widget


#: So long a button is seen to be pressed that a key presses.
_PRESSED_MS = 100.0


def close(app: Application, path: str) -> None:
    """Closes a window, as the person does."""
    window = app.widgets.get(path)
    if window is None:
        return
    protocol = as_text(window.rows.get(("protocol", 0), {}).get("WM_DELETE_WINDOW", ""))
    app.telling.cause("the window was closed")
    if protocol:
        app.run_callback(protocol)
    else:
        app.destroy(path)


def focus_on(app: Application, widget: Widget) -> None:
    """The keys go to a widget."""
    before = app.widgets.get(app.focus)
    if app.focus == widget.path:
        return
    app.focus = widget.path
    app.later(lambda: crossings.leave(app, before, widget, Event("FocusOut")))
    app.later(lambda: crossings.enter(app, before, widget, Event("FocusIn")))
    for its in (before, widget):
        if its is not None:
            app.telling.changed(its.path)


def focus_on_next(app: Application, widget: Widget, step: int) -> None:
    """The keys go to the next, or the one before, that takes them in the same window, as after Tab."""
    window = app.window_of(widget)
    its = [one for one in app.widgets.values() if one.manager and app.window_of(one) is window and _takes_keys(one)]
    if its:
        place = its.index(widget) + step if widget in its else (0 if step > 0 else -1)
        focus_on(app, its[place % len(its)])


def _takes_keys(widget: Widget) -> bool:
    if widget.text_of("takefocus") or widget.text_of("state") == "disabled":
        return widget.text_of("takefocus") not in ("", "0") and widget.text_of("state") != "disabled"
    return (
        widget.shows_text
        or widget.is_button
        or widget.bare_class in ("Listbox", "Scale")
        or bool(any(pattern(its).type == "KeyPress" for its in widget.bindings))
    )


def invoke(app: Application, widget: Widget) -> Any:
    """Presses a button, which may change its variable; gives what its command gave."""
    if widget.text_of("state") == "disabled" or not widget.is_button:
        return ""
    kind, variable = widget.class_, widget.text_of("variable")
    if kind in ("Checkbutton", "TCheckbutton") and variable:
        is_on = as_text(app.variables.get(variable, "")) == widget.text_of("onvalue")
        app.setvar(variable, widget.get("offvalue") if is_on else widget.get("onvalue"))
    elif kind in ("Radiobutton", "TRadiobutton") and variable:
        app.setvar(variable, widget.get("value"))
    command = widget.text_of("command")
    if not command:
        return ""
    app.telling.cause(f"the button “{app.words_of(widget)}”" if app.words_of(widget) else "a button")
    return app.run_callback(command)


def of_class(app: Application, widget: Widget, event: Event) -> None:
    """What a widget of its kind does of itself when an event takes place there, unless its own bindings break it off:
    it comes after those of the widget and before those of the window."""
    if event.type == "KeyPress":
        if not event.modifiers & {"Control", "Alt"}:
            typed(app, widget, event)
    elif event.type == "ButtonPress" and event.detail == "1":
        app.pressed = widget.path
        if widget.shows_text or widget.class_ == "Listbox":
            focus_on(app, widget)
        if widget.class_ == "Listbox" and widget.lines:
            row = int((event.y - widget.size_of("borderwidth")) / (LINE * font_scale(widget.get("font"))))
            choose_row(app, widget, min(max(row, 0), len(widget.lines) - 1))
    elif (event.type, event.detail) == ("ButtonRelease", "1") and app.pressed == app.under_mouse == widget.path:
        invoke(app, widget)


def choose(app: Application, widget: Widget, choice: str) -> bool:
    """Chooses what a list, menu, box or slider has; gives whether it has it."""
    kind = widget.bare_class
    menu = app.widgets.get(widget.text_of("menu"), widget if kind == "Menu" else None)
    if kind == "Listbox":
        row = next((place for place, line in enumerate(widget.lines) if as_text(line) == choice), -1)
        return row >= 0 and choose_row(app, widget, row)
    if kind == "Treeview":
        return _choose_in_tree(app, widget, choice)
    if kind == "Notebook":
        tab = next((place for place, page in enumerate(widget.entries) if as_text(page["text"]) == choice), -1)
        return tab >= 0 and not notebooks.show(app, widget, tab)
    if kind == "Scale":
        try:
            set_scale(app, widget, number(choice))
        except TclError:
            return False
        return True
    if kind in ("Combobox", "Spinbox"):
        if kind == "Combobox" and choice not in map(as_text, split(widget.get("values"))):
            return False
        app.set_text(widget, choice)
        if kind == "Combobox":
            app.happen(widget, Event("Virtual", "ComboboxSelected"))
        elif widget.text_of("command"):
            app.telling.cause(f"“{choice}” in a box")
            app.run_callback(widget.get("command"))
        return True
    entry = next((its for its in menu.entries if as_text(its.get("label", "")) == choice), None) if menu else None
    if entry is not None:
        app.telling.cause(f"the menu’s “{choice}”")
        invoke_entry(app, entry)
    return entry is not None


def choose_row(app: Application, widget: Widget, row: int) -> bool:
    """A row of a list is chosen, alone."""
    if widget.text_of("state") == "disabled":
        return False
    widget.selected = {row}
    app.telling.changed(widget.path)
    app.happen(widget, Event("Virtual", "ListboxSelect"))
    return True


def choose_rows(app: Application, widget: Widget, names: list[str]) -> None:
    """Other rows of a tree are chosen."""
    if set(names) == set(widget.tree.selected):
        return
    widget.tree.selected = names
    app.telling.changed(widget.path)
    app.later(lambda: app.happen(widget, Event("Virtual", "TreeviewSelect")))


def _choose_in_tree(app: Application, widget: Widget, choice: str) -> bool:
    """A row by its text or one of its values, or the title of a column, which may do something."""
    for heading in widget.tree.headings.values():
        if as_text(heading["text"]) == choice and heading["command"]:
            app.telling.cause(f"the title “{choice}”")
            app.run_callback(heading["command"])
            return True
    for _, name in widget.tree.in_order():
        row = widget.tree.rows[name]
        if choice in (row.text, *row.values):
            widget.tree.focus = name
            choose_rows(app, widget, [name])
            return True
    return False


def invoke_entry(app: Application, entry: dict[str, Any]) -> Any:
    """Runs what stands in a menu, which may change its variable; gives what its command gave."""
    kind, variable = entry.get("type"), as_text(entry.get("variable", ""))
    if kind == "radiobutton" and variable:
        app.setvar(variable, entry.get("value", entry.get("label", "")))
    elif kind == "checkbutton" and variable:
        on, off = entry.get("onvalue", 1), entry.get("offvalue", 0)
        app.setvar(variable, off if as_text(app.variables.get(variable, "")) == as_text(on) else on)
    return app.run_callback(entry["command"]) if entry.get("command") else ""


def set_scale(app: Application, widget: Widget, value: Any) -> None:
    """Moves the slider of a scale."""
    low, high, step = (float(widget.get(name) or 0) for name in ("from", "to", "resolution"))
    moved = min(max(float(value), min(low, high)), max(low, high))
    moved = round(moved / step) * step if step else moved
    shown: Any = int(moved) if step == int(step or 1) and widget.class_ == "Scale" else moved
    widget.options["value"] = shown
    variable, command = widget.text_of("variable"), widget.text_of("command")
    if variable:
        app.setvar(variable, shown)
    app.telling.changed(widget.path)
    if command:
        app.telling.cause("the slider")
        app.run_callback(command, as_text(shown))


def typed(app: Application, widget: Widget, event: Event) -> None:
    """What a key does of itself."""
    kind, name, letter = widget.class_, event.detail, event.letter
    if name == "Tab" and kind != "Text":
        focus_on_next(app, widget, -1 if "Shift" in event.modifiers else 1)
        return
    if widget.is_button and name == "space":
        if kind == "Button":  # which is seen to be pressed for a moment
            app.person.after(app, _PRESSED_MS, ("tk::ButtonInvokeEnd", widget.path))
        else:
            invoke(app, widget)
        return
    if not widget.shows_text or widget.text_of("state") in ("disabled", "readonly"):
        return
    text, at = widget.text, min(widget.cursor, len(widget.text))
    if name == "BackSpace":
        new, cursor = text[: max(at - 1, 0)] + text[at:], max(at - 1, 0)
    elif name == "Delete":
        new, cursor = text[:at] + text[at + 1 :], at
    elif name in ("Left", "Right", "Home", "End"):
        widget.cursor = {"Left": max(at - 1, 0), "Right": min(at + 1, len(text)), "Home": 0, "End": len(text)}[name]
        return
    elif name == "Return":
        if kind != "Text":
            return
        new, cursor = text[:at] + "\n" + text[at:], at + 1
    elif letter and (letter.isprintable() or letter == "\t"):
        new, cursor = text[:at] + letter + text[at:], at + 1
    else:
        return
    if kind == "Text" or is_valid(app, widget, new, letter, at):
        widget.cursor = cursor
        app.set_text(widget, new)
        widget.cursor = cursor


def is_valid(app: Application, widget: Widget, new: str, change: str, at: int) -> bool:
    """Whether an entry may hold a text, by its own rule."""
    command = widget.get("validatecommand")
    if widget.text_of("validate") not in ("key", "all") or not command:
        return True
    known = {
        "%P": new,
        "%s": widget.text,
        "%S": change,
        "%i": str(at),
        "%d": "1" if len(new) >= len(widget.text) else "0",
    }
    known |= {"%v": widget.text_of("validate"), "%V": "key", "%W": widget.path}
    words = [known.get(as_text(word), word) for word in split(command)]
    try:
        is_so = app.getboolean(app.run_callback((words[0],), *words[1:]))
    except Exception:
        widget.options["validate"] = "none"
        raise
    if not is_so and widget.text_of("invalidcommand"):
        app.run_callback(widget.get("invalidcommand"))
    return is_so
