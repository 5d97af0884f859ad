"""The whole run as a landscape: call depth over steps."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property
from pathlib import PurePath

import numpy as np

from eelgrass.reading.state.caused_frames import caused_frames
from eelgrass.reading.state.function_words import function_words
from eelgrass.reading.stepping.calls import Calls
from eelgrass.trace.columns import Ints, find, narrow
from eelgrass.trace.model import FrameEnd, Texts, Trace


@dataclass(frozen=True)
class Body:
    """A frame as a body of water: a stretch of steps in which it is on the call stack, at its depth; one that something
    outside called has the `number` of that call of its function (else 0)."""

    frame: int
    name: str
    depth: int
    first: int
    last: int
    raised: bool
    number: int = 0


class Timeline:
    """What the tide line draws. Everything comes from the columns, so it costs as much as is drawn, not as much as
    has run."""

    def __init__(self, trace: Trace, calls: Calls) -> None:
        self.trace = trace
        self._calls = calls
        self.length = max(len(trace.steps), 1)

    @cached_property
    def _depths(self) -> Ints:
        return narrow(self.trace.depths)[self.trace.steps.frame] if len(self.trace.steps) else np.zeros(1, np.int32)

    @property
    def deepest(self) -> int:
        """The greatest call depth of the run."""
        return int(np.max(self._depths))

    def profile_between(self, first: int, end: int, columns: int) -> Ints:
        """The greatest depth in each of `columns` equal stretches of the steps from `first` up to `end` (fewer when
        there are fewer steps)."""
        length = max(end - first, 1)
        count = max(min(columns, length), 1)
        starts = np.arange(count) * length // count
        deepest: Ints = np.maximum.reduceat(self._depths[first : first + length], starts)
        return deepest

    def bodies(self, least_steps: float) -> list[Body]:
        """The frames that last at least so many steps, callers before callees."""
        frames, its = self.trace.frames, self.trace.stretches
        last = np.where(its.last < 0, self.length - 1, its.last)
        chosen = np.flatnonzero(last - its.first + 1 >= least_steps)
        return [
            Body(
                frame,
                self._name(frame),
                int(self.trace.depths[frame]),
                first,
                end,
                bool(frames.end[frame] == FrameEnd.RAISED and frames.last[frame] == end),
                self._caused.get(frame, 0),
            )
            for frame, first, end in zip(
                its.frame[chosen].tolist(), its.first[chosen].tolist(), last[chosen].tolist(), strict=True
            )
        ]

    @cached_property
    def _caused(self) -> dict[int, int]:
        functions = self.trace.frames.function
        return {
            frame: find(self._calls.of_function(int(functions[frame])), frame) + 1
            for frame, _ in caused_frames(self.trace)
        }

    def _name(self, frame: int) -> str:
        """What a frame is called: a function by its name, a module by its file's."""
        function = self.trace.function_of_frame(frame)
        if function.kind == "module":
            return PurePath(self.trace.program.modules[function.module].file).stem
        return function_words(function.name)

    def outputs(self) -> Ints:
        """The steps that printed something."""
        return np.unique(
            self.trace.texts.step[(self.trace.texts.channel > 0) & (self.trace.texts.channel <= Texts.PICTURE)]
        )

    def exceptions(self) -> Ints:
        """The steps at which an exception is raised or caught; not those at which it only goes through a frame."""
        raises = self.trace.raises
        same = np.concatenate(([False], raises.value[1:] == raises.value[:-1])) if len(raises.value) else raises.caught
        return np.unique(raises.step[~same.astype(np.bool_) | (raises.caught != 0)])

    def words(self, step: int, tells_length: bool = True) -> str:
        """What is at a step, said in words; with how many steps there are, or without."""
        trace = self.trace
        function = trace.function_of_frame(int(trace.steps.frame[step]))
        place = "in the module" if function.kind == "module" else f"in {function.name}"
        length = f" of {len(trace.steps) - 1}" if tells_length else ""
        return f"step {step}{length}: line {trace.line_of(step)} {place}"
