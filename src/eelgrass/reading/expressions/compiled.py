"""Questions about plain values (numbers, truth values, texts, nothing) as functions: for asking a great many times.

A question is translated only if all of it is known to be harmless for such values: operators, comparisons, `and`, `or`,
`not`, conditional expressions and calls of the functions in `pure`. What could grow too large goes through `pure`.
"""

from __future__ import annotations

import ast
from collections.abc import Callable, Collection
from typing import Any

from eelgrass.reading.expressions import safe_builtins

#: A number that is not larger can be multiplied without a look.
_SMALL = 1 << 63
_GUARDED: dict[type[ast.operator], str] = {ast.Mult: "times", ast.Mod: "modulo", ast.Pow: "power", ast.LShift: "shift"}
_FREE = (ast.Add, ast.Sub, ast.Div, ast.FloorDiv, ast.RShift, ast.BitAnd, ast.BitOr, ast.BitXor)
_MOST_PARTS = 400


def compiled(tree: ast.expr, names: Collection[str]) -> Callable[..., Any] | None:
    """The function that an expression is of its `names`, in their order; None where it cannot be translated. It raises
    what the expression raises, and CannotAnswerError where the answer would be too large."""
    if sum(1 for _ in ast.walk(tree)) > _MOST_PARTS:
        return None
    try:
        body = _translated(tree, frozenset(names))
    except _OtherError:
        return None
    arguments = ast.arguments([], [ast.arg(name) for name in names], None, [], [], None, [])
    whole = ast.fix_missing_locations(ast.Expression(ast.Lambda(arguments, body)))
    made: Callable[..., Any] = eval(compile(whole, "<question>", "eval"), dict(_HELPERS))
    return made


class _OtherError(Exception):
    """Not among what is translated."""


def _translated(node: ast.expr, names: frozenset[str]) -> ast.expr:
    def again(part: ast.expr) -> ast.expr:
        return _translated(part, names)

    if isinstance(node, ast.Constant) and (node.value is None or type(node.value) in (bool, int, float, str)):
        return node
    if isinstance(node, ast.Name) and node.id in names:
        return node
    if isinstance(node, ast.UnaryOp):
        return ast.UnaryOp(node.op, again(node.operand))
    if isinstance(node, ast.BoolOp):
        return ast.BoolOp(node.op, list(map(again, node.values)))
    if isinstance(node, ast.IfExp):
        return ast.IfExp(again(node.test), again(node.body), again(node.orelse))
    if isinstance(node, ast.Compare) and not any(isinstance(its, (ast.Is, ast.IsNot)) for its in node.ops):
        return ast.Compare(again(node.left), node.ops, list(map(again, node.comparators)))
    if isinstance(node, ast.BinOp) and isinstance(node.op, _FREE):
        return ast.BinOp(again(node.left), node.op, again(node.right))
    if isinstance(node, ast.BinOp) and type(node.op) in _GUARDED:
        return _helper(_GUARDED[type(node.op)], [again(node.left), again(node.right)])
    if isinstance(node, ast.Call) and isinstance(node.func, ast.Name) and not node.keywords:
        name = node.func.id
        if (
            name in safe_builtins.FUNCTIONS
            and name not in names
            and not any(isinstance(its, ast.Starred) for its in node.args)
        ):
            return _helper("call", [ast.Constant(name), *map(again, node.args)])
    raise _OtherError


def _helper(name: str, arguments: list[ast.expr]) -> ast.expr:
    return ast.Call(ast.Name(_OURS + name, ast.Load()), arguments, [])


def _times(left: Any, right: Any) -> Any:
    if type(left) is int and type(right) is int and -_SMALL < left < _SMALL and -_SMALL < right < _SMALL:
        return left * right
    return safe_builtins.binary(ast.Mult(), left, right)


def _modulo(left: Any, right: Any) -> Any:
    return safe_builtins.binary(ast.Mod(), left, right) if type(left) is str else left % right


#: No name of a program has a space in it.
_OURS = "our "
_HELPERS: dict[str, Any] = {
    "__builtins__": {},
    _OURS + "times": _times,
    _OURS + "modulo": _modulo,
    _OURS + "power": lambda left, right: safe_builtins.binary(ast.Pow(), left, right),
    _OURS + "shift": lambda left, right: safe_builtins.binary(ast.LShift(), left, right),
    _OURS + "call": lambda name, *arguments: safe_builtins.call(name, arguments, {}),
}
