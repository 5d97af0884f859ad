"""Other texts of a program that do the same: other names, other places, more room, more prints."""

from __future__ import annotations

import ast
import random


def renamed(text: str) -> str:
    """With other names for its variables, more room, and a remark."""
    tree = ast.parse(text)
    stored = {node.id for node in ast.walk(tree) if isinstance(node, ast.Name) and isinstance(node.ctx, ast.Store)}
    outside = {node.attr for node in ast.walk(tree) if isinstance(node, ast.Attribute)}
    words = {node.arg for node in ast.walk(tree) if isinstance(node, (ast.keyword, ast.arg))}
    inside = {part for node in ast.walk(tree) if isinstance(node, ast.Constant) for part in str(node.value).split()}
    others = _Renaming(stored - outside - inside - words)
    return "# another hand\n\n" + ast.unparse(others.visit(tree)).replace("\n", "\n\n")


class _Renaming(ast.NodeTransformer):
    """Gives other names wherever they stand in the tree."""

    def __init__(self, names: set[str]) -> None:
        self._names = names

    def generic_visit(self, node: ast.AST) -> ast.AST:
        for field, value in ast.iter_fields(node):
            if isinstance(value, str) and field in ("id", "name", "rest"):
                setattr(node, field, self._other(value))
            elif field == "names" and isinstance(node, (ast.Global, ast.Nonlocal)):
                node.names = [self._other(name) for name in node.names]
        return super().generic_visit(node)

    def _other(self, name: str) -> str:
        return f"{name}_here" if name in self._names else name


def moved(text: str, draw: random.Random) -> str:
    """With neighbouring functions in another order, as it is written anew by Python."""
    tree = ast.parse(text)
    for place in range(len(tree.body) - 1):
        pair = tree.body[place : place + 2]
        if all(map(_is_mere_definition, pair)) and draw.random() < 0.7:
            tree.body[place : place + 2] = pair[::-1]
    return ast.unparse(tree)


def _is_mere_definition(node: ast.stmt) -> bool:
    """Whether a statement defines a function and does nothing else."""
    if not isinstance(node, ast.FunctionDef):
        return False
    return not (node.decorator_list or node.args.defaults or any(node.args.kw_defaults))


def talking(text: str, draw: random.Random) -> str:
    """With prints of its own between its statements."""
    tree = ast.parse(text)
    for node in ast.walk(tree):
        if isinstance(node, (ast.FunctionDef, ast.For, ast.While, ast.If)) and draw.random() < 0.5:
            node.body.insert(draw.randrange(len(node.body)), ast.parse("print('so far')").body[0])
    return ast.unparse(ast.fix_missing_locations(tree))


def is_default(text: str, literal: ast.Constant) -> bool:
    """Whether a literal stands where a function is defined, which matters where it is called."""
    functions = (ast.FunctionDef, ast.AsyncFunctionDef)
    return any(isinstance(node, functions) and node.lineno == literal.lineno for node in ast.walk(ast.parse(text)))
