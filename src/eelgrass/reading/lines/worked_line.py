"""How a line works out: every part of its expressions with its value, in Python's order.

Operators and look-ups are worked out again from the recorded state; what calls gave is taken from the recording, and
from then on names have the values that the call left behind.
"""

from __future__ import annotations

import ast
from collections.abc import Sized
from dataclasses import dataclass
from enum import Enum
from typing import Any

from eelgrass.reading.expressions import safe_builtins
from eelgrass.reading.expressions.evaluator import Evaluator
from eelgrass.reading.expressions.python_values import CannotAnswerError, PythonValues, Thing, type_word
from eelgrass.reading.expressions.source_tree import SourceTree, header_targets, worked_out
from eelgrass.reading.lines.call_values import gives_nothing, method_of
from eelgrass.reading.lines.line_notes import LineNotes
from eelgrass.reading.state import insides, value_text
from eelgrass.reading.state.call_stack import bindings_of
from eelgrass.reading.state.insides import Spot
from eelgrass.reading.state.name_lookup import slot_of
from eelgrass.reading.stepping.loops import Loops, inside
from eelgrass.reading.stepping.stepping import Stepping
from eelgrass.trace.columns import between
from eelgrass.trace.histories import Part
from eelgrass.trace.model import FrameEnd, StepKind, Trace
from eelgrass.trace.values import NOT_SET

_MOST_CHARACTERS = 60
_MOST_LOOKED_UP = 20


class Status(Enum):
    """What became of a part: it has a value, was never evaluated, raised an exception, or is not known."""

    VALUE = "value"
    SKIPPED = "not evaluated"
    RAISED = "raises"
    UNKNOWN = "not known"


@dataclass(frozen=True)
class WorkedPart:
    """A part of an expression: where it stands (lines from 1, columns in characters from 0), its text, and what
    became of it; `value` is what would be printed for it, the exception's type, or a reason."""

    line: int
    column: int
    end_line: int
    end_column: int
    text: str
    status: Status
    value: str


@dataclass(frozen=True)
class Worked:
    """One visit of a statement, worked out: the lines of its text that its expressions stand on (the first one's
    number is `line`), the parts in the order in which Python is done with them, and, in words, what came of it."""

    line: int
    lines: list[str]
    parts: list[WorkedPart]
    outcome: str


class WorkedLines:
    """The lines of one recording, worked out."""

    def __init__(self, trace: Trace, stepping: Stepping, loops: Loops, notes: LineNotes, syntax: SourceTree) -> None:
        self.trace = trace
        self.stepping = stepping
        self.loops = loops
        self.notes = notes
        self.syntax = syntax

    def at(self, visit: int) -> Worked | None:
        """The statement that is about to run at a step, worked out; None where no statement is, or its text is
        unknown."""
        number = int(self.trace.steps.statement[visit])
        if number < 0 or self.trace.steps.kind[visit] != StepKind.LINE:
            return None
        node = self.syntax.statement(number)
        if node is None:
            return None
        source = self.syntax.lines(number)
        worker = _Worker(self.trace, self.stepping, visit, node, source)
        expressions = [] if self._goes_on(node, visit) else worked_out(node)
        worker.work_out(expressions)
        last = max((expression.end_lineno or node.lineno for expression in expressions), default=node.lineno)
        return Worked(node.lineno, source[node.lineno - 1 : last], worker.parts, self._outcome(node, visit))

    def spots_read(self, visit: int) -> frozenset[Spot]:
        """The slots of names, elements and fields that the statement at a step reads, as far as its line can be worked
        out."""
        node = self.syntax.at(visit)
        if node is None or self._goes_on(node, visit):
            return frozenset()
        reader = _Reader(
            self.trace, self.stepping, visit, node, self.syntax.lines(int(self.trace.steps.statement[visit]))
        )
        reader.work_out(worked_out(node))
        return frozenset(reader.spots)

    def names_at(self, step: int) -> frozenset[str]:
        """The names that the statement at a step uses or stores."""
        node = self.syntax.at(step)
        if node is None:
            return frozenset()
        parts = [node] if not hasattr(node, "body") else [*worked_out(node), *header_targets(node)]
        return frozenset(part.id for its in parts for part in ast.walk(its) if isinstance(part, ast.Name))

    def _outcome(self, node: ast.stmt, visit: int) -> str:
        """What came of the statement, in words; for a condition, which way it goes."""
        after = self.stepping.next_in_frame(visit)
        if after < 0:
            return ""
        if isinstance(node, (ast.If, ast.While)) and self.trace.steps.kind[after] != StepKind.RAISE:
            numbers = (int(self.trace.steps.statement[step]) for step in (after, visit))
            word = "is true" if inside(self.trace, *numbers) else "is false"
            ends = self.trace.steps.kind[after] == StepKind.RETURN
            return f"{word}: {'then the frame ends' if ends else f'line {self.trace.line_of(after)} is next'}"
        note = self.notes.of_visit(visit, after)
        return note.whole if note else ""

    def _goes_on(self, node: ast.stmt, visit: int) -> bool:
        """Whether a `for` only takes its next element: it has worked out what it goes through before."""
        if not isinstance(node, (ast.For, ast.AsyncFor)):
            return False
        loop = int(self.trace.steps.statement[visit])
        its_pass = self.loops.pass_at(visit, loop)
        return its_pass is not None and its_pass.number != 1 and its_pass.in_all > 0


class _StoppedError(Exception):
    """The statement has raised an exception: nothing after that part was evaluated."""


class _Worker(Evaluator):
    """Works out one visit of a statement, and keeps every part."""

    def __init__(self, trace: Trace, stepping: Stepping, visit: int, node: ast.stmt, source: list[str]) -> None:
        super().__init__(trace, stepping.frame_of(visit), visit)
        self.parts: list[WorkedPart] = []
        self._stepping = stepping
        self._visit = visit
        self._node = node
        self._source = source
        after = stepping.next_in_frame(visit)
        self._after = after if after >= 0 else len(trace.steps)
        rows = between(trace.results.step, visit, self._after)
        self._results = [row for row in range(rows.start, rows.stop) if trace.results.frame[row] == self.frame]
        self._seen: set[tuple[int, int, int, int]] = set()
        self._named: dict[str, Any] = {}  # by assignments inside of the expression

    def work_out(self, expressions: list[ast.expr]) -> None:
        """Works out the expressions one after the other, as far as the program did."""
        for expression in expressions:
            try:
                self.value(expression)
            except CannotAnswerError:
                continue
            except _StoppedError:
                return

    def value(self, node: ast.expr) -> Any:
        try:
            found = super().value(node)
        except CannotAnswerError as error:
            self._stop_if_raised(node)
            found = self._from_statement(node)
            if found is None:
                self._keep(node, Status.UNKNOWN, str(error))
                raise
            found = found[0]
        except _StoppedError:
            raise
        except Exception as error:  # whatever the expression raises, as it did in the program
            self._keep(node, Status.RAISED, type(error).__name__)
            raise _StoppedError from error
        if not self._local and not isinstance(node, (ast.Constant, ast.Slice, ast.FormattedValue)):
            self._keep(node, Status.VALUE, self._shown(node, found))
        return found

    def _keep(self, node: ast.expr, status: Status, value: str) -> None:
        place = self._place(node)
        if place not in self._seen:
            self._seen.add(place)
            self.parts.append(WorkedPart(*place, self._text(*place), status, value))

    def _text(self, line: int, column: int, end_line: int, end_column: int) -> str:
        lines = self._source[line - 1 : end_line]
        lines[-1] = lines[-1][:end_column]
        lines[0] = lines[0][column:]
        return "\n".join(lines)

    def _place(self, node: ast.expr) -> tuple[int, int, int, int]:
        first, last = node.lineno, node.end_lineno or node.lineno
        columns = ((first, node.col_offset), (last, node.end_col_offset or node.col_offset))
        before = (self._source[line - 1].encode()[:column] for line, column in columns)
        start, end = (len(part.decode(errors="replace")) for part in before)
        return first, start, last, end

    def _shown(self, node: ast.expr, value: Any) -> str:
        """A value's text; of what is only looked up and is long, the type in words."""
        if isinstance(value, Thing):
            return type_word(value)
        text = repr(value)
        looked_up = isinstance(node, (ast.Name, ast.Attribute, ast.Subscript)) and isinstance(value, Sized)
        if looked_up and len(text) > _MOST_LOOKED_UP and not isinstance(value, (str, bytes)):
            return type_word(value)
        return text if len(text) <= _MOST_CHARACTERS else text[: _MOST_CHARACTERS - 1] + "…"

    def list_named(self, node: ast.expr) -> int | None:
        return None  # every part is to be seen

    # Names that the expression itself gives, and methods that it only names

    def _namedexpr(self, node: ast.NamedExpr) -> Any:
        self._named[node.target.id] = found = self.value(node.value)
        return found

    def _name(self, node: ast.Name) -> Any:
        return self._named[node.id] if node.id in self._named and not self._local else super()._name(node)

    def _attribute(self, node: ast.Attribute) -> Any:
        try:
            return super()._attribute(node)
        except CannotAnswerError:
            owner = self._maybe(node.value)
            method = None if owner is _UNKNOWN or isinstance(owner, Thing) else method_of(owner, node.attr)
            if method is None:
                raise
            return method

    # What is not evaluated

    def skip(self, nodes: list[ast.expr]) -> None:
        for node in nodes:
            self._keep(node, Status.SKIPPED, "")

    # Calls: what they gave is in the recording

    def _call(self, node: ast.Call) -> Any:
        owner: Any = None
        if isinstance(node.func, ast.Attribute):
            owner = self._maybe(node.func.value)
        arguments = [self._maybe(argument) for argument in node.args]
        for keyword in node.keywords:
            self._maybe(keyword.value)
        told = self._told(node)
        if told is not None:
            return told[0]
        self._stop_if_raised(node)
        if self._gives_nothing(node.func, owner):
            return None
        if any(argument is _UNKNOWN for argument in [owner, *arguments]) or node.keywords:
            raise CannotAnswerError("What this call gave is not recorded.")
        if isinstance(node.func, ast.Attribute):
            return safe_builtins.call_method(owner, node.func.attr, arguments, {})
        if isinstance(node.func, ast.Name) and not self._is_programs_own(node.func.id):
            return safe_builtins.call(node.func.id, arguments, {})
        raise CannotAnswerError("What this call gave is not recorded.")

    def _gives_nothing(self, function: ast.expr, owner: Any) -> bool:
        if isinstance(function, ast.Attribute):
            return gives_nothing(owner, function.attr)
        return isinstance(function, ast.Name) and function.id == "print" and not self._is_programs_own("print")

    def _maybe(self, node: ast.expr) -> Any:
        """A part whose not being known does not keep its whole from being known."""
        try:
            return self.value(node.value if isinstance(node, ast.Starred) else node)
        except CannotAnswerError:
            return _UNKNOWN

    def _told(self, node: ast.expr) -> tuple[Any] | None:
        """What the recording says that an expression gave at this visit; the names are then as it left them."""
        for row in self._results:
            its = self.trace.program.expressions[int(self.trace.results.expression[row])]
            if (its.line, its.column, its.end_line, its.end_column) == _place(node):
                self._results.remove(row)
                step = int(self.trace.results.step[row])
                self.lift = PythonValues(
                    self.trace, step + 1, self._changed_here() if step == self._visit else frozenset()
                )
                value = int(self.trace.results.value[row])
                return (self.lift.value(value),) if value != NOT_SET else None
        return None

    def _changed_here(self) -> frozenset[int]:
        """The objects that something was written into during the visit's own step, by whichever part of the line."""
        slots = self.trace.slots
        written = [slot for slot, _ in self.trace.histories.writes_during(self._visit) if slots.part[slot] != Part.NAME]
        return frozenset(int(slots.owner[slot]) for slot in written)

    def _yield(self, node: ast.Yield) -> Any:
        if node.value is not None:
            self._maybe(node.value)
        told = None
        while (again := self._told(node)) is not None:  # what it hands out, then what it is sent
            told = again
        if told is None:
            raise CannotAnswerError("What this gave is not recorded.")
        return told[0]

    def _await(self, node: ast.Await) -> Any:
        return self._yield(ast.copy_location(ast.Yield(node.value), node))

    _yieldfrom = _await

    def _lambda(self, node: ast.Lambda) -> Any:
        raise CannotAnswerError("A new function.")

    def _listcomp(self, node: ast.ListComp) -> Any:
        return self._inner_frame(node)

    _setcomp = _dictcomp = _generatorexp = _listcomp  # type: ignore[assignment]

    def _inner_frame(self, node: ast.expr) -> Any:
        """A comprehension has a frame of its own, which says what it gave."""
        name = {"ListComp": "<listcomp>", "SetComp": "<setcomp>", "DictComp": "<dictcomp>"}.get(type(node).__name__)
        for call in self._stepping.calls_made(self._visit):
            function = self.trace.function_of_frame(call.frame)
            if function.name == name and function.line == node.lineno and call.last >= 0:
                self.lift = PythonValues(self.trace, call.last + 1)
                value = int(self.trace.frames.value[call.frame])
                if value != NOT_SET:
                    return self.lift.value(value)
        raise CannotAnswerError("What this gave is not recorded.")

    def _stop_if_raised(self, node: ast.expr) -> None:
        """Ends when the exception of this statement came out of this expression."""
        raises = self.trace.raises
        rows = between(raises.step, self._visit, self._after + 1)
        for row in range(rows.start, rows.stop):
            place = (raises.line[row], raises.column[row], raises.end_line[row], raises.end_column[row])
            if int(self.trace.steps.frame[raises.step[row]]) == self.frame and tuple(map(int, place)) == _place(node):
                value = int(raises.value[row])
                self._keep(node, Status.RAISED, value_text.type_name(self.trace, value) if value != NOT_SET else "")
                raise _StoppedError

    def _from_statement(self, node: ast.expr) -> tuple[Any] | None:
        """The value of the whole right side, which the statement has stored in a name or handed back."""
        if getattr(self._node, "value", None) is not node:
            return None
        value = NOT_SET
        at = self._after
        is_class = self.trace.function_of_frame(self.frame).kind == "class"  # whose namespace may change what it holds
        if isinstance(self._node, ast.Return):
            if self.trace.frames.end[self.frame] == FrameEnd.RETURNED:
                value = int(self.trace.frames.value[self.frame])
        elif isinstance(self._node, ast.Assign) and isinstance(self._node.targets[0], ast.Name) and not is_class:
            name = self._node.targets[0].id
            bound = (its for its in bindings_of(self.trace, self.frame, at) if its.name == name)
            binding = next(bound, None)
            if binding is not None and self.trace.histories.set_by(binding.slot, at) >= self._visit:
                value = binding.value
        if value == NOT_SET:
            return None
        self.lift = PythonValues(self.trace, at)
        return (self.lift.value(value),)


class _Reader(_Worker):
    """Works out one visit of a statement, and keeps the spots that it reads."""

    def __init__(self, *of: Any) -> None:
        super().__init__(*of)
        self.spots: set[Spot] = set()

    def looks_at_name(self, name: str) -> None:
        self.spots.add(slot_of(self.trace, self.frame, name))

    def looks_at_part(self, number: int, part: int, key: Any) -> None:
        self.spots.add(insides.spot_of_part(self.trace, number, part, key, self.lift.step))


_UNKNOWN = object()


def _place(node: ast.expr) -> tuple[int, int, int, int]:
    return node.lineno, node.col_offset, node.end_lineno or 0, node.end_col_offset or 0
