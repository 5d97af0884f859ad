"""The passes of a loop, or the calls of a function, side by side: what each line did in each, and which stand out."""

from __future__ import annotations

from collections.abc import Callable, Collection
from dataclasses import dataclass
from functools import lru_cache

import numpy as np

from eelgrass.reading.recording import Recording
from eelgrass.reading.state import value_text
from eelgrass.reading.state.name_lookup import NO_SLOT, slots_of
from eelgrass.trace.columns import Ints, between, distinct, find
from eelgrass.trace.program import EXPRESSION
from eelgrass.trace.values import NOT_SET, Kind

#: A path is rare when at most this share of all passes takes it.
_RARE = 0.1
_KEPT = 20_000


@dataclass(frozen=True)
class Did:
    """What a line did in one pass: its note ('' when it did not run), how often it ran, the step of its last visit."""

    text: str
    times: int
    step: int


@dataclass(frozen=True)
class Odd:
    """A pass that stands out, by its place from 0, and why, in words."""

    place: int
    why: str


class Iterations:
    """`starts` and `ends` are the steps at which each pass begins, and the one after its last; `lines` the lines of
    the module `module` that belong to it. A pass of calls is a call."""

    def __init__(
        self, recording: Recording, title: str, starts: Ints, ends: Ints, frames: Ints, statements: Collection[int]
    ) -> None:
        self.recording = recording
        self.title = title
        self.starts = starts
        self.ends = ends
        self.frames = frames
        self._statements = sorted(statements)
        program = recording.trace.program
        its = [program.statements[number] for number in self._statements]
        self.module = program.functions[its[0].function].module if its else 0
        self.lines = sorted({statement.line for statement in its})
        self.did = lru_cache(_KEPT)(self._did)

    def __len__(self) -> int:
        return len(self.starts)

    def place_of(self, step: int) -> int:
        """The place of the pass that a step belongs to; -1 for none."""
        place = find(self.starts, step + 1) - 1
        return place if place >= 0 and step < int(self.ends[place]) else -1

    def _did(self, line: int, place: int) -> Did:
        first, end = int(self.starts[place]), int(self.ends[place])
        visits = self.recording.visits.of_line(self.module, line)
        visits = visits[between(visits, first, end)]
        visits = visits[self.recording.trace.steps.frame[visits] == self.frames[place]]
        if not len(visits):
            return Did("", 0, -1)
        note = self.recording.line_notes.of_visit(int(visits[-1]), len(self.recording.trace.steps))
        return Did(note.did if note is not None else "runs", len(visits), int(visits[-1]))

    def paths(self) -> Ints:
        """For each pass a number that two passes share when the same lines ran in both."""
        rng = np.random.default_rng(1)  # the numbers only have to differ
        marks = np.zeros(len(self), np.uint64)
        for number in self._statements:
            visits = self.recording.visits.of_statement(number)
            places = self.starts.searchsorted(visits, side="right") - 1
            here = (places >= 0) & (visits < self.ends[np.maximum(places, 0)])
            here &= self.recording.trace.steps.frame[visits] == self.frames[np.maximum(places, 0)]
            marks[distinct(places[here])] += rng.integers(1, 1 << 62, dtype=np.uint64)
        return np.unique(marks, return_inverse=True)[1]

    def odd(self, breaches: Ints | None = None) -> list[Odd]:
        """The passes that stand out: those with a path of their own, the first with another type of value, the first in
        which one of the `breaches` of claims lies."""
        found = [*self._rare_paths(), *self._other_types()]
        if breaches is not None and len(breaches):
            places = [self.place_of(step) for step in breaches.tolist()]
            found += [Odd(place, "a claim is broken") for place in places if place >= 0][:1]
        by_place: dict[int, list[str]] = {}
        for its in found:
            by_place.setdefault(its.place, []).append(its.why)
        return [Odd(place, "; ".join(whys)) for place, whys in sorted(by_place.items())]

    def _rare_paths(self) -> list[Odd]:
        if len(self) < 3:
            return []
        paths = self.paths()
        counts = np.bincount(paths)
        most = int(np.max(counts))
        rare = (counts <= max(1, int(len(self) * _RARE))) & (counts < most)
        return [Odd(place, "takes a rare path") for place in np.flatnonzero(rare[paths]).tolist()]

    def _other_types(self) -> list[Odd]:
        """For each name that the lines store, the first pass in which it comes to hold a value of another type."""
        trace, found = self.recording.trace, []
        for name in self._stored():
            slots = slots_of(trace, self.frames, name)
            held = np.where(
                slots == NO_SLOT, NOT_SET, trace.histories.values_at(np.maximum(slots, 0), self.ends.astype(np.int64))
            )
            places = np.flatnonzero(held != NOT_SET)
            if len(places):
                kinds = self._types(held[places])
                other = np.flatnonzero(kinds != kinds[0])
                if len(other):
                    word = value_text.type_word(trace, int(held[places[other[0]]]), int(self.ends[places[other[0]]]))
                    found.append(Odd(int(places[other[0]]), f"{name} is another type: {word}"))
        return found

    def _types(self, held: Ints) -> Ints:
        """A number for the type of each value."""
        trace = self.recording.trace
        kinds = trace.values.kinds[held].astype(np.int64)
        is_object = kinds == Kind.REF
        if is_object.any():
            kinds[is_object] = Kind.COUNT + trace.objects.type[trace.values.payloads[held[is_object]]]
        return kinds

    def _stored(self) -> list[str]:
        syntax, names = self.recording.worked_lines.syntax, dict[str, None]()
        for number in self._statements:
            node = syntax.statement(number)
            for target in [*getattr(node, "targets", []), getattr(node, "target", None)]:
                name = getattr(target, "id", None)
                if name is not None:
                    names[name] = None
        return list(names)


def of_loop(recording: Recording, step: int, loop: int) -> Iterations:
    """The passes of the round of a loop that a step belongs to."""
    trace = recording.trace
    starts = recording.loops.starts(step, loop).astype(np.int64)
    ends = recording.loops.ends(step, loop)
    frame = recording.stepping.frame_of(step)
    statements = _within(recording, lambda number: number == loop or _stands_in(recording, number, loop))
    title = f"passes of line {trace.program.statements[loop].line}"
    return Iterations(recording, title, starts, ends, np.full(len(starts), frame), statements)


def of_function(recording: Recording, function: int) -> Iterations:
    """The calls of a function."""
    trace = recording.trace
    frames = recording.calls.of_function(function)
    last = trace.frames.last[frames].astype(np.int64)
    ends = np.where(last < 0, len(trace.steps), last + 1)
    statements = _within(recording, lambda number: trace.program.statements[number].function == function)
    title = f"calls of {trace.program.functions[function].name}"
    return Iterations(recording, title, trace.frames.first[frames].astype(np.int64), ends, frames, statements)


def _within(recording: Recording, wanted: Callable[[int], bool]) -> list[int]:
    statements = recording.trace.program.statements
    return [number for number, its in enumerate(statements) if its.arm != EXPRESSION and wanted(number)]


def _stands_in(recording: Recording, statement: int, loop: int) -> bool:
    statements = recording.trace.program.statements
    while statement >= 0:
        statement = statements[statement].parent
        if statement == loop:
            return True
    return False
