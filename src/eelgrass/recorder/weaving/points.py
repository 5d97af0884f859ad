"""The tables that say what an event's number means: functions, statements and points of one module's text."""

from __future__ import annotations

import ast
from typing import Any

from eelgrass.recorder.weaving.scopes import Scope

#: Arms of a compound statement that a nested statement can stand in.
#: In EXPRESSION stand the lambdas and comprehensions, whose passes are steps of their own.
BODY, ORELSE, HANDLER, FINAL, EXPRESSION = range(5)


class Points:
    """Collects the tables while a module is woven; `as_json` is what the MODULE block carries.

    A *point* is a place in the woven text that reports: (kind, statement, function, detail). The detail is a name or,
    for the value of a part of a statement, the number of that expression."""

    def __init__(self, first_point: int) -> None:
        self.first_point = first_point
        self.functions: list[dict[str, Any]] = []
        self.statements: list[tuple[int, int, int, int, str, int, int, int]] = []
        self.expressions: list[tuple[int, int, int, int, str, int]] = []
        self.points: list[tuple[int, int, int, str | int | None]] = []

    def function(self, scope: Scope, parent: int, line: int, waits: bool = False) -> int:
        """Number of a new function; the module itself is number 0 and a class body counts as one. `waits`: whether
        its frames can be suspended."""
        self.functions.append(
            {
                "name": scope.name,
                "kind": scope.kind,
                "waits": waits,
                "parent": parent,
                "line": line,
                "params": scope.params,
                "local": scope.local_names(),
                "free": scope.free_names(),
                "global": scope.global_names(),
            }
        )
        return len(self.functions) - 1

    def statement(self, node: ast.stmt | ast.expr, function: int, parent: int, arm: int) -> int:
        """Number of a new statement with its place in the text (lines from 1, columns in bytes from 0)."""
        self.statements.append((*_place(node), type(node).__name__.lower(), function, parent, arm))
        return len(self.statements) - 1

    def expression(self, node: ast.expr, statement: int) -> int:
        """Number of a new expression, a part of a statement whose value is told."""
        self.expressions.append((*_place(node), type(node).__name__.lower(), statement))
        return len(self.expressions) - 1

    def point(self, kind: int, function: int, statement: int, detail: str | int | None = None) -> int:
        """Number, in this run, of a new point."""
        self.points.append((kind, statement, function, detail))
        return self.first_point + len(self.points) - 1

    def as_json(self, file: str, source: str) -> dict[str, Any]:
        """The module's tables as the wire carries them."""
        return {
            "file": file,
            "source": source,
            "first_point": self.first_point,
            "functions": self.functions,
            "statements": self.statements,
            "expressions": self.expressions,
            "points": self.points,
        }


def _place(node: ast.stmt | ast.expr) -> tuple[int, int, int, int]:
    return node.lineno, node.col_offset, node.end_lineno or node.lineno, node.end_col_offset or 0
