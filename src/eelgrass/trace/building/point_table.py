"""What event numbers mean: the points of all modules that have arrived."""

from __future__ import annotations

import json
from typing import Any

import numpy as np
import numpy.typing as npt

from eelgrass.recorder import wire
from eelgrass.trace.building.stream import StreamError
from eelgrass.trace.columns import Column, Ints
from eelgrass.trace.program import Expression, Function, Module, Program, Statement
from eelgrass.trace.values import ValueTable


class PointTable:
    """Columns by point number: `kind`, `statement`, `function`, `expression` (numbers of the whole program), and
    `owner`: the function whose frames hold the name that the point stores, where that is another one's, else -1.

    By function number: `module_of`, the function that is its module; `is_module`; `is_comprehension`; `waits`.
    """

    def __init__(self, program: Program) -> None:
        self._program = program
        fixed = wire.FIRST_POINT
        self.kind = np.full(fixed, -1, np.int8)
        self.kind[wire.PLACELESS : wire.KINDS] = np.arange(wire.PLACELESS, wire.KINDS)
        self.statement: Ints = np.full(fixed, -1, np.int32)
        self.function: Ints = np.full(fixed, -1, np.int32)
        self.expression: Ints = np.full(fixed, -1, np.int32)
        self.owner: Ints = np.full(fixed, -1, np.int32)
        self.module_of: Ints = np.zeros(0, np.int32)
        self.is_module = np.zeros(0, np.bool_)
        self.is_comprehension = np.zeros(0, np.bool_)
        self.waits = np.zeros(0, np.bool_)
        self._names: list[str | None] = [None] * fixed
        self._name_values = Column("i4")
        self._name_values.extend([-1] * fixed)

    def add_module(self, payload: bytes) -> None:
        """Adds the tables of a MODULE block. Raises StreamError when they contradict themselves."""
        try:
            self._add(json.loads(payload))
        except (ValueError, KeyError, TypeError, IndexError, OverflowError) as wrong:
            raise StreamError("The recorded program's event stream holds a module that cannot be.") from wrong

    def _add(self, told: dict[str, Any]) -> None:
        program = self._program
        if told["first_point"] != len(self.kind):
            raise ValueError("points out of order")
        module, functions, statements = len(program.modules), len(program.functions), len(program.statements)
        new_functions = [_function(row, module, functions) for row in told["functions"]]
        new_statements = [_statement(row, functions, statements) for row in told["statements"]]
        new_expressions = [_expression(row, statements, len(new_statements)) for row in told["expressions"]]
        expressions = len(program.expressions)
        points = [
            (int(kind), int(statement), int(function), detail) for kind, statement, function, detail in told["points"]
        ]
        if not all(
            0 <= kind < wire.PLACELESS
            and -1 <= statement < len(new_statements)
            and 0 <= function < len(new_functions)
            and (type(detail) is not int or 0 <= detail < len(new_expressions))
            for kind, statement, function, detail in points
        ):
            raise ValueError("point out of range")
        program.modules.append(Module(str(told["file"]), str(told["source"])))
        program.functions += new_functions
        program.statements += new_statements
        program.expressions += new_expressions
        columns = list(zip(*points, strict=True)) or [(), (), (), ()]
        self.kind = np.append(self.kind, np.array(columns[0], np.int8))
        placed = np.array(columns[1], np.int32)
        self.statement = np.append(self.statement, np.where(placed < 0, -1, placed + statements).astype(np.int32))
        self.function = np.append(self.function, np.array(columns[2], np.int32) + np.int32(functions))
        self.module_of = np.append(self.module_of, np.full(len(new_functions), functions, np.int32))
        self.is_module = np.append(self.is_module, [function.kind == "module" for function in new_functions])
        inner = [function.kind == "comprehension" for function in new_functions]
        self.is_comprehension = np.append(self.is_comprehension, inner)
        self.waits = np.append(self.waits, [function.waits for function in new_functions])
        parts = [detail + expressions if type(detail) is int else -1 for detail in columns[3]]
        self.expression = np.append(self.expression, np.array(parts, np.int32))
        self._names += [None if detail is None else str(detail) for detail in columns[3]]
        self._name_values.extend([-1] * len(points))
        owners = [
            self._owner(function + functions, detail)
            if kind in (wire.STORE, wire.DELETE) and detail not in new_functions[function].local
            else -1
            for kind, _, function, detail in points
        ]
        self.owner = np.append(self.owner, np.array(owners, np.int32))

    def kinds_of(self, points: npt.NDArray[np.uint32]) -> Ints:
        """The kind of each point. Raises StreamError for a number that is no point."""
        if len(points) and (int(np.max(points)) >= len(self.kind) or (self.kind[points] < 0).any()):
            raise StreamError("The recorded program's event stream holds an event that nobody announced.")
        kinds: Ints = self.kind[points].astype(np.int32)
        return kinds

    def name_values(self, points: npt.NDArray[np.uint32], values: ValueTable) -> Ints:
        """The value number of the name that each point stores."""
        numbers = self._name_values.view()[points]
        for point in np.unique(points[numbers < 0]).tolist():
            self._name_values[point] = values.number(self._names[point] or "")
        result: Ints = self._name_values.view()[points]
        return result

    def _owner(self, function: int, name: str) -> int:
        """The function whose frames hold a name that is not local to `function`: an enclosing one's, or the
        module's."""
        functions = self._program.functions
        wanted = ("function", "comprehension") if name in functions[function].free else ()
        function = functions[function].parent
        while functions[function].parent >= 0:
            if functions[function].kind in wanted and name in functions[function].local:
                return function
            function = functions[function].parent
        return function


def _names(row: Any) -> tuple[str, ...]:
    return tuple(map(str, row))


def _function(row: dict[str, Any], module: int, before: int) -> Function:
    parent = int(row["parent"])
    kind = str(row["kind"])
    if kind not in ("module", "class", "function", "comprehension") or (parent < 0) != (kind == "module"):
        raise ValueError("function of no kind")
    return Function(
        module,
        str(row["name"]),
        kind,
        bool(row["waits"]),
        parent + before if parent >= 0 else -1,
        int(row["line"]),
        _names(row["params"]),
        _names(row["local"]),
        _names(row["free"]),
        _names(row["global"]),
    )


def _statement(row: list[Any], functions: int, statements: int) -> Statement:
    line, column, end_line, end_column, kind, function, parent, arm = row
    place = (int(line), int(column), int(end_line), int(end_column))
    parent = int(parent)
    return Statement(*place, str(kind), int(function) + functions, parent + statements if parent >= 0 else -1, int(arm))


def _expression(row: list[Any], statements: int, known: int) -> Expression:
    line, column, end_line, end_column, kind, statement = row
    if not -1 <= int(statement) < known:
        raise ValueError("an expression belongs to no statement")
    place = (int(line), int(column), int(end_line), int(end_column))
    return Expression(*place, str(kind), int(statement) + statements if statement >= 0 else -1)
