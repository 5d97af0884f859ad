from collections.abc import Callable
from typing import Any

def take_clock(read: Callable[[str], float]) -> None:
    """From now on the functions of this module give what this does."""

def take_draw(draw: Callable[[Any], bytes]) -> None:
    """From now on `urandom` gives what this does."""

def put_now(kind: type, now: Callable[[Any, Any], Any]) -> None:
    """Gives `datetime` the methods `now` and `utcnow` that give `now(cls, zone)`, the zone False for the latter."""

def urandom(size: int, /) -> bytes: ...
