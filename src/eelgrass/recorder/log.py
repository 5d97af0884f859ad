"""What has happened since the last hand-over: events, and the values that they carry, a list for each type.

Woven text appends to `events` and `wholes` itself, which CPython runs without a call; everything else is told here.
"""

from __future__ import annotations

from collections.abc import Callable
from json import dumps
from typing import Any

from eelgrass.recorder import wire
from eelgrass.recorder.objects import Registry

#: Woven loops and calls hand the lists on once they hold this many events.
FULL = 8192

_OBJECT, _OUTPUT, _ERRORS, _INPUT = (kind * wire.FORMS for kind in (wire.OBJECT, wire.OUTPUT, wire.ERRORS, wire.INPUT))


class Log:
    """The lists. `hand_over(log)` must copy what it needs, since they are emptied after it."""

    def __init__(self, hand_over: Callable[[Log], None]) -> None:
        self.events: list[int] = []
        self.wholes: list[int] = []
        self.floats: list[float] = []
        self.texts: list[str] = []
        self.registry = Registry(self._new_object)
        self._hand_over = hand_over

    def flush(self) -> None:
        """Hands the lists on, and lets go of objects that the program no longer has."""
        self._hand_over(self)
        for its in (self.events, self.wholes, self.floats, self.texts):
            its.clear()
        self.registry.sweep()

    def tell(self, point: int, value: Any) -> Any:
        """Appends an event (`point` as woven text has it: its number times FORMS) with its value; gives the value."""
        kind = type(value)
        if kind is int:
            self.wholes.append(value)
            self.events.append(point)
        elif kind is str:
            self.texts.append(value)
            self.events.append(point + wire.TEXT)
        elif value is None:
            self.events.append(point + wire.NONE)
        elif kind is bool:
            self.events.append(point + (wire.TRUE if value else wire.FALSE))
        elif kind is float:
            self.floats.append(value)
            self.events.append(point + wire.FLOAT)
        else:
            plain = self.registry.plain(value)
            if type(plain) is tuple:
                self.wholes.append(plain[0])
                self.events.append(point + wire.REF)
            else:
                self.texts.append(dumps(plain))
                self.events.append(point + wire.OTHER)
        return value

    def tell_of(self, point: int, wholes: tuple[int, ...], value: Any) -> None:
        """As `tell`, for a kind that takes whole numbers before its value. The value, if new, is described before."""
        self.registry.plain(value)
        self.wholes += wholes
        self.tell(point, value)

    def describe(self, kind: int, description: list[Any]) -> None:
        """Appends an event whose value is a description."""
        self.texts.append(dumps(description))
        self.events.append(kind * wire.FORMS + wire.OTHER)

    def _new_object(self, description: list[Any]) -> None:
        self.describe(wire.OBJECT, description)

    def output(self, channel: int, text: str) -> None:
        """The program wrote `text` on standard output (1) or standard error (2)."""
        self.tell(_OUTPUT if channel == 1 else _ERRORS, str.__str__(text))

    def input(self, text: str) -> None:
        """The program read `text` from standard input."""
        self.tell(_INPUT, text)
