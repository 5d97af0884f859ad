"""Weaving hooks into a program's syntax tree.

Every statement is preceded by an append of its STEP point to the event list; after it come the values of the names,
elements and fields that it stored. Hooks are not names: the woven tree holds marked text constants in their place, and
`compiling` puts the hook objects themselves among the code's constants, so that the program cannot see any of it in
`globals()`, `locals()` or `dir()`. New nodes carry the place of the statement that they belong to.
"""

from __future__ import annotations

import ast
from typing import cast

from eelgrass.recorder import wire
from eelgrass.recorder.expressions import Expressions
from eelgrass.recorder.hooks import FULL
from eelgrass.recorder.nodes import (
    Framed,
    append,
    call,
    hook,
    is_docstring,
    is_future,
    load,
    names_imported,
    own_statements,
    placed,
)
from eelgrass.recorder.points import BODY, FINAL, HANDLER, ORELSE, Points
from eelgrass.recorder.scopes import FunctionNode, Scope, scope_of
from eelgrass.recorder.targets import Targets


class Weaver(Expressions):
    """Weaves one module; `points` collects what its event numbers mean.

    State while walking, beside that of `Expressions`: the headers of the loops around, and whether a `finally` or
    `with` stands somewhere in this function.
    """

    def __init__(self, points: Points, tree: ast.Module) -> None:
        super().__init__(points, scope_of(tree, None))
        self.loops: list[int | None] = []
        self.guarded = False
        self._tree = tree
        self._imported = frozenset(name for node in ast.walk(tree) for name in names_imported(node))

    def module(self) -> ast.Module:
        """The woven module; its tree is changed in place."""
        tree = self._tree
        first = next((node for node in tree.body if not is_future(node) and not is_docstring(node, tree)), None)
        tree.body = self._frame(tree, first or ast.Pass(lineno=1, col_offset=0, end_lineno=1, end_col_offset=0))
        return tree

    # Statements

    def _body(self, body: list[ast.stmt], parent: int, arm: int, frame: Framed | None = None) -> list[ast.stmt]:
        """Woven statements of one arm of the statement `parent`, or of the whole `frame`, whose docstring is no
        statement and whose imports from `__future__` run outside: only their reports stand here."""
        woven: list[ast.stmt] = []
        for node in body:
            if frame is not None and is_docstring(node, frame):
                continue
            number = self.points.statement(node, self.function, parent, arm)
            step = self._step(number, node)
            woven += [*step, *(self._after(node, number) if is_future(node) else self._weave(node, number))]
        return woven

    def _step(self, statement: int, at: ast.stmt) -> list[ast.stmt]:
        if isinstance(at, (ast.Global, ast.Nonlocal, ast.While)):
            return []
        return placed([self.event(wire.STEP, statement)], at)

    def _weave(self, node: ast.stmt, number: int) -> list[ast.stmt]:
        self.statement = number
        special = getattr(self, "_weave_" + type(node).__name__.lower(), None)
        if special is not None:
            result: list[ast.stmt] = special(node, number)
            return result
        targets = Targets(self, node)
        self.expressions(node, skip=targets.nodes)
        return [node, *placed(targets.reports(number), node), *self._after(node, number)]

    def _after(self, node: ast.stmt, number: int) -> list[ast.stmt]:
        """Looks again at what a call into code that is not woven was handed."""
        handed: dict[str, None] = {}
        for part in ast.walk(node):
            if isinstance(part, ast.Call) and self._leads_outside(part.func):
                handed.update(dict.fromkeys(arg.id for arg in part.args if isinstance(arg, ast.Name)))
        looks: list[ast.stmt] = [ast.Expr(call("changed", load(name))) for name in handed]
        for name in names_imported(node):
            looks += self.store_reports(name, number)
        return placed(looks, node)

    def _leads_outside(self, function: ast.expr) -> bool:
        while isinstance(function, ast.Attribute):
            function = function.value
        return isinstance(function, ast.Name) and function.id in self._imported

    def _flush_check(self) -> ast.stmt:
        full = ast.Compare(call("len", hook("events")), [ast.Gt()], [ast.Constant(FULL)])
        return ast.If(full, [ast.Expr(call("flush"))], [])

    def _weave_if(self, node: ast.If, number: int) -> list[ast.stmt]:
        node.test = self.expression(node.test)
        node.body = self._body(node.body, number, BODY)
        node.orelse = self._body(node.orelse, number, ORELSE)
        return [node]

    def _weave_while(self, node: ast.While, number: int) -> list[ast.stmt]:
        first = append("events", ast.Constant(self.point(wire.STEP, number)))
        node.test = placed([ast.BoolOp(ast.Or(), [first, self.expression(node.test)])], node.test)[0]
        self._loop_body(node, number, None)
        return [node]

    def _loop_body(self, node: ast.While | ast.For | ast.AsyncFor, number: int, header: int | None) -> None:
        """Weaves body and `else` of a loop; `header` is the point to append wherever a pass of a `for` ends."""
        self.loops.append(header)
        node.body = [*placed([self._flush_check()], node), *self._body(node.body, number, BODY)]
        self.loops.pop()
        node.orelse = self._body(node.orelse, number, ORELSE)

    def _weave_for(self, node: ast.For | ast.AsyncFor, number: int) -> list[ast.stmt]:
        node.iter = self.expression(node.iter)
        targets = Targets(self, node)
        header = self.point(wire.STEP, number)
        stores = placed(targets.reports(number), node)
        self._loop_body(node, number, header)
        again = ast.Expr(append("events", ast.Constant(header)))
        node.body = [node.body[0], *stores, *node.body[1:], *placed([again], node)]
        return [node]

    _weave_asyncfor = _weave_for

    def _weave_continue(self, node: ast.Continue, number: int) -> list[ast.stmt]:
        header = self.loops[-1]
        if header is None:
            return [node]
        return [*placed([ast.Expr(append("events", ast.Constant(header)))], node), node]

    def _weave_with(self, node: ast.With | ast.AsyncWith, number: int) -> list[ast.stmt]:
        for item in node.items:
            item.context_expr = self.expression(item.context_expr)
        targets = Targets(self, node)
        node.body = [*placed(targets.reports(number), node), *self._body(node.body, number, BODY)]
        return [node]

    _weave_asyncwith = _weave_with

    def _weave_try(self, node: ast.Try | ast.TryStar, number: int) -> list[ast.stmt]:
        node.body = self._body(node.body, number, BODY)
        for handler in node.handlers:
            self._weave_handler(handler, number)
        node.orelse = self._body(node.orelse, number, ORELSE)
        node.finalbody = self._body(node.finalbody, number, FINAL)
        return [node]

    _weave_trystar = _weave_try

    def _weave_handler(self, handler: ast.ExceptHandler, number: int) -> None:
        caught = ast.Expr(call("caught", ast.Constant(self.point(wire.CAUGHT, number))))
        body = self._body(handler.body, number, HANDLER)
        if handler.name is not None:
            # Python takes the name away again whichever way the handler is left.
            gone = self.event(wire.DELETE, number, self.scope.mangled(handler.name))
            body = [*self.store_reports(handler.name, number), ast.Try(body, [], [], [gone])]
        handler.body = placed([caught, *body], handler)

    def _weave_match(self, node: ast.Match, number: int) -> list[ast.stmt]:
        node.subject = self.expression(node.subject)
        for case in node.cases:
            names = [
                name
                for pattern in ast.walk(case.pattern)
                for name in (getattr(pattern, "name", None), getattr(pattern, "rest", None))
                if isinstance(name, str)
            ]
            stores = [report for name in names for report in self.store_reports(name, number)]
            case.body = [*placed(stores, case.body[0]), *self._body(case.body, number, BODY)]
        return [node]

    def _weave_return(self, node: ast.Return, number: int) -> list[ast.stmt]:
        value = ast.Constant(None) if node.value is None else self.expression(node.value)
        kind, told_by = (wire.RETURNING, "returning") if self.guarded else (wire.LEAVE, "leave")
        point = ast.Constant(self.point(kind, number))
        node.value = placed([call(told_by, point, value)], node.value or node)[0]
        return [node]

    # Functions and classes

    def _weave_functiondef(self, node: ast.FunctionDef | ast.AsyncFunctionDef, number: int) -> list[ast.stmt]:
        self.expressions(node, skip=node.body)
        scope = scope_of(node, self.scope)
        if not scope.yields and isinstance(node, ast.FunctionDef):
            with _Inside(self, scope, node):
                node.body = self._frame(node)
        return [node, *placed(self.store_reports(node.name, number), node)]

    _weave_asyncfunctiondef = _weave_functiondef

    def _weave_classdef(self, node: ast.ClassDef, number: int) -> list[ast.stmt]:
        self.expressions(node, skip=node.body)
        with _Inside(self, scope_of(node, self.scope), node):
            node.body = self._frame(node)
        return [node, *placed(self.store_reports(node.name, number), node)]

    def _frame(self, node: Framed, at: ast.stmt | None = None) -> list[ast.stmt]:
        """The body of a module, function or class with its frame's beginning and end told, whichever way it ends.

        What Python wants to stand first (docstring, imports from `__future__`) stays outside.
        """
        at = at or cast(ast.stmt, node)
        first = [stmt for stmt in node.body if is_docstring(stmt, node) or is_future(stmt)]
        opening = self._opening()
        self.guarded = any(isinstance(inner, (ast.Try, ast.TryStar, ast.With)) for inner in own_statements(node.body))
        kind, told_by = (wire.RETURNING, "returning") if self.guarded else (wire.LEAVE, "leave")
        body = self._body(node.body, -1, BODY, node)
        end = ast.Expr(call(told_by, ast.Constant(self.point(kind, -1)), ast.Constant(None)))
        unwind: list[ast.expr] = [ast.Constant(self.point(wire.UNWIND, -1)), ast.Constant(self.guarded)]
        again: list[ast.stmt] = [ast.Expr(call("unwind", *unwind)), ast.Raise(None, None)]
        whole = ast.Try([*opening, *body, end], [ast.ExceptHandler(hook("BaseException"), None, again)], [], [])
        if self.guarded:
            whole = ast.Try([whole], [], [], [ast.Expr(call("left", ast.Constant(self.point(wire.LEFT, -1))))])
        return [*first, *placed([whole], at)]

    def _opening(self) -> list[ast.stmt]:
        """Tells, without a call of ours in the usual case, that a frame begins and what its parameters are."""
        opening: list[ast.stmt] = [
            self._flush_check(),
            ast.Expr(append("depth", ast.Constant(None))),
            self.event(wire.ENTER, -1),
        ]
        deep = ast.Compare(call("len", hook("depth")), [ast.Gt()], [hook("recursion_limit")])
        opening.append(ast.If(deep, [ast.Expr(call("too_deep"))], []))
        for param in self.scope.params:
            opening += self.store_reports(param, -1, kind=wire.BIND)
        return opening


class _Inside:
    """Turns a weaver to the scope of a nested function or class, and back."""

    def __init__(self, weaver: Weaver, scope: Scope, node: ast.ClassDef | FunctionNode) -> None:
        self._weaver = weaver
        self._before = (weaver.scope, weaver.function, weaver.statement, weaver.loops, weaver.guarded)
        self._inside = (scope, weaver.points.function(scope, weaver.function, node.lineno))

    def __enter__(self) -> None:
        weaver = self._weaver
        weaver.scope, weaver.function = self._inside
        weaver.statement, weaver.loops, weaver.guarded = -1, [], False

    def __exit__(self, *_error: object) -> None:
        weaver = self._weaver
        weaver.scope, weaver.function, weaver.statement, weaver.loops, weaver.guarded = self._before
