"""How the mouse, or the focus, goes from one widget to another: which widgets hear that it leaves, and that it comes.

By X's rules those around hear it too, except one that is around both; and by Tk's, one that is left for what is within
it hears nothing, nor one that is come back to from there.
"""

from __future__ import annotations

from typing import TYPE_CHECKING

from eelgrass.recorder.desk.events.bindings import Event

if TYPE_CHECKING:
    from eelgrass.recorder.desk.application import Application
    from eelgrass.recorder.desk.widgets.widget import Widget


def leave(app: Application, before: Widget | None, after: Widget | None, event: Event) -> None:
    """Those hear that it leaves which it was in, and is in no more: the innermost first."""
    if before is not after:
        _tell(app, [its for its in _around(app, before) if its not in _around(app, after)], event)


def enter(app: Application, before: Widget | None, after: Widget | None, event: Event) -> None:
    """Those hear that it comes which it is in now, and was not: the outermost first."""
    if before is not after:
        _tell(app, [its for its in _around(app, after) if its not in _around(app, before)][::-1], event)


def _around(app: Application, widget: Widget | None) -> list[Widget]:
    """A widget and all those around it, up to its window."""
    found = []
    while widget is not None and widget.path in app.widgets:
        found.append(widget)
        widget = None if widget.is_window else app.widgets.get(widget.parent)
    return found


def _tell(app: Application, widgets: list[Widget], event: Event) -> None:
    for its in widgets:
        if its.path in app.widgets:
            app.happen(its, event)
