"""What kept a statement from running in a frame: where the way turned off that would have led to it."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, replace
from enum import StrEnum
from functools import lru_cache

import numpy as np
import numpy.typing as npt

from eelgrass.reading.progress import give_way
from eelgrass.reading.recording import Recording
from eelgrass.reading.trails.decisions import Decisions
from eelgrass.trace.columns import Ints, find
from eelgrass.trace.model import StepKind

_HANDLER = 2


class Reason(StrEnum):
    """Why a line did not run."""

    RAN = "it ran"
    DECISION = "decision"
    NEVER_CALLED = "never called"
    LEFT_BEFORE = "left before"
    EXCEPTION = "exception"
    HANDLER_NOT_NEEDED = "handler not needed"
    NO_PASSES = "loop without passes"
    STOPPED = "stopped before"
    NO_STATEMENT = "no statement"


@dataclass(frozen=True)
class Turning:
    """Where the way turned off, and why: the visit that decided or left, or the step at which an exception passed."""

    step: int
    reason: Reason


@dataclass(frozen=True)
class _Way:
    """The compound statements that are still to be entered, the outermost first; the statement that they lead to; the
    frame; and the step before which nothing is asked."""

    chain: list[int]
    statement: int
    frame: int
    first: int


class Turnings:
    """The turnings of one recording."""

    def __init__(self, recording: Recording, decisions: Decisions) -> None:
        self.recording = recording
        self.trace = recording.trace
        self.decisions = decisions
        self._same_arm = lru_cache(512)(self._table_of_arm)
        self._visits = lru_cache(64)(self._find_visits)

    def of(self, statement: int, frame: int, first: int, end: int) -> Iterator[Turning]:
        """Every place from step `first` up to, not including, `end` at which a frame turned off the way to a statement,
        the latest first. Where the statement was only not come to yet, there is none."""
        give_way()
        chain = self.decisions.around(statement)[::-1]
        stops = self.recording.stepping.stops_of(frame)
        low, high = find(stops, first), find(stops, end)
        if chain and low < len(stops) and self.decisions.is_in(int(self.trace.steps.statement[stops[low]]), chain[0]):
            began = self.decisions.latest(chain[0], frame, first)
            low = find(stops, began) if began >= 0 else low
        for turning in self._in_block(_Way(chain, statement, frame, first), stops, low, high):
            if turning.step < first:
                return
            yield turning

    def _in_block(self, way: _Way, stops: Ints, low: int, high: int) -> Iterator[Turning]:
        """The turnings within one run of a block, given as a range of a frame's stops."""
        chain, statement = way.chain, way.statement
        wanted = chain[0] if chain else statement
        visits, turned_off = self._visits((*chain, statement), way.frame)
        since, until = find(visits, low), find(visits, high)
        places = visits[since:until]
        if not len(places):
            yield from self._not_reached(wanted, stops, low, high)
            return
        if not chain:
            yield from self._raised_at(stops, places)
            return
        last = len(places) - 1  # where what comes after it counts, too
        some = turned_off[find(turned_off, since) : find(turned_off, since + last)] - since
        for number in [last, *some[::-1].tolist()]:
            end = int(places[number + 1]) if number < last else high
            if end < len(stops) and stops[end - 1] < way.first:
                return
            yield from self._of_visit(way, stops, int(places[number]), end)

    def _find_visits(self, way: tuple[int, ...], frame: int) -> tuple[Ints, Ints]:
        """(the places, among a frame's stops, of the visits of the first statement of a way; which of these may have
        turned off it). Those have not, and they may be very many, after which each compound statement of the way was
        visited once and the last one at all, without an exception."""
        stops = self.recording.stepping.stops_of(frame)
        numbers, kinds = self.trace.steps.statement[stops], self.trace.steps.kind[stops]
        lines = kinds == StepKind.LINE
        visits = np.flatnonzero((numbers == way[0]) & lines)
        may_have = np.zeros(len(visits), np.bool_)
        if len(visits) and len(way) > 1:
            counts = [np.add.reduceat((numbers == its) & lines, visits) for its in way[1:]]
            may_have = np.add.reduceat(kinds == StepKind.RAISE, visits) > 0
            for count in counts[:-1]:
                may_have |= count != 1
            may_have |= counts[-1] == 0
        return visits, np.flatnonzero(may_have)

    def _of_visit(self, way: _Way, stops: Ints, place: int, until: int) -> Iterator[Turning]:
        """The turnings after one visit of a compound statement."""
        wanted = way.chain[0]
        inner = way.chain[1] if len(way.chain) > 1 else way.statement
        outside = ~self.decisions.table_in(wanted)[self.trace.steps.statement[stops[place + 1 : until]]]
        end = place + 1 + int(np.argmax(outside)) if outside.any() else until
        begin = self._begin_of_arm(stops, place + 1, end, inner)
        if begin < end:
            outside = ~self._same_arm(inner)[self.trace.steps.statement[stops[begin:end]]]
            end_of_arm = begin + int(np.argmax(outside)) if outside.any() else end
            yield from self._in_block(replace(way, chain=way.chain[1:]), stops, begin, end_of_arm)
            return
        if place + 1 >= len(stops):  # it was about to run when the recording ended
            return
        reason = self._reason(wanted, inner, stops, place, end)
        if reason == Reason.LEFT_BEFORE and end - 1 > place:
            yield from self._not_reached(inner, stops, place + 1, end)
            return
        raised = self.trace.steps.kind[stops[place : end + 1]] == StepKind.RAISE
        at = place + int(np.argmax(raised)) if reason == Reason.EXCEPTION and raised.any() else place
        yield Turning(int(stops[at]), reason)

    def _arm(self, number: int, outer: int) -> tuple[int, int]:
        """(the arm of a compound statement in which another stands, for handlers with the place of theirs)."""
        statements = self.trace.program.statements
        while statements[number].parent != outer and statements[number].parent >= 0:
            number = statements[number].parent
        return statements[number].arm, self._part_of(number, outer)

    def _part_of(self, number: int, outer: int) -> int:
        """Which handler or case a statement directly in a `try` or `match` belongs to, by its place in the text."""
        its, statement = self.trace.program.statements[outer], self.trace.program.statements[number]
        if its.kind not in ("try", "trystar", "match") or (its.kind != "match" and statement.arm != _HANDLER):
            return 0
        node = self.recording.worked_lines.syntax.statement(outer)
        parts = getattr(node, "cases", None) or getattr(node, "handlers", [])
        begins = [part.body[0].lineno for part in parts]
        return sum(begin <= statement.line for begin in begins)

    def _begin_of_arm(self, stops: Ints, low: int, high: int, inner: int) -> int:
        """The first of some stops within a compound statement that stands in the arm of `inner`."""
        in_arm = self._same_arm(inner)[self.trace.steps.statement[stops[low:high]]]
        return low + int(np.argmax(in_arm)) if in_arm.any() else high

    def _table_of_arm(self, inner: int) -> npt.NDArray[np.bool_]:
        """By statement: whether it stands in the same arm of the compound statement around `inner`; False, last, for
        none."""
        outer = self.trace.program.statements[inner].parent
        arm = self._arm(inner, outer)
        numbers = range(len(self.trace.program.statements))
        same = [self.decisions.is_in(number, outer) and self._arm(number, outer) == arm for number in numbers]
        return np.array([*same, False], np.bool_)

    def _reason(self, wanted: int, inner: int, stops: Ints, place: int, end: int) -> Reason:
        kind = self.trace.program.statements[wanted].kind
        arm = self._arm(inner, wanted)[0]
        if any(self.trace.steps.kind[stop] == StepKind.RAISE for stop in stops[place : place + 2]) and arm != _HANDLER:
            return Reason.EXCEPTION
        if kind in ("try", "trystar"):
            raised = any(self.trace.steps.kind[stop] == StepKind.RAISE for stop in stops[place:end])
            return Reason.EXCEPTION if raised else Reason.HANDLER_NOT_NEEDED if arm == _HANDLER else Reason.LEFT_BEFORE
        if kind in ("for", "asyncfor") and arm == 0:
            return Reason.NO_PASSES
        return Reason.LEFT_BEFORE if kind in ("for", "asyncfor", "with", "asyncwith") else Reason.DECISION

    def _raised_at(self, stops: Ints, places: Ints) -> Iterator[Turning]:
        """The statement's own visits that an exception ended before it was done."""
        for place in places[::-1].tolist():
            if place + 1 < len(stops) and self.trace.steps.kind[stops[place + 1]] == StepKind.RAISE:
                yield Turning(int(stops[place + 1]), Reason.EXCEPTION)

    def _not_reached(self, wanted: int, stops: Ints, low: int, high: int) -> Iterator[Turning]:
        """The block's run ended before the statement: by what came last in it."""
        statements = self.trace.program.statements
        if low >= high:
            return
        if high == len(stops):
            is_over = self.trace.frames.last[int(self.trace.steps.frame[stops[low]])] >= 0
            if not is_over:
                yield Turning(int(stops[high - 1]), Reason.STOPPED)
                return
        last = high - 1
        while last > low and self.trace.steps.kind[stops[last]] == StepKind.RETURN:
            last -= 1
        stop = int(stops[last])
        if self.trace.steps.kind[stop] == StepKind.RAISE:
            yield Turning(stop, Reason.EXCEPTION)
        elif statements[int(self.trace.steps.statement[stop])].kind in (
            "return",
            "break",
            "continue",
            "raise",
        ) or high == len(stops):
            yield Turning(stop, Reason.LEFT_BEFORE)
