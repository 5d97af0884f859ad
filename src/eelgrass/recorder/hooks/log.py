"""What has happened since the last hand-over: events, and the values that they carry, a list for each type.

Where hooks are called, woven text appends to `events` and `wholes` itself, which CPython runs without a call.
"""

from __future__ import annotations

from _json import encode_basestring_ascii, make_encoder  # what `json` is made of
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from typing import Any, NamedTuple

from eelgrass.recorder import wire
from eelgrass.recorder.contract import LONG
from eelgrass.recorder.hooks.objects.bounds import MOST_CHARACTERS
from eelgrass.recorder.hooks.objects.registry import Registry

#: Lists with so many characters in long texts are handed over.
_MANY_CHARACTERS = 2_000_000
#: Of the long texts so many characters are kept, to know them again.
_MOST_KEPT = 4_000_000

_OUTPUT, _ERRORS, _INPUT = (kind * wire.FORMS for kind in (wire.OUTPUT, wire.ERRORS, wire.INPUT))
_TEXT, _FLOAT, _NONE, _FALSE, _TRUE, _REF, _OTHER = range(wire.TEXT, wire.FORMS)
_LONG = LONG


def _unwritable(_value: Any) -> Any:
    raise TypeError


#: `json.dumps` makes such an encoder for each value.
_encode = make_encoder(None, _unwritable, encode_basestring_ascii, None, ": ", ", ", False, False, True)


def as_json(value: Any) -> str:
    """A list of plain values as JSON."""
    if value[0] == "tuple":  # by far the most
        parts = ['["tuple"']
        for part in value[1:]:
            kind = type(part)
            if kind is int:
                parts.append(int.__repr__(part))
            elif kind is str:
                parts.append(encode_basestring_ascii(part))
            else:
                return "".join(_encode(value, 0))
        return ", ".join(parts) + "]"
    return "".join(_encode(value, 0))


class Taken(NamedTuple):
    """What the lists held."""

    events: list[int]
    wholes: list[int]
    floats: list[float]
    texts: list[str]


class Log:
    """The lists. `hand_over(taken)` takes what they held.

    `codes` has every number that events can be, by that number: one object for each, made once.
    """

    def __init__(self, hand_over: Callable[[Taken], None], events: list[int] | None = None) -> None:
        self.events: list[int] = [] if events is None else events
        self.is_plain = type(self.events) is list
        self.wholes: list[int] = []
        self.floats: list[float] = []
        self.texts: list[str] = []
        self.codes: list[int] = []
        self.make_codes(wire.FIRST_POINT)
        self.registry = Registry(self)
        #: Stands among the constants of all woven code, and of no other.
        self.mark: Any = self.events
        self.numbers = self.registry.numbers
        self._hand_over = hand_over
        self.look: Callable[[], None] | None = None  # called when other threads may have gone on
        self._undisturbed = 0
        self._interrupt: Callable[[], None] | None = None
        self._flushed_at = self._flushes = 0
        self._long: dict[int, tuple[str, int]] = {}  # long texts that were told lately, kept, by identity
        self._long_told = self._long_kept = 0
        self.is_due = False  # there are so many long texts that the lists should be handed over

    def make_codes(self, points: int) -> None:
        """There are so many points now."""
        self.codes += range(len(self.codes), points * wire.FORMS)

    def tell(self, point: int, value: Any) -> Any:
        """Appends an event (`point` as woven text has it: its number times FORMS) with its value, and gives the value.
        The hottest of all hooks."""
        kind = type(value)
        if kind is int:
            self.wholes.append(value)
            self.events.append(self.codes[point])
        elif kind is str:
            if len(value) >= _LONG:
                self._tell_long(point, value)
            else:
                self.texts.append(value)
                self.events.append(self.codes[point + _TEXT])
        elif kind is float:
            self.floats.append(value)
            self.events.append(self.codes[point + _FLOAT])
        elif value is None:
            self.events.append(self.codes[point + _NONE])
        elif kind is bool:
            self.events.append(self.codes[point + (_TRUE if value else _FALSE)])
        else:
            self.bear(point, value)
        return value

    def bear(self, point: int, value: Any) -> None:
        """As `tell`, for what is most likely an object that is known already."""
        number = self.numbers.get(value)
        kind = type(value)
        if number >= 0:
            self.wholes.append(number)
            self.events.append(self.codes[point + _REF])
        elif kind is int or kind is str or kind is float or kind is bool or value is None:
            self.tell(point, value)
        else:
            told = self.registry.plain(value)
            if type(told) is tuple:
                self.wholes.append(told[0])
                self.events.append(self.codes[point + _REF])
            else:
                self.texts.append(as_json(told))
                self.events.append(self.codes[point + _OTHER])

    def flush(self) -> None:
        """Hands the lists on, and lets go of objects that the program no longer has."""
        with self.undisturbed():
            # They are empty before they are written: meanwhile other threads go on.
            self._flushes += 1
            self._flushed_at, self.is_due = self.registry.bounds.long_characters, False
            events, wholes, floats, texts = self.events[:], self.wholes[:], self.floats[:], self.texts[:]
            self.events.clear()
            self.wholes.clear()
            self.floats.clear()
            self.texts.clear()
            self._hand_over(Taken(events, wholes, floats, texts))
            self.registry.sweep()
        if self.look is not None:
            self.look()

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

    def flush_so_far(self, kinds: bytearray) -> None:
        """As `flush`, between any two instructions of the program: values whose event is still to come stay. `kinds` is
        the kind of each point."""
        if self._undisturbed or not self.is_plain:
            return
        flushes, events = self._flushes, self.events[:]
        wholes, floats, texts = wire.needed(events, kinds)
        if flushes != self._flushes:
            return  # another thread has just done so
        taken = Taken(events, self.wholes[:wholes], self.floats[:floats], self.texts[:texts])
        del self.events[: len(events)], self.wholes[:wholes], self.floats[:floats], self.texts[:texts]
        with self.undisturbed():
            self._hand_over(taken)

    def tell_of(self, point: int, wholes: tuple[int, ...], value: Any) -> None:
        """As `tell`, for a kind that takes whole numbers before its value. The value, if new, is described before."""
        self.registry.plain(value)
        self.wholes += wholes
        self.tell(point, value)

    def _tell_long(self, point: int, text: str) -> None:
        """Tells of a long text; of its beginning only, where it is too long, or when there have been too many. One that
        was told lately is told by the number that it got."""
        told = self._long.get(id(text))
        if told is not None:
            self.texts.append(as_json([wire.AGAIN, told[1]]))
        else:
            self.texts.append(as_json([wire.LONG_TEXT, self._long_told, self.registry.bounds.brief(text) or text]))
            self._keep_long(text)
        self.events.append(point + wire.OTHER)
        # Not here: an object may be told half.
        self.is_due = self.registry.bounds.long_characters - self._flushed_at > _MANY_CHARACTERS

    def _keep_long(self, text: str) -> None:
        if len(text) <= MOST_CHARACTERS:
            self._long[id(text)] = text, self._long_told
            self._long_kept += len(text)
        while self._long_kept > _MOST_KEPT:
            self._long_kept -= len(self._long.pop(next(iter(self._long)))[0])
        self._long_told += 1

    def describe(self, kind: int, description: list[Any]) -> None:
        """Appends an event whose value is a description."""
        self.texts.append(as_json(description))
        self.events.append(kind * wire.FORMS + wire.OTHER)

    def output(self, channel: int, text: str) -> None:
        """The program wrote `text` on standard output (1) or standard error (2)."""
        self._text(_OUTPUT if channel == 1 else _ERRORS, str.__str__(text))

    def picture(self, text: str) -> None:
        """The program showed a picture: a PNG as base 64."""
        self.flush()
        self.texts.append(text)
        self.events.append(wire.PICTURE * wire.FORMS + wire.TEXT)

    def desk(self, text: str) -> None:
        """What looks different on the simulated desk: a key and what is there now, as JSON."""
        self.texts.append(text)
        self.events.append(wire.DESK * wire.FORMS + wire.TEXT)

    def cause(self, words: str) -> None:
        """Why something outside calls the program's code next."""
        self.texts.append(words)
        self.events.append(wire.CAUSE * wire.FORMS + wire.TEXT)

    def _text(self, point: int, text: str) -> None:
        """Tells a text that passes through a stream, in pieces that a block has room for."""
        for first in range(0, max(len(text), 1), _MANY_CHARACTERS):
            if first:
                self.flush()
            self.texts.append(text[first : first + _MANY_CHARACTERS])
            self.events.append(point + wire.TEXT)

    def input(self, text: str) -> None:
        """The program read `text` from standard input."""
        self._text(_INPUT, text)
