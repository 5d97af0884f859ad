"""The stretches of a run in which each frame was on the call stack.

A frame has one, from its first step to its last; a generator's or coroutine's has one more each time that it is
resumed."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING

import numpy as np

from eelgrass.trace.columns import Ints, between, find

if TYPE_CHECKING:
    from eelgrass.trace.model import Trace


@dataclass(frozen=True)
class StackSpans:
    """One row a stretch, sorted by frame and time: its first and last step (-1: still going on), who called or resumed
    the frame (-1: nobody), and that frame's step."""

    frame: Ints
    first: Ints
    last: Ints
    caller: Ints
    call_step: Ints

    def row_at(self, frame: int, step: int) -> int:
        """The row of a frame's latest stretch that has begun by `step`; its first one before that."""
        its = between(self.frame, frame, frame + 1)
        return int(max(its.start, its.start + find(self.first[its], step + 1) - 1))


def stretches_of(trace: Trace, returns: Ints) -> StackSpans:
    """The stretches of a recording; `returns` are its RETURN steps."""
    frames, resumes = trace.frames, trace.resumes
    frame = np.concatenate((np.arange(len(frames), dtype=np.int32), resumes.frame))
    first = np.concatenate((frames.first, resumes.step))
    caller = np.concatenate((frames.caller, resumes.caller))
    call_step = np.concatenate((frames.call_step, resumes.call_step))
    order = np.lexsort((first, frame))
    frame, first = frame[order], first[order]
    last = frames.last[frame]
    if len(resumes.frame):
        waits = np.array([function.waits for function in trace.program.functions], np.bool_)
        # Of a frame that can wait, the step that ends a stretch is the next one that hands a value back.
        ends = returns[waits[frames.function[trace.steps.frame[returns]]]]
        keys = np.sort(trace.steps.frame[ends].astype(np.int64) << 32 | ends)
        found = keys.searchsorted(frame.astype(np.int64) << 32 | first)
        key = np.append(keys, -1)[np.where(found < len(keys), found, -1)]
        last = np.where(key >> 32 == frame, (key & 0xFFFFFFFF).astype(np.int32), last)
    return StackSpans(frame, first, last, caller[order], call_step[order])
