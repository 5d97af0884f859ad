"""Importing: which modules are woven, and how the import system comes to give us their text."""

from __future__ import annotations

import os
from _functools import partial  # type: ignore[import-not-found]  # `functools` would take long to load
from collections.abc import Callable
from contextlib import suppress
from importlib.machinery import SourceFileLoader
from types import CodeType
from typing import Any, NamedTuple

from eelgrass.recorder.process.clock import Clock
from eelgrass.recorder.process.modules import event_loops, plots
from eelgrass.recorder.process.modules.compiling import is_understood

#: What `turtle` is given more to do at its end, at the desk: a stroke is drawn at once, and not in many small ones.
_TURTLE_ENDING = """
def _at_once(plain):
    def move(self, *args):
        speed, self._speed = self._speed, 0
        try:
            return plain(self, *args)
        finally:
            self._speed = speed
    move.__name__ = plain.__name__
    return move
RawTurtle._goto, RawTurtle._rotate = _at_once(RawTurtle._goto), _at_once(RawTurtle._rotate)
del _at_once
"""
#: Makes woven code of (source bytes, file name).
Weave = Callable[[bytes, str], CodeType]


class Opened(NamedTuple):
    """Modules outside of the program's folder that are woven: libraries, each with all that is in it, and the one that
    is run by its name, of a package only what that runs."""

    libraries: frozenset[str]
    main: str | None = None

    def has(self, loader: SourceFileLoader, name: str) -> bool:
        """Whether a module is one of them."""
        if name in self.libraries or any(name.startswith(f"{package}.") for package in self.libraries):
            return True
        return name in (self.main, f"{self.main}.__main__") and not loader.is_package(name)


class Chance(NamedTuple):
    """What a program is told of time and chance: the modules that draw random numbers begin with the `seed`, if there
    is one; where the clock is ours, dates are set up before they can be asked for, and no identifier asks another
    clock. `desk` is called before windows are simulated."""

    seed: int | None
    clock: Clock
    desk: Callable[[], None] | None = None

    def prepare(self, name: str) -> None:
        """A module of this name is about to be loaded."""
        if self.clock.is_set_up and name == "datetime":
            self.clock.set_up_dates()
        if self.desk is not None and name == "tkinter":
            self.desk()

    def ending(self, name: str) -> str:
        """What a module of the library does more at its end; '' for nothing."""
        if self.seed is not None and name in ("random", "numpy.random"):
            return f"seed({self.seed})"
        if self.clock.is_set_up and name == "uuid":
            return "_generate_time_safe = None"
        if self.clock.is_counted and name == "queue":  # threads take turns, and may not wait in C
            return "SimpleQueue = _PySimpleQueue"
        return _TURTLE_ENDING if self.desk is not None and name == "turtle" else ""


def weave_imports(folder: str, opened: Opened, weave: Weave, chance: Chance, show: Callable[[str], None]) -> None:
    """From now on, modules whose file lies in `folder`, and those that are opened, are woven when imported. `show` is
    told the pictures of plots.

    The loader's class is given another `get_code`, rather than a loader of our own a place in `sys.meta_path`, so that
    a module's `__loader__` and `__spec__` are what they are in a plain run. Nothing is read from or written to
    `__pycache__` for woven modules.
    """
    plain = SourceFileLoader.get_code
    inside = os.path.join(os.path.realpath(folder), "")

    class GetCode:
        """Chooses when it is asked for, not when it is called: no frame of ours lies below what reads a text that is
        none, and so none is in the traceback."""

        def __get__(self, loader: SourceFileLoader | None, _owner: type | None = None) -> Any:
            if loader is None:
                return plain
            name, path = loader.name, loader.path
            chance.prepare(name)
            ending = chance.ending(name)
            if ending:
                return partial(_ended, loader, ending)
            if name in plots.MODULES:
                return partial(plots.ended_code, loader, show)
            if name == event_loops.MODULE and chance.desk is None:
                event_loops.keep_awake()
            if opened.has(loader, name) or _is_own(os.path.realpath(path), inside):
                with suppress(OSError):
                    source = loader.get_data(path)
                    if is_understood(source):
                        return lambda _name: weave(source, path)
            return plain.__get__(loader)

    SourceFileLoader.get_code = GetCode()  # type: ignore[method-assign, assignment]


def _ended(loader: SourceFileLoader, ending: str, _name: str) -> CodeType:
    """A library module's code, with one statement more at its end."""
    source = loader.get_data(loader.path) + f"\n{ending}\n".encode()
    return compile(source, loader.path, "exec", dont_inherit=True)


def _is_own(path: str, inside: str) -> bool:
    """Whether a file is the program's own: in its folder, but not in an environment of libraries kept there."""
    return path.startswith(inside) and "site-packages" not in path.split(os.sep)
