"""What bindings are told of an event: the values of their `%` words."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from eelgrass.recorder.desk.events.bindings import TYPE_NUMBERS, Event
from eelgrass.recorder.desk.language.words import as_text

if TYPE_CHECKING:
    from eelgrass.recorder.desk.widgets.widget import Widget


def substituted(words: list[str], widget: Widget, event: Event, now: float) -> list[Any]:
    """What stands for each of some words; `now` is the time in milliseconds."""
    is_key, x, y = event.type.startswith("Key"), round(event.x), round(event.y)
    known: dict[str, Any] = {
        **{"%#": 1, "%s": 0, "%t": round(now), "%f": "0", "%E": "0", "%N": "??", "%W": widget.path},
        **{"%x": x, "%y": y, "%X": x + 100, "%Y": y + 100, "%w": round(widget.rect[2]), "%h": round(widget.rect[3])},
        **{"%b": event.detail if event.type.startswith("Button") else "??", "%K": event.detail if is_key else "??"},
        **{
            "%k": ord(event.letter) if event.letter else "??",
            "%A": _letter(event),
            "%D": event.delta,
            "%d": event.data,
        },
        "%T": TYPE_NUMBERS.get(event.type, 0),
    }
    return [as_text(known.get(word, word)) for word in words]


def _letter(event: Event) -> str:
    """What a key writes as it is pressed."""
    return {"KeyPress": event.letter, "KeyRelease": ""}.get(event.type, "??")
