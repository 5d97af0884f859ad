"""What the program finds as `_tkinter`."""

from __future__ import annotations

import sys
from collections.abc import Callable
from types import ModuleType
from typing import Any

from eelgrass.recorder.desk.application import Application
from eelgrass.recorder.desk.language.words import TclError
from eelgrass.recorder.desk.person import Person
from eelgrass.recorder.desk.telling import Telling


def set_up(person: Person, tell: Callable[[str], None], tell_cause: Callable[[str], None]) -> None:
    """From now on `tkinter`, and what is made of it, comes to the desk; sleeping is done there."""
    module: Any = ModuleType("_tkinter")
    TclError.__module__ = "_tkinter"

    def create(*_given: Any) -> Application:
        return Application(person, Telling(tell, tell_cause))

    module.create, module.TclError, module.TkappType = create, TclError, Application
    module.Tcl_Obj = type("Tcl_Obj", (), {})
    module.TkttType = type("tktimertoken", (), {})
    module.TK_VERSION = module.TCL_VERSION = "8.6"
    module.READABLE, module.WRITABLE, module.EXCEPTION = 2, 4, 8
    module.DONT_WAIT, module.WINDOW_EVENTS, module.FILE_EVENTS, module.TIMER_EVENTS = 2, 4, 8, 16
    module.IDLE_EVENTS, module.ALL_EVENTS = 32, -3
    module.getbusywaitinterval, module.setbusywaitinterval = (lambda: 20), (lambda _milliseconds: None)

    def _flatten(parts: Any) -> tuple[Any, ...]:
        found: list[Any] = []
        for part in parts:
            if isinstance(part, (tuple, list)):
                found += _flatten(part)
            elif part is not None:
                found.append(part)
        return tuple(found)

    module._flatten = _flatten
    sys.modules["_tkinter"] = module
