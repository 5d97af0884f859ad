"""Weaving hooks into a program's syntax tree.

Every statement is preceded by an append of its STEP point to the event list; after it come the values of the names,
elements and fields that it stored. Hooks are not names: the woven tree holds marked text constants in their place, and
`compiling` puts the hook objects themselves among the code's constants, so that the program cannot see any of it in
`globals()`, `locals()` or `dir()`. New nodes carry the place of the statement that they belong to.
"""

from __future__ import annotations

import ast
from collections.abc import Iterator
from contextlib import contextmanager
from typing import Any, cast

from eelgrass.recorder import wire
from eelgrass.recorder.contract import BY_KEY, BY_RESULT, UNTOLD
from eelgrass.recorder.weaving.expressions import WHOLE_MUTATORS
from eelgrass.recorder.weaving.inner_frames import InnerFrames, Inside
from eelgrass.recorder.weaving.loop import Loop
from eelgrass.recorder.weaving.name_rules import NameRules
from eelgrass.recorder.weaving.nodes import (
    Framed,
    append,
    call,
    hook,
    is_docstring,
    is_future,
    load,
    names_imported,
    names_stored,
    own_statements,
    placed,
)
from eelgrass.recorder.weaving.points import BODY, FINAL, HANDLER, ORELSE, Points
from eelgrass.recorder.weaving.scopes import scope_of
from eelgrass.recorder.weaving.targets import Targets


class Weaver(InnerFrames):
    """Weaves one module; `points` collects what its event numbers mean, `rules` has what its names say.

    State while walking, beside that of `InnerFrames`: the loops around; whether the frame's end has to
    be told in a `finally`; and the names that functions defined in it share. `sees_lifetimes`: the module may notice
    when an object goes. `looks_at_threads`: hooks do not look themselves which
    thread calls them. `takes_turns`: at a step another thread may go on first.
    """

    def __init__(
        self,
        points: Points,
        tree: ast.Module,
        rules: NameRules,
        looks_at_threads: bool = False,
        takes_turns: bool = False,
    ) -> None:
        super().__init__(points, scope_of(tree, None), rules)
        self.loops: list[Loop] = []
        self.guarded = False
        self.shared: list[str] = []
        self._tree = tree
        self._looks_at_threads, self._takes_turns = looks_at_threads, takes_turns

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
        is_bare = isinstance(at, ast.AnnAssign) and at.value is None and isinstance(at.target, ast.Name)
        if isinstance(at, (ast.Global, ast.Nonlocal, ast.While)) or (is_bare and self.scope.kind == "function"):
            return []  # nothing runs; or the condition tells
        return placed([*self._before_step(), self.event(wire.STEP, statement)], at)

    def _before_step(self) -> list[ast.stmt]:
        """Another thread may go on; and what may have been changed past every statement is looked at."""
        return [*self._turn(), *self._thread_check(), *self._look_again()]

    def _turn(self) -> list[ast.stmt]:
        return [ast.Expr(call("turn"))] if self._takes_turns else []

    def _look_again(self) -> list[ast.stmt]:
        """Before a step: what may have been changed past every statement."""
        return [ast.If(hook("escaped"), [ast.Expr(call("look_again"))], [])] if self.rules.escapes else []

    def _thread_check(self) -> list[ast.stmt]:
        if not self._looks_at_threads:
            return []
        now = ast.Attribute(hook("thread"), "ident", ast.Load())
        other = ast.Compare(call("get_ident"), [ast.NotEq()], [now])
        return [ast.If(other, [ast.Expr(call("switched"))], [])]

    def _weave(self, node: ast.stmt, number: int) -> list[ast.stmt]:
        self.statement = number
        special = getattr(self, "_weave_" + type(node).__name__.lower(), None)
        if special is not None:
            result: list[ast.stmt] = special(node, number)
            return result
        stored = self._constant_stored(node, number)
        if stored is not None:
            return [node, *placed(stored, node)]
        targets = Targets(self, node)
        done: list[ast.AST] = [*targets.nodes]
        if isinstance(node, (ast.Assign, ast.AnnAssign)) and node.value is not None:
            told = any(isinstance(target, ast.Name) for target in targets.nodes)
            node.value = self.expression(node.value, told)
            done.append(node.value)
        if isinstance(node, ast.AnnAssign):
            done += [node.annotation, node.target]
        self.expressions(node, skip=done)
        if isinstance(node, ast.AugAssign):
            targets.hold_meanwhile(node)
        return [node, *placed([*self._may_wait(node), *targets.reports(number)], node), *self._after(node, number)]

    def _may_wait(self, node: ast.stmt) -> list[ast.stmt]:
        """After a statement in which other threads may have gone on."""
        return self._thread_check() if any(isinstance(part, ast.Call) for part in ast.walk(node)) else []

    def _constant_stored(self, node: ast.stmt, number: int) -> list[ast.stmt] | None:
        """The report of `name = constant`, the commonest of all stores."""
        if not isinstance(node, ast.Assign) or len(node.targets) != 1 or not isinstance(node.value, ast.Constant):
            return None
        target = node.targets[0]
        if not isinstance(target, ast.Name) or self.scope.kind == "class":
            return None
        return self.constant_report(self.point(wire.STORE, number, self.scope.mangled(target.id)), node.value.value)

    def _weave_expr(self, node: ast.Expr, number: int) -> list[ast.stmt]:
        """A statement that drops its value. The usual change, `rows.append(1)`, needs nothing held."""
        value = node.value
        after: list[ast.stmt] = []
        owner = value.func.value if isinstance(value, ast.Call) and isinstance(value.func, ast.Attribute) else None
        if isinstance(owner, ast.Name) and self.scope.kind != "class" and owner.id not in names_stored(node):
            assert isinstance(value, ast.Call)
            assert isinstance(value.func, ast.Attribute)
            method = value.func.attr
            if method in WHOLE_MUTATORS - BY_KEY - BY_RESULT and not self._leads_outside(value.func):
                method = "pop last" if method == "pop" and not value.args else method
                self.expressions(value, skip=[value.func])
                nothing = ast.Constant(None)
                told = call("called", ast.Constant(method), nothing, nothing, load(owner.id))
                after = placed([ast.Expr(told)], node)
        if not after:
            node.value = self.expression(value, told=True)
        return [node, *placed(self._may_wait(node), node), *after, *self._after(node, number)]

    def _after(self, node: ast.stmt, number: int) -> list[ast.stmt]:
        """What else a simple statement may have done."""
        looks: list[ast.stmt] = []
        for name in names_imported(node):
            looks += self.store_reports(name, number)
        imports_all = isinstance(node, ast.ImportFrom) and node.names[0].name == "*"
        names = [part for part in ast.walk(node) if isinstance(part, ast.Name)]
        if imports_all or any(part.id in ("exec", "globals") for part in names):
            looks.append(ast.Expr(call("names_changed", call("globals"))))
        return placed(looks, node)

    def _weave_if(self, node: ast.If, number: int) -> list[ast.stmt]:
        node.test = self.expression(node.test)
        node.body = self._body(node.body, number, BODY)
        node.orelse = self._body(node.orelse, number, ORELSE)
        return [node]

    # Loops

    def _weave_while(self, node: ast.While, number: int) -> list[ast.stmt]:
        first = append("events", self.constant(wire.STEP, number))
        awake = self._awake_after_waits(node.body)
        woken = [its.value for its in [*awake, *self._turn()] if isinstance(its, ast.Expr)]
        node.test = placed([ast.BoolOp(ast.Or(), [*woken, first, self.expression(node.test)])], node.test)[0]
        self._loop_body(node, number, None)
        return [node, *placed(awake, node)]

    def _loop_body(self, node: ast.While | ast.For | ast.AsyncFor, number: int, header: int | None) -> ast.expr | None:
        """Weaves body and `else` of a loop; gives what says that its header is still to be told, if that may be."""
        loop = Loop(header)
        self.loops.append(loop)
        node.body = [*placed([ast.Expr(call("ready"))], node), *self._body(node.body, number, BODY)]
        self.loops.pop()
        node.orelse = self._body(node.orelse, number, ORELSE)
        return loop.untold

    def _weave_for(self, node: ast.For | ast.AsyncFor, number: int) -> list[ast.stmt]:
        node.iter = self.expression(node.iter)
        awake = self._awake_after_waits(node.body)
        if isinstance(node, ast.AsyncFor):
            node.iter, awake = self._stood_in(node.iter, "over"), self._awake()
        targets = Targets(self, node)
        header = self.point(wire.STEP, number)
        stores = placed([*self._thread_check(), *targets.reports(number)], node)
        untold = self._loop_body(node, number, header)
        again = ast.Expr(append("events", ast.Constant(header)))
        ends = placed([*self._before_step(), again], node)
        woken, late = placed(awake, node), list[ast.stmt]()
        if untold is not None and isinstance(node, ast.AsyncFor) and self.waits:
            # It tells before it asks for more.
            cast(ast.Call, node.iter).args += placed([untold, ast.Constant(header)], node.iter)
        elif untold is not None:
            told = ast.Expr(call("told_late", untold, ast.Constant(header)))
            late = placed([ast.If(call("len", untold), [told], [])], node)
        ready, *body = node.body
        node.body = [*woken, *late, ready, *stores, *body, *ends]
        node.orelse = [*late, *node.orelse]
        if isinstance(node, ast.AsyncFor):
            node.orelse = [*woken, *node.orelse]
        return [node, *woken]

    _weave_asyncfor = _weave_for

    def _weave_continue(self, node: ast.Continue, number: int) -> list[ast.stmt]:
        loop = self.loops[-1]
        if loop.header is None:
            return [node]
        told: ast.expr = append("events", ast.Constant(loop.header))
        if loop.blocks:
            loop.untold = loop.untold or hook(f"{UNTOLD}{loop.header}")
            told = call("goes_round", loop.untold)
        return [*placed([*self._before_step(), ast.Expr(told)], node), node]

    @contextmanager
    def _block(self, does_something: bool = True) -> Iterator[None]:
        """While a block is woven that does something on the way out."""
        if self.loops:
            self.loops[-1].blocks += does_something
        yield
        if self.loops:
            self.loops[-1].blocks -= does_something

    # Blocks

    def _weave_with(self, node: ast.With | ast.AsyncWith, number: int) -> list[ast.stmt]:
        for place, item in enumerate(node.items):
            item.context_expr = self.expression(item.context_expr)
            if isinstance(node, ast.AsyncWith):
                item.context_expr = self._entered(item.context_expr, is_first=not place)
        targets = Targets(self, node)
        with self._block():
            body = [*placed(targets.reports(number), node), *self._body(node.body, number, BODY)]
        if self.waits:
            again: list[ast.stmt] = [*self._awake(), ast.Raise(None, None)]
            handler = ast.ExceptHandler(hook("BaseException"), None, again)
            body = [*placed([ast.Try(body, [handler], [], [])], node)]
        awake = placed(self._awake(), node) if isinstance(node, ast.AsyncWith) else []
        node.body = [*awake, *body]
        return [node, *awake]

    _weave_asyncwith = _weave_with

    def _entered(self, node: ast.expr, is_first: bool) -> ast.expr:
        """An object of `async with`; those before it have been entered, which may have waited."""
        awake = [] if is_first else [told.value for told in self._awake() if isinstance(told, ast.Expr)]
        its = self._stood_in(node, "within")
        return placed([ast.BoolOp(ast.Or(), [*awake, its])], node)[0] if awake else its

    def _stood_in(self, node: ast.expr, by: str) -> ast.expr:
        """What stands in for the object of a statement that waits by itself, and says that it does."""
        if not self.waits:
            return node
        suspend, resume = self.constant(wire.SUSPEND, self.statement), self.constant(wire.RESUME, self.statement)
        return placed([call(by, suspend, resume, node)], node)[0]

    def _awake_after_waits(self, body: list[ast.stmt]) -> list[ast.stmt]:
        """Where a loop goes round or ends after something that waits was left by `break` or `continue`."""
        return self._awake() if any(isinstance(its, ast.AsyncWith) for its in own_statements(body)) else []

    def _awake(self) -> list[ast.stmt]:
        """Where an exception thrown into a waiting frame may come first."""
        return [ast.Expr(call("awake", self.constant(wire.RESUME, self.statement)))] if self.waits else []

    def _weave_try(self, node: ast.Try | ast.TryStar, number: int) -> list[ast.stmt]:
        with self._block(bool(node.finalbody)):
            node.body = self._body(node.body, number, BODY)
            for handler in node.handlers:
                self._weave_handler(handler, number)
            node.orelse = self._body(node.orelse, number, ORELSE)
        if node.finalbody:
            awake = placed(self._awake(), node)
            node.finalbody = [*awake, *self._body(node.finalbody, number, FINAL)]
        return [node]

    _weave_trystar = _weave_try

    def _weave_handler(self, handler: ast.ExceptHandler, number: int) -> None:
        self.statement = number
        if handler.type is not None:
            handler.type = self.expression(handler.type)
        caught = [*self._awake(), ast.Expr(call("caught", self.constant(wire.CAUGHT, number)))]
        with self._block(handler.name is not None):
            body = self._body(handler.body, number, HANDLER)
        if handler.name is not None:
            # Python takes the name away again whichever way the handler is left.
            gone = self.event(wire.DELETE, number, self.scope.mangled(handler.name))
            body = [*self.store_reports(handler.name, number), ast.Try(body, [], [], [gone])]
        handler.body = placed([*caught, *body], handler)

    def _weave_typealias(self, node: Any, number: int) -> list[ast.stmt]:
        return [node, *placed(self.store_reports(node.name.id, number), node)]

    def _weave_match(self, node: ast.Match, number: int) -> list[ast.stmt]:
        node.subject = self.expression(node.subject)
        for case in node.cases:
            names = [
                name
                for pattern in ast.walk(case.pattern)
                for name in (getattr(pattern, "name", None), getattr(pattern, "rest", None))
                if isinstance(name, str)
            ]
            stores: list[ast.stmt] = []
            if case.guard is None:
                stores = [report for name in names for report in self.store_reports(name, number)]
            else:
                points = [(self.constant(wire.STORE, number, self.scope.mangled(name)), name) for name in names]
                told: list[ast.expr] = [call("noted", point, load(name)) for point, name in points]
                case.guard = placed([ast.BoolOp(ast.Or(), [*told, self.expression(case.guard)])], case.guard)[0]
                case.guard = case.guard if told else case.guard.values[0]
            case.body = [*placed(stores, case.body[0]), *self._body(case.body, number, BODY)]
        return [node]

    def _weave_return(self, node: ast.Return, number: int) -> list[ast.stmt]:
        value = node.value or ast.Constant(None)
        if isinstance(value, ast.Constant):
            inline = self._ending(number, value.value)
            if inline is not None:
                return [*placed(inline, node), node]
        kind, told_by = (wire.RETURNING, "tell") if self.guarded else (wire.LEAVE, "leave")
        told = call(told_by, self.constant(kind, number), self.expression(value, told=True))
        node.value = placed([told], node.value or node)[0]
        return [node]

    def _ending(self, statement: int, value: object) -> list[ast.stmt] | None:
        """Tells, without a call, that the frame hands back a value that stands in the text."""
        if self.guarded:
            return self.constant_report(self.point(wire.RETURNING, statement), value)
        told = self.constant_report(self.point(wire.LEAVE, statement), value)
        if told is None:
            return None
        ended = ast.Delete([ast.Subscript(hook("depth"), ast.Constant(-1), ast.Del())])
        return [*self._look_again(), *told, ended]

    # Functions and classes

    def _weave_functiondef(self, node: ast.FunctionDef | ast.AsyncFunctionDef, number: int) -> list[ast.stmt]:
        self.expressions(node, skip=[*node.body, *([node.returns] if node.returns else [])])
        self.expressions(node.args)
        with Inside(self, scope_of(node, self.scope), node):
            node.body = self._frame(node)
        return [node, *placed(self.store_reports(node.name, number), node)]

    _weave_asyncfunctiondef = _weave_functiondef

    def _weave_classdef(self, node: ast.ClassDef, number: int) -> list[ast.stmt]:
        self.expressions(node, skip=node.body)
        with Inside(self, scope_of(node, self.scope), node):
            node.body = self._frame(node)
        made = ast.Expr(call("class_made", load(node.name)))
        return [node, *placed([*self.store_reports(node.name, number), made], node)]

    def _frame(self, node: Framed, at: ast.stmt | None = None) -> list[ast.stmt]:
        """The body of a module, function or class with its frame's beginning and end told, whichever way it ends.

        What Python wants to stand first (docstring, imports from `__future__`) stays outside.
        """
        at = at or cast(ast.stmt, node)
        self.statement = -1
        first = [stmt for stmt in node.body if is_docstring(stmt, node) or is_future(stmt)]
        opening = self._opening()
        blocks = (ast.Try, ast.TryStar, ast.With, ast.AsyncWith)
        self.guarded = self.waits or any(isinstance(inner, blocks) for inner in own_statements(node.body))
        body = self._body(node.body, -1, BODY, node)
        self.statement = -1
        end = self._ending(-1, None) or []
        unwind = ast.Expr(call("unwind", self.constant(wire.UNWIND, -1), ast.Constant(self.guarded)))
        again: list[ast.stmt] = [*self._awake(), unwind, ast.Raise(None, None)]
        whole = ast.Try([*opening, *body, *end], [ast.ExceptHandler(hook("BaseException"), None, again)], [], [])
        if self.guarded:
            left = call("ended" if self.waits else "left", self.constant(wire.LEFT, -1))
            whole = ast.Try([whole], [], [], [ast.Expr(left)])
        return [*first, *placed([whole], at)]

    def _opening(self) -> list[ast.stmt]:
        """Tells that a frame begins and what its parameters are."""
        opening: list[ast.stmt] = self._thread_check()
        if self.scope.kind == "module":
            opening.append(ast.Expr(call("bottom")))
        begins = "begin" if self.waits else "begin_owner" if self.shared else "enter"
        kind = wire.ENTER if begins == "enter" else wire.NEW
        opening.append(ast.Expr(call(begins, self.constant(kind, -1))))
        cells = self.cells("own", self.shared) + self.cells("enclosed", self.scope.free_names())
        opening += [ast.Expr(tell) for tell in cells]
        for param in self.scope.params:
            if param == "self":
                point = self.constant(wire.BIND, -1, param)
                opening.append(ast.Expr(call("bear", point, load(param))))
            else:
                opening += self.store_reports(param, -1, kind=wire.BIND)
        return opening
