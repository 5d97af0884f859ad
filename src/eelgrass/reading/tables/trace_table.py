"""Trace tables: a row for each step of a call, a stretch or the run, or for each pass of a loop.

A row shows what is true just before its step, as everything does; the row of a pass, what is true when it is over.
Nothing is copied: rows are steps, and a cell is looked up when it is asked for.
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache
from typing import Literal

import msgspec
import numpy as np

from eelgrass.reading.breakpoints.locations import qualified_name
from eelgrass.reading.recording import Recording
from eelgrass.reading.state import insides, value_text
from eelgrass.reading.state.name_lookup import NO_SLOT, slot_of
from eelgrass.reading.stepping.loops import LOOPS, inside
from eelgrass.reading.tables.columns import Column, conditions, names_of_frame, names_of_function, of_expression
from eelgrass.reading.watches import watch
from eelgrass.trace.columns import Ints, between, find
from eelgrass.trace.model import StepKind
from eelgrass.trace.values import NOT_SET

_CHARACTERS = 200
_KEPT_CELLS = 8192
_MOST_OBJECTS = 200
#: What is said of a row that is no line about to run.
_STANDS = {int(StepKind.RETURN): " ends", int(StepKind.RAISE): " raises"}


@dataclass(frozen=True)
class Cell:
    """A cell: its text, '' where there is nothing; whether it is another than in the row before of the same frame; and
    the step that set it (-1: none)."""

    text: str
    changed: bool = False
    set_by: int = -1


_EMPTY = Cell("")


class TableKey(msgspec.Struct, frozen=True):
    """By what a table is found again in another run: what it is `of`; the qualified name of the function ('': the
    module); for passes, which of its loops, from 1; which of the calls, or of the times that the loop ran, from 1. Of
    a stretch, its steps."""

    of: Literal["call", "calls", "passes", "steps"]
    function: str = ""
    loop: int = 0
    number: int = 0
    first: int = 0
    end: int = 0

    @property
    def family(self) -> str:
        """Tables whose columns are laid out alike: those of one function, or of one loop."""
        return f"{self.of} {self.function} {self.loop}"


class Table:
    """`rows` are the steps of the rows, `goes_to` the steps that rows lead to: for a pass, its beginning."""

    def __init__(
        self, recording: Recording, key: TableKey, title: str, rows: Ints, goes_to: Ints, columns: list[Column]
    ) -> None:
        self.recording = recording
        self.key = key
        self.title = title
        self.rows = rows
        self.goes_to = goes_to
        self.columns = columns
        self.of_passes = rows is not goes_to
        self._kept = lru_cache(_KEPT_CELLS)(self._cell)

    def with_columns(self, columns: list[Column]) -> Table:
        """The same rows with other columns."""
        return Table(self.recording, self.key, self.title, self.rows, self.goes_to, columns)

    def row_of(self, step: int) -> int:
        """The row of the moment shown at a step; -1 before the first one and after the last."""
        row = find(self.goes_to, step + 1) - 1
        beyond = row == len(self.rows) - 1 and step > int(self.rows[row])
        return -1 if beyond else row

    def cell(self, row: int, column: int) -> Cell:
        """One cell."""
        return self._kept(row, self.columns[column])

    def _cell(self, row: int, column: Column) -> Cell:
        step = int(self.rows[row])
        trace = self.recording.trace
        if column.kind == "name":
            return self._name(row, step, column)
        if column.kind == "expression":
            return self._expression(row, step, column)
        if column.kind == "condition":
            return self._condition(row, step, column)
        told = {
            "step": lambda: str(step),
            "line": lambda: f"{trace.line_of(step)}{_STANDS.get(int(trace.steps.kind[step]), '')}",
            "function": lambda: trace.function_of_frame(self.recording.stepping.frame_of(step)).name,
            "depth": lambda: str(int(trace.depths[self.recording.stepping.frame_of(step)])),
            "pass": lambda: str(row + 1),
        }
        return Cell(told[column.kind]())

    def _before(self, row: int, step: int) -> int:
        """The step of the row before that belongs to the same frame; -1 for none."""
        if self.of_passes:
            return int(self.rows[row - 1]) if row else int(self.goes_to[0])
        before = self.recording.stepping.previous_in_frame(step)
        return before if before >= int(self.rows[0]) else -1

    def _name(self, row: int, step: int, column: Column) -> Cell:
        trace = self.recording.trace
        frame = self.recording.stepping.frame_of(step)
        if column.function >= 0 and int(trace.frames.function[frame]) != column.function:
            if trace.program.functions[column.function].kind != "module":
                return _EMPTY
            frame = trace.first_frames.get(column.function, frame)
        slot = slot_of(trace, frame, column.name)
        value = trace.histories.value_at(slot, step) if slot != NO_SLOT else NOT_SET
        if value == NOT_SET:
            return _EMPTY
        before = self._before(row, step)
        set_by = max(trace.histories.set_by(slot, step), self._changed_inside(value, step))
        return Cell(value_text.text(trace, value, step, _CHARACTERS)[:_CHARACTERS], before <= set_by, set_by)

    def _changed_inside(self, value: int, step: int) -> int:
        """The latest step before `step` during which something was written inside of a list, dictionary or set."""
        trace, latest = self.recording.trace, -1
        waiting, seen = [trace.values.object_of(value)], set[int]()
        while waiting:
            number = waiting.pop()
            if (
                number is None
                or number in seen
                or len(seen) > _MOST_OBJECTS
                or not value_text.is_literal(trace, number)
            ):
                continue
            seen.add(number)
            slots = trace.histories.of_object(number)
            latest = max(latest, int(np.max(trace.histories.written_at(slots, step), initial=-1)))
            held = insides.elements(trace, number, step).values
            waiting += [trace.values.object_of(its) for its in held[:_MOST_OBJECTS].tolist()]
        return latest

    def _expression(self, row: int, step: int, column: Column) -> Cell:
        assert column.asked is not None
        recording = self.recording
        answer = watch.at(recording, column.asked, recording.stepping.frame_of(step), step)
        if not answer.known:
            return _EMPTY
        before = self._before(row, step)
        was = watch.at(recording, column.asked, recording.stepping.frame_of(before), before) if before >= 0 else None
        changed = was is None or was.text != answer.text
        return Cell(answer.text[:_CHARACTERS], changed, max(before, -1) if changed else -1)

    def _condition(self, row: int, step: int, column: Column) -> Cell:
        """How a condition was decided: at its own steps, or, for a pass, the last time in it."""
        trace, places = self.recording.trace, self.recording.stepping
        visits = self.recording.visits.of_statement(column.statement)
        if self.of_passes:
            visits = visits[between(visits, int(self.goes_to[row]), step)]
            visits = visits[trace.steps.frame[visits] == places.frame_of(step)]
        else:
            visits = visits[between(visits, step, step + 1)]
        if not len(visits):
            return _EMPTY
        visit = int(visits[-1])
        after = places.next_in_frame(visit)
        if after < 0 or trace.steps.kind[after] == StepKind.RAISE:
            return _EMPTY
        taken = inside(trace, int(trace.steps.statement[after]), column.statement)
        return Cell("true" if taken else "false", False, visit)


def of_call(recording: Recording, frame: int, with_calls: bool = False) -> Table:
    """The table of one call (or of the module), a row a step; with the steps of the calls made in it, or without."""
    trace, places = recording.trace, recording.stepping
    function = int(trace.frames.function[frame])
    rows = places.stops_of(frame)
    name = trace.program.functions[function].name
    columns = [Column("line", "line"), *names_of_frame(recording, frame), *conditions(recording, function)]
    if with_calls and len(rows):
        last = int(trace.frames.last[frame])
        rows = places.stops[between(places.stops, int(rows[0]), (last if last >= 0 else len(trace.steps)) + 1)]
        columns = [columns[0], Column("function", "function"), Column("depth", "depth"), *columns[1:]]
        inner = np.unique(trace.frames.function[np.unique(trace.steps.frame[rows])]).tolist()
        columns += [column for number in inner if number != function for column in names_of_function(recording, number)]
    frames = recording.calls.of_function(function)
    of: Literal["call", "calls"] = "calls" if with_calls else "call"
    key = TableKey(of, qualified_name(trace.program, function), number=find(frames, frame) + 1)
    return Table(recording, key, _title(recording, frame, name), rows, rows, columns)


def of_run(recording: Recording, first: int = 0, end: int | None = None) -> Table:
    """The table of a stretch of steps, or of the whole run."""
    trace, places = recording.trace, recording.stepping
    end = len(trace.steps) if end is None else end
    rows = places.stops[between(places.stops, first, end)]
    functions = np.unique(trace.frames.function[np.unique(trace.steps.frame[rows])]).tolist()
    columns = [Column("step", "step"), Column("line", "line"), Column("function", "function"), Column("depth", "depth")]
    columns += [column for number in functions for column in names_of_function(recording, number)]
    title = "the whole run" if end - first >= len(trace.steps) else f"steps {first} to {end - 1}"
    return Table(recording, TableKey("steps", first=first, end=end), title, rows, rows, columns)


def of_loop(recording: Recording, step: int, loop: int) -> Table:
    """The table of the passes of the loop's round that a step belongs to, a row a pass."""
    trace = recording.trace
    starts = recording.loops.starts(step, loop)
    frame = recording.stepping.frame_of(step)
    ends = recording.loops.ends(step, loop)
    node = recording.worked_lines.syntax.statement(loop)
    columns = [Column("pass", "pass"), *names_of_frame(recording, frame, node), *conditions(recording, -1, loop)]
    its = trace.program.statements[loop]
    name = trace.program.functions[its.function].name
    title = f"passes of line {its.line} in {_title(recording, frame, name)}"
    number = find(recording.loops.rounds(loop), int(starts[0]) + 1) if len(starts) else 1
    place = _loops_of(recording, its.function).index(loop) + 1
    key = TableKey("passes", qualified_name(trace.program, its.function), place, number)
    return Table(recording, key, title, ends.astype(np.int32), starts, columns)


def of_call_named(recording: Recording, name: str | None, call: int = 1, with_calls: bool = False) -> Table:
    """The table of a function's `call`th call, None being the module. Raises LookupError with a sentence."""
    functions = recording.trace.program.functions
    wanted = [
        number
        for number, its in enumerate(functions)
        if (
            its.kind == "module"
            if name is None
            else name in (its.name, qualified_name(recording.trace.program, number))
        )
    ]
    frames: Ints = recording.calls.of_function(wanted[0]) if wanted else np.zeros(0, np.int32)
    if len(frames) < call:
        raise LookupError(f"There is no call {call} of “{name}” in this recording.")
    return of_call(recording, int(frames[call - 1]), with_calls)


def of_loop_at(recording: Recording, line: int, round_: int = 1) -> Table:
    """The table of the `round_`th time that the loop at a line runs. Raises LookupError with a sentence."""
    for number, its in enumerate(recording.trace.program.statements):
        if its.line == line and its.kind in LOOPS:
            rounds = recording.loops.rounds(number)
            if len(rounds) < round_:
                raise LookupError(f"The loop at line {line} does not run {round_} times in this recording.")
            return of_loop(recording, int(rounds[round_ - 1]), number)
    raise LookupError(f"There is no loop at line {line}.")


def of_key(recording: Recording, key: TableKey) -> Table | None:
    """The table that a key means in a run; None where there is none."""
    try:
        if key.of == "steps":
            return of_run(recording, key.first, key.end)
        if key.of != "passes":
            return of_call_named(recording, key.function or None, key.number, key.of == "calls")
        program = recording.trace.program
        function = next(
            number for number in range(len(program.functions)) if qualified_name(program, number) == key.function
        )
        loop = _loops_of(recording, function)[key.loop - 1]
        return of_loop(recording, int(recording.loops.rounds(loop)[key.number - 1]), loop)
    except (LookupError, StopIteration):
        return None


def _loops_of(recording: Recording, function: int) -> list[int]:
    """The loops of a function, as statements."""
    statements = enumerate(recording.trace.program.statements)
    return [number for number, its in statements if its.function == function and its.kind in LOOPS]


def loop_at(recording: Recording, step: int) -> int:
    """The innermost loop around a step; -1 for none."""
    return next(iter(recording.loops.around(step)), -1)


def added(table: Table, text: str) -> Table:
    """The table with a column for an expression. Raises ExpressionError."""
    return table.with_columns([*table.columns, of_expression(text)])


def _title(recording: Recording, frame: int, name: str) -> str:
    frames = recording.calls.of_function(int(recording.trace.frames.function[frame]))
    return name if len(frames) < 2 else f"{name}, call {find(frames, frame) + 1} of {len(frames)}"
