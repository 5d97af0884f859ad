"""The tables that say what an event's number means: functions, statements and points of one module's text."""

from __future__ import annotations

import ast
from typing import Any

from eelgrass.recorder.scopes import Scope

#: Arms of a compound statement that a nested statement can stand in.
BODY, ORELSE, HANDLER, FINAL = 0, 1, 2, 3


class Points:
    """Collects the tables while a module is woven; `as_json` is what the MODULE block carries.

    A *point* is a place in the woven text that reports: (kind, statement, function, name).
    """

    def __init__(self, first_point: int) -> None:
        self.first_point = first_point
        self.functions: list[dict[str, Any]] = []
        self.statements: list[tuple[int, int, int, int, str, int, int, int]] = []
        self.points: list[tuple[int, int, int, str | None]] = []

    def function(self, scope: Scope, parent: int, line: int) -> int:
        """Number of a new function; the module itself is number 0 and a class body counts as one."""
        self.functions.append(
            {
                "name": scope.name,
                "kind": scope.kind,
                "parent": parent,
                "line": line,
                "params": scope.params,
                "local": scope.local_names(),
                "free": scope.free_names(),
                "global": scope.global_names(),
            }
        )
        return len(self.functions) - 1

    def statement(self, node: ast.stmt, function: int, parent: int, arm: int) -> int:
        """Number of a new statement with its place in the text (lines from 1, columns in bytes from 0)."""
        kind = type(node).__name__.lower()
        place = (node.lineno, node.col_offset, node.end_lineno or node.lineno, node.end_col_offset or 0)
        self.statements.append((*place, kind, function, parent, arm))
        return len(self.statements) - 1

    def point(self, kind: int, function: int, statement: int, name: str | None = None) -> int:
        """Number, in this run, of a new point."""
        self.points.append((kind, statement, function, name))
        return self.first_point + len(self.points) - 1

    def as_json(self, file: str, source: str) -> dict[str, Any]:
        """The module's tables as the wire carries them."""
        return {
            "file": file,
            "source": source,
            "first_point": self.first_point,
            "functions": self.functions,
            "statements": self.statements,
            "points": self.points,
        }
