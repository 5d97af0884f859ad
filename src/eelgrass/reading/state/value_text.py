"""Values as text and as data: what Python would print for them, and the words for their types."""

from __future__ import annotations

import json
import math
from typing import Any

import numpy as np

from eelgrass.reading.state.name_lookup import NO_SLOT
from eelgrass.trace.columns import Ints
from eelgrass.trace.histories import Inside, Part
from eelgrass.trace.model import Trace
from eelgrass.trace.values import NOT_SET, Ref

#: What a path like `stock[2]` means over a whole run: a slot, or a place (number of the list, index) in a list whose
#: elements are cells.
Spot = int | tuple[int, int]

#: Words a beginner meets for Python's types.
TYPE_WORDS = {
    "str": "text",
    "int": "whole number",
    "float": "float",
    "bool": "truth value",
    "NoneType": "nothing",
    "list": "list",
    "tuple": "tuple",
    "dict": "dictionary",
    "set": "set",
    "frozenset": "fixed set",
    "bytes": "bytes",
    "complex": "complex number",
    "function": "function",
    "builtin_function_or_method": "function",
    "type": "class",
    "module": "module",
}
#: Deeper than this, what is in a value is not written any more.
_DEEPEST = 60
#: What is told in brief has so many characters.
#: The name under which a number or text stands that an object is, besides what it holds.
OWN_VALUE = "(value)"
#: Fields or numbers of an object that one line shows, and characters of each.
_IN_A_LINE, _IN_A_LINE_CHARACTERS = 4, 14
_BRIEF = 28
_TAG_TYPES = {"cut": "str", "cutbytes": "bytes", "large": "int"}
#: Shapes whose text Python can write as a literal, when the type is exactly the built-in one.
_LITERAL_TYPES = {"list", "dict", "set", "frozenset", "tuple"}


def type_name(trace: Trace, value: int) -> str:
    """The name of a value's Python type."""
    return type_of(trace, trace.values.get(value))


def type_of(trace: Trace, got: Any) -> str:
    """As `type_name`, for a value as the table has it, or one that stands inside a short tuple."""
    number = object_in(got)
    if number is not None:
        return trace.objects.type_of(number)
    if isinstance(got, list):
        return _TAG_TYPES.get(got[0], str(got[0]))
    return type(got).__name__


def object_in(got: Any) -> int | None:
    """The number of the object that a value is; None for any other."""
    if isinstance(got, Ref):
        return got.number
    return got[0] if type(got) is list and len(got) == 1 and type(got[0]) is int else None


def type_word(trace: Trace, value: int, step: int) -> str:
    """The word for a value's type, with a container's size: 'list of 5', 'text', 'Crab'."""
    name = type_name(trace, value)
    word = TYPE_WORDS.get(name, name)
    size = size_of(trace, value, step)
    return word if size is None else f"{word} of {size:,}"


def size_of(trace: Trace, value: int, step: int) -> int | None:
    """Number of elements of a list, dictionary, set or tuple at a step; None for anything else."""
    got = trace.values.get(value)
    if isinstance(got, list) and got[0] == "tuple":
        return len(got) - 1
    if not isinstance(got, Ref):
        return None
    shape = trace.objects.shape_of(got.number)
    if shape in ("dict", "set"):
        return len(elements(trace, got.number, step)) + untold(trace, got.number, step)
    return size_of_object(trace, got.number, step) if shape in ("list", "tuple") else None


def untold(trace: Trace, number: int, step: int) -> int:
    """How many elements a container has that are not recorded, because it has so many."""
    shape = trace.objects.shape_of(number)
    if shape == "array":
        held = field(trace, number, "shape", step)
        folded = [] if held == NOT_SET else trace.values.get(held)
        size = math.prod(folded[1:]) if type(folded) is list and all(type(its) is int for its in folded[1:]) else 0
        told = len(elements(trace, number, step))
        return max(size - told, 0) if told else 0
    if shape not in ("list", "tuple", "dict", "set"):
        return 0
    size = _stored_size(trace, number, step)
    if type(size) is list and size[0] == "size":
        return max(int(size[1]) - len(elements(trace, number, step)), 0)
    is_whole = type(size) is not int or shape in ("dict", "set")
    return 0 if is_whole else max(size - len(elements(trace, number, step)), 0)


def recorded_part(trace: Trace, number: int, step: int) -> str:
    """How much of a container is recorded, in words; '' where all of it is."""
    left = untold(trace, number, step)
    if not left:
        return ""
    told, begins = len(elements(trace, number, step)), len(beginning(trace, number, step))
    others = f", and {told - begins:,} others" if told > begins else ""
    return f"the first {begins:,} of {told + left:,} elements are recorded{others}"


def beginning(trace: Trace, number: int, step: int) -> list[int]:
    """The value numbers of an object's elements just before `step`: of a list of which not all are recorded, those from
    the first one on up to where one is missing."""
    rows = items(trace, number, step)
    if trace.objects.shape_of(number) in ("list", "tuple") and untold(trace, number, step):
        places = trace.values.payloads[np.array([key for key, _ in rows], np.int64)]
        gaps = np.flatnonzero(places != np.arange(len(places)))
        rows = rows[: int(gaps[0]) if len(gaps) else None]
    return [value for _, value in rows]


def size_of_object(trace: Trace, number: int, step: int) -> int:
    """The stored length of a list or tuple; 0 for other objects."""
    size = _stored_size(trace, number, step)
    return size if type(size) is int else 0


def _stored_size(trace: Trace, number: int, step: int) -> Any:
    """What is stored of an object's length: a whole number for lists and tuples, and for sets in old recordings, whose
    elements have their places as keys; for small sets their elements, and for dictionaries with an order of their own
    their keys, in the order in which the program would meet them; for those of which not all is
    recorded `["size", length]`; None for all others."""
    slots = trace.histories.of_object(number)
    sizes = slots[trace.slots.part[slots] == Part.SIZE]
    value = trace.histories.value_at(int(sizes[0]), step) if len(sizes) else NOT_SET
    return trace.values.get(value) if value != NOT_SET else None


def elements(trace: Trace, number: int, step: int) -> Inside:
    """An object's elements just before `step`: for a list whose elements are cells in their order, for any other object
    in the order in which their slots were first written."""
    if number in trace.cells and len(inside := trace.cells.inside(number, step)):
        return inside
    return trace.histories.inside(number, Part.ITEM, step)


def element(trace: Trace, number: int, index: int, step: int) -> int:
    """The value number of a list's element just before `step`; NOT_SET for one that is not recorded. Raises IndexError
    as Python does."""
    size = size_of_object(trace, number, step)
    place = index + size if index < 0 else index
    if not 0 <= place < size:
        raise IndexError("list index out of range")
    slot = slot_of_part(trace, number, Part.ITEM, place, step)
    return NOT_SET if slot == NO_SLOT else trace.histories.value_at(slot, step)


def spot_of_part(trace: Trace, number: int, part: int, key: Any, step: int) -> Spot:
    """As `slot_of_part`, for what stays the same when others take the slot's place."""
    if part == Part.ITEM and number in trace.cells and type(key) is int:
        return number, key + size_of_object(trace, number, step) if key < 0 else key
    return slot_of_part(trace, number, part, key, step)


def slot_of_part(trace: Trace, number: int, part: int, key: Any, step: int) -> int:
    """The slot of an object's element or field; an index may count from the end. NO_SLOT where there is none."""
    if type(key) is int and key < 0 and trace.objects.shape_of(number) != "dict":
        key += size_of_object(trace, number, step)
    if part == Part.ITEM and number in trace.cells:
        cells = trace.cells.inside(number, step).slots
        if type(key) is int and 0 <= key < len(cells):
            return int(cells[key])
    wanted = trace.values.number_of(key)
    slots = trace.histories.of_object(number)
    found = slots[(trace.slots.key[slots] == wanted) & (trace.slots.part[slots] == part)]
    return int(found[0]) if len(found) else NO_SLOT


def items(trace: Trace, number: int, step: int, first: int = 0, end: int | None = None) -> list[tuple[int, int]]:
    """(key's value number, value number) of an object's elements just before `step`, in the order in which the
    program would meet them, from place `first` up to, not including, `end`. The key of a list's or set's element is
    its place."""
    inside = elements(trace, number, step)
    keys, held = inside.keys, inside.values
    is_ordered = len(inside) and trace.slots.part[inside.slots[0]] == Part.CELL
    order = None if is_ordered else _order(trace, number, inside, step)
    if order is not None:
        keys, held = keys[order], held[order]
    return list(zip(keys[first:end].tolist(), held[first:end].tolist(), strict=True))


def _order(trace: Trace, number: int, inside: Inside, step: int) -> Ints | None:
    """The order in which the program would meet an object's elements; None where they are in it."""
    shape = trace.objects.shape_of(number)
    stored = _stored_size(trace, number, step)
    if shape not in ("dict", "set") or (shape == "set" and type(stored) is int):
        places = trace.values.payloads[inside.keys]
        return np.argsort(places, kind="stable") if (places[1:] < places[:-1]).any() else None
    order = None
    if trace.histories.have_gaps(inside.slots):
        since = [trace.histories.set_since(slot, step) for slot in inside.slots.tolist()]
        order = np.argsort(since, kind="stable")
    if type(stored) is not list or stored[0] == "size":
        return order
    met = {json.dumps(part): place for place, part in enumerate(stored[1:])}
    rows = range(len(inside)) if order is None else order.tolist()
    told = {row: _as_told(trace.values.get(int(inside.keys[row]))) for row in rows}
    return np.array(sorted(rows, key=lambda row: met.get(told[row], len(met))), np.int64)


def _as_told(got: Any) -> str:
    return json.dumps([got.number] if isinstance(got, Ref) else got)


def fields(trace: Trace, number: int, step: int) -> list[tuple[str, int]]:
    """(name, value number) of an object's fields just before `step`, in the order in which they were set."""
    inside = trace.histories.inside(number, Part.FIELD, step)
    return [
        (str(trace.values.get(key)), value)
        for key, value in zip(inside.keys.tolist(), inside.values.tolist(), strict=True)
    ]


def field(trace: Trace, number: int, name: str, step: int) -> int:
    """The value number of an object's field just before `step`; NOT_SET where it has none of this name."""
    return dict(fields(trace, number, step)).get(name, NOT_SET)


def text(trace: Trace, value: int, step: int, limit: int | None = None) -> str:
    """What `repr` prints for a value just before `step`; `<Typename #number>` for an object of any other type. With a
    `limit`, what lies beyond so many characters may be wrong or missing, and costs nothing."""
    return _Writer(trace, step, limit).text(trace.values.get(value))


def text_of(trace: Trace, got: Any, step: int) -> str:
    """As `text`, for a value as the table has it, or one that stands inside a short tuple."""
    return _Writer(trace, step, None).text(got)


def text_and_whole(trace: Trace, got: Any, step: int) -> tuple[str, bool]:
    """(as `text_of`; whether all of the value can be read from that: there is no other object than literals in it)."""
    writer = _Writer(trace, step, None)
    return writer.text(got), not writer.has_objects


def is_literal(trace: Trace, number: int) -> bool:
    """Whether Python can write an object as a literal."""
    return trace.objects.type_of(number) in _LITERAL_TYPES and trace.objects.shape_of(number) != "instance"


def brief(trace: Trace, value: int, step: int, length: int = _BRIEF) -> str:
    """A value's text where it fits into `length` characters, else its type in words."""
    got = trace.values.get(value)
    if isinstance(got, Ref) and trace.objects.shape_of(got.number) not in ("list", "dict", "set", "tuple"):
        own = _own_value(trace, got.number, step)
        return type_word(trace, value, step) if own == NOT_SET else brief(trace, own, step, length)
    whole = text(trace, value, step, length + 1)
    if len(whole) <= length:
        return whole
    if isinstance(got, Ref):
        return type_word(trace, value, step)
    return whole[: length - 1] + "…"


def _own_value(trace: Trace, number: int, step: int) -> int:
    """The value number of the number or text that an object is; NOT_SET for one that is none."""
    if trace.objects.shape_of(number) != "instance" or trace.values.number_of(OWN_VALUE) == NOT_SET:
        return NOT_SET
    slot = slot_of_part(trace, number, Part.FIELD, OWN_VALUE, step)
    return NOT_SET if slot == NO_SLOT else trace.histories.value_at(slot, step)


def in_a_line(trace: Trace, number: int, step: int) -> str:
    """The beginning of what is in an object with fields, or in an array, for one line."""
    if trace.objects.shape_of(number) == "array":
        numbers = [brief(trace, held, step) for _, held in items(trace, number, step, 0, _IN_A_LINE + 1)]
        shape = field(trace, number, "shape", step)
        told = f"[{' '.join(numbers[:_IN_A_LINE])}{' …' if len(numbers) > _IN_A_LINE else ''}]" if numbers else ""
        return told if shape == NOT_SET else f"{told} shape {text(trace, shape, step)}".strip()
    held = fields(trace, number, step)
    shown = [(name, brief(trace, inner, step, _IN_A_LINE_CHARACTERS)) for name, inner in held[:_IN_A_LINE]]
    parts = [told if name == OWN_VALUE else f"{name} {told}" for name, told in shown]
    return ", ".join(parts) + (", …" if len(held) > _IN_A_LINE else "")


class _Writer:
    """Writes values as Python does, also those that contain themselves."""

    def __init__(self, trace: Trace, step: int, limit: int | None) -> None:
        self.trace = trace
        self.step = step
        self.limit = limit
        self.inside: list[int] = []
        self.has_objects = False

    def text(self, got: Any) -> str:
        if isinstance(got, Ref):
            return self._object(got.number)
        if isinstance(got, list):
            return self._tagged(got)
        return repr(got if self.limit is None or type(got) is not str else got[: self.limit])

    def _tagged(self, got: list[Any]) -> str:
        tag = got[0] if got else None
        if type(tag) is int:
            return self._object(tag)
        if tag == "tuple":
            parts = [self.text(part) for part in got[1:]]
            return f"({parts[0]},)" if len(parts) == 1 else f"({', '.join(parts)})"
        if tag == "int":
            return _big_number(got[1])
        if tag == "bytes":
            return repr(bytes.fromhex(got[1]))
        if tag == "cut":
            return f"{got[1]!r} … ({got[2]:,} characters)"
        if tag == "cutbytes":
            return f"{bytes.fromhex(got[1])!r} … ({got[2]:,} bytes)"
        if tag == "large":
            return f"{'-' if got[2] else ''}… (about {round(got[1] * math.log10(2)):,} digits)"
        if tag == "complex":
            return repr(complex(got[1], got[2]))
        return "Ellipsis" if tag == "ellipsis" else str(got)

    def _value(self, number: int) -> str:
        return self.text(self.trace.values.get(number))

    def _object(self, number: int) -> str:
        trace = self.trace
        type_ = trace.objects.type_of(number)
        if not is_literal(trace, number):
            self.has_objects = True
            return f"<{type_} #{number}>"
        if number not in self.inside and len(self.inside) > _DEEPEST:
            self.has_objects = True
            return "…"
        if number in self.inside:
            return {"list": "[...]", "dict": "{...}", "set": "set(...)"}.get(type_, "(...)")
        self.inside.append(number)
        # An element takes three characters with its comma, but the last one only one.
        end = None if self.limit is None else self.limit // 3 + 2
        rows = items(trace, number, self.step, end=end)
        parts: list[str] = []
        size, place, left = 0, 0, untold(trace, number, self.step)
        for key, value in rows:
            if left and type_ in ("list", "tuple") and trace.values.get(key) != place:
                place = trace.values.get(key)
                parts.append("…")
            place += 1
            parts.append(f"{self._value(key)}: {self._value(value)}" if type_ == "dict" else self._value(value))
            size += len(parts[-1])
            if self.limit is not None and size > self.limit:
                break
        if left:
            self.has_objects = True
            parts.append(f"… ({len(elements(trace, number, self.step)) + left:,} elements)")
        self.inside.pop()
        return _bracketed(type_, ", ".join(parts), len(rows))


def _bracketed(type_: str, body: str, size: int) -> str:
    if type_ == "list":
        return f"[{body}]"
    if type_ == "dict":
        return f"{{{body}}}"
    if type_ == "tuple":
        return f"({body},)" if size == 1 else f"({body})"
    if type_ == "set":
        return f"{{{body}}}" if size else "set()"
    return f"frozenset({{{body}}})" if size else "frozenset()"


def _big_number(hexadecimal: str) -> str:
    number = int(hexadecimal, 16)
    try:
        return str(number)
    except ValueError:  # more decimals than Python is willing to write
        return hexadecimal
