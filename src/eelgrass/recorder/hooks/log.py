"""What has happened since the last hand-over: events, and the values that they carry, a list for each type.

Woven text appends to `events` and `wholes` itself, which CPython runs without a call; everything else is told here.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator
from contextlib import contextmanager
from json import dumps
from typing import Any

from eelgrass.recorder import wire
from eelgrass.recorder.contract import LONG
from eelgrass.recorder.hooks.objects import Registry

_MOST_LONG_CHARACTERS = 20_000_000
_KEPT_CHARACTERS = 200

_OUTPUT, _ERRORS, _INPUT = (kind * wire.FORMS for kind in (wire.OUTPUT, wire.ERRORS, wire.INPUT))


Tell = Callable[[int, Any], Any]


class Log:
    """The lists. `hand_over(log)` must copy what it needs, since they are emptied after it.

    `tell(point, value)` appends an event (`point` as woven text has it: its number times FORMS) with its value, and
    gives the value.
    """

    def __init__(self, hand_over: Callable[[Log], None], events: list[int] | None = None) -> None:
        self.events: list[int] = [] if events is None else events
        self.wholes: list[int] = []
        self.floats: list[float] = []
        self.texts: list[str] = []
        self.registry = Registry(self.describe)
        self.tell = _teller(self)
        self._hand_over = hand_over
        self._undisturbed = 0
        self._interrupt: Callable[[], None] | None = None
        self._long_characters = self._flushed_at = 0

    def flush(self) -> None:
        """Hands the lists on, and lets go of objects that the program no longer has."""
        with self.undisturbed():
            self._hand_over(self)
            for its in (self.events, self.wholes, self.floats, self.texts):
                its.clear()
            self.registry.sweep()

    @contextmanager
    def undisturbed(self) -> Iterator[None]:
        """While something is written that must not be cut in two."""
        self._undisturbed += 1
        yield
        self._undisturbed -= 1
        if self._interrupt is not None and not self._undisturbed:
            self._interrupt()

    def interrupt(self, call: Callable[[], None]) -> None:
        """Makes a call that does not return: now or, where that would disturb, right after."""
        self._interrupt = call
        if not self._undisturbed:
            call()

    def flush_whole(self, kinds: bytearray) -> None:
        """As `flush`, at any moment, for the last time: values whose event is still to come are dropped. `kinds` is
        the kind of each point."""
        self._interrupt = None
        wholes, floats, texts = wire.needed(self.events, kinds)
        del self.wholes[wholes:], self.floats[floats:], self.texts[texts:]
        self.flush()

    def tell_of(self, point: int, wholes: tuple[int, ...], value: Any) -> None:
        """As `tell`, for a kind that takes whole numbers before its value. The value, if new, is described before."""
        self.registry.plain(value)
        self.wholes += wholes
        self.tell(point, value)

    def tell_long(self, point: int, text: str) -> None:
        """Tells of a long text; of its beginning only, when there have been too many."""
        if self._long_characters < _MOST_LONG_CHARACTERS:
            self._long_characters += len(text)
            self.texts.append(text)
            self.events.append(point + wire.TEXT)
        else:
            self.texts.append(dumps(["cut", text[:_KEPT_CHARACTERS], len(text)]))
            self.events.append(point + wire.OTHER)
        if self._long_characters - self._flushed_at > _MOST_LONG_CHARACTERS // 10:
            self._flushed_at = self._long_characters
            self.flush()

    def describe(self, kind: int, description: list[Any]) -> None:
        """Appends an event whose value is a description."""
        self.texts.append(dumps(description))
        self.events.append(kind * wire.FORMS + wire.OTHER)

    def output(self, channel: int, text: str) -> None:
        """The program wrote `text` on standard output (1) or standard error (2)."""
        self._text(_OUTPUT if channel == 1 else _ERRORS, str.__str__(text))

    def _text(self, point: int, text: str) -> None:
        self.texts.append(text)
        self.events.append(point + wire.TEXT)

    def input(self, text: str) -> None:
        """The program read `text` from standard input."""
        self._text(_INPUT, text)


def _teller(log: Log) -> Tell:
    """The function `Log.tell`. The hottest of all hooks, so what it needs is at hand in its closure."""
    events, wholes, floats, texts = log.events, log.wholes, log.floats, log.texts
    numbers, plain = log.registry.numbers, log.registry.plain

    def tell(point: int, value: Any) -> Any:
        kind = type(value)
        if kind is int:
            wholes.append(value)
            events.append(point)
        elif kind is str:
            if len(value) >= LONG:
                log.tell_long(point, value)
                return value
            texts.append(value)
            events.append(point + 1)
        elif kind is float:
            floats.append(value)
            events.append(point + 2)
        elif value is None:
            events.append(point + 3)
        elif kind is bool:
            events.append(point + 5 if value else point + 4)
        else:
            try:
                wholes.append(numbers[id(value)])
            except KeyError:
                pass
            else:
                events.append(point + 6)
                return value
            told = plain(value)
            if type(told) is tuple:
                wholes.append(told[0])
                events.append(point + wire.REF)
            else:
                texts.append(dumps(told))
                events.append(point + wire.OTHER)
        return value

    assert tuple(range(7)) == (wire.WHOLE, wire.TEXT, wire.FLOAT, wire.NONE, wire.FALSE, wire.TRUE, wire.REF)
    return tell


def bearer(log: Log) -> Callable[[int, Any], None]:
    """A hook as `Log.tell` that expects an object which is known already."""
    numbers, wholes, events, tell = log.registry.numbers, log.wholes, log.events, log.tell

    def bear(point: int, value: Any) -> None:
        try:
            wholes.append(numbers[id(value)])
        except KeyError:
            tell(point, value)
        else:
            events.append(point + wire.REF)

    return bear
