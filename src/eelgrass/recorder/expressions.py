"""Weaving expressions, and the reports that every kind of statement needs."""

from __future__ import annotations

import ast
from collections.abc import Iterable

from eelgrass.recorder import wire
from eelgrass.recorder.nodes import append, call, hook, load, placed
from eelgrass.recorder.points import Points
from eelgrass.recorder.scopes import Scope

#: Methods that change their receiver in place, by the usual containers' names for them.
MUTATORS = frozenset(
    (
        *("append", "appendleft", "extend", "extendleft", "insert", "remove", "pop", "popleft", "clear"),
        *("sort", "reverse", "rotate", "popitem", "update", "setdefault", "move_to_end", "subtract"),
        *("add", "discard", "difference_update", "intersection_update", "symmetric_difference_update"),
    )
)


class Expressions:
    """What is being woven: the scope and function, and the statement whose expressions are looked at."""

    def __init__(self, points: Points, scope: Scope) -> None:
        self.points = points
        self.scope = scope
        self.function = points.function(scope, -1, 1)
        self.statement = -1

    def point(self, kind: int, statement: int, name: str | None = None) -> int:
        """Number of a new point in this function."""
        return self.points.point(kind, self.function, statement, name)

    def event(self, kind: int, statement: int, name: str | None = None) -> ast.stmt:
        """A statement that tells of a new point, which has no value."""
        return ast.Expr(append("events", ast.Constant(self.point(kind, statement, name))))

    def store_reports(self, name: str, statement: int, by: str = "value", kind: int = wire.STORE) -> list[ast.stmt]:
        """Reports that `name` has been stored; whole numbers, the commonest values, without a call of ours."""
        is_int = ast.Compare(call("type", load(name)), [ast.Is()], [hook("int")])
        told = ast.IfExp(is_int, load(name), call(by, load(name)))
        return [
            ast.Expr(append("values", told)),
            self.event(kind, statement, self.scope.mangled(name)),
        ]

    def expressions(self, node: ast.AST, skip: Iterable[ast.AST] = ()) -> None:
        """Weaves every expression directly under `node`, but for `skip`."""
        left_out = set(map(id, skip))
        for field, value in ast.iter_fields(node):
            if isinstance(value, ast.expr) and id(value) not in left_out:
                setattr(node, field, self.expression(value))
            elif isinstance(value, list):
                value[:] = [item if id(item) in left_out else self._part(item) for item in value]

    def expression(self, node: ast.expr) -> ast.expr:
        """The expression with calls of changing methods and `:=` reported."""
        if isinstance(node, ast.Lambda):
            return node
        self.expressions(node)
        if isinstance(node, ast.Call) and isinstance(node.func, ast.Attribute) and node.func.attr in MUTATORS:
            node.func.value = placed([call("hold", node.func.value)], node.func.value)[0]
            return placed([call("called", node, ast.Constant(node.func.attr))], node)[0]
        if isinstance(node, ast.NamedExpr):
            point = self.point(wire.STORE, self.statement, self.scope.mangled(node.target.id))
            return placed([call("stored", ast.Constant(point), node)], node)[0]
        return node

    def _part(self, item: object) -> object:
        if isinstance(item, ast.expr):
            return self.expression(item)
        if isinstance(item, (ast.keyword, ast.comprehension)):
            self.expressions(item)
        return item
