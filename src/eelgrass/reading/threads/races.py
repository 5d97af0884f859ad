"""Races: what a thread wrote is lost, or another had decided by what was there before.

Both are interleavings of accesses to one place that no order of whole turns could have (after Lu, Tucek, Qin and Zhou,
AVIO: detecting atomicity violations via access interleaving invariants, 2006): a thread reads, another writes, and the
first writes by what it had read.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from typing import Literal

from eelgrass.reading.recording import Recording
from eelgrass.reading.state.slot_text import slot_text
from eelgrass.reading.state.value_text import brief
from eelgrass.reading.threads.accesses import Access, shared_accesses
from eelgrass.reading.trails.decisions import Decisions
from eelgrass.trace.values import NOT_SET

_CHARACTERS = 20


@dataclass(frozen=True)
class Race:
    """A race: the steps at which the one read, the other wrote, and the one wrote; how often the same happened in all;
    and a sentence."""

    kind: Literal["lost update", "stale decision"]
    read: int
    between: int
    wrote: int
    times: int
    text: str


def races(recording: Recording) -> list[Race]:
    """The races of a run in order of time, one for each pair of statements that are in each other's way."""
    return _Races(recording).all()


class _Races:
    def __init__(self, recording: Recording) -> None:
        self.recording = recording
        self.trace = recording.trace
        self._decisions = Decisions(recording)
        self._names = recording.thread_steps.names

    def all(self) -> list[Race]:
        by_slot: dict[int, list[Access]] = {}
        for access in shared_accesses(self.recording):
            by_slot.setdefault(access.slot, []).append(access)
        found: dict[tuple[int, ...], list[tuple[Access, Access, Access]]] = {}
        for accesses in by_slot.values():
            for race in self._of_slot(accesses):
                statements = tuple(int(self.trace.steps.statement[its.visit]) for its in race)
                found.setdefault(statements, []).append(race)
        told = [self._told(cases) for cases in found.values()]
        return sorted(told, key=lambda its: its.wrote)

    def _of_slot(self, accesses: list[Access]) -> Iterator[tuple[Access, Access, Access]]:
        """What a thread had read, what another wrote, and what the first wrote then, for each write of one slot that
        another one came before."""
        reads: dict[int, dict[int, Access]] = {}  # by frame, by visit: the first of each
        latest: dict[int, Access] = {}  # by frame
        wrote: dict[int, Access] = {}  # by thread, the latest
        for its in accesses:
            frame = int(self.trace.steps.frame[its.visit])
            if not its.writes:
                reads.setdefault(frame, {}).setdefault(its.visit, its)
                latest[frame] = its
                continue
            others = (other for thread, other in wrote.items() if thread != its.thread)
            between = max(others, key=lambda other: other.step, default=None)
            if between is not None and frame in latest:
                read = self._read_before(its, between, latest[frame], reads[frame])
                if read is not None:
                    yield read, between, its
            wrote[its.thread] = its

    def _read_before(
        self, wrote: Access, between: Access, latest: Access, by_visit: dict[int, Access]
    ) -> Access | None:
        """What a frame read before another thread wrote, and then wrote by; None where nothing came between."""
        if latest.step < between.step:
            return latest
        decided = (by_visit.get(visit) for visit in self._decisions.of_visit(wrote.visit))
        earlier = [its for its in decided if its is not None and its.step < between.step]
        return min(earlier, key=lambda its: its.step, default=None)

    def _has_decided(self, read: Access, wrote: Access) -> bool:
        return read.visit in self._decisions.of_visit(wrote.visit)

    def _told(self, cases: list[tuple[Access, Access, Access]]) -> Race:
        read, between, wrote = cases[0]
        line = self.trace.line_of
        decided = read.visit != wrote.visit and self._has_decided(read, wrote)
        one, other = (f"“{self._names.get(its.thread, its.thread)}”" for its in (wrote, between))
        frame = int(self.trace.steps.frame[wrote.visit])
        what = self.recording.references.name_of_slot(wrote.slot, frame, wrote.visit)
        what = what or slot_text(self.trace, wrote.slot, frame, wrote.visit)
        was, made, then = (self._value(wrote.slot, step) for step in (read.step, between.step + 1, wrote.step + 1))
        if decided:
            told = f"{one} decided at line {line(read.visit)} by “{what}”, which was {was}; {other} made it {made} at "
            told += f"line {line(between.visit)} before {one} made it {then} at line {line(wrote.visit)}"
        else:
            told = f"{one} read “{what}” ({was}) at line {line(read.visit)}, {other} made it {made} at line "
            told += (
                f"{line(between.visit)}, and {one} then wrote {then} by what it had read: what {other} wrote is lost"
            )
        often = f"; {len(cases)} times in all" if len(cases) > 1 else ""
        kind: Literal["lost update", "stale decision"] = "stale decision" if decided else "lost update"
        return Race(kind, read.visit, between.visit, wrote.visit, len(cases), f"{told}{often}.")

    def _value(self, slot: int, step: int) -> str:
        value = self.trace.histories.value_at(slot, step)
        return "nothing" if value == NOT_SET else brief(self.trace, value, step, _CHARACTERS)
