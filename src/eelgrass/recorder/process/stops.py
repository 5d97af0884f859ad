"""Being there when a step of a run is about to begin: a list of events that counts steps."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Sequence
from sys import _getframe as this_frame
from types import FrameType

from eelgrass.recorder import wire
from eelgrass.recorder.contract import OUR_FILES


class Stops(list[int]):
    """Takes the events of a run in the place of their list; calls `reached` with the program's frame when one of
    `steps`, which ascend, is about to begin. It keeps the events only where they are to be told (`keeps`)."""

    def __init__(
        self, steps: Sequence[int], kinds: bytearray, reached: Callable[[FrameType], None], keeps: bool
    ) -> None:
        super().__init__()
        self._steps = list(dict.fromkeys(steps))
        self._kinds = kinds
        self._reached = reached
        self._keeps = keeps
        self._count = 0

    def append(self, event: int) -> None:
        """Takes one event; before a step that is waited for, says so."""
        if self._kinds[event // wire.FORMS] in wire.STEPS:
            if self._steps and self._count == self._steps[0]:
                del self._steps[0]
                self._reached(_of_program(this_frame(1)))
            self._count += 1
        if self._keeps:
            super().append(event)
            if not self._steps:
                self.append = super().append  # type: ignore[method-assign,assignment]  # nobody waits any longer

    def __iadd__(self, events: Iterable[int]) -> Stops:  # type: ignore[override,misc]
        for event in events:
            self.append(event)
        return self


def _of_program(frame: FrameType) -> FrameType:
    """The first frame that is not the recorder's own, from `frame` outwards."""
    its: FrameType | None = frame
    while its is not None and its.f_code.co_filename.startswith(OUR_FILES):
        its = its.f_back
    assert its is not None
    return its
