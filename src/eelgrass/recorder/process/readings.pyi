from collections.abc import Callable
from typing import Any

def clock(plain: Any, read: Callable[[str], float]) -> Any:
    """In the place of a function that reads a clock: what `read(name)`, in seconds, says."""

def chance(plain: Any, bits: Callable[[int], int]) -> Any:
    """In the place of `urandom`: bytes of `bits(count)`, a whole number of so many bits."""

def put_dates(kind: type, utc: Any) -> None:
    """Gives `datetime` methods that say what is *now* by the clock; `utc` is that time zone."""
