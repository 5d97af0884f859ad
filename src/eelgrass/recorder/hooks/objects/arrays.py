"""Arrays, by the buffers that they show to code in C, or as NumPy's own code in C gives their elements."""

from __future__ import annotations

from typing import Any, NamedTuple

from eelgrass.recorder.hooks.objects.type_facts import namespace_of

#: Of larger arrays the shape is told, and so many elements.
MOST_NUMBERS = 1024
#: Kinds of numbers that can be read from a row of bytes.
_KINDS = frozenset("bBhHiIlLqQfd?")
#: What showing its numbers may raise, where an array has other elements.
_FAILURES = (ValueError, NotImplementedError, BufferError, TypeError)


class Told(NamedTuple):
    """The first elements of an array in a row, None where they cannot be had; its fields as `shape` and `kind`, and
    of a table its elements' keys, both fit for the stream."""

    elements: list[Any] | None
    fields: dict[str, Any]
    keys: list[Any] | None = None


def told(obj: Any) -> Told | None:
    """The beginning of an array; None where nothing of it can be had."""
    try:
        with memoryview(obj) as view:
            if view.format in _KINDS:
                return Told(_numbers_of(view), {"shape": ["tuple", *(view.shape or ())], "kind": view.format})
    except _FAILURES:
        pass
    try:
        space = namespace_of(type(obj))
        fields = {"shape": ["tuple", *space["shape"].__get__(obj)], "kind": space["dtype"].__get__(obj).str}
        return Told(elements_of(obj, MOST_NUMBERS), fields)
    except (*_FAILURES, KeyError, AttributeError):
        return None


def _numbers_of(view: memoryview) -> list[Any] | None:
    """The first numbers that a buffer shows; None of many that do not lie in a row."""
    numbers: Any = None
    if view.nbytes <= MOST_NUMBERS * view.itemsize:
        numbers = view.tolist()
    elif view.c_contiguous:
        numbers = view.cast("B")[: MOST_NUMBERS * view.itemsize].cast(view.format).tolist()  # type: ignore[call-overload]
    while type(numbers) is list and numbers and type(numbers[0]) is list:
        numbers = [number for row in numbers for number in row]
    return numbers if type(numbers) is list else [numbers] if view.ndim == 0 else None


def elements_of(obj: Any, most: int) -> list[Any]:
    """The first elements of an array of NumPy's, as plain values; points in time as texts. No element is asked for
    anything."""
    space = namespace_of(type(obj))
    beginning = space["flat"].__get__(obj)[:most]
    if space["dtype"].__get__(obj).kind in "Mm":
        beginning = space["astype"](beginning, "U")
        return _without(
            ["T00:00:00"], _without([f".{'0' * digits}" for digits in (3, 6, 9)], space["tolist"](beginning))
        )
    found: list[Any] = space["tolist"](beginning)
    return found


def _without(endings: list[str], texts: list[str]) -> list[str]:
    """Texts without the ending that all have, if it is one of these."""
    ending = next((its for its in endings if texts and all(text.endswith((its, "NaT")) for text in texts)), "")
    return [text.removesuffix(ending) for text in texts]


class Row(NamedTuple):
    """The beginning of an array, and its kind, bytes of a number and shape."""

    form: tuple[str, int, tuple[int, ...] | None]
    numbers: bytes


def row_of(obj: Any) -> Row | None:
    """What an array of plain numbers that lie in a row begins with."""
    try:
        with memoryview(obj) as view:
            form = view.format
            if form not in _KINDS or not view.c_contiguous:
                return None
            return Row((form, view.itemsize, view.shape), bytes(view.cast("B")[: MOST_NUMBERS * view.itemsize]))
    except _FAILURES:
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
