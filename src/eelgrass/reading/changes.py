"""What happened during a step: names, elements and fields written, text printed (needs S3, M5, S11)."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property

import numpy as np

from eelgrass.reading.places import Places
from eelgrass.trace.columns import Ints
from eelgrass.trace.histories import Part
from eelgrass.trace.model import Trace


@dataclass(frozen=True)
class Change:
    """One write: the slot and the new value's number."""

    slot: int
    value: int


class Changes:
    """What the statements of one recording did, without what the calls in them did in their own frames."""

    def __init__(self, trace: Trace, places: Places) -> None:
        self.trace = trace
        self.places = places

    @cached_property
    def _in_time(self) -> tuple[Ints, Ints]:
        """(writes in order of their steps, those steps)."""
        steps = self.trace.slots.write_step
        order = np.argsort(steps, kind="stable")
        return order, steps[order]

    def own_steps(self, step: int) -> list[int]:
        """The steps during which the statement of `step` itself is at work: that step, and the last one of each
        call that it made, after which it goes on; and the one at which it goes on after a `yield`."""
        ends = [call.last for call in self.places.calls_made(step)]
        after = self.places.next_in_frame(step)
        if after >= 0 and self.places.waits_at(after):
            ends.append(self.places.goes_on_at(after))
        return [step, *[end for end in ends if end >= 0]]

    def of_statement(self, step: int) -> list[Change]:
        """What the statement of `step` wrote, in order of time; only the last write of each slot."""
        order, steps = self._in_time
        slots = self.trace.slots
        found: dict[int, int] = {}
        for own in self.own_steps(step):
            low, high = steps.searchsorted([own, own + 1])
            for write in order[low:high].tolist():
                slot = int(slots.write_slot[write])
                if slots.part[slot] != Part.NAME or self.trace.frames.first[slots.owner[slot]] <= step:
                    found.pop(slot, None)
                    found[slot] = int(slots.write_value[write])
        return [Change(slot, value) for slot, value in found.items()]

    def printed(self, step: int) -> str:
        """The text that the statement of `step` itself printed."""
        texts = self.trace.texts
        pieces = []
        for own in self.own_steps(step):
            low, high = texts.step.searchsorted([own, own + 1]).tolist()
            pieces += [texts.pieces[place] for place in range(low, high) if texts.channel[place] != 0]
        return "".join(pieces)
