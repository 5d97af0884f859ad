"""Values as text and as data: what Python would print for them, and the words for their types."""

from __future__ import annotations

import math
from collections.abc import Callable
from typing import Any

from eelgrass.reading.state import insides
from eelgrass.reading.state.name_lookup import NO_SLOT
from eelgrass.trace.histories import Part
from eelgrass.trace.model import Trace
from eelgrass.trace.values import NOT_SET, Ref

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
#: The name under which a number or text stands that an object is, besides what it holds.
OWN_VALUE = "(value)"
#: Fields of an object that one line shows, and characters of each.
_IN_A_LINE, _IN_A_LINE_CHARACTERS = 4, 14
#: What is told in brief has so many characters.
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
    number = object_in(trace.values.get(value))
    if number is not None and trace.objects.shape_of(number) in insides.ARRAYS:
        sizes = " × ".join(f"{size:,}" for size in insides.folding(trace, number, step))
        return f"{word} of {sizes}" if sizes else word
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
        return len(insides.elements(trace, got.number, step)) + insides.untold(trace, got.number, step)
    return insides.size_of_object(trace, got.number, step) if shape in ("list", "tuple") else None


def recorded_part(trace: Trace, number: int, step: int) -> str:
    """How much of a container is recorded, in words; '' where all of it is."""
    left = insides.untold(trace, number, step)
    if not left:
        return ""
    told, begins = len(insides.elements(trace, number, step)), len(insides.beginning(trace, number, step))
    others = f", and {told - begins:,} others" if told > begins else ""
    return f"the first {begins:,} of {told + left:,} elements are recorded{others}"


def text(
    trace: Trace, value: int, step: int, limit: int | None = None, tag_of: Callable[[int], str | None] | None = None
) -> str:
    """What `repr` prints for a value just before `step`; `<Typename #number>` for an object of any other type. With a
    `limit`, what lies beyond so many characters may be wrong or missing, and costs nothing. `tag_of` gives what is
    to be written before an object inside of the value, by its number."""
    return _Writer(trace, step, limit, tag_of).text(trace.values.get(value))


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
    if isinstance(got, Ref) and trace.objects.shape_of(got.number) == "array":
        row = _row_in_a_line(trace, got.number, step)
        is_whole = len(insides.folding(trace, got.number, step)) == 1 and row[-2:] != "…]"
        return row if row and is_whole and len(row) <= length else type_word(trace, value, step)
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
    slot = insides.slot_of_part(trace, number, Part.FIELD, OWN_VALUE, step)
    return NOT_SET if slot == NO_SLOT else trace.histories.value_at(slot, step)


def in_a_line(trace: Trace, number: int, step: int) -> str:
    """The beginning of what is in an object with fields, or in an array, for one line; of a table, its columns."""
    if trace.objects.shape_of(number) in insides.ARRAYS:
        columns = insides.names(trace, number, "columns", step)
        return _begun(columns, 2 * _IN_A_LINE, ", ") if columns else _row_in_a_line(trace, number, step)
    held = insides.fields(trace, number, step)
    shown = [(name, brief(trace, inner, step, _IN_A_LINE_CHARACTERS)) for name, inner in held[: _IN_A_LINE + 1]]
    return _begun([told if name == OWN_VALUE else f"{name} {told}" for name, told in shown], _IN_A_LINE, ", ")


def _row_in_a_line(trace: Trace, number: int, step: int) -> str:
    held = insides.items(trace, number, step, 0, _IN_A_LINE + 1)
    return f"[{_begun([brief(trace, its, step) for _, its in held], _IN_A_LINE, ' ')}]" if held else ""


def _begun(parts: list[Any], most: int, between: str) -> str:
    return between.join(map(str, parts[:most])) + (f"{between}…" if len(parts) > most else "")


def place_text(trace: Trace, number: int, key: int, step: int) -> str:
    """How the place of an element, given by its key's value number, is written after its owner: `[2]`, of what is
    folded `[1, 0]`, of a table `[row, 'column']`."""
    place, shape = trace.values.get(key), trace.objects.shape_of(number)
    if shape == "array" and type(place) is int:
        found = []
        for size in reversed(insides.folding(trace, number, step)[1:]):
            place, index = divmod(place, max(size, 1))
            found.append(index)
        return f"[{', '.join(map(str, [place, *reversed(found)]))}]"
    written = text(trace, key, step)
    return f"[{written[1:-1]}]" if shape == "table" and type(place) is list else f"[{written}]"


class _Writer:
    """Writes values as Python does, also those that contain themselves."""

    def __init__(
        self, trace: Trace, step: int, limit: int | None, tag_of: Callable[[int], str | None] | None = None
    ) -> None:
        self.tag_of = tag_of
        self.trace = trace
        self.step = step
        self.limit = limit
        self.inside: list[int] = []
        self.in_tuple = 0
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
            self.in_tuple += 1
            parts = [self.text(part) for part in got[1:]]
            self.in_tuple -= 1
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

    def _tag(self, number: int) -> str:
        return self.tag_of(number) or "" if self.tag_of is not None and (self.inside or self.in_tuple) else ""

    def _value(self, number: int) -> str:
        return self.text(self.trace.values.get(number))

    def _object(self, number: int) -> str:
        trace = self.trace
        type_ = trace.objects.type_of(number)
        tag = self._tag(number)
        if not is_literal(trace, number):
            self.has_objects = True
            return f"{tag}<{type_} #{number}>"
        if number not in self.inside and len(self.inside) > _DEEPEST:
            self.has_objects = True
            return "…"
        if number in self.inside:
            return {"list": "[...]", "dict": "{...}", "set": "set(...)"}.get(type_, "(...)")
        self.inside.append(number)
        # An element takes three characters with its comma, but the last one only one.
        end = None if self.limit is None else self.limit // 3 + 2
        rows = insides.items(trace, number, self.step, end=end)
        parts: list[str] = []
        size, place, left = 0, 0, insides.untold(trace, number, self.step)
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
            parts.append(f"… ({len(insides.elements(trace, number, self.step)) + left:,} elements)")
        self.inside.pop()
        return tag + _bracketed(type_, ", ".join(parts), len(rows))


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
