"""Making nodes of woven text."""

from __future__ import annotations

import ast
from collections.abc import Iterable, Iterator
from typing import TypeVar

from eelgrass.recorder.contract import MARK

#: What has a frame of its own when it runs.
Framed = ast.Module | ast.ClassDef | ast.FunctionDef | ast.AsyncFunctionDef

_Node = TypeVar("_Node", bound=ast.AST)


def hook(name: str) -> ast.expr:
    """The place of a hook object."""
    return ast.Constant(MARK + name)


def call(name: str, *arguments: ast.expr) -> ast.Call:
    """A call of a hook."""
    return ast.Call(hook(name), list(arguments), [])


def append(to: str, value: ast.expr) -> ast.Call:
    """An append to one of the recorder's lists; CPython runs this form, as a statement, without a call."""
    return ast.Call(ast.Attribute(hook(to), "append", ast.Load()), [value], [])


def load(name: str) -> ast.Name:
    """A name that is read."""
    return ast.Name(name, ast.Load())


def placed(nodes: Iterable[_Node], at: ast.AST) -> list[_Node]:
    """Gives new nodes, which have no place of their own yet, the place of `at`.

    What stands below a node that has a place has been placed before, so this costs only as much as is new.
    """
    nodes = list(nodes)
    place = {name: getattr(at, name, None) for name in ("lineno", "col_offset", "end_lineno", "end_col_offset")}
    waiting: list[ast.AST] = list(nodes)
    while waiting:
        node = waiting.pop()
        if not hasattr(node, "lineno"):
            if "lineno" in node._attributes:
                node.__dict__.update(place)
            waiting.extend(ast.iter_child_nodes(node))
    return nodes


def is_docstring(node: ast.stmt, frame: Framed) -> bool:
    """Whether `node` is the docstring of `frame`, which is no statement."""
    return (
        node is frame.body[0]
        and isinstance(node, ast.Expr)
        and isinstance(node.value, ast.Constant)
        and isinstance(node.value.value, str)
    )


def is_future(node: ast.stmt) -> bool:
    """Whether `node` imports from `__future__`, before which nothing may stand."""
    return isinstance(node, ast.ImportFrom) and node.module == "__future__"


def names_stored(node: ast.stmt) -> set[str]:
    """The names that a statement stores, as written."""
    return {name.id for name in ast.walk(node) if isinstance(name, ast.Name) and not isinstance(name.ctx, ast.Load)}


def names_imported(node: ast.AST) -> list[str]:
    """The names that an import statement binds, but for `*`; empty for any other node."""
    if not isinstance(node, (ast.Import, ast.ImportFrom)):
        return []
    return [alias.asname or alias.name.partition(".")[0] for alias in node.names if alias.name != "*"]


def own_statements(body: Iterable[ast.stmt]) -> Iterator[ast.stmt]:
    """The statements of a body at any depth, but not those of functions and classes defined in it."""
    for node in body:
        yield node
        if isinstance(node, (ast.FunctionDef, ast.AsyncFunctionDef, ast.ClassDef)):
            continue
        for field in ("body", "orelse", "finalbody"):
            yield from own_statements(getattr(node, field, []))
        for arm in (*getattr(node, "handlers", []), *getattr(node, "cases", [])):
            yield from own_statements(arm.body)
