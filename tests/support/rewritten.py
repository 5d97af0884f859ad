"""Other texts of a program that do the same: other names, other places, more room, more prints."""

from __future__ import annotations

import ast
import random
import re


def renamed(text: str) -> str:
    """With other names for its variables, more room, and a remark."""
    tree = ast.parse(text)
    stored = {node.id for node in ast.walk(tree) if isinstance(node, ast.Name) and isinstance(node.ctx, ast.Store)}
    outside = {node.attr for node in ast.walk(tree) if isinstance(node, ast.Attribute)}
    words = {node.arg for node in ast.walk(tree) if isinstance(node, ast.keyword)}
    inside = {part for node in ast.walk(tree) if isinstance(node, ast.Constant) for part in str(node.value).split()}
    for name in stored - outside - inside - words:
        text = re.sub(rf"\b{name}\b", f"{name}_here", text)
    return "# another hand\n\n" + text


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
