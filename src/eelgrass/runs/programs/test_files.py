"""Files of tests, which define what pytest calls and do nothing by themselves."""

from __future__ import annotations

import ast
from dataclasses import replace

from eelgrass.parsing import parsed
from eelgrass.runs.order import Order
from eelgrass.runs.pythons.libraries import can_be_imported

#: No files are left beside the tests: they are run where the person keeps them.
_ARGUMENTS = ("-p", "no:cacheprovider")
_DEFINING = (
    *(ast.FunctionDef, ast.AsyncFunctionDef, ast.ClassDef),
    *(ast.Import, ast.ImportFrom, ast.Assign, ast.AnnAssign),
)


def by_pytest(order: Order, path: tuple[str, ...]) -> Order:
    """The order by pytest, where its program is a file of tests and an interpreter that looks for modules along `path`
    has pytest; else as it is."""
    program = order.program
    if program is None or order.module or not can_be_imported("pytest", program.parent, path):
        return order
    text = order.text if order.text is not None else program.read_bytes()
    if not holds_tests(text):
        return order
    arguments = (*_ARGUMENTS, str(program.absolute()), *order.arguments)
    return replace(order, module="pytest", arguments=arguments)


def holds_tests(text: str | bytes) -> bool:
    """Whether a program has functions or classes named as tests, and nothing that runs unless somebody calls it."""
    try:
        body = parsed(text).body
    except (SyntaxError, ValueError, RecursionError, MemoryError):
        return False
    return any(map(_is_test, body)) and all(map(_only_defines, body)) and not _calls_its_own(body)


def _is_test(node: ast.stmt) -> bool:
    if isinstance(node, ast.ClassDef):
        return node.name.startswith("Test")
    return isinstance(node, (ast.FunctionDef, ast.AsyncFunctionDef)) and node.name.startswith("test_")


def _calls_its_own(body: list[ast.stmt]) -> bool:
    """Whether the module itself calls a function or class that it defines: then it does something by itself."""
    own = {node.name for node in body if isinstance(node, (ast.FunctionDef, ast.AsyncFunctionDef, ast.ClassDef))}
    plain = (node for node in body if isinstance(node, (ast.Assign, ast.AnnAssign)))
    calls = (part.func for node in plain for part in ast.walk(node) if isinstance(part, ast.Call))
    return any(isinstance(called, ast.Name) and called.id in own for called in calls)


def _only_defines(node: ast.stmt) -> bool:
    if isinstance(node, ast.Expr):
        return isinstance(node.value, ast.Constant)
    return isinstance(node, _DEFINING)
