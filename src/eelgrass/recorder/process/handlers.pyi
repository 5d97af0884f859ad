from collections.abc import Callable
from types import FrameType
from typing import Any

class Between:
    """A handler of ours, which a program that is in the middle of a hook, or of this handler, does not hear."""

    def __init__(self, handler: Callable[[int, FrameType | None], None]) -> None: ...

class WithRoom:
    """A function of ours that the interpreter calls, with room on the call stack."""

    def __init__(self, function: Callable[..., Any]) -> None: ...
    def __call__(self, *given: Any) -> Any: ...

def keep_out_of_hooks(told: Callable[[int], None]) -> None:
    """From now on handlers that the program sets wait while a hook is at work; `told(number)` before each is called."""

def hears_signals() -> None:
    """Runs the handlers of signals that have arrived."""
