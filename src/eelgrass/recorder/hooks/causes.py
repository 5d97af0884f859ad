"""Why something outside calls the program's code: handlers of libraries, as far as it can be told who calls."""

from __future__ import annotations

import _signal  # type: ignore[import-not-found]
from collections.abc import Callable
from sys import _getframe as this_frame
from types import CodeType, FrameType
from typing import Any

from eelgrass.recorder.contract import OUR_FILES
from eelgrass.recorder.hooks.log import Log

#: Modules that only pass on what the program itself asks for, or begin what is told otherwise.
_NOT_THEMSELVES = frozenset(
    ("threading", "functools", "importlib._bootstrap", "importlib._bootstrap_external", "runpy", "abc", "enum", "types")
)
_NOT_THEMSELVES |= frozenset(("contextlib", "dataclasses", "typing", "copy", "multiprocessing.process", "_pydatetime"))
#: What goes on in pieces (generators and coroutines) is gone on with, not called.
_IN_PIECES = 0x20 | 0x80 | 0x200
#: So many are told in a run.
_MOST = 20_000
_LATEST = 1e6  # a moment that says something, in the scheduler's own units


def _fields(its: object) -> dict[str, Any]:
    """The fields of an object, looked at without calling anything of its class: that may be the program's."""
    found: dict[str, Any] = (
        getattr(its, "__dict__", {}) if type(its).__getattribute__ is object.__getattribute__ else {}
    )
    return found


def _number(words: str, value: object) -> str:
    """Some words and a plain number that says something; without it, where it is no such number."""
    return words.format(f"{value:g}") if type(value) in (int, float) and abs(value) < _LATEST else ""  # type: ignore


def _by_tk(its: dict[str, Any]) -> str:
    event = _fields(next(iter(its.get("args", ())), None))
    kind = getattr(event.get("type"), "name", "")
    widget = _fields(event.get("widget") if kind else _fields(its.get("self")).get("widget"))
    path = widget.get("_w", "")
    return f"<{kind}> on {path}" if kind else f"the {widget.get('widgetName', 'window')} {path}"


def _by_scheduler(its: dict[str, Any]) -> str:
    return _number("the scheduler, at {}", its.get("time")) or "the scheduler"


def _by_timer(its: dict[str, Any]) -> str:
    return _number("a timer, after {} s", _fields(its.get("self")).get("interval")) or "a timer"


#: By module and function, why it calls, from its names.
_WORDS: dict[tuple[str, str], Callable[[dict[str, Any]], str]] = {
    ("sched", "scheduler.run"): _by_scheduler,
    ("threading", "Timer.run"): _by_timer,
    ("tkinter", "CallWrapper.__call__"): _by_tk,
    ("tkinter", "Misc.after.<locals>.callit"): lambda _its: "a timer of the window",
    ("asyncio.events", "Handle._run"): lambda _its: "the event loop",
    ("turtle", "TurtleScreenBase._onclick.<locals>.eventfun"): lambda _its: "a click in the drawing",
    ("turtle", "TurtleScreenBase._onscreenclick.<locals>.eventfun"): lambda _its: "a click in the drawing",
    ("turtle", "TurtleScreenBase._onkeypress.<locals>.eventfun"): lambda _its: "a key in the drawing",
    ("turtle", "TurtleScreenBase._onkeyrelease.<locals>.eventfun"): lambda _its: "a key in the drawing",
}


class Causes:
    """Tells a log. `told_otherwise` are modules of which something else tells why they call."""

    def __init__(self, log: Log) -> None:
        self._log = log
        self._left = _MOST
        self.told_otherwise: tuple[str, ...] = ()

    def called(self, caller: CodeType, code: CodeType) -> None:
        """A function of the program is called by code that is none of it."""
        name, frame = code.co_name, _frame_of(caller)
        is_own = name == "<module>" or (name.startswith("__") and name.endswith("__")) or code.co_flags & _IN_PIECES
        if is_own or frame is None:
            return
        module = str(frame.f_globals.get("__name__", ""))
        key = module, caller.co_qualname
        is_left_out = module in self.told_otherwise or (module in _NOT_THEMSELVES and key not in _WORDS)
        if caller.co_filename.startswith(("<", *OUR_FILES)) or is_left_out:
            return
        words = _WORDS.get(key)
        self._tell(words(frame.f_locals) if words is not None else f"{caller.co_name} of {module}")

    def signal(self, number: int) -> None:
        """A signal has come, for which the program has a handler."""
        names = (name for name, its in vars(_signal).items() if name.startswith("SIG") and its == number)
        self._tell(f"the signal {next((its for its in names if '_' not in its), number)}")

    def _tell(self, words: str) -> None:
        if self._left:
            self._left -= 1
            self._log.cause(words)


class PlainOutside:
    """As the compiled one, for hooks that are not."""

    def __init__(self, called: Callable[[CodeType, CodeType], None]) -> None:
        self._files, self._called = set[str](), called

    def own(self, code: CodeType) -> None:
        """Code of the program: so is all that has the same file."""
        self._files.add(code.co_filename)

    def look(self) -> None:
        """A frame of the program begins."""
        frame: FrameType | None = this_frame(1)
        while frame is not None and frame.f_code.co_filename.startswith(OUR_FILES):
            frame = frame.f_back
        caller = frame.f_back if frame is not None else None
        if frame is not None and caller is not None and caller.f_code.co_filename not in self._files:
            self._called(caller.f_code, frame.f_code)


def _frame_of(code: CodeType) -> FrameType | None:
    """The innermost frame that runs some code."""
    frame: FrameType | None = this_frame(1)
    while frame is not None and frame.f_code is not code:
        frame = frame.f_back
    return frame
