"""Values that an object is, besides what it holds: of classes that derive from numbers and texts, and of a few types in
C that are written as one number or text. No code of the program is asked."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

#: The name under which such a value stands among an object's fields; no attribute can have it.
VALUE = "(value)"

_BASES: tuple[tuple[type, Callable[[Any], Any]], ...] = (
    (int, int.__int__),
    (float, float.__float__),
    (str, str.__str__),
    (bytes, lambda its: bytes.__getitem__(its, slice(None))),
)
#: Types in C whose own text says it all: by module and name.
_WRITTEN = (
    ("decimal", "Decimal"),
    *(("datetime", name) for name in ("date", "time", "datetime", "timedelta")),
)


def value_getter(type_: type, module: Any, name: str, is_in_python: bool) -> Callable[[Any], Any] | None:
    """What gives the value that an object of a type is, or None where there is none to be shown."""
    for base, getter in _BASES:
        if issubclass(type_, base):
            return getter if type_ is not base and type_ is not bool else None
    if is_in_python:
        return None
    if (module, name) in _WRITTEN:
        return type_.__dict__["__str__"]  # type: ignore[no-any-return]
    return _number if module == "numpy" else None


def _number(its: Any) -> Any:
    """The number in an object of NumPy's. Raises AttributeError where it shows none."""
    try:
        found = memoryview(its)
        if found.ndim == 0:
            return found[()]
    except (TypeError, ValueError, NotImplementedError, BufferError):
        pass
    raise AttributeError(VALUE)
