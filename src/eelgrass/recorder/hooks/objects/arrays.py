"""Arrays of numbers, by the buffers that they show to code in C."""

from __future__ import annotations

from _weakref import ref as weak_reference
from collections.abc import Callable
from typing import Any, NamedTuple

from eelgrass.recorder.hooks.objects.type_facts import namespace_of
from eelgrass.recorder.wire import WHOLE_MAX

#: Of larger arrays the shape is told, and as many numbers, if they lie in a row.
_MOST_NUMBERS = 1024
#: Of so many arrays it is known which are views of the same numbers.
_MOST_ARRAYS = 1024
#: Kinds of numbers that can be read from a row of bytes.
_KINDS = frozenset("bBhHiIlLqQfd?")


def told(obj: Any) -> list[Any]:
    """What is in an array, by the buffer that it shows to code in C: its numbers in a row, and how it is folded."""
    numbers: Any = None
    try:
        with memoryview(obj) as view:
            form: Any = view.format
            fields = {"shape": ["tuple", *(view.shape or ())], "kind": form}
            if view.nbytes <= _MOST_NUMBERS * view.itemsize:
                numbers = view.tolist()
            elif view.c_contiguous:
                numbers = view.cast("B")[: _MOST_NUMBERS * view.itemsize].cast(form).tolist()
    except (ValueError, NotImplementedError, BufferError, TypeError):  # of another kind than plain numbers
        return [None, None, None]
    while type(numbers) is list and numbers and type(numbers[0]) is list:
        numbers = [number for row in numbers for number in row]
    if type(numbers) is not list or not all(type(number) in (int, float, bool) for number in numbers):
        return [None, None, fields]
    wide = [number if type(number) is not int or number <= WHOLE_MAX else ["int", hex(number)] for number in numbers]
    return [wide, None, fields]


class _Row(NamedTuple):
    """The beginning of an array, and its kind, bytes of a number and shape."""

    form: tuple[str, int, tuple[int, ...] | None]
    numbers: bytes


def _row(obj: Any) -> _Row | None:
    """What an array of plain numbers that lie in a row begins with."""
    try:
        with memoryview(obj) as view:
            form = view.format
            if form not in _KINDS or not view.c_contiguous:
                return None
            return _Row((form, view.itemsize, view.shape), bytes(view.cast("B")[: _MOST_NUMBERS * view.itemsize]))
    except (ValueError, NotImplementedError, BufferError, TypeError):
        return None


def different(before: bytes, now: bytes, itemsize: int) -> list[int]:
    """The places at which two rows of as many numbers differ, by halves."""
    found: list[int] = []
    waiting = [(0, len(now) // itemsize)]
    while waiting:
        first, last = waiting.pop()
        if before[first * itemsize : last * itemsize] == now[first * itemsize : last * itemsize]:
            continue
        if last - first == 1:
            found.append(first)
            continue
        middle = (first + last) // 2
        waiting += ((middle, last), (first, middle))
    return found


def root_of(obj: Any) -> Any:
    """The array whose numbers an array shows; itself, unless it is a view."""
    base = namespace_of(type(obj)).get("base")
    while base is not None and (below := base.__get__(obj)) is not None and type(below) is type(obj):
        obj = below
    return obj


class _Seen(NamedTuple):
    """An array that was told: what gives it while it lives, whose numbers it shows, and what it began with."""

    array: Callable[[], Any]
    root: int
    row: _Row | None


class Arrays:
    """Arrays that have been told, which may be views of the same numbers."""

    def __init__(self) -> None:
        self._seen: dict[int, _Seen] = {}  # by identity

    def note(self, obj: Any) -> None:
        """An array is told as it is now."""
        if len(self._seen) >= _MOST_ARRAYS:
            self._seen = {key: its for key, its in self._seen.items() if its.array() is not None}
        if id(obj) in self._seen or len(self._seen) < _MOST_ARRAYS:
            self._seen[id(obj)] = _Seen(weak_reference(obj), id(root_of(obj)), _row(obj))

    def changed_in(self, obj: Any) -> tuple[list[int], list[Any]] | None:
        """The places at which an array's beginning differs from what was told last, and the numbers there; None where
        that is not known, or it has another form now. These count as told."""
        seen, row = self._seen.get(id(obj)), _row(obj)
        if seen is None or seen.array() is not obj or seen.row is None or row is None or seen.row.form != row.form:
            return None
        self._seen[id(obj)] = seen._replace(row=row)
        form: Any = row.form[0]
        places = different(seen.row.numbers, row.numbers, row.form[1])
        numbers = memoryview(row.numbers).cast(form)
        return places, [numbers[place] for place in places]

    def sharing(self, obj: Any) -> list[Any]:
        """An array that has changed, and those of the arrays seen that show the same numbers."""
        root = id(root_of(obj))
        living = [its.array() for its in self._seen.values() if its.root == root]
        return [obj, *(its for its in living if its is not None and its is not obj and root_of(its) is root_of(obj))]
