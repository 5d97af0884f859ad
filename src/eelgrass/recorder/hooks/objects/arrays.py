"""Arrays of numbers, by the buffers that they show to code in C."""

from __future__ import annotations

from _weakref import ref as weak_reference
from collections.abc import Callable
from typing import Any

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
