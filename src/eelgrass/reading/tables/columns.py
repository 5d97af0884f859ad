"""The columns of trace tables: the variables of frames, and the conditions of statements."""

from __future__ import annotations

import ast
from dataclasses import dataclass, replace
from typing import Literal

from eelgrass.reading.expressions.expression import Expression, parse_expression
from eelgrass.reading.recording import Recording
from eelgrass.reading.state import insides
from eelgrass.reading.state.call_stack import scopes_at
from eelgrass.reading.state.name_lookup import NO_SLOT, module_frame, slot_of
from eelgrass.reading.stepping.loops import inside
from eelgrass.trace.values import NOT_SET

_DECISIONS = ("if", "while")


@dataclass(frozen=True)
class Column:
    """One column. `kind`: "step", "line", "function", "depth" (of calls), "pass", "name", "condition" (of the statement
    `statement`, where it is decided) or "expression" (`asked`). `name` is a variable's; it is one of the frames of
    `function`, or, with -1, of whatever frame a row belongs to. `asks` is the expression that a column stands for, ''
    for none."""

    kind: Literal["step", "line", "function", "depth", "pass", "name", "condition", "expression"]
    title: str
    name: str = ""
    function: int = -1
    statement: int = -1
    asked: Expression | None = None
    asks: str = ""

    @property
    def id(self) -> str:
        """By what the column is known again in another table of its family."""
        return f"{self.kind} {self.title}"


def of_expression(text: str) -> Column:
    """A column for an expression. Raises ExpressionError."""
    asked = parse_expression(text)
    return Column("expression", asked.text, asked=asked, asks=asked.text)


def names_of_frame(recording: Recording, frame: int, within: ast.AST | None = None) -> list[Column]:
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
    return [Column("name", name, name, asks=name) for name in found if not name.startswith("__")]


def _is_variable(recording: Recording, frame: int, name: str) -> bool:
    slot = slot_of(recording.trace, frame, name)
    if slot == NO_SLOT:
        return False
    held = recording.trace.histories.columns_of(slot)[1]
    return bool(len(held)) and not _is_definition(recording, int(held[-1]))


def _is_definition(recording: Recording, value: int) -> bool:
    number = recording.trace.values.object_of(value) if value != NOT_SET else None
    return number is not None and recording.trace.objects.shape_of(number) in insides.DEFINITIONS


def names_of_function(recording: Recording, function: int) -> list[Column]:
    """The variables of all frames of a function, named with it."""
    frames = recording.calls.of_function(function)
    its = recording.trace.program.functions[function]
    columns = names_of_frame(recording, int(frames[-1])) if len(frames) else []
    before = "" if its.kind == "module" else f"{its.name}."
    own = (column for column in columns if its.kind == "module" or column.name not in its.free)
    return [replace(column, title=before + column.name, function=function) for column in own]


def conditions(recording: Recording, function: int, loop: int = -1) -> list[Column]:
    """The conditions of a function, or of a loop's body."""
    program = recording.trace.program
    found = []
    for number, its in enumerate(program.statements):
        wanted = inside(recording.trace, number, loop) if loop >= 0 else its.function == function
        node = recording.worked_lines.syntax.statement(number) if wanted and its.kind in _DECISIONS else None
        if isinstance(node, (ast.If, ast.While)):
            test = ast.unparse(node.test)
            found.append(Column("condition", f"{test}?", statement=number, asks=test))
    return found
