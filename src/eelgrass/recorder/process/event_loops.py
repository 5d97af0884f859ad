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
    if IS_COMPILED:
        _tkinter.create = handlers.Made(_tkinter.create, _set_up, handlers.hears_signals)
    else:
        _tkinter.create = _made_by(_tkinter.create)


def _made_by(plain: Callable[..., Any]) -> Callable[..., Any]:
    def create(*given: Any) -> Any:
        made = plain(*given)
        _set_up(made, lambda: None)
        return made

    return create


def _set_up(interpreter: Any, hears: Callable[[], None]) -> None:
    interpreter.createcommand("eelgrass_hears", hears)
    interpreter.eval(_TIMER)
