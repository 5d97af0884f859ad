"""What kinds of clues ask of a run: its text, how often and when its statements ran, and what their parts were worth.

All answers are bounded: of a statement that was visited very often, some visits are looked at, and values with very
many elements are not known.
"""

from __future__ import annotations

import ast
from collections.abc import Callable, Iterator, Mapping
from dataclasses import dataclass
from functools import cached_property, lru_cache
from typing import Any, Final, TypeVar

import numpy as np
import numpy.typing as npt

from eelgrass.parsing import parsed_expression
from eelgrass.reading.clues.patterns import is_constant
from eelgrass.reading.clues.program_text import ProgramText, Site
from eelgrass.reading.expressions.evaluator import Evaluator
from eelgrass.reading.expressions.python_values import Thing
from eelgrass.reading.expressions.source_tree import own_parts
from eelgrass.reading.lines.exception_paths import ExceptionPath
from eelgrass.reading.progress import give_way
from eelgrass.reading.recording import Recording
from eelgrass.reading.state.call_stack import value_of_name
from eelgrass.reading.state.name_lookup import NO_SLOT, slot_of, slots_of
from eelgrass.reading.trails.visit_values import VisitValues
from eelgrass.reading.trails.visits_of_writes import last_write, visit_in
from eelgrass.trace.columns import Ints, between
from eelgrass.trace.model import StepKind
from eelgrass.trace.values import NOT_SET

#: So many visits of a statement, rounds of a loop and elements of a value are looked at.
_VISITS = 24
_ROUNDS = 8
_FIRST = 64
_ELEMENTS = 1_500
_MOST_IN_FRAME = 400
_CHANGES = 60
_CHARACTERS = 36
#: The arm of a `try` that its handlers are.
_HANDLER = 2
_WIDE = frozenset(("Exception", "BaseException"))
_Made = TypeVar("_Made")


class _Unknown:
    def __repr__(self) -> str:
        return "something"


#: The recording does not say.
UNKNOWN: Final = _Unknown()


@dataclass(frozen=True)
class Round:
    """One whole execution of a loop in a frame: where its header was visited first, the header visits at which passes
    began, and the step of the frame after it."""

    loop: Site
    first: int
    frame: int
    starts: Ints
    past: int


class _AtVisit(Evaluator):
    """Works out parts of one visit's statement; what calls gave is taken from the recording."""

    def __init__(self, facts: Facts, visit: int, frame: int, bound: Mapping[str, Any] | None = None) -> None:
        super().__init__(facts.trace, frame, visit, _ELEMENTS)
        if bound is not None:
            self._local.append(dict(bound))
        self._gave = facts.gave(visit) if facts.recording.stepping.frame_of(visit) == frame else None

    def _call(self, node: ast.Call) -> Any:
        told = NOT_SET if self._gave is None else self._gave.value(node)
        return super()._call(node) if told == NOT_SET else self.lift.value(told)


class Facts(ProgramText):
    """The facts of one run, shared by all kinds. A visit that is `known` to be a telling one is always looked at."""

    def __init__(self, recording: Recording, known: int | None = None) -> None:
        super().__init__(recording)
        self._known = known
        self._parsed = lru_cache(1024)(parsed_expression)
        self._reads = lru_cache(512)(self._find_reads)
        self._rounds = lru_cache(256)(self._read_rounds)
        self._once: dict[object, Any] = {}
        self.gave = lru_cache(256)(lambda visit: VisitValues(recording, visit))

    # The run

    def visits(self, site: Site, most: int = _VISITS) -> list[int]:
        """Visits of a statement, in order: all, or the first ones and some of the others."""
        steps = self.recording.visits.of_statement(site.number)
        if len(steps) > most:
            some = steps[np.linspace(0, len(steps) - 1, most // 2).astype(int)]
            known = steps[steps == self._known] if self._known is not None else steps[:0]
            steps = np.unique(np.concatenate((steps[: most // 2], some, known)))
        return [int(its) for its in steps.tolist()]

    def times(self, site: Site) -> int:
        """How often a statement was visited."""
        return len(self.recording.visits.of_statement(site.number))

    def all_in_frame(self, site: Site, frame: int, since: int, until: int) -> Ints:
        """The visits of a statement in a frame, from a step up to, not including, another."""
        return self.recording.visits.in_frame(site.number, frame, since, until)

    def in_frame(self, site: Site, frame: int, since: int, until: int) -> list[int]:
        """The first of those."""
        return [int(its) for its in self.all_in_frame(site, frame, since, until)[:_MOST_IN_FRAME].tolist()]

    def frame(self, step: int) -> int:
        """The frame of a step."""
        return self.recording.stepping.frame_of(step)

    def line(self, step: int) -> int:
        """The line of a step."""
        return self.trace.line_of(step)

    def after(self, visit: int) -> int:
        """The next stop of the visit's frame; the number of all steps where there is none."""
        found = self.recording.stepping.next_in_frame(visit)
        return found if found >= 0 else len(self.trace.steps)

    def next_read(self, name: str, frame: int, step: int, until: int | None = None) -> int:
        """The first visit after a step in which a frame reads a name that has not been stored anew since; -1 for
        none."""
        end = min(self.next_write(name, frame, step) + 1, len(self.trace.steps) if until is None else until)
        reads = self._reads(int(self.trace.frames.function[frame]), name)
        own = self._first(reads[between(reads, step + 1, end)], lambda frames: frames == frame)
        other = self.read_by_others(name, frame, step + 1, end)
        return min((its for its in (own, other) if its >= 0), default=-1)

    def read_by_others(self, name: str, frame: int, since: int, until: int) -> int:
        """The first step, from one up to another, at which another frame may read a frame's variable; -1 for none."""
        slot = slot_of(self.trace, frame, name)
        if slot == NO_SLOT:
            return -1
        found = []
        for its in self.seen_by(int(self.trace.frames.function[frame]), name):
            steps = self._reads(its, name)
            found.append(
                self._first(
                    steps[between(steps, since, until)],
                    lambda frames: (frames != frame) & (slots_of(self.trace, frames, name) == slot),
                )
            )
        return min((its for its in found if its >= 0), default=-1)

    def _find_reads(self, function: int, name: str) -> Ints:
        """The visits of all statements of a function that read a name, in order; where it is in no statement of the
        text, as in a `lambda`, the steps at which the function is called."""
        visits = [self.recording.visits.of_statement(its.number) for its in self.loads(function, name)]
        if not visits:
            visits = [self.trace.frames.first[self.recording.calls.of_function(function)]]
        return np.sort(np.concatenate(visits))

    def _first(self, steps: Ints, is_meant: Callable[[Ints], npt.NDArray[np.bool_]]) -> int:
        """The first of some steps whose frame is one of those that are meant; -1 for none."""
        for some in (steps[:_FIRST], steps[_FIRST:]):  # it is mostly one of the first
            meant = some[is_meant(self.trace.steps.frame[some])]
            if len(meant):
                return int(meant[0])
        return -1

    def once(self, make: Callable[[Facts], _Made]) -> _Made:
        """What several kinds ask of a run, made when the first of them asks."""
        if make not in self._once:
            self._once[make] = make(self)
        made: _Made = self._once[make]
        return made

    def rounds(self, loop: Site, most: int = _ROUNDS) -> list[Round]:
        """Some rounds of a loop: the first ones, and the last."""
        rounds = self._rounds(loop.number)
        return rounds if len(rounds) <= most else [*rounds[: most - 1], rounds[-1]]

    def _read_rounds(self, number: int) -> list[Round]:
        loops, loop = self.recording.loops, self.site(number)
        begins = loops.rounds(number).tolist()
        begins = begins if len(begins) <= _ROUNDS else [*begins[: _ROUNDS - 1], begins[-1]]
        return [
            Round(loop, its, self.frame(its), loops.starts(its, number), loops.past(its, number))
            for its in begins
            if loop is not None
        ]

    def ended_early(self, its: Round) -> bool:
        """Whether a round was left from inside of a pass, not at its header."""
        headers = self.recording.visits.between(its.loop.number, its.first, its.past + 1)
        headers = headers[self.trace.steps.frame[headers] == its.frame]
        return len(its.starts) > 0 and len(headers) > 0 and int(headers[-1]) == its.starts[-1]

    def ended_by_exception(self, its: Round) -> bool:
        """Whether an exception that nothing caught came out of a pass of a round."""
        return any(self.frame(visit) == its.frame and its.first < visit <= its.past for _, visit in self.failures)

    def frames_of(self, function: int, most: int = _VISITS) -> list[int]:
        """Frames of a function: the first ones, and some of the others."""
        frames = self.recording.calls.of_function(function)
        if len(frames) > most:
            frames = np.unique(np.concatenate((frames[: most // 2], frames[:: len(frames) // (most // 2)])))
        return [int(its) for its in frames.tolist()]

    @cached_property
    def failures(self) -> list[tuple[ExceptionPath, int]]:
        """The exceptions that nothing caught, or a handler for everything, each with the visit that it came out of."""
        return [
            (path, visit) for path, visit in self.raised if not path.is_caught or self.wide_handler(path) is not None
        ]

    def unknown_names(self, error: str) -> Iterator[tuple[Site, str, int, int]]:
        """Of each of those exceptions of a type that is about a name: the statement, the name, the visit, and the step
        at which it was raised."""
        for path, visit in self.failures:
            site, parts = self.site_at(visit), path.message.split("'")
            if path.type == error and site is not None and len(parts) > 2:
                yield site, parts[1], visit, path.stations[0].step

    def wide_handler(self, path: ExceptionPath) -> ast.ExceptHandler | None:
        """The handler for all exceptions that caught one: that in which the frame stands next. None where it was caught
        by its type, or not at all."""
        behind = self.after(path.stations[-1].step) if path.is_caught else len(self.trace.steps)
        site = self.site_at(behind) if behind < len(self.trace.steps) else None
        while site is not None and self.arm(site) != _HANDLER:
            site = self.parent(site)
        tried = self.parent(site) if site is not None else None
        if site is None or tried is None or not isinstance(tried.node, ast.Try):
            return None
        begun = [its for its in tried.node.handlers if its.lineno <= site.node.lineno]
        handler = begun[-1]
        named = {its.id for its in ast.walk(handler.type) if isinstance(its, ast.Name)} if handler.type else _WIDE
        return handler if named & _WIDE else None

    @cached_property
    def raised(self) -> list[tuple[ExceptionPath, int]]:
        """The first exceptions of the run and the last one, each with the visit that it came out of."""
        found, paths = [], self.recording.exceptions
        for path in paths if len(paths) <= _VISITS else [*paths[: _VISITS - 1], paths[-1]]:
            visit = self.recording.stepping.previous_in_frame(path.stations[0].step)
            if visit >= 0 and self.trace.steps.kind[visit] == StepKind.LINE:
                found.append((path, visit))
        return found

    # Values

    def value(
        self, node: ast.expr, visit: int, frame: int | None = None, bound: Mapping[str, Any] | None = None
    ) -> Any:
        """What a part of a visit's statement was worth, or any expression just before the visit; UNKNOWN where the
        recording does not say, or where it raises an exception. `bound` are names of a comprehension around it."""
        give_way()
        try:
            evaluator = _AtVisit(self, visit, self.frame(visit) if frame is None else frame, bound)
            return _identified(evaluator.value(node), {})
        except Exception:  # whatever an expression of the program raises; nothing is known then
            return UNKNOWN

    def asked(self, expression: str, step: int, frame: int) -> Any:
        """What an expression of ours gives in a frame just before a step; UNKNOWN as above."""
        return self.value(self._parsed(expression), step, frame)

    def was_evaluated(self, node: ast.expr, site: Site, visit: int) -> bool:
        """Whether a part of a visit's statement was evaluated: not behind an `and` or `or` that was decided before,
        nor in the other arm of a conditional expression."""
        return all(self._reaches(node, part, visit) for part in own_parts(site.node))

    def _reaches(self, node: ast.expr, part: ast.AST, visit: int) -> bool:
        for its in ast.walk(part):
            if isinstance(its, ast.BoolOp):
                place = next((n for n, value in enumerate(its.values) if _contains(value, node)), 0)
                for before in its.values[:place]:
                    worth = self.value(before, visit)
                    if worth is UNKNOWN or bool(worth) == isinstance(its.op, ast.Or):
                        return False
            if isinstance(its, ast.IfExp) and (_contains(its.body, node) or _contains(its.orelse, node)):
                worth = self.value(its.test, visit)
                if worth is UNKNOWN or bool(worth) != _contains(its.body, node):
                    return False
        return True

    def object_of(self, node: ast.expr, visit: int) -> int | None:
        """The number of the object that a part of a visit's statement leads to; None for anything else."""
        return self.gave(visit).object_of(node)

    def named(self, name: str, frame: int, step: int) -> int:
        """The value number that a name has in a frame just before a step; NOT_SET for none."""
        return value_of_name(self.trace, frame, name, step)

    def object_named(self, name: str, frame: int, step: int) -> int | None:
        """The number of the object that a name leads to; None for anything else."""
        return self.trace.values.object_of(self.named(name, frame, step))

    def changes_of(self, number: int, since: int, until: int) -> list[int]:
        """The first steps from one up to another at which elements or fields of an object were written, in order."""
        slots = self.trace.histories.of_object(number)
        if not len(slots):
            return []
        count = np.full(len(slots), 0)
        _, steps, _ = self.trace.histories.writes_between(slots, count + since, count + until)
        return [int(its) for its in np.unique(steps)[:_CHANGES].tolist()]

    def name_writes(self, name: str, frame: int) -> tuple[Ints, Ints]:
        """(steps, values) of all writes of a name that a frame sees."""
        slot = slot_of(self.trace, frame, name)
        none = np.zeros(0, np.int32)
        return (none, none) if slot == NO_SLOT else self.trace.histories.columns_of(slot)

    def next_write(self, name: str, frame: int, step: int) -> int:
        """The first step after another at which a name that a frame sees was written; the number of all steps for
        none."""
        steps, _ = self.name_writes(name, frame)
        place = int(steps.searchsorted(step + 1))
        return int(steps[place]) if place < len(steps) else len(self.trace.steps)

    def begun_by(self, name: str, frame: int, step: int) -> Site | None:
        """The statement that stored what a name has just before a step; None where what it stores is not written out:
        a number, a text, an empty container."""
        slot = slot_of(self.trace, frame, name)
        write = last_write(self.recording, slot, step) if slot != NO_SLOT else None
        site = self.site_at(write.visit) if write is not None else None
        value = getattr(site.node, "value", None) if site is not None else None
        return site if value is not None and is_constant(value) else None

    def plain(self, value: int) -> Any:
        """A value by its number, if it is no object; else UNKNOWN."""
        got = self.trace.values.get(value) if value != NOT_SET else UNKNOWN
        return got if got is None or type(got) in (int, float, str, bool) else UNKNOWN

    def printed(self, visit: int) -> str:
        """What a visit printed."""
        return self.recording.changes.printed(visit)

    def owner_visit(self, step: int) -> int:
        """The visit, in the frame of a step, that was at work at the step."""
        return visit_in(self.recording, self.frame(step), step)


class _Identified(Thing):
    """A thing that is equal to itself alone: what its class says of that is not asked."""

    def __eq__(self, other: object) -> bool:
        return isinstance(other, Thing) and other.number == self.number

    __hash__ = Thing.__hash__


def _identified(value: Any, known: dict[int, Any]) -> Any:
    """A value whose things can be compared."""
    if isinstance(value, Thing):
        return _Identified(value.number, value.type_)
    if not isinstance(value, (list, dict, tuple, set, frozenset)) or id(value) in known:
        return known.get(id(value), value)
    if isinstance(value, (tuple, set, frozenset)):
        return type(value)(_identified(its, known) for its in value)
    made: Any = [] if isinstance(value, list) else {}
    known[id(value)] = made
    if isinstance(value, list):
        made.extend(_identified(its, known) for its in value)
    else:
        made.update({_identified(key, known): _identified(its, known) for key, its in value.items()})
    return made


def _contains(node: ast.AST, part: ast.AST) -> bool:
    return any(its is part for its in ast.walk(node))


def shown(value: Any) -> str:
    """A value for a sentence."""
    if isinstance(value, Thing):
        return f"a {value.type_}"
    text = repr(value)
    return text if len(text) <= _CHARACTERS else text[: _CHARACTERS - 1] + "…"
