"""A program's text without what its writer is free to choose: names, layout, comments."""

from __future__ import annotations

import ast
import builtins

from eelgrass.lessons.class_sets.outcomes import digest
from eelgrass.parsing import parsed


def normal_form(text: str) -> str:
    """The same for programs that are the same but for names and layout; '' for a text that is no program."""
    try:
        tree = parsed(text)
        named = _Named()
        named.visit(tree)
        return digest(ast.dump(tree))
    except (SyntaxError, ValueError, RecursionError, MemoryError):
        return ""


class _Named(ast.NodeTransformer):
    """Calls each name of the program's own by its number, in the order in which they come."""

    def __init__(self) -> None:
        self._numbers: dict[str, str] = {}

    def _number(self, name: str) -> str:
        return name if hasattr(builtins, name) else self._numbers.setdefault(name, f"n{len(self._numbers)}")

    def generic_visit(self, node: ast.AST) -> ast.AST:
        """Names stand in these fields, whatever the node is; a keyword may be the name of a library's parameter."""
        for field, value in ast.iter_fields(node):
            if isinstance(value, str) and not isinstance(node, ast.alias) and field in ("id", "name", "rest", "arg"):
                is_known = not isinstance(node, ast.keyword) or value in self._numbers
                setattr(node, field, self._number(value) if is_known else value)
            elif isinstance(node, ast.alias) and field == "asname" and value is not None:
                node.asname = self._number(value)
            elif field == "names" and isinstance(node, (ast.Global, ast.Nonlocal)):
                node.names = [self._number(name) for name in node.names]
        if isinstance(node, (ast.FunctionDef, ast.AsyncFunctionDef, ast.ClassDef)):
            _drop_docstring(node)
        return super().generic_visit(node)


def _drop_docstring(node: ast.FunctionDef | ast.AsyncFunctionDef | ast.ClassDef) -> None:
    its = node.body[0]
    if isinstance(its, ast.Expr) and isinstance(its.value, ast.Constant) and isinstance(its.value.value, str):
        node.body = node.body[1:] or [ast.Pass()]
