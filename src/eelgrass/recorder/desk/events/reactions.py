"""What widgets do of themselves when something is done to them: buttons run their commands, letters are written."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from eelgrass.recorder.desk.events.bindings import Event
from eelgrass.recorder.desk.language.words import as_text, split

if TYPE_CHECKING:
    from eelgrass.recorder.desk.application import Application
    from eelgrass.recorder.desk.widgets.widget import Widget


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
    if before is not None:
        app.happen(before, Event("FocusOut"))
        app.telling.changed(before.path)
    app.happen(widget, Event("FocusIn"))
    app.telling.changed(widget.path)


def item_bindings_at(app: Application, widget: Widget, x: float, y: float) -> list[dict[str, str]]:
    """What is bound to the item of a canvas that is at a place."""
    canvas = app.canvases.get(widget.path)
    if canvas is None:
        return []
    found = canvas.top_at(x + canvas.origin[0], y + canvas.origin[1])
    return [] if found is None else [found.bindings]


def invoke(app: Application, widget: Widget) -> Any:
    """Presses a button, which may change its variable; gives what its command gave."""
    if widget.text_of("state") == "disabled":
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


def pressed(app: Application, widget: Widget, called: str, act: dict[str, Any]) -> None:
    """What a click does of itself."""
    kind = widget.class_
    if kind.endswith("utton") and kind not in ("Menubutton", "TMenubutton"):
        invoke(app, widget)
    elif kind == "Listbox":
        chosen = next(
            (place for place, line in enumerate(widget.lines) if as_text(line) == as_text(act.get("text"))), 0
        )
        widget.selected = {chosen} if widget.lines else set()
        app.telling.changed(widget.path)
        app.happen(widget, Event("Virtual", "ListboxSelect"))
    elif kind in ("Scale", "TScale") and "value" in act:
        set_scale(app, widget, act["value"])
    elif kind in ("TCombobox", "TSpinbox", "Spinbox") and "text" in act:
        app.set_text(widget, as_text(act["text"]))
        app.happen(widget, Event("Virtual", "ComboboxSelected"))
    for entry in widget.entries if kind == "Menu" else ():
        if as_text(entry.get("label", "")) == called and entry.get("command"):
            app.telling.cause(f"the menu's “{called}”")
            app.run_callback(entry["command"])
            return


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


def typed(app: Application, widget: Widget, name: str, letter: str) -> None:
    """What a key does of itself."""
    kind = widget.class_
    if kind.endswith("utton") and name in ("space", "Return") and (name == "space" or kind == "TButton"):
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
    elif letter:
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
