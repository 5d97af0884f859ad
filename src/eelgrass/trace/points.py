"""What event numbers mean: the points of all modules that have arrived."""

from __future__ import annotations

import json
from typing import Any

import numpy as np
import numpy.typing as npt

from eelgrass.trace.columns import Column, Ints
from eelgrass.trace.program import Function, Module, Program, Statement
from eelgrass.trace.stream import K, StreamError
from eelgrass.trace.values import ValueTable


class PointTable:
    """Columns by point number: `kind`, `statement`, `function` (numbers of the whole program), `elsewhere` (whether
    the point stores a name that is not local to its function)."""

    def __init__(self, program: Program) -> None:
        self._program = program
        fixed = K.FIRST_POINT
        self.kind = np.full(fixed, -1, np.int8)
        self.kind[K.OBJECT : K.COUNT] = np.arange(K.OBJECT, K.COUNT)
        self.statement: Ints = np.full(fixed, -1, np.int32)
        self.function: Ints = np.full(fixed, -1, np.int32)
        self.elsewhere = np.zeros(fixed, np.bool_)
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
        points = [
            (int(kind), int(statement), int(function), name) for kind, statement, function, name in told["points"]
        ]
        if not all(
            0 <= kind < K.OBJECT and -1 <= statement < len(new_statements) and 0 <= function < len(new_functions)
            for kind, statement, function, name in points
        ):
            raise ValueError("point out of range")
        program.modules.append(Module(str(told["file"]), str(told["source"])))
        program.functions += new_functions
        program.statements += new_statements
        columns = list(zip(*points, strict=True)) or [(), (), (), ()]
        self.kind = np.append(self.kind, np.array(columns[0], np.int8))
        placed = np.array(columns[1], np.int32)
        self.statement = np.append(self.statement, np.where(placed < 0, -1, placed + statements).astype(np.int32))
        self.function = np.append(self.function, np.array(columns[2], np.int32) + np.int32(functions))
        self._names += [None if name is None else str(name) for name in columns[3]]
        self._name_values.extend([-1] * len(points))
        elsewhere = [name is not None and name not in new_functions[function].local for _, _, function, name in points]
        self.elsewhere = np.append(self.elsewhere, np.array(elsewhere, np.bool_))

    def kinds_of(self, events: npt.NDArray[np.uint32]) -> Ints:
        """The kind of each event. Raises StreamError for a number that is no point."""
        if len(events) and (int(events.max()) >= len(self.kind) or (self.kind[events] < 0).any()):
            raise StreamError("The recorded program's event stream holds an event that nobody announced.")
        kinds: Ints = self.kind[events].astype(np.int32)
        return kinds

    def name_values(self, events: npt.NDArray[np.uint32], values: ValueTable) -> Ints:
        """The value number of the name that each event stores."""
        numbers = self._name_values.view()[events]
        for event in np.unique(events[numbers < 0]).tolist():
            self._name_values[event] = values.number(self._names[event] or "")
        result: Ints = self._name_values.view()[events]
        return result

    def owner_function(self, event: int) -> int:
        """The function whose frames hold the name that `event` stores: an enclosing one's, or the module's."""
        functions = self._program.functions
        name = self._names[event]
        function = int(self.function[event])
        wanted = "function" if name in functions[function].free else "module"
        function = functions[function].parent
        while functions[function].parent >= 0:
            if functions[function].kind == wanted and name in functions[function].local:
                return function
            function = functions[function].parent
        return function


def _names(row: Any) -> tuple[str, ...]:
    return tuple(map(str, row))


def _function(row: dict[str, Any], module: int, before: int) -> Function:
    parent = int(row["parent"])
    kind = str(row["kind"])
    if kind not in ("module", "class", "function") or (parent < 0) != (kind == "module"):
        raise ValueError("function of no kind")
    return Function(
        module,
        str(row["name"]),
        kind,
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
