"""What is inside an object at a step: elements, fields and size, as they are stored in slots and cells."""

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

#: The fields of a table that name its columns and rows.
NAMED = ("columns", "rows")
#: Shapes of what is defined and imported: there all the time, and no part of a program's state.
DEFINITIONS = ("function", "class", "module")
#: Shapes of what is folded into rows and columns.
ARRAYS = ("array", "table")


def elements(trace: Trace, number: int, step: int) -> Inside:
    """An object's elements just before `step`: for a list whose elements are cells in their order, for any other object
    in the order in which their slots were first written."""
    if number in trace.cells and len(inside := trace.cells.inside(number, step)):
        return inside
    return trace.histories.inside(number, Part.ITEM, step)


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
    if shape == "table":
        return _order_in_table(trace, number, inside, step)
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


def _order_in_table(trace: Trace, number: int, inside: Inside, step: int) -> Ints:
    """Row by row, as rows and columns are ordered now."""
    columns, rows = ({name: place for place, name in enumerate(names(trace, number, its, step))} for its in NAMED)
    keys = [trace.values.get(key) for key in inside.keys.tolist()]
    parts = [key[1:] if type(key) is list else [key, None] for key in keys]
    places = [(rows.get(row, 0), columns.get(column, 0)) for row, column in parts]
    return np.array(sorted(range(len(places)), key=places.__getitem__), np.int64)


def _as_told(got: Any) -> str:
    return json.dumps([got.number] if isinstance(got, Ref) else got)


def beginning(trace: Trace, number: int, step: int) -> list[int]:
    """The value numbers of an object's elements just before `step`: of a list of which not all are recorded, those from
    the first one on up to where one is missing."""
    rows = items(trace, number, step)
    if trace.objects.shape_of(number) in ("list", "tuple") and untold(trace, number, step):
        places = trace.values.payloads[np.array([key for key, _ in rows], np.int64)]
        gaps = np.flatnonzero(places != np.arange(len(places)))
        rows = rows[: int(gaps[0]) if len(gaps) else None]
    return [value for _, value in rows]


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


def untold(trace: Trace, number: int, step: int) -> int:
    """How many elements a container has that are not recorded, because it has so many."""
    shape = trace.objects.shape_of(number)
    if shape in ARRAYS:
        told = len(elements(trace, number, step))
        return max(math.prod(folding(trace, number, step)) - told, 0) if told else 0
    if shape not in ("list", "tuple", "dict", "set"):
        return 0
    size = _stored_size(trace, number, step)
    if type(size) is list and size[0] == "size":
        return max(int(size[1]) - len(elements(trace, number, step)), 0)
    is_whole = type(size) is not int or shape in ("dict", "set")
    return 0 if is_whole else max(size - len(elements(trace, number, step)), 0)


def names(trace: Trace, number: int, along: str, step: int) -> list[Any]:
    """The names of a table's columns or rows, as `NAMED` calls them, just before a step; none where it has none."""
    held = field(trace, number, along, step)
    told = None if held == NOT_SET else trace.values.get(held)
    return told[1:] if type(told) is list else []


def folding(trace: Trace, number: int, step: int) -> list[int]:
    """The sizes of an array or table along its axes; none where they are not known."""
    held = field(trace, number, "shape", step)
    told = [] if held == NOT_SET else trace.values.get(held)
    return told[1:] if type(told) is list and all(type(its) is int for its in told[1:]) else []
