"""Where a frame waits without an `await` of its own: in `async for` and `async with`.

What such a statement is about is held by one that stands in for it, which says that the frame waits whenever the
statement asks for something to wait for. No name of the program ever holds it. What is not made for the statement is
left as it is, so that Python says so.
"""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

#: Says that the frame of a statement waits for something, which tells so itself if it is woven.
Waits = Callable[[Any], None]


class Iterated:
    """Stands in for what `async for` goes over; `goes_on` is called before it asks for another element."""

    def __init__(self, its: Any, waits: Waits, goes_on: Waits | None) -> None:
        self._its = its
        self._waits = waits
        self._goes_on = goes_on

    def __aiter__(self) -> Any:
        found = type(self._its).__aiter__(self._its)
        if not hasattr(type(found), "__anext__"):
            return found
        self._its = found
        return self

    def __anext__(self) -> Any:
        if self._goes_on is not None:
            self._goes_on(self._its)
        waited_for = type(self._its).__anext__(self._its)
        self._waits(self._its if hasattr(self._its, "ag_code") else waited_for)
        return waited_for


class Entered:
    """Stands in for what `async with` enters and leaves."""

    def __init__(self, its: Any, waits: Waits) -> None:
        self._its = its
        self._waits = waits

    def __aenter__(self) -> Any:
        waited_for = type(self._its).__aenter__(self._its)
        self._waits(waited_for)
        return waited_for

    def __aexit__(self, *raised: Any) -> Any:
        waited_for = type(self._its).__aexit__(self._its, *raised)
        self._waits(waited_for)
        return waited_for


def over(its: Any, waits: Waits, goes_on: Waits | None = None) -> Any:
    """What `async for` is to go over in place of an object."""
    return Iterated(its, waits, goes_on) if hasattr(type(its), "__aiter__") else its


def within(its: Any, waits: Waits) -> Any:
    """What `async with` is to enter in its place."""
    is_made_for_it = hasattr(type(its), "__aenter__") and hasattr(type(its), "__aexit__")
    return Entered(its, waits) if is_made_for_it else its
