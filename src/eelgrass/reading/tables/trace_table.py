"""Trace tables: a row for each step of a call, a stretch or the run, or for each pass of a loop (needs M3, S15).

A row shows what is true just before its step, as everything does; the row of a pass, what is true when it is over.
Nothing is copied: rows are steps, and a cell is looked up when it is asked for.
"""

from __future__ import annotations

import ast
from collections.abc import Iterable
from dataclasses import dataclass, replace
from functools import lru_cache
from typing import Literal

import numpy as np

from eelgrass.reading.breakpoints.locations import qualified_name
from eelgrass.reading.expressions.expression import Expression, parse_expression
from eelgrass.reading.recording import Recording
from eelgrass.reading.state import value_text
from eelgrass.reading.state.call_stack import scopes_at
from eelgrass.reading.state.name_lookup import NO_SLOT, module_frame, slot_of
from eelgrass.reading.stepping.loops import LOOPS, inside
from eelgrass.reading.watches import watch
from eelgrass.trace.columns import Ints, between, find
from eelgrass.trace.histories import Part
from eelgrass.trace.model import StepKind
from eelgrass.trace.values import NOT_SET

_CHARACTERS = 200
_KEPT_CELLS = 8192
_MOST_OBJECTS = 200
_DECISIONS = ("if", "while")
#: What is said of a row that is no line about to run.
_STANDS = {int(StepKind.RETURN): " ends", int(StepKind.RAISE): " raises"}
_NO_VARIABLES = ("function", "class", "module")


@dataclass(frozen=True)
class Column:
    """One column. `kind`: "step", "line", "function", "depth" (of calls), "pass", "name", "condition" (of the statement
    `statement`, where it is decided) or "expression" (`asked`). A name is one of the frames of `function`, or, with
    -1, of whatever frame a row belongs to."""

    kind: Literal["step", "line", "function", "depth", "pass", "name", "condition", "expression"]
    title: str
    function: int = -1
    statement: int = -1
    asked: Expression | None = None


@dataclass(frozen=True)
class Cell:
    """A cell: its text, '' where there is nothing; whether it is another than in the row before of the same frame; and
    the step that set it (-1: none)."""

    text: str
    changed: bool = False
    set_by: int = -1


_EMPTY = Cell("")


class Table:
    """`rows` are the steps of the rows, `goes_to` the steps that rows lead to: for a pass, its beginning."""

    def __init__(self, recording: Recording, title: str, rows: Ints, goes_to: Ints, columns: list[Column]) -> None:
        self.recording = recording
        self.title = title
        self.rows = rows
        self.goes_to = goes_to
        self.columns = columns
        self.of_passes = rows is not goes_to
        self._kept = lru_cache(_KEPT_CELLS)(self._cell)

    def with_columns(self, columns: list[Column]) -> Table:
        """The same rows with other columns."""
        return Table(self.recording, self.title, self.rows, self.goes_to, columns)

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
        slot = slot_of(trace, frame, column.title.rpartition(".")[2])
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
            latest = max(latest, int(trace.histories.written_at(slots, step).max(initial=-1)))
            held = trace.histories.inside(number, Part.ITEM, step).values
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
    columns = [Column("line", "line"), *_names(recording, frame), *_conditions(recording, function)]
    if with_calls and len(rows):
        last = int(trace.frames.last[frame])
        rows = places.stops[between(places.stops, int(rows[0]), (last if last >= 0 else len(trace.steps)) + 1)]
        columns = [columns[0], Column("function", "function"), Column("depth", "depth"), *columns[1:]]
        inner = np.unique(trace.frames.function[np.unique(trace.steps.frame[rows])]).tolist()
        columns += [column for number in inner if number != function for column in _names_of(recording, number)]
    return Table(recording, _title(recording, frame, name), rows, rows, columns)


def of_run(recording: Recording, first: int = 0, end: int | None = None) -> Table:
    """The table of a stretch of steps, or of the whole run."""
    trace, places = recording.trace, recording.stepping
    end = len(trace.steps) if end is None else end
    rows = places.stops[between(places.stops, first, end)]
    functions = np.unique(trace.frames.function[np.unique(trace.steps.frame[rows])]).tolist()
    columns = [Column("step", "step"), Column("line", "line"), Column("function", "function"), Column("depth", "depth")]
    columns += [column for number in functions for column in _names_of(recording, number)]
    title = "the whole run" if end - first >= len(trace.steps) else f"steps {first} to {end - 1}"
    return Table(recording, title, rows, rows, columns)


def of_loop(recording: Recording, step: int, loop: int) -> Table:
    """The table of the passes of the loop's round that a step belongs to, a row a pass."""
    trace = recording.trace
    starts = recording.loops.starts(step, loop)
    frame = recording.stepping.frame_of(step)
    ends = recording.loops.ends(step, loop)
    node = recording.worked_lines.syntax.statement(loop)
    columns = [Column("pass", "pass"), *_names(recording, frame, node), *_conditions(recording, -1, loop)]
    its = trace.program.statements[loop]
    name = trace.program.functions[its.function].name
    title = f"passes of line {its.line} in {_title(recording, frame, name)}"
    return Table(recording, title, ends.astype(np.int32), starts, columns)


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


def loop_at(recording: Recording, step: int) -> int:
    """The innermost loop around a step; -1 for none."""
    return next(iter(recording.loops.around(step)), -1)


def added(table: Table, text: str) -> Table:
    """The table with a column for an expression. Raises QuestionError."""
    asked = parse_expression(text)
    return table.with_columns([*table.columns, Column("expression", asked.text, asked=asked)])


def titled(table: Table, titles: Iterable[str]) -> Table:
    """The table with the columns of these titles alone, in their order; those that it does not have are left out."""
    by_title = {column.title: column for column in reversed(table.columns)}
    return table.with_columns([by_title[title] for title in titles if title in by_title])


def _title(recording: Recording, frame: int, name: str) -> str:
    frames = recording.calls.of_function(int(recording.trace.frames.function[frame]))
    return name if len(frames) < 2 else f"{name}, call {find(frames, frame) + 1} of {len(frames)}"


def _names(recording: Recording, frame: int, within: ast.AST | None = None) -> list[Column]:
    """The variables of a frame as they stand in Depths at its end; only those that a part of the text speaks of."""
    trace = recording.trace
    last = int(trace.frames.last[frame])
    scopes = scopes_at(trace, frame, last if last >= 0 else len(trace.steps) - 1)
    found = [its.name for scope in scopes for its in scope.bindings if not _is_definition(recording, its.value)]
    if within is not None:
        used = list(dict.fromkeys(part.id for part in ast.walk(within) if isinstance(part, ast.Name)))
        module = module_frame(trace, int(trace.frames.function[frame]), frame)
        outer = [name for name in used if name not in found and _is_variable(recording, module, name)]
        found = [name for name in used if name in found] + outer
    return [Column("name", name) for name in found if not name.startswith("__")]


def _is_variable(recording: Recording, frame: int, name: str) -> bool:
    slot = slot_of(recording.trace, frame, name)
    if slot == NO_SLOT:
        return False
    held = recording.trace.histories.columns_of(slot)[1]
    return bool(len(held)) and not _is_definition(recording, int(held[-1]))


def _is_definition(recording: Recording, value: int) -> bool:
    number = recording.trace.values.object_of(value) if value != NOT_SET else None
    return number is not None and recording.trace.objects.shape_of(number) in _NO_VARIABLES


def _names_of(recording: Recording, function: int) -> list[Column]:
    """The variables of all frames of a function, named with it."""
    frames = recording.calls.of_function(function)
    its = recording.trace.program.functions[function]
    columns = _names(recording, int(frames[-1])) if len(frames) else []
    before = "" if its.kind == "module" else f"{its.name}."
    own = (column for column in columns if its.kind == "module" or column.title not in its.free)
    return [replace(column, title=before + column.title, function=function) for column in own]


def _conditions(recording: Recording, function: int, loop: int = -1) -> list[Column]:
    """The conditions of a function, or of a loop's body."""
    program = recording.trace.program
    found = []
    for number, its in enumerate(program.statements):
        wanted = inside(recording.trace, number, loop) if loop >= 0 else its.function == function
        node = recording.worked_lines.syntax.statement(number) if wanted and its.kind in _DECISIONS else None
        if isinstance(node, (ast.If, ast.While)):
            found.append(Column("condition", f"{ast.unparse(node.test)}?", statement=number))
    return found
