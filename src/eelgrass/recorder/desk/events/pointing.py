"""What the items of a canvas hear of the mouse: the highest one there is the current one, as Tk's canvas picks it.

While a button is held the current one stays, wherever the mouse goes.
"""

from __future__ import annotations

from dataclasses import replace
from typing import TYPE_CHECKING

from eelgrass.recorder.desk.events.bindings import Event

if TYPE_CHECKING:
    from eelgrass.recorder.desk.application import Application
    from eelgrass.recorder.desk.widgets.canvas import Canvas
    from eelgrass.recorder.desk.widgets.widget import Widget

_CLICKS = ("ButtonPress", "ButtonRelease", "Motion")


def of_items(app: Application, widget: Widget, canvas: Canvas, event: Event) -> None:
    """An event takes place at a canvas: its items hear of it, before the canvas does."""
    if event.type not in (*_CLICKS, "Enter", "Leave"):
        return
    is_held = any(its.startswith("B") for its in event.modifiers)
    if not is_held and event.type != "ButtonRelease":
        _pick(app, widget, canvas, event)
    if event.type in _CLICKS and canvas.current is not None:
        app.happen_to_item(widget, canvas.current, event)
    if event.type == "ButtonRelease":
        _pick(app, widget, canvas, event)


def _pick(app: Application, widget: Widget, canvas: Canvas, event: Event) -> None:
    place = event.x + canvas.origin[0], event.y + canvas.origin[1]
    before, current = canvas.current, None if event.type == "Leave" else canvas.top_at(*place)
    if current is before:
        return
    if before is not None and before.number in canvas.items:
        app.happen_to_item(widget, before, replace(event, type="Leave", detail=""))
    canvas.pick(current)
    if current is not None:
        app.happen_to_item(widget, current, replace(event, type="Enter", detail=""))
