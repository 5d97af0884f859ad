"""What threads share: every time that one of them reads or writes a slot that another writes or reads, too."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass

import numpy as np

from eelgrass.reading.recording import Recording
from eelgrass.reading.trails.reading_rules import read_whole
from eelgrass.reading.trails.reads import Read, Reads
from eelgrass.reading.trails.visits_of_writes import last_write
from eelgrass.trace.columns import Ints
from eelgrass.trace.histories import Part
from eelgrass.trace.model import StepKind

#: So many statements, and writes, are looked at.
_MOST = 4_000


@dataclass(frozen=True)
class Access:
    """That a thread reads, or `writes`, a slot at a step, within its visit of a statement."""

    step: int
    visit: int
    thread: int
    slot: int
    writes: bool


def shared_accesses(recording: Recording) -> list[Access]:
    """All accesses to what several threads have to do with, one of them writing, in order of time; of a long run, those
    of its first part. Locks and the like are not among it."""
    trace, threads = recording.trace, recording.thread_steps.of_step
    others = np.flatnonzero(threads != 0)
    if not len(others):
        return []
    lines = np.flatnonzero(trace.steps.kind == StepKind.LINE)
    first = int(lines[max(int(np.searchsorted(lines, others[0])) - 1, 0)])
    visits = lines[np.searchsorted(lines, first) :][:_MOST].tolist()
    last = visits[-1] if visits else first
    writes = list(_writes(recording, threads, first, last))
    written = {its.slot for its in writes}
    found = [*writes, *_reads(recording, threads, visits, written)]
    by_slot: dict[int, set[int]] = {}
    for its in found:
        by_slot.setdefault(its.slot, set()).add(its.thread)
    return sorted((its for its in found if len(by_slot[its.slot]) > 1), key=lambda its: (its.step, its.writes))


def _writes(recording: Recording, threads: Ints, first: int, last: int) -> Iterable[Access]:
    slots = recording.trace.slots
    steps, slot_of_row = slots.write_step, slots.write_slot  # each is worked out over the whole run
    rows = np.flatnonzero((steps >= first) & (steps <= last))
    plain = np.isin(slots.part[slot_of_row[rows]], (Part.NAME, Part.ITEM, Part.FIELD))
    for row in rows[plain][:_MOST].tolist():
        slot, step = int(slot_of_row[row]), int(steps[row])
        write = last_write(recording, slot, step + 1)
        if write is not None and write.callee < 0 and write.step == step:
            yield Access(step, write.visit, int(threads[write.visit]), slot, writes=True)


def _reads(recording: Recording, threads: Ints, visits: list[int], written: set[int]) -> Iterable[Access]:
    syntax = recording.worked_lines.syntax
    for visit in visits:
        reads = Reads(recording, visit)
        read_whole(reads, syntax.at(visit))
        for its in reads.found:
            if isinstance(its, Read) and its.slot in written and its.step == visit:
                yield Access(visit, visit, int(threads[visit]), its.slot, writes=False)
