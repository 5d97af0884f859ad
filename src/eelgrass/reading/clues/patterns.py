"""What several kinds of clues look for in the text."""

from __future__ import annotations

import ast
from typing import Any

from eelgrass.reading.trails.reads import CHANGING


def stored_name(node: ast.stmt) -> str:
    """The one plain name that a statement stores; '' where it stores none, or several."""
    if isinstance(node, ast.Assign) and len(node.targets) == 1 and isinstance(node.targets[0], ast.Name):
        return node.targets[0].id
    if isinstance(node, (ast.AugAssign, ast.AnnAssign)) and isinstance(node.target, ast.Name):
        return node.target.id
    return ""


def called(node: ast.AST | None) -> str:
    """The name of the function or method that an expression calls; '' for anything else."""
    if not isinstance(node, ast.Call):
        return ""
    return node.func.attr if isinstance(node.func, ast.Attribute) else getattr(node.func, "id", "")


def range_of(loop: ast.stmt) -> list[ast.expr]:
    """The arguments of the `range` that a loop over a plain name goes through; none for any other loop."""
    if isinstance(loop, ast.For) and isinstance(loop.target, ast.Name) and isinstance(loop.iter, ast.Call):
        return loop.iter.args if called(loop.iter) == "range" and isinstance(loop.iter.func, ast.Name) else []
    return []


def length_of(node: ast.expr) -> str:
    """The name whose `len` an expression is; '' for anything else."""
    if called(node) == "len" and isinstance(node, ast.Call) and node.args and isinstance(node.args[0], ast.Name):
        return node.args[0].id
    return ""


def changes(node: ast.AST, name: str) -> bool:
    """Whether a part of the text changes the container of a name by a method, an element or `del`."""
    for its in ast.walk(node):
        method = its.func if isinstance(its, ast.Call) and isinstance(its.func, ast.Attribute) else None
        if method is not None and method.attr in CHANGING and is_name(method.value, name):
            return True
        if isinstance(its, ast.Subscript) and not isinstance(its.ctx, ast.Load) and root(its) == name:
            return True
        if isinstance(its, ast.AugAssign) and is_name(its.target, name):
            return True
    return False


def is_name(node: ast.AST | None, name: str) -> bool:
    """Whether an expression is a plain name."""
    return isinstance(node, ast.Name) and node.id == name


def collects(node: ast.stmt, name: str) -> bool:
    """Whether a statement goes on from what a name has: adds to it, puts into it, or works its next value out of it."""
    if stored_name(node) == name:
        return isinstance(node, ast.AugAssign) or (isinstance(node, ast.Assign) and mentions(node.value, name))
    return isinstance(node, (ast.Expr, ast.Assign, ast.AugAssign)) and changes(node, name)


def root(node: ast.AST) -> str:
    """The name that a chain of elements and fields begins with; '' where it begins with something else."""
    while isinstance(node, (ast.Attribute, ast.Subscript)):
        node = node.value
    return node.id if isinstance(node, ast.Name) else ""


def mentions(node: ast.AST, name: str) -> bool:
    """Whether a name is read in a part of the text."""
    return any(isinstance(its, ast.Name) and its.id == name for its in ast.walk(node))


def number_in(text: Any) -> float | None:
    """The number that a text is written like; None for anything else."""
    if type(text) is not str or not any(its.isdigit() for its in text):
        return None
    try:
        return float(text)
    except ValueError:
        return None


def is_constant(node: ast.AST) -> bool:
    """Whether an expression is written out: a number, a text, an empty container."""
    if isinstance(node, ast.Call):
        return called(node) in ("list", "dict", "set") and not node.args
    if isinstance(node, ast.UnaryOp):
        return is_constant(node.operand)
    if isinstance(node, ast.Dict):
        return not node.keys
    return isinstance(node, ast.Constant) or (isinstance(node, (ast.List, ast.Tuple)) and not node.elts)
