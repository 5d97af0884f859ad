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
_MOST_ARRAYS = 64


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


def _nobody() -> None:
    return None


def _row(obj: Any) -> _Row | None:
    """What an array of plain numbers that lie in a row begins with."""
    try:
        with memoryview(obj) as view:
            form = view.format
            if len(form) != 1 or not view.c_contiguous or not view.nbytes:
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


class Arrays:
    """Arrays that have been seen, which may be views of the same numbers."""

    def __init__(self) -> None:
        self._seen: list[Callable[[], Any]] = []
        self._rows: dict[int, tuple[Callable[[], Any], _Row]] = {}  # of those, what was told last, by identity

    def changed_in(self, obj: Any) -> tuple[list[int], list[Any]] | None:
        """The places at which an array's beginning differs from what was told last, and the numbers there; None where
        that is not known, or it has another form now."""
        row = _row(obj)
        whose, was = self._rows.pop(id(obj), (_nobody, None))
        if len(self._rows) >= _MOST_ARRAYS:
            self._rows = {key: its for key, its in self._rows.items() if its[0]() is not None}
        if row is not None and len(self._rows) < _MOST_ARRAYS:
            self._rows[id(obj)] = weak_reference(obj), row
        if row is None or was is None or whose() is not obj or was.form != row.form:
            return None
        form: Any = row.form[0]
        places = different(was.numbers, row.numbers, row.form[1])
        view = memoryview(row.numbers).cast(form)
        return places, [view[place] for place in places]

    def note(self, obj: Any) -> None:
        """An array has been seen."""
        if len(self._seen) < _MOST_ARRAYS and all(its() is not obj for its in self._seen):
            self._seen.append(weak_reference(obj))

    def sharing(self, obj: Any) -> list[Any]:
        """Those of the arrays seen that show the same numbers as one that has changed, and itself."""
        root = root_of(obj)
        self._seen = [its for its in self._seen if its() is not None]
        living = [its() for its in self._seen]
        return [its for its in living if its is obj or (its is not None and root_of(its) is root)]
