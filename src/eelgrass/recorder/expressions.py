"""Weaving expressions, and the reports that every kind of statement needs."""

from __future__ import annotations

import ast
from collections.abc import Callable, Iterable

from eelgrass.recorder import wire
from eelgrass.recorder.log import LONG
from eelgrass.recorder.nodes import append, call, hook, load, placed
from eelgrass.recorder.points import EXPRESSION, Points
from eelgrass.recorder.scopes import COMPREHENSION_NAMES, Comprehension, FunctionNode, Scope, captured, scope_of

#: Methods that change their receiver in place, by the usual containers' names for them.
MUTATORS = frozenset(
    (
        *("append", "appendleft", "extend", "extendleft", "insert", "remove", "pop", "popleft", "clear"),
        *("sort", "reverse", "rotate", "popitem", "update", "setdefault", "move_to_end", "subtract", "fill"),
        *("add", "discard", "difference_update", "intersection_update", "symmetric_difference_update"),
        *("__setitem__", "__delitem__", "__iadd__", "__setattr__", "__delattr__"),
    )
)
#: Calls whose result anybody can work out again, or that nobody would look at.
_UNTOLD = frozenset(("len", "range", "abs", "ord", "chr", "isinstance", "type", "super", "print", "enumerate", "zip"))
_UNTOLD_METHODS = frozenset(("items", "keys", "values", "append", "add"))
#: Functions that may change what they are handed: by name, or as `list.append(rows, 1)`.
_CHANGING = frozenset(("setattr", "delattr", "next", "exec", "eval"))
#: Calls after which there may be no process to tell anything.
_ENDING = frozenset(("_exit", "kill", "killpg", "raise_signal", "string_at", "execv", "execve", "execvp", "execl"))
_CONTAINERS = frozenset(("list", "dict", "set", "object", "bytearray", "type"))


class Expressions:
    """What is being woven: the scope and function, and the statement whose expressions are looked at.

    `outside`: imported names that lead to code which is not woven and may change what it is handed.
    """

    def __init__(self, points: Points, scope: Scope, outside: frozenset[str]) -> None:
        self.points = points
        self.scope = scope
        self.function = points.function(scope, -1, 1)
        self.statement = -1
        self.waits = False
        self.outside = outside

    # Reports

    def point(self, kind: int, statement: int, detail: str | int | None = None) -> int:
        """A new point in this function, as events have it."""
        return self.points.point(kind, self.function, statement, detail) * wire.FORMS

    def constant(self, kind: int, statement: int, detail: str | int | None = None) -> ast.Constant:
        """A new point as an argument of a hook."""
        return ast.Constant(self.point(kind, statement, detail))

    def event(self, kind: int, statement: int, name: str | None = None) -> ast.stmt:
        """A statement that tells of a new point, which has no value."""
        return ast.Expr(append("events", self.constant(kind, statement, name)))

    def store_reports(self, name: str, statement: int, by: str = "tell", kind: int = wire.STORE) -> list[ast.stmt]:
        """Reports that `name` has been stored; whole numbers and texts, the commonest values, without a call of
        ours."""
        point = self.point(kind, statement, self.scope.mangled(name))
        return [self.typed_report(point, load(name), ast.Expr(call(by, ast.Constant(point), load(name))))]

    def typed_report(self, point: int, value: ast.expr, otherwise: ast.stmt) -> ast.stmt:
        """Tells of a value that can be read twice: inline if it is a whole number or a text."""
        for kind, to, form in (("str", "texts", wire.TEXT), ("int", "wholes", wire.WHOLE)):
            test: ast.expr = ast.Compare(call("type", value), [ast.Is()], [hook(kind)])
            if kind == "str":
                short = ast.Compare(call("len", value), [ast.Lt()], [ast.Constant(LONG)])
                test = ast.BoolOp(ast.And(), [test, short])
            otherwise = ast.If(test, [ast.Expr(append(to, value)), self._told(point + form)], [otherwise])
        return otherwise

    def _told(self, event: int) -> ast.stmt:
        return ast.Expr(append("events", ast.Constant(event)))

    def constant_report(self, point: int, value: object) -> list[ast.stmt] | None:
        """Tells of a value that stands in the text, if it is of the simplest kinds."""
        if type(value) is int and wire.WHOLE_MIN <= value <= wire.WHOLE_MAX:
            return [ast.Expr(append("wholes", ast.Constant(value))), self._told(point + wire.WHOLE)]
        if type(value) is str and len(value) < LONG:
            return [ast.Expr(append("texts", ast.Constant(value))), self._told(point + wire.TEXT)]
        if value is None or type(value) is bool:
            return [self._told(point + (wire.NONE if value is None else wire.TRUE if value else wire.FALSE))]
        return None

    # Walking

    def expressions(self, node: ast.AST, skip: Iterable[ast.AST] = ()) -> None:
        """Weaves every expression directly under `node`, but for `skip`."""
        left_out = set(map(id, skip))
        for field, value in ast.iter_fields(node):
            if isinstance(value, ast.expr) and id(value) not in left_out:
                setattr(node, field, self.expression(value))
            elif isinstance(value, list):
                value[:] = [item if id(item) in left_out else self._part(item) for item in value]

    def _part(self, item: object) -> object:
        if isinstance(item, ast.expr):
            return self.expression(item)
        if isinstance(item, (ast.keyword, ast.comprehension)):
            self.expressions(item)
        return item

    def expression(self, node: ast.expr, told: bool = False) -> ast.expr:
        """The woven expression. `told`: its value is told of by the statement, or is dropped."""
        special: Callable[[ast.expr, bool], ast.expr] | None = getattr(self, "_of_" + type(node).__name__.lower(), None)
        if special is not None:
            return special(node, told)
        self.expressions(node)
        return node

    def _result(self, of: ast.expr, woven: ast.expr) -> ast.expr:
        point = self.constant(wire.RESULT, self.statement, self.points.expression(of, self.statement))
        return placed([call("tell", point, woven)], of)[0]

    def _of_namedexpr(self, node: ast.NamedExpr, _told: bool) -> ast.expr:
        node.value = self.expression(node.value, told=True)
        point = self.constant(wire.STORE, self.statement, self.scope.mangled(node.target.id))
        return placed([call("tell", point, node)], node)[0]

    # Calls

    def _of_call(self, node: ast.Call, told: bool) -> ast.expr:
        woven: ast.expr = node
        function = node.func
        self.expressions(node)
        called = function.attr if isinstance(function, ast.Attribute) else getattr(function, "id", "")
        if called == "getrecursionlimit":
            return placed([call("limit_seen", node)], node)[0]
        if called == "getswitchinterval":
            return placed([call("interval_seen", node)], node)[0]
        if called in ("settrace", "setprofile") and len(node.args) == 1:
            node.args[0] = placed([call("tracer", node.args[0])], node)[0]
        if called in ("gettrace", "getprofile"):
            return placed([call("traced_by", node)], node)[0]
        if called in _ENDING and node.args:
            node.args[0] = placed([call("flushed", node.args[0])], node)[0]
        if isinstance(function, ast.Attribute) and function.attr in MUTATORS:
            woven = self._mutating(node, function)
        count = self._hold_arguments(node) if self._leads_outside(function) else 0
        if count:
            woven = placed([call("handed", ast.Constant(count), woven)], node)[0]
        untold = isinstance(function, ast.Name) and function.id in _UNTOLD
        untold = untold or (isinstance(function, ast.Attribute) and function.attr in _UNTOLD_METHODS)
        return woven if told or untold else self._result(node, woven)

    def _mutating(self, node: ast.Call, function: ast.Attribute) -> ast.expr:
        method = "pop last" if function.attr == "pop" and not node.args else function.attr
        owner = function.value
        is_super = isinstance(owner, ast.Call) and isinstance(owner.func, ast.Name) and owner.func.id == "super"
        if is_super and self.scope.params:
            held = call("hold", load(self.scope.params[0]))
            both = ast.Subscript(ast.Tuple([held, node], ast.Load()), ast.Constant(1), ast.Load())
            return placed([call("called", ast.Constant(method), both)], node)[0]
        function.value = placed([call("hold", function.value)], function.value)[0]
        return placed([call("called", ast.Constant(method), node)], node)[0]

    def _leads_outside(self, function: ast.expr) -> bool:
        """Whether a call may end in code that is not woven and changes its arguments."""
        if isinstance(function, ast.Name):
            return function.id in self.outside or function.id in _CHANGING
        root = function
        while isinstance(root, ast.Attribute):
            root = root.value
        return isinstance(root, ast.Name) and (root.id in self.outside or root.id in _CONTAINERS)

    def _hold_arguments(self, node: ast.Call) -> int:
        count = 0
        for place, argument in enumerate(node.args):
            if isinstance(argument, (ast.Name, ast.Attribute, ast.Subscript, ast.Call)):
                node.args[place] = placed([call("hold", argument)], argument)[0]
                count += 1
        return count

    # What waits

    def _of_yield(self, node: ast.Yield, _told: bool) -> ast.expr:
        if not self.waits:
            return node
        value = ast.Constant(None) if node.value is None else self.expression(node.value, told=True)
        site = self.points.expression(node, self.statement)
        resume = self.constant(wire.RESUME, self.statement, site)
        suspend = self.constant(wire.SUSPEND, self.statement, site)
        node.value = placed([call("suspended", suspend, resume, value)], node)[0]
        return placed([call("resumed", resume, node)], node)[0]

    def _of_yieldfrom(self, node: ast.YieldFrom | ast.Await, told: bool) -> ast.expr:
        if not self.waits:
            return node
        value = self.expression(node.value, told=isinstance(node, ast.Await))
        site = self.points.expression(node, self.statement)
        resume = self.constant(wire.RESUME, self.statement, site)
        suspend = self.constant(wire.SUSPEND, self.statement, site)
        node.value = placed([call("delegating", suspend, resume, value)], node)[0]
        woven = placed([call("resumed", resume, node)], node)[0]
        return woven if told else self._result(node, woven)

    _of_await = _of_yieldfrom

    # Lambdas and comprehensions: frames in which no statement can stand

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
            return node
        with Inside(self, scope_of(node, self.scope), node):
            step = self._begin_expression(node, node)
            leave = self.constant(wire.LEAVE, self.statement)
            if isinstance(node, ast.GeneratorExp):
                self._generator_expression(node, step)
            else:
                enter = self.constant(wire.ENTER, -1)
                first.iter = placed([call("entered", enter, ast.Constant(step), first.iter)], first.iter)[0]
                for clause in node.generators[1:]:
                    clause.iter = self.expression(clause.iter)
                self._passes(node, step)
                made = node.value if isinstance(node, ast.DictComp) else node.elt
                made = placed([call("passed", ast.Constant(step), self.expression(made))], made)[0]
                if isinstance(node, ast.DictComp):
                    node.key, node.value = self.expression(node.key), made
                else:
                    node.elt = made
        return node if isinstance(node, ast.GeneratorExp) else placed([call("tell", leave, node)], node)[0]

    _of_setcomp = _of_dictcomp = _of_generatorexp = _of_listcomp

    def _generator_expression(self, node: ast.GeneratorExp, step: int) -> None:
        first = node.generators[0]
        site = self.points.expression(node.elt, self.statement)
        resume = self.point(wire.RESUME, self.statement, site)
        begins = call("begins", self.constant(wire.NEW, -1), ast.Constant(step))
        leave = self.constant(wire.LEAVE, self.statement)
        ends = call("ends", ast.Constant(resume), leave)
        # `islice` asks for the iterator here and now, as Python does; all others ask it only for itself.
        asked = call("islice", first.iter, ast.Constant(None))
        between = call("through", ast.Constant(resume), asked)
        first.iter = placed([call("chain", begins, between, ends)], first.iter)[0]
        for clause in node.generators[1:]:
            clause.iter = self.expression(clause.iter)
            asked = call("islice", clause.iter, ast.Constant(None))
            clause.iter = placed([call("through", ast.Constant(resume), asked)], clause.iter)[0]
        self._passes(node, step)
        suspend = self.constant(wire.SUSPEND, self.statement, site)
        node.elt = placed([call("suspended", suspend, ast.Constant(resume), self.expression(node.elt))], node.elt)[0]

    def _passes(self, node: Comprehension, step: int) -> None:
        """Weaves the clauses: what each pass stores is told where its conditions stand."""
        for clause in node.generators:
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
