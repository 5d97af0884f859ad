"""Arrays and tables that have been told, of which some show the same numbers: what has changed since."""

from __future__ import annotations

from _weakref import ref as weak_reference
from collections.abc import Callable
from typing import Any, NamedTuple

from eelgrass.recorder.hooks.objects import arrays, tables
from eelgrass.recorder.hooks.objects.arrays import Row, different, root_of, row_of
from eelgrass.recorder.hooks.objects.type_facts import is_table

#: Of so many arrays it is known which are views of the same numbers.
_MOST_ARRAYS = 1024


class _Seen(NamedTuple):
    """An array that was told: what gives it while it lives, whose numbers it shows, what it began with, and where that
    is not known, how it was described."""

    array: Callable[[], Any]
    root: int
    row: Row | None
    description: list[Any] | None


class Arrays:
    """Arrays and tables that have been told. `plain` makes a value fit for the stream."""

    def __init__(self, plain: Callable[[Any], Any]) -> None:
        self._plain = plain
        self._seen: dict[int, _Seen] = {}  # by identity

    def describe(self, obj: Any) -> list[Any]:
        """What is in an array now: elements, keys and fields, as the stream has them. This counts as told."""
        if len(self._seen) >= _MOST_ARRAYS:
            self._seen = {key: its for key, its in self._seen.items() if its.array() is not None}
        found = self._described(obj)
        if id(obj) in self._seen or len(self._seen) < _MOST_ARRAYS:
            row = row_of(obj)
            self._seen[id(obj)] = _Seen(weak_reference(obj), id(root_of(obj)), row, None if row is not None else found)
        return found

    def _described(self, obj: Any) -> list[Any]:
        found = tables.told(obj) if is_table(type(obj)) else arrays.told(obj)
        if found is None:
            return [None, None, None]
        elements = None if found.elements is None else list(map(self._plain, found.elements))
        return [elements, found.keys, found.fields]

    def changed_in(self, obj: Any) -> tuple[list[int], list[Any]] | None:
        """The places at which an array's beginning differs from what was told last, and what is there; None where that
        is not known, or it has another form now. These count as told."""
        seen, row = self._seen.get(id(obj)), row_of(obj)
        if seen is None or seen.array() is not obj:
            return None
        if seen.row is None or row is None or seen.row.form != row.form:
            return ([], []) if row is None and seen.description == self._described(obj) else None
        self._seen[id(obj)] = seen._replace(row=row)
        form: Any = row.form[0]
        places = different(seen.row.numbers, row.numbers, row.form[1])
        numbers = memoryview(row.numbers).cast(form)
        return places, [self._plain(numbers[place]) for place in places]

    def sharing(self, obj: Any) -> list[Any]:
        """Those other arrays seen that show the same numbers as an array that has changed."""
        root = id(root_of(obj))
        living = [its.array() for its in self._seen.values() if its.root == root]
        return [its for its in living if its is not None and its is not obj and root_of(its) is root_of(obj)]
