"""Widgets of several pages, of which one shows: their pages are the entries of the widget, each with its path."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from eelgrass.recorder.desk.events.bindings import Event
from eelgrass.recorder.desk.language.words import TclError, as_text, whole

if TYPE_CHECKING:
    from eelgrass.recorder.desk.application import Application
    from eelgrass.recorder.desk.widgets.widget import Widget


def shown(notebook: Widget) -> str:
    """The path of the page that shows; '' without any."""
    return as_text(notebook.options.get("shown", ""))


def place_of(notebook: Widget, tab: Any) -> int:
    """Which page is meant: by its number, its path, or as the current one. Raises TclError."""
    paths, text = [as_text(page["path"]) for page in notebook.entries], as_text(tab)
    if text == "current":
        text = shown(notebook)
    if text in paths:
        return paths.index(text)
    if text.lstrip("-").isdecimal() and 0 <= whole(text) < len(paths):
        return whole(text)
    if text.lstrip("-").isdecimal():
        raise TclError(f"Slave index {text} out of bounds")
    raise TclError(
        f"Invalid slave specification {text}" if not text.startswith(".") else f"{text} is not managed by it"
    )


def add(app: Application, notebook: Widget, place: int, path: str, given: dict[str, Any]) -> str:
    """Adds a page, or moves one that it has. Raises TclError."""
    page = app.widget(path)
    before = next((its for its in notebook.entries if its["path"] == path), {})
    notebook.entries = [its for its in notebook.entries if its["path"] != path]
    notebook.entries.insert(place, {"text": "", **before, "path": path, **given})
    page.manager, page.place, page.order = "notebook", {"in": notebook.path}, app.next_order()
    if not shown(notebook):
        show(app, notebook, 0)
    app.telling.changed(path)
    app.telling.changed(notebook.path)
    return ""


def forget(app: Application, notebook: Widget, place: int) -> str:
    """Takes a page out; the next one shows, if it did."""
    path = as_text(notebook.entries.pop(place)["path"])
    if path in app.widgets:
        app.widgets[path].manager = ""
        app.telling.changed(path)
    if shown(notebook) == path:
        notebook.options["shown"] = ""
        if notebook.entries:
            show(app, notebook, min(place, len(notebook.entries) - 1))
    app.telling.changed(notebook.path)
    return ""


def show(app: Application, notebook: Widget, place: int) -> str:
    """Shows a page instead of another; who wants to know hears of it."""
    path = as_text(notebook.entries[place]["path"])
    if path != shown(notebook):
        notebook.options["shown"] = path
        for page in notebook.entries:
            app.telling.changed(as_text(page["path"]))
        app.telling.changed(notebook.path)
        app.later(lambda: app.happen(notebook, Event("Virtual", "NotebookTabChanged")))
    return ""
