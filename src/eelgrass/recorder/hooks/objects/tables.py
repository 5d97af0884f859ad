"""Tables with named columns, and single columns, as data packages keep them: read from what their objects hold.

None of their own methods is asked, which is code in Python and may keep something of each answer. Of a table that is
built in another way than those known here, nothing is shown.
"""

from __future__ import annotations

from itertools import islice
from types import GetSetDescriptorType, MemberDescriptorType
from typing import Any

from eelgrass.recorder.hooks.objects.arrays import MOST_NUMBERS, Told, elements_of
from eelgrass.recorder.wire import WHOLE_MAX

#: So many characters of a column's or row's name.
_NAME = 60
_FAILURES = (AttributeError, KeyError, IndexError, TypeError, ValueError, StopIteration)


def told(table: Any) -> Told | None:
    """The values of the first rows under the names of their rows and columns, with their places where
    some are alike; of a single column under its rows' names. None where the table is of an unknown build."""
    try:
        manager = _kept(table, "_mgr")
        axes, blocks = _kept(manager, "axes"), _kept(manager, "blocks")
        count = _size(axes[-1])
        if len(axes) == 1:
            column = _values(blocks[0], 0, MOST_NUMBERS)
            rows = _names(axes[0], len(column))
            return Told(column, {"shape": ["tuple", count], "rows": ["tuple", *rows]}, rows)
        width = _size(axes[0])
        height = min(count, MOST_NUMBERS // max(width, 1))
        columns: dict[int, list[Any]] = {}
        for block in blocks:
            places = _array(_kept(_kept(block, "_mgr_locs"), "as_array"), width)
            columns.update((place, _values(block, row, height)) for row, place in enumerate(places))
        cells = [columns[place][row] for row in range(height) for place in range(width)]
        rows, names = _names(axes[1], height), _names(axes[0], width)
        fields: dict[str, Any] = {
            "shape": ["tuple", count, width],
            "columns": ["tuple", *names],
            "rows": ["tuple", *rows],
        }
        return Told(cells, fields, [["tuple", row, name] for row in rows for name in names])
    except _FAILURES:
        return None


def _kept(obj: Any, name: str) -> Any:
    """What an object keeps under a name, in its dictionary or in C. Raises KeyError where it keeps none."""
    spaces = [type.__dict__["__dict__"].__get__(class_) for class_ in type(obj).__mro__]
    for space in spaces:
        entry = space.get("__dict__")
        if type(entry) is GetSetDescriptorType and name in (held := entry.__get__(obj)):
            return held[name]
    found = next(
        space[name] for space in spaces if type(space.get(name)) in (GetSetDescriptorType, MemberDescriptorType)
    )
    return found.__get__(obj)


def _values(block: Any, row: int, most: int) -> list[Any]:
    """The first values of one of the columns that are kept together in a block."""
    held = _kept(block, "values")
    if type(held).__name__ == "ndarray":
        return _array(held[row] if held.ndim == 2 else held, most)
    return _array(held, most)


def _array(held: Any, most: int) -> list[Any]:
    """The first elements of an array: one of numbers, or of the package's own kinds that stand on such."""
    kind = type(held).__name__
    if kind == "ndarray":
        return elements_of(held, most)
    if kind == "Categorical":
        names = _labels(_kept(_kept(held, "_dtype"), "_categories"), 1 << 15)
        return [names[code] if code >= 0 else None for code in _array(_kept(held, "_ndarray"), most)]
    if kind.startswith("Arrow"):
        return held._pa_array.slice(0, most).to_pylist()  # type: ignore[no-any-return]
    if kind.endswith("Array") and hasattr(type(held), "_ndarray"):
        return _array(_kept(held, "_ndarray"), most)
    missing = _array(_kept(held, "_mask"), most)
    return [None if gone else value for gone, value in zip(missing, _array(_kept(held, "_data"), most), strict=True)]


def _size(axis: Any) -> int:
    if type(axis).__name__ == "RangeIndex":
        return len(_kept(axis, "_range"))
    return len(_kept(axis, "_codes")[0]) if type(axis).__name__ == "MultiIndex" else len(_kept(axis, "_data"))


def _labels(axis: Any, most: int) -> list[Any]:
    """The first names along an axis; of several levels, tuples."""
    if type(axis).__name__ == "RangeIndex":
        return list(islice(_kept(axis, "_range"), most))
    if type(axis).__name__ != "MultiIndex":
        return _array(_kept(axis, "_data"), most)
    levels = [_labels(level, 1 << 15) for level in _kept(axis, "_levels")]
    codes = [_array(code, most) for code in _kept(axis, "_codes")]
    return [tuple(level[code] for level, code in zip(levels, row, strict=True)) for row in zip(*codes, strict=True)]


def _names(axis: Any, most: int) -> list[Any]:
    """The first names along an axis as whole numbers and texts; those that come again, with their places."""
    names: list[Any] = [its if type(its) is int and abs(its) < WHOLE_MAX else _name(its) for its in _labels(axis, most)]
    if len(set(names)) == len(names):
        return names
    return [f"{name} ({place})" if name in names[:place] else name for place, name in enumerate(names)]


def _name(its: Any) -> str:
    if type(its) is tuple:
        return ", ".join(map(_name, its))
    return its[:_NAME] if type(its) is str else str(its) if type(its) in (int, float, bool, type(None)) else "?"
