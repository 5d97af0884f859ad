"""Event loops in C: while `tkinter` waits for events, no code in Python runs, and so no signal is heard. Each of its
interpreters is given a timer that wakes it now and then."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from eelgrass.recorder.packing import IS_COMPILED

if IS_COMPILED:
    from eelgrass.recorder.process import handlers

#: The module before which this has to be set up.
MODULE = "tkinter"
_EVERY_MS = 200
_TIMER = f"proc ::eelgrass {{}} {{ ::eelgrass_hears; after {_EVERY_MS} ::eelgrass }}; ::eelgrass"


def keep_awake() -> None:
    """From now on the interpreters that are made hear signals while they wait."""
    try:
        import _tkinter
    except ImportError:
        return  # which the program will be told by its own import
    _tkinter.create = _made_by(_tkinter.create, handlers.hears_signals if IS_COMPILED else lambda: None)


def _made_by(plain: Callable[..., Any], hears: Callable[[], None]) -> Callable[..., Any]:
    def create(*given: Any) -> Any:
        made = plain(*given)
        made.createcommand("eelgrass_hears", hears)
        made.eval(_TIMER)
        return made

    return create
