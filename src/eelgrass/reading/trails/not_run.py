"""What would have written a slot, had it run: statements of the text that may write it, and what kept them out between
the slot's last write and the moment when it was read.

After the potential dependences of relevant slices (Gyimóthy, Beszédes and Forgács, An efficient relevant slicing method
for debugging, 1999), with the turnings of the frames that were at work meanwhile.
"""

from __future__ import annotations

import ast
from collections.abc import Iterator
from functools import cached_property, lru_cache
from itertools import chain, islice

from eelgrass.reading.expressions.source_tree import own_parts
from eelgrass.reading.recording import Recording
from eelgrass.reading.trails.reads import CHANGING
from eelgrass.reading.trails.turnings import Reason, Turning, Turnings
from eelgrass.reading.trails.visit_values import VisitValues
from eelgrass.trace.columns import Ints
from eelgrass.trace.histories import Part
from eelgrass.trace.program import EXPRESSION
from eelgrass.trace.values import NOT_SET

#: For one slot at one moment, so many are given, the latest of each statement first.
_MOST = 120
#: Of each statement, so many are looked at, in so many frames of its function, the latest ones.
_LOOKED_AT, _FRAMES = 200, 40


class NotRun:
    """What did not run in one recording."""

    def __init__(self, recording: Recording, turnings: Turnings) -> None:
        self.recording = recording
        self.trace = recording.trace
        self.turnings = turnings
        self._writers = lru_cache(256)(self._find_writers)
        # What one moment has before it, the next one has nearly all before it, too.
        self._is_on = lru_cache(8192)(self._leads_to)
        self._in_frame = lru_cache(8192)(self._find_in_frame)

    def writers_of(self, slot: int, since: int, step: int) -> list[tuple[int, Turning]]:
        """(a statement that may write a slot; what kept it out), for what happened after step `since` and before
        `step`, the latest first."""
        found = list(islice(self._each(slot, since, step), _MOST))
        return sorted(found, key=lambda its: -its[1].step)

    def _each(self, slot: int, since: int, step: int) -> Iterator[tuple[int, Turning]]:
        trace = self.trace
        part, key, owner = int(trace.slots.part[slot]), int(trace.slots.key[slot]), int(trace.slots.owner[slot])
        name = str(trace.values.get(key)) if part in (Part.NAME, Part.FIELD) else ""
        function = int(trace.frames.function[owner]) if part == Part.NAME else -1
        writers, callers = self._writers(part, name, function)
        for statement in [*writers, *callers]:
            number = trace.program.statements[statement].function
            frames = [owner] if part == Part.NAME and number == function else self._frames_of(number, since, step)
            is_direct = part not in (Part.NAME, Part.FIELD) and statement in writers
            in_frames = (
                self._in_frame(statement, its, *trace.frames.clipped(its, since + 1, step), is_direct)
                for its in frames[:_FRAMES]
            )
            for turning in islice(chain.from_iterable(in_frames), _LOOKED_AT):
                if part == Part.NAME or self._is_on(statement, owner, turning.step):
                    yield statement, turning

    def _find_in_frame(self, statement: int, frame: int, first: int, end: int, is_direct: bool) -> list[Turning]:
        """The turnings in a frame; and, of what changes elements, the visits, none of which has changed these."""
        found = list(islice(self.turnings.of(statement, frame, first, end), _LOOKED_AT))
        ran = self.recording.visits.in_frame(statement, frame, first, end)[::-1] if is_direct else ()
        return found + [Turning(int(visit), Reason.RAN) for visit in ran[:_LOOKED_AT]]

    def yields(self, frame: int, first: int, end: int) -> list[tuple[int, Turning]]:
        """(a statement that would have handed out a value; what kept it out), in a frame from a step up to another."""
        function = int(self.trace.frames.function[frame])
        waiting = [
            number
            for number, node in self._nodes
            if self.trace.program.statements[number].function == function
            and any(isinstance(its, (ast.Yield, ast.YieldFrom)) for part in own_parts(node) for its in ast.walk(part))
        ]
        found = ((its, turning) for its in waiting for turning in self.turnings.of(its, frame, first, end))
        return sorted(islice(found, _MOST), key=lambda its: -its[1].step)

    def _frames_of(self, function: int, since: int, step: int) -> list[int]:
        """The frames of a function that were there between two steps, the latest first."""
        frames: Ints = self.recording.calls.of_function(function)
        its = self.trace.frames
        there = (its.first[frames] < step) & ((its.last[frames] > since) | (its.last[frames] < 0))
        found: list[int] = frames[there][::-1].tolist()
        return found

    def _leads_to(self, statement: int, owner: int, step: int) -> bool:
        """Whether a statement may have written into an object, by what its text leads to at the step of a turning."""
        node = self.recording.worked_lines.syntax.statement(statement)
        places = [] if node is None else _places(node)
        there = VisitValues(self.recording, step)
        values = [there.value(place) for place in places]
        return not values or NOT_SET in values or owner in map(self.trace.values.object_of, values)

    @cached_property
    def _nodes(self) -> list[tuple[int, ast.stmt]]:
        syntax = self.recording.worked_lines.syntax
        nodes = ((number, syntax.statement(number)) for number in range(len(self.trace.program.statements)))
        return [(number, node) for number, node in nodes if node is not None and self._is_whole(number)]

    def _is_whole(self, number: int) -> bool:
        return self.trace.program.statements[number].arm != EXPRESSION

    def _find_writers(self, part: int, name: str, function: int) -> tuple[list[int], list[int]]:
        """(the statements that may write a name of a function, a field of a name, or elements; those that call, by
        name, a function in which such a one stands)."""
        program = self.trace.program
        found = [number for number, node in self._nodes if self._may_write(number, node, part, name, function)]
        reaching = {program.functions[program.statements[number].function].name for number in found}
        if part == Part.NAME:
            own = program.functions[function].name
            reaching.discard(own)
        callers: list[int] = []
        for number, node in self._nodes:
            called = {
                its.func.attr if isinstance(its.func, ast.Attribute) else getattr(its.func, "id", "")
                for part_ in own_parts(node)
                for its in ast.walk(part_)
                if isinstance(its, ast.Call)
            }
            if called & reaching:
                callers.append(number)
        return found, [its for its in callers if its not in found]

    def _may_write(self, number: int, node: ast.stmt, part: int, name: str, function: int) -> bool:
        if part == Part.NAME:
            its = self.trace.program.statements[number].function
            functions = self.trace.program.functions
            sees = its == function or name in functions[its].free or name in functions[its].global_
            return sees and name in _names_stored(node)
        if part == Part.FIELD:
            return any(isinstance(place, ast.Attribute) and place.attr == name for place in _targets(node))
        return bool(_places(node))


def _targets(node: ast.stmt) -> list[ast.expr]:
    """The expressions that a statement stores into, or deletes."""
    if isinstance(node, (ast.Assign, ast.Delete)):
        found = list(node.targets)
    elif isinstance(node, (ast.AugAssign, ast.AnnAssign, ast.For, ast.AsyncFor)):
        found = [node.target]
    elif isinstance(node, (ast.With, ast.AsyncWith)):
        found = [its.optional_vars for its in node.items if its.optional_vars is not None]
    else:
        found = []
    return [part for target in found for part in ast.walk(target) if isinstance(part, ast.expr)]


def _names_stored(node: ast.stmt) -> set[str]:
    stored = {its.id for its in _targets(node) if isinstance(its, ast.Name) and not isinstance(its.ctx, ast.Load)}
    walrus = {its.target.id for part in own_parts(node) for its in ast.walk(part) if isinstance(its, ast.NamedExpr)}
    return stored | walrus


def _places(node: ast.stmt) -> list[ast.expr]:
    """The owners of elements and fields that a statement stores or deletes, and what it calls a changing method on."""
    found: list[ast.expr] = []
    for its in _targets(node):
        if isinstance(its, (ast.Subscript, ast.Attribute)) and not isinstance(its.ctx, ast.Load):
            found.append(its.value)
        elif isinstance(node, ast.AugAssign) and isinstance(its, ast.Name):
            found.append(ast.copy_location(ast.Name(its.id, ast.Load()), its))
    for part in own_parts(node):
        for inner in ast.walk(part):
            if isinstance(inner, ast.Call) and isinstance(inner.func, ast.Attribute) and inner.func.attr in CHANGING:
                found.append(inner.func.value)
    return found
