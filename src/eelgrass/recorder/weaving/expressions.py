"""Weaving expressions, and the reports that every kind of statement needs."""

from __future__ import annotations

import ast
import builtins
from collections.abc import Callable, Iterable

from eelgrass.recorder import wire
from eelgrass.recorder.contract import BY_KEY, CHANGING, LONG
from eelgrass.recorder.weaving.name_rules import ANSWERS, ARGUMENTS, MUTATORS, THEMSELVES, NameRules
from eelgrass.recorder.weaving.nodes import append, call, hook, load, placed
from eelgrass.recorder.weaving.points import Points
from eelgrass.recorder.weaving.scopes import Scope

#: Calls whose result anybody can work out again, or that nobody would look at.
_UNTOLD = frozenset(("len", "range", "abs", "ord", "chr", "isinstance", "type", "super", "print", "enumerate", "zip"))
_UNTOLD_METHODS = frozenset(("items", "keys", "values", "append", "add"))
#: Of these, the ones that do all or nothing: the others may be ended by an exception when they have done a part.
WHOLE_MUTATORS = frozenset(
    (
        *("append", "appendleft", "insert", "pop", "popleft", "clear", "reverse", "rotate", "popitem", "add"),
        *("setdefault", "move_to_end"),
    )
)
#: Methods of text and files and those of containers that change nothing: what they reach is known.
_HARMLESS_METHODS = frozenset(name for name in dir(str) if not name.startswith("__")) | {
    *("get", "items", "keys", "values", "copy", "count", "index", "difference", "union", "intersection"),
    *("issubset", "issuperset", "isdisjoint", "symmetric_difference", "most_common", "elements", "total"),
    *("read", "readline", "readlines", "write", "close", "bit_length", "is_integer", "hex", "add_note", "group"),
}
#: Arguments that may be objects which others hold, too.
_HANDED = (ast.Name, ast.Attribute, ast.Subscript, ast.Call)
#: Methods of containers take no more arguments.
_MOST_BY_PLACE = 2
_BUILT_IN = frozenset(dir(builtins)) - CHANGING
#: Classes whose methods are called with the object in hand, as `list.append(rows, 1)`.
_CONTAINERS = frozenset(("list", "dict", "set", "object", "bytearray", "type"))


class Expressions:
    """What is being woven: the scope and function, and the statement whose expressions are looked at.

    `rules`: what the module's names say of what its code may reach.
    """

    def __init__(self, points: Points, scope: Scope, rules: NameRules) -> None:
        self.points = points
        self.scope = scope
        self.function = points.function(scope, -1, 1)
        self.statement = -1
        self.waits = False
        self.rules = rules

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
        """Reports that `name` has been stored; whole numbers, the commonest values, without a call of ours."""
        point = self.point(kind, statement, self.scope.mangled(name))
        return [self.typed_report(point, load(name), ast.Expr(call(by, ast.Constant(point), load(name))))]

    def typed_report(self, point: int, value: ast.expr, otherwise: ast.stmt) -> ast.stmt:
        """Tells of a value that can be read twice: inline if it is a whole number."""
        is_whole = ast.Compare(call("type", value), [ast.Is()], [hook("int")])
        return ast.If(is_whole, [ast.Expr(append("wholes", value)), self._told(point + wire.WHOLE)], [otherwise])

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

    def _of_attribute(self, node: ast.Attribute, _told: bool) -> ast.expr:
        owner = node.value
        if isinstance(node.ctx, ast.Load):
            if node.attr in MUTATORS:
                self.expressions(node)
                return placed([call("escaping", node)], node)[0]
            by = "opened" if node.attr == "__dict__" else "field_grown" if node.attr in self.rules.stored_late else ""
            if by:
                node.value = placed([call("hold", self.expression(owner))], owner)[0]
                return placed([call(by, node, call("take"))], node)[0]
        self.expressions(node)
        return node

    def _of_subscript(self, node: ast.Subscript, _told: bool) -> ast.expr:
        self.expressions(node)
        if not self.rules.may_grow or not isinstance(node.ctx, ast.Load) or isinstance(node.slice, ast.Slice):
            return node
        node.value = placed([call("hold", node.value)], node.value)[0]
        return placed([call("grown", node, call("take"))], node)[0]

    def _of_call(self, node: ast.Call, told: bool) -> ast.expr:
        woven: ast.expr = node
        function = node.func
        self.expressions(node, skip=[function])
        if isinstance(function, ast.Attribute):
            self.expressions(function)
        else:
            node.func = self.expression(function)
        called = function.attr if isinstance(function, ast.Attribute) else getattr(function, "id", "")
        if called in ARGUMENTS and node.args:
            node.args[0] = placed([call(ARGUMENTS[called], node.args[0])], node)[0]
        if called in THEMSELVES and not node.args:
            node.func = placed([call(THEMSELVES[called], node.func)], node)[0]
        if called in ANSWERS:
            woven = placed([call(ANSWERS[called], node)], node)[0]
        leads_outside = self._leads_outside(function)
        if isinstance(function, ast.Attribute) and self._is_super(function.value):
            return self._reaching(node, told)
        elif isinstance(function, ast.Attribute) and function.attr in MUTATORS:
            woven = self._mutating(node, function, leads_outside)
        elif self._leads_to(function, self.rules.known_ways) or (not leads_outside and self._is_unknown(function)):
            return self._reaching(node, told)
        elif leads_outside:
            woven = self._handing(node, woven)
        elif isinstance(function, ast.Name) and function.id == "vars" and len(node.args) == 1:
            node.args[0] = placed([call("hold", node.args[0])], node.args[0])[0]
            woven = placed([call("opened", woven, call("take"))], node)[0]
        untold = isinstance(function, ast.Name) and function.id in _UNTOLD
        untold = untold or (isinstance(function, ast.Attribute) and function.attr in _UNTOLD_METHODS)
        return woven if told or untold else self._result(node, woven)

    def _handing(self, node: ast.Call, woven: ast.expr) -> ast.expr:
        """A call, by now `woven`, that may change what it is handed. What is held before its arguments is taken back
        after them."""
        count = self._hold_arguments(node)
        return placed([call("handed", woven, *(call("take") for _ in range(count)))], node)[0] if count else woven

    def _mutating(self, node: ast.Call, function: ast.Attribute, leads_outside: bool) -> ast.expr:
        method = "pop last" if function.attr == "pop" and not node.args else function.attr
        function.value = placed([call("hold", function.value)], function.value)[0]
        key: ast.expr = ast.Constant(None)
        if method in BY_KEY and node.args and not isinstance(node.args[0], ast.Starred):
            node.args[0] = placed([call("hold", node.args[0])], node.args[0])[0]
            key = call("take")
        inner = self._handing(node, node) if leads_outside else node
        return placed([call("called", ast.Constant(method), inner, key, call("take"))], node)[0]

    def _is_unknown(self, function: ast.expr) -> bool:
        """Whether what is called shows only when it is."""
        if isinstance(function, ast.Name):
            return not self.rules.is_known(function.id) and function.id not in _BUILT_IN
        if isinstance(function, ast.Attribute):
            root = function.value
            while isinstance(root, ast.Attribute):
                root = root.value
            from_module = isinstance(root, ast.Name) and self.rules.is_module(root.id)
            is_known = self.rules.is_known(function.attr) and not function.attr.startswith("__")  # every type has these
            return not (from_module or function.attr in _HARMLESS_METHODS or is_known)
        return True

    def _reaching(self, node: ast.Call, told: bool) -> ast.expr:
        """A call of whatever it turns out to be."""
        node.func = placed([call("hold", node.func)], node.func)[0]
        has_all = not node.keywords and not any(isinstance(argument, ast.Starred) for argument in node.args)
        has_all = has_all and len(node.args) <= _MOST_BY_PLACE
        count = self._hold_arguments(node, (ast.expr,) if has_all else _HANDED) + 1
        taken = (call("take") for _ in range(count))
        woven = placed([call("reached", node, ast.Constant(has_all), *taken)], node)[0]
        return woven if told else self._result(node, woven)

    def _is_super(self, owner: ast.expr) -> bool:
        is_super = isinstance(owner, ast.Call) and isinstance(owner.func, ast.Name) and owner.func.id == "super"
        return is_super and bool(self.scope.params)

    def _leads_outside(self, function: ast.expr) -> bool:
        """Whether a call may end in code that is not woven and changes its arguments."""
        if isinstance(function, ast.Name) and function.id in CHANGING:
            return True
        if isinstance(function, ast.Attribute) and self._leads_to(function, _CONTAINERS):
            return True
        if isinstance(function, ast.Attribute) and isinstance(function.value, ast.Name):
            changing = self.rules.changing.get(function.value.id)
            if changing is not None and function.attr in changing:
                return True
        return self._leads_to(function, self.rules.outside)

    @staticmethod
    def _leads_to(function: ast.expr, names: frozenset[str]) -> bool:
        """Whether what is called is reached from one of some names."""
        while isinstance(function, ast.Attribute):
            function = function.value
        return isinstance(function, ast.Name) and function.id in names

    def _hold_arguments(self, node: ast.Call, kinds: tuple[type[ast.expr], ...] = _HANDED) -> int:
        count = 0
        for place, argument in enumerate(node.args):
            if isinstance(argument, kinds):
                node.args[place] = placed([call("hold", argument)], argument)[0]
                count += 1
        for keyword in node.keywords:
            if keyword.arg is not None and isinstance(keyword.value, _HANDED):
                keyword.value = placed([call("hold", keyword.value)], keyword.value)[0]
                count += 1
        return count

    # What waits

    def _of_yield(self, node: ast.Yield, _told: bool) -> ast.expr:
        if not self.waits:
            return node
        value = ast.Constant(None) if node.value is None else self.expression(node.value, told=True)
        return self._waiting(node, "suspended", value)

    def _waiting(self, node: ast.Yield | ast.YieldFrom | ast.Await, told_by: str, value: ast.expr) -> ast.expr:
        """An expression at which the frame may wait; `told_by` says so when its value has been worked out."""
        suspend, resume = self.waiting_points(node)
        node.value = placed([call(told_by, ast.Constant(suspend), ast.Constant(resume), value)], node)[0]
        return placed([call("resumed", ast.Constant(resume), node)], node)[0]

    def waiting_points(self, node: ast.expr) -> tuple[int, int]:
        """The points that tell that the frame waits at a new expression, and that it goes on there."""
        site = self.points.expression(node, self.statement)
        return self.point(wire.SUSPEND, self.statement, site), self.point(wire.RESUME, self.statement, site)

    def _of_yieldfrom(self, node: ast.YieldFrom | ast.Await, told: bool) -> ast.expr:
        if not self.waits:
            return node
        value = self.expression(node.value, told=isinstance(node, ast.Await))
        woven = self._waiting(node, "delegating", value)
        return woven if told else self._result(node, woven)

    _of_await = _of_yieldfrom
