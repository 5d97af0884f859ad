"""The hooks that woven text calls, and the two lists that they fill.

`events` holds point numbers, `values` what those points report; `wire.ARITY` says how many values follow each event.
The hottest hooks are not here at all: woven text appends to the two lists itself.
"""

from __future__ import annotations

from collections.abc import Callable
from sys import exc_info, getrecursionlimit, setrecursionlimit
from typing import Any

from eelgrass.recorder import wire
from eelgrass.recorder.objects import Registry

#: Woven loops and calls hand the lists on once they hold this many events.
FULL = 8192
#: Call frames that the deepest of the hooks may need.
ROOM = 60


class Hooks:
    """The recorder's state in the child: what has happened since the last hand-over.

    `hand_over(events, values)` is called with the full lists; it must copy what it needs, since they are emptied.
    `frames_below` is how many call frames of ours lie below the program's module.
    """

    def __init__(self, hand_over: Callable[[list[int], list[Any]], None], frames_below: int) -> None:
        self.recursion_limit = getrecursionlimit()
        self._room = frames_below + ROOM
        self._roomy_limit = self.recursion_limit + self._room
        setrecursionlimit(self._roomy_limit)
        self.events: list[int] = []
        self.values: list[Any] = []
        self.receivers: list[Any] = []
        self.depth: list[None] = []
        self.registry = Registry(self._new_object)
        self._hand_over = hand_over
        self._recursion_error: BaseException | None = None
        self._unwound = False

    def constants(self) -> dict[str, Any]:
        """The objects that woven text reaches as constants, by the names that `weave` uses for them."""
        return {
            "events": self.events,
            "values": self.values,
            "receivers": self.receivers,
            "type": type,
            "int": int,
            "len": len,
            "flush": self.flush,
            "value": self.value,
            "too_deep": self.too_deep,
            "depth": self.depth,
            "recursion_limit": self.recursion_limit,
            "leave": self.leave,
            "returning": self.returning,
            "left": self.left,
            "unwind": self.unwind,
            "caught": self.caught,
            "hold": self.hold,
            "stored": self.stored,
            "item_set": self.item_set,
            "item_set_held": self.item_set_held,
            "field_set": self.field_set,
            "changed": self.changed,
            "augmented": self.augmented,
            "called": self.called,
            "BaseException": BaseException,
        }

    def flush(self) -> None:
        """Hands the lists on, and lets go of objects that the program no longer has."""
        self._hand_over(self.events, self.values)
        self.events.clear()
        self.values.clear()
        self.registry.sweep()

    def value(self, value: Any) -> Any:
        """What `values` holds for a value of the program."""
        kind = type(value)
        if kind is str or kind is float or kind is int or kind is bool or value is None:
            return value
        return self.registry.plain(value)

    def _say(self, point: int, value: Any) -> None:
        self.values.append(value)
        self.events.append(point)

    def _new_object(self, description: list[Any]) -> None:
        self._say(wire.OBJECT, description)

    # Frames

    def too_deep(self) -> None:
        """Called when more frames are open than the recursion limit that the program started with allows.

        Raises RecursionError where a plain run would: the interpreter's own limit is set higher, for our own calls. A
        program that has set a limit of its own since gets that one, with the same room added.
        """
        set_now = getrecursionlimit()
        if set_now != self._roomy_limit:
            self.recursion_limit = set_now
            self._roomy_limit = set_now + self._room
            setrecursionlimit(self._roomy_limit)
        if len(self.depth) > self.recursion_limit:
            self._recursion_error = RecursionError("maximum recursion depth exceeded")
            raise self._recursion_error

    def leave(self, point: int, value: Any) -> Any:
        """A frame ends by handing back `value`."""
        kind = type(value)
        simple = kind is int or kind is str or kind is float or kind is bool or value is None
        self.values.append(value if simple else self.registry.plain(value))
        self.events.append(point)
        self.depth.pop()
        return value

    def returning(self, point: int, value: Any) -> Any:
        """A frame is about to hand back `value`, unless a `finally` has other plans; `left` follows."""
        self._say(point, self.value(value))
        return value

    def left(self, point: int) -> None:
        """A frame whose value `returning` told has ended; not said again after `unwind`."""
        if self._unwound:
            self._unwound = False
            return
        self.events.append(point)
        self.depth.pop()

    def unwind(self, point: int, left_follows: bool = False) -> None:
        """An exception ends the frame; called in a handler that raises it again."""
        error = exc_info()[1]
        self._say(point, self.value(error))
        self.depth.pop()
        self._unwound = left_follows
        if error is self._recursion_error and error is not None:
            # In a plain run the call that goes too deep never begins: its frame is no part of the traceback.
            error.__traceback__ = None
            self._recursion_error = None

    def caught(self, point: int) -> None:
        """A handler of the program has taken an exception."""
        self._say(point, self.value(exc_info()[1]))

    # Changes inside objects

    def hold(self, receiver: Any) -> Any:
        """Keeps an object or key that the woven text cannot safely work out twice, until the change is reported."""
        self.receivers.append(receiver)
        return receiver

    def stored(self, point: int, value: Any) -> Any:
        """A name has been written inside an expression."""
        self._say(point, self.value(value))
        return value

    def item_set_held(self, key: Any, owner: Any) -> None:
        """As `item_set`, for both taken back from `receivers`, the key first."""
        self.item_set(owner, key)

    def item_set(self, owner: Any, key: Any) -> None:
        """`owner[key]` has been assigned."""
        number = self.registry.known(owner)
        kind, key_kind = type(owner), type(key)
        if number is None:
            self.changed(owner)
        elif kind is list and key_kind is int:
            index = key if key >= 0 else key + len(owner)
            self._inside(wire.SET_ITEM, number, index, owner[index])
        elif kind is dict and (key_kind is str or key_kind is int or key_kind is float or key_kind is bool):
            self._inside(wire.SET_ITEM, number, key, owner[key])
        else:
            self.changed(owner)

    def _inside(self, point: int, number: tuple[int], key: Any, value: Any) -> None:
        """Tells of one element or field. The value may be a new object, which is told of before."""
        kind = type(value)
        if not (kind is int or kind is str or kind is float or kind is bool or value is None):
            value = self.registry.plain(value)
        self.values += (number, key, value)
        self.events.append(point)

    def field_set(self, owner: Any, name: str) -> None:
        """`owner.name` has been assigned."""
        number = self.registry.known(owner)
        fields = self.registry.plain_fields(owner, name) if number is not None else None
        if number is None or fields is None or name not in fields:
            self.changed(owner)
        else:
            self._inside(wire.SET_FIELD, number, name, fields[name])

    def changed(self, owner: Any, method: str = "") -> None:
        """`owner` may have changed anywhere; `method` names the list method that did it, if one did."""
        kind = type(owner)
        if kind is int or kind is str or kind is float or kind is bool or kind is bytes or owner is None:
            return
        number = self.registry.known(owner)
        if number is None:
            self.registry.ref(owner)
        elif kind is list and method == "append" and owner:
            self._inside(wire.SET_ITEM, number, len(owner) - 1, owner[-1])
        else:
            shape = self.registry.facts(kind).shape
            if shape in ("list", "dict", "set", "instance", "class"):
                self._say(wire.CONTENTS, self.registry.contents(owner))

    def augmented(self, value: Any) -> Any:
        """What `values` holds for a name after `+=` and the like, which change a mutable object in place."""
        self.changed(value)
        return self.value(value)

    def called(self, result: Any, method: str) -> Any:
        """The method `method` of the object last held has been called, and gave `result`."""
        self.changed(self.receivers.pop(), method)
        return result

    # Output and input

    def output(self, channel: int, text: str) -> None:
        """The program wrote `text` on standard output (1) or standard error (2)."""
        self._say(wire.OUTPUT, ["out" if channel == 1 else "err", text])

    def input(self, text: str) -> None:
        """The program read `text` from standard input."""
        self._say(wire.INPUT, text)
