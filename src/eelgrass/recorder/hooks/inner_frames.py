"""Hooks for frames that hold no statements: lambdas and comprehensions tell of themselves inside of expressions."""

from __future__ import annotations

from typing import Any

from eelgrass.recorder.hooks.frames import Frames
from eelgrass.recorder.hooks.log import Log


class InnerFrames:
    """What each of these gives is what the expression goes on with."""

    def __init__(self, log: Log, frames: Frames) -> None:
        self._log = log
        self._frames = frames
        self._registry = log.registry

    def noted(self, point: int, value: Any) -> None:
        """As `tell`; gives nothing, so that expressions can go on with `or`."""
        self._frames.ready()
        self._log.tell(point, value)

    def passed(self, step: int, value: Any) -> Any:
        """A pass of a comprehension has given `value`; its header comes next."""
        self._log.events.append(self._log.codes[step])
        return value

    def entered(self, enter: int, step: int, iterable: Any) -> Any:
        """The frame of a comprehension begins, with its header, unless there is nothing to go through."""
        kind = type(iterable)
        if kind is range or kind is list or self._registry.can_iterate(kind):
            self._log.events.append(self._log.codes[enter])
            self._log.events.append(self._log.codes[step])
        return iterable

    def skipped(self, point: int) -> bool:
        """An event without a value, where an expression goes on with `or`: a pass of a comprehension that gives
        nothing, or the beginning of a lambda."""
        self._frames.ready()
        self._log.events.append(self._log.codes[point])
        return False
