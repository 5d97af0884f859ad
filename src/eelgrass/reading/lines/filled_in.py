"""Expressions with the values of their names in the place of these."""

from __future__ import annotations

import ast
import copy

from eelgrass.reading.state.call_stack import value_of_name
from eelgrass.trace.model import Trace
from eelgrass.trace.values import NOT_SET, Ref

#: Longer texts stay names.
_LONGEST_TEXT = 12


def filled_in(trace: Trace, frame: int, node: ast.expr, step: int) -> str:
    """An expression's text with simple values in the place of its names, as a frame sees them just before a step; ''
    where that says nothing."""
    filled = _Filled(trace, frame, step)
    try:
        text = ast.unparse(filled.visit(copy.deepcopy(node)))
    except (ValueError, RecursionError, MemoryError):
        return ""
    return text if filled.useful else ""


class _Filled(ast.NodeTransformer):
    """Puts simple values in the place of names."""

    def __init__(self, trace: Trace, frame: int, step: int) -> None:
        self.trace = trace
        self.frame = frame
        self.step = step
        self.useful = False

    def visit_Call(self, node: ast.Call) -> ast.AST:
        node.args = [self.visit(argument) for argument in node.args]
        return node

    def visit_Name(self, node: ast.Name) -> ast.AST:
        value = value_of_name(self.trace, self.frame, node.id, self.step)
        got = self.trace.values.get(value) if value != NOT_SET else None
        if value == NOT_SET or isinstance(got, (Ref, list)) or (isinstance(got, str) and len(got) > _LONGEST_TEXT):
            return node
        self.useful = True
        return ast.copy_location(ast.Constant(got), node)
