"""What happened during a step: names, elements and fields written, text printed."""

from __future__ import annotations

from dataclasses import dataclass

from eelgrass.reading.stepping.stepping import Stepping
from eelgrass.trace.columns import between
from eelgrass.trace.histories import Part
from eelgrass.trace.model import Texts, Trace


@dataclass(frozen=True)
class Change:
    """One write: the slot and the new value's number."""

    slot: int
    value: int


class Changes:
    """What the statements of one recording did, without what the calls in them did in their own frames."""

    def __init__(self, trace: Trace, stepping: Stepping) -> None:
        self.trace = trace
        self.stepping = stepping

    def own_steps(self, step: int) -> list[int]:
        """The steps during which the statement of `step` itself is at work: that step, and the last one of each
        call that it made, after which it goes on; and the one at which it goes on after a `yield`."""
        ends = [call.last for call in self.stepping.calls_made(step)]
        after = self.stepping.next_in_frame(step)
        if after >= 0 and self.stepping.waits_at(after):
            ends.append(self.stepping.goes_on_at(after))
        return [step, *[end for end in ends if end >= 0]]

    def of_statement(self, step: int) -> list[Change]:
        """What the statement of `step` wrote; only the last write of each slot."""
        slots = self.trace.slots
        found: dict[int, int] = {}
        for own in self.own_steps(step):
            for slot, value in self.trace.histories.writes_during(own):
                if slots.part[slot] != Part.NAME or self.trace.frames.first[slots.owner[slot]] <= step:
                    found.pop(slot, None)
                    found[slot] = value
        return [Change(slot, value) for slot, value in found.items()]

    def printed(self, step: int) -> str:
        """The text that the statement of `step` itself printed."""
        return "".join(self._passed(step, (Texts.OUTPUT, Texts.ERRORS)))

    def pictures(self, step: int) -> int:
        """How many pictures the statement of `step` itself showed."""
        return len(self._passed(step, (Texts.PICTURE,)))

    def _passed(self, step: int, channels: tuple[int, ...]) -> list[str]:
        texts, pieces = self.trace.texts, []
        for own in self.own_steps(step):
            its = between(texts.step, own, own + 1)
            pieces += [texts.pieces[place] for place in range(its.start, its.stop) if texts.channel[place] in channels]
        return pieces
