"""Weaving the frames in which no statement can stand: lambdas, comprehensions and generator expressions."""

from __future__ import annotations

import ast

from eelgrass.recorder import wire
from eelgrass.recorder.weaving.expressions import Expressions
from eelgrass.recorder.weaving.nodes import call, load, placed
from eelgrass.recorder.weaving.points import EXPRESSION
from eelgrass.recorder.weaving.scopes import COMPREHENSION_NAMES, Comprehension, FunctionNode, Scope, captured, scope_of


def _asks_again() -> bool:
    asked = []

    class Readings:
        def __iter__(self) -> Readings:
            asked.append(self)
            return self

        def __next__(self) -> None:
            raise StopIteration

    list(reading for reading in Readings())
    return len(asked) > 1


#: Whether a generator expression that begins asks each iterator for one once more (3.13.1 and later 3.13).
ASKS_AGAIN = _asks_again()


class InnerFrames(Expressions):
    """Expressions, with the frames that some of them open."""

    def _of_lambda(self, node: ast.Lambda, _told: bool) -> ast.expr:
        self.expressions(node.args)
        scope = scope_of(node, self.scope)
        if scope.yields:
            return node
        with Inside(self, scope, node):
            step = self._begin_expression(node.body, node)
            tells: list[ast.expr] = [call("skipped", self.constant(wire.ENTER, -1))]
            tells += self.cells("enclosed", scope.free_names())
            for param in scope.params:
                tells.append(call("noted", self.constant(wire.BIND, -1, param), load(param)))
            tells.append(call("skipped", ast.Constant(step)))
            leave = self.constant(wire.LEAVE, self.statement)
            body = self.expression(node.body, told=True)
            node.body = placed([call("tell", leave, ast.BoolOp(ast.Or(), [*tells, body]))], node.body)[0]
        return node

    def _begin_expression(self, place: ast.expr, kind: ast.expr) -> int:
        """Makes `place` the statement of a frame that is an expression; gives its STEP point."""
        around = self.statement
        self.statement = self.points.statement(place, self.function, around, EXPRESSION)
        row = self.points.statements[-1]
        self.points.statements[-1] = (*row[:4], type(kind).__name__.lower(), *row[5:])
        return self.point(wire.STEP, self.statement)

    def cells(self, by: str, names: list[str]) -> list[ast.expr]:
        """Hands a hook the cells of names that this frame shares with others: a function made here has them too."""
        if not names:
            return []
        arguments = ast.arguments(posonlyargs=[], args=[], kwonlyargs=[], kw_defaults=[], defaults=[])
        shared = ast.Lambda(arguments, ast.Tuple([load(name) for name in names], ast.Load()))
        return [call(by, ast.Attribute(shared, "__closure__", ast.Load()))]

    def _of_listcomp(self, node: Comprehension, _told: bool) -> ast.expr:
        first = node.generators[0]
        first.iter = self.expression(first.iter)
        if any(inner.is_async for inner in node.generators) or any(
            isinstance(part, (ast.Await, ast.Yield, ast.YieldFrom)) for part in ast.walk(node)
        ):
            return self._of_waiting_comprehension(node)
        with Inside(self, scope_of(node, self.scope), node):
            step = self._begin_expression(node, node)
            leave = self.constant(wire.LEAVE, self.statement)
            if isinstance(node, ast.GeneratorExp):
                self._generator_expression(node, step)
            else:
                enter = self.constant(wire.ENTER, -1)
                first.iter = placed([call("entered", enter, ast.Constant(step), first.iter)], first.iter)[0]
                self._passes(node, step)
                made = node.value if isinstance(node, ast.DictComp) else node.elt
                made = placed([call("passed", ast.Constant(step), self.expression(made))], made)[0]
                if isinstance(node, ast.DictComp):
                    node.key, node.value = self.expression(node.key), made
                else:
                    node.elt = made
        return node if isinstance(node, ast.GeneratorExp) else placed([call("tell", leave, node)], node)[0]

    def _of_waiting_comprehension(self, node: Comprehension) -> ast.expr:
        """One that waits is not woven; that the frame around it waits meanwhile is told."""
        if isinstance(node, ast.GeneratorExp) or not self.waits:
            return node
        suspend, resume = self.point(wire.SUSPEND, self.statement), self.point(wire.RESUME, self.statement)
        first = node.generators[0]
        told = call("waits", ast.Constant(suspend), ast.Constant(resume), first.iter)
        first.iter = placed([told], first.iter)[0]
        return placed([call("resumed", ast.Constant(resume), node)], node)[0]

    _of_setcomp = _of_dictcomp = _of_generatorexp = _of_listcomp

    def _generator_expression(self, node: ast.GeneratorExp, step: int) -> None:
        first = node.generators[0]
        suspend, resume = self.waiting_points(node.elt)
        begins = call("begins", self.constant(wire.NEW, -1), ast.Constant(step))
        leave = self.constant(wire.LEAVE, self.statement)
        ends = call("ends", ast.Constant(resume), leave)
        self._passes(node, step)
        for clause in node.generators:
            # `islice` asks for the iterator here and now, as Python does; all others ask it only for itself.
            asked = call("islice", clause.iter, ast.Constant(None))
            if ASKS_AGAIN:
                asked = call("asked_again", call("iter", clause.iter))
            clause.iter = placed([call("through", ast.Constant(resume), asked)], clause.iter)[0]
        first.iter = placed([call("chain", begins, first.iter, ends)], first.iter)[0]
        told = call("suspended", ast.Constant(suspend), ast.Constant(resume), self.expression(node.elt))
        node.elt = placed([told], node.elt)[0]

    def _passes(self, node: Comprehension, step: int) -> None:
        """Weaves the clauses: what each pass stores is told where its conditions stand."""
        for clause in node.generators:
            if clause is not node.generators[0]:  # which is worked out outside
                clause.iter = self.expression(clause.iter)
            conditions = [self.expression(condition) for condition in clause.ifs]
            skipped = call("skipped", ast.Constant(step))
            names = [part.id for part in ast.walk(clause.target) if isinstance(part, ast.Name)]
            tells = [
                call("noted", self.constant(wire.STORE, self.statement, self.scope.mangled(name)), load(name))
                for name in names
            ]
            told = placed([ast.BoolOp(ast.Or(), [*tells, ast.Constant(True)])], clause.target) if tells else []
            clause.ifs = [
                *told,
                *(placed([ast.BoolOp(ast.Or(), [test, skipped])], test)[0] for test in conditions),
            ]


class Inside:
    """Turns a weaver to the scope of a nested function, class or comprehension, and back.

    `shared`: the names of the scope that functions inside of it may use after its frame has ended.
    """

    def __init__(self, weaver: Expressions, scope: Scope, node: ast.ClassDef | FunctionNode | Comprehension) -> None:
        self._weaver = weaver
        self._before = dict(vars(weaver))
        waits = isinstance(node, (ast.AsyncFunctionDef, ast.GeneratorExp)) or scope.yields
        self._inside = {
            "scope": scope,
            "function": weaver.points.function(scope, weaver.function, node.lineno, waits),
            "waits": waits,
            "loops": [],
            "guarded": False,
            "shared": [] if type(node) in COMPREHENSION_NAMES else captured(scope, node),
        }

    def __enter__(self) -> None:
        vars(self._weaver).update(self._inside)

    def __exit__(self, *_error: object) -> None:
        vars(self._weaver).update(self._before)
