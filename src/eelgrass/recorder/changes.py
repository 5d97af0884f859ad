"""Hooks for what changes inside objects."""

from __future__ import annotations

from _collections import defaultdict  # type: ignore[import-not-found]  # `collections` would take long to load
from typing import Any

from eelgrass.recorder import wire
from eelgrass.recorder.log import Log

#: By identity, since a hash of a class may be the program's own.
_SIMPLE = frozenset(map(id, (int, str, float, bool, bytes, complex, type(None))))
_SET_INDEX, _SET_KEY, _KEY, _REMOVE, _APPEND, _SIZE, _GLOBAL = (
    kind * wire.FORMS
    for kind in (wire.SET_INDEX, wire.SET_KEY, wire.KEY, wire.REMOVE, wire.APPEND, wire.SIZE, wire.GLOBAL)
)
_LOOKED_INTO = ("list", "dict", "set", "instance", "class")


def _is_plain_key(key: Any) -> bool:
    """Whether looking a key up again runs no code of the program's own."""
    kind = type(key)
    return id(kind) in _SIMPLE or (kind is tuple and all(id(type(part)) in _SIMPLE for part in key))


class Changes:
    """`depth` is that of `Frames`; `held` keeps what woven text cannot safely work out twice until its change is told,
    and `_held_depth` how deep the frames were then, so that what an exception leaves behind is let go."""

    def __init__(self, log: Log, depth: list[None]) -> None:
        self.held: list[Any] = []
        self._held_depth: list[int] = []
        self._log = log
        self._depth = depth
        self._registry = log.registry
        self._sizes: dict[int, int] = {}

    def hold(self, thing: Any) -> Any:
        """Keeps an object or key until `take`."""
        self.held.append(thing)
        self._held_depth.append(len(self._depth))
        return thing

    def take(self) -> Any:
        """What was held last."""
        self._held_depth.pop()
        return self.held.pop()

    def let_go(self) -> None:
        """An exception has been caught: what the statements that it ended had held is held no longer."""
        while self._held_depth and self._held_depth[-1] >= len(self._depth):
            self.take()

    # Elements

    def item_set_held(self, key: Any, owner: Any) -> None:
        """As `item_set`, for both taken back, the key first."""
        self.item_set(owner, key)

    def item_set(self, owner: Any, key: Any) -> None:
        """`owner[key]` has been assigned."""
        entry = self._registry.entries.get(id(owner))
        kind = type(owner)
        if entry is None or (kind is not list and kind is not dict):
            self.changed(owner)
            return
        log, value = self._log, None
        if kind is list and type(key) is int:
            value = owner[key]
            if type(value) is int:
                log.wholes += (entry[0][0], key if key >= 0 else key + len(owner), value)
                log.events.append(_SET_INDEX)
            else:
                log.tell_of(_SET_INDEX, (entry[0][0], key if key >= 0 else key + len(owner)), value)
        elif kind is dict and (type(key) is str or _is_plain_key(key)):
            value = owner[key]
            if id(type(value)) not in _SIMPLE:
                self._registry.plain(value)
            log.tell(_KEY, key)
            log.wholes.append(entry[0][0])
            log.tell(_SET_KEY, value)
        else:
            self.changed(owner)

    def item_deleted(self, owner: Any, key: Any) -> None:
        """`owner[key]` has been deleted."""
        number = self._registry.known(owner)
        if number is not None and type(owner) is dict and _is_plain_key(key):
            self._log.tell(_KEY, key)
            self._log.wholes.append(number[0])
            self._log.events.append(_REMOVE)
        else:
            self.changed(owner)

    def item_deleted_held(self, key: Any, owner: Any) -> None:
        """As `item_deleted`, for both taken back, the key first."""
        self.item_deleted(owner, key)

    def grown(self, owner: Any) -> None:
        """Reading an element of `owner` may have put it there."""
        if issubclass(type(owner), defaultdict):
            size = dict.__len__(owner)
            if self._sizes.get(id(owner)) != size:
                self._sizes[id(owner)] = size
                self.changed(owner)

    # Fields

    def field_set(self, point: int, owner: Any, name: str) -> None:
        """`owner.name` has been assigned; `point` is of the kind SET_FIELD and knows the name."""
        number = self._registry.known(owner)
        fields = self._registry.plain_fields(owner, name) if number is not None else None
        if number is None or fields is None or name not in fields:
            self.changed(owner)
        else:
            self.field_told(point, number[0], fields[name])

    def field_told(self, point: int, number: int, value: Any) -> None:
        """The field holds `value` now."""
        if type(value) is int:
            self._log.wholes += (number, value)
            self._log.events.append(point)
        else:
            self._log.tell_of(point, (number,), value)

    # Anything

    def changed(self, owner: Any, method: str = "") -> None:
        """`owner` may have changed anywhere; `method` names what did it, if that says more."""
        kind = type(owner)
        if id(kind) in _SIMPLE:
            return
        registry = self._registry
        number = registry.known(owner)
        if number is None:
            registry.ref(owner)
        elif kind is list and method == "append" and owner:
            self._log.tell_of(_APPEND, number, owner[-1])
        elif kind is list and method == "pop last":
            self._log.wholes += (number[0], len(owner))
            self._log.events.append(_SIZE)
        elif registry.facts(kind).shape in _LOOKED_INTO:
            self._log.describe(wire.CONTENTS, registry.contents(owner))

    def augmented(self, point: int, value: Any) -> None:
        """A name has been stored by `+=` or the like, which change a mutable object in place."""
        self.changed(value)
        self._log.tell(point, value)

    def called(self, method: str, result: Any) -> Any:
        """The method `method` of the object last held has been called, and gave `result`."""
        self.changed(self.take(), method)
        return result

    def handed(self, count: int, result: Any) -> Any:
        """A call that may have changed the `count` objects last held has given `result`."""
        for _ in range(count):
            self.changed(self.take())
        return result

    def names_changed(self, names: dict[str, Any]) -> None:
        """A module's names may have been written by other ways than statements."""
        for name, value in list(names.items()):
            if not name.startswith("__"):
                self._log.tell(_KEY, name)
                self._log.tell(_GLOBAL, value)
