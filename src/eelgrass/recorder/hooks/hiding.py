"""Keeping hooks out of sight of the program's own trace functions."""

from __future__ import annotations

from types import FrameType
from typing import Any


class Tracers:
    """Trace functions of the program's own, which are not to see our hooks."""

    def __init__(self, ours: tuple[str, ...]) -> None:
        self._ours = ours  # the folders of the files in which hooks are at work
        self._theirs: dict[int, Any] = {}

    def tracer(self, function: Any) -> Any:
        """What is set instead of `function`."""
        if function is None:
            return None

        def trace(frame: FrameType, event: str, argument: Any) -> Any:
            if frame.f_code.co_filename.startswith(self._ours):
                return None
            return function(frame, event, argument)

        self._theirs[id(trace)] = trace, function
        return trace

    def traced_by(self, function: Any) -> Any:
        """What was set, where `function` is what the interpreter says."""
        return self._theirs.get(id(function), (None, function))[1]
