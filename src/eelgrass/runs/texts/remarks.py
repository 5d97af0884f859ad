"""What looks wrong with a program's text though Python takes it: lines that never run, values that go nowhere, methods
that are not called, modules and names that are hardly meant."""

from __future__ import annotations

import ast
import sys
from collections.abc import Callable, Iterator
from dataclasses import dataclass
from difflib import get_close_matches
from itertools import pairwise

#: Only names that are as near as this are taken for a slip.
_LIKENESS = 0.8
_METHODS = frozenset(name for kind in (str, bytes, list, dict, set) for name in vars(kind) if not name.startswith("_"))
#: Those that ask something of a text; a field of an object is hardly called so.
_ASKING = frozenset(name for name in _METHODS if name.startswith(("is", "startswith", "endswith")))
#: Expressions of which a statement of its own makes nothing.
_WITHOUT_EFFECT = (
    *(ast.Compare, ast.BinOp, ast.UnaryOp, ast.Name, ast.Attribute),
    *(ast.Subscript, ast.List, ast.Tuple, ast.Dict),
)
_PUBLIC_MODULES = sorted(name for name in sys.stdlib_module_names if not name.startswith("_"))

#: Whether the program can import a module.
CanImport = Callable[[str], bool]


@dataclass(frozen=True)
class Diagnostic:
    """Something about a place of the text: line and columns from 1 and 0, a sentence, and whether it keeps the text
    from running."""

    line: int
    column: int
    end_column: int
    sentence: str
    is_error: bool


def remarks(tree: ast.Module, can_import: CanImport) -> Iterator[Diagnostic]:
    """All of them, in no order."""
    methods = _METHODS - _fields(tree)
    tries = (node for node in ast.walk(tree) if isinstance(node, ast.Try))
    tried = {id(statement) for its in tries for statement in its.body}  # whether that raises is all that is wanted
    for node in ast.walk(tree):
        for body in (getattr(node, field, None) for field in ("body", "orelse", "finalbody")):
            if isinstance(body, list):
                yield from _after_the_end(body)
        if isinstance(node, ast.Expr) and id(node) not in tried:
            yield from _goes_nowhere(node, methods)
        elif isinstance(node, (ast.If, ast.While, ast.IfExp)):
            yield from _uncalled(node.test, methods & _ASKING)
        elif isinstance(node, ast.Import):
            for alias in node.names:
                yield from _misspelt_module(node, alias.name, can_import)
        elif isinstance(node, ast.ImportFrom) and not node.level:
            yield from _misspelt_module(node, node.module or "", can_import)
    yield from _never_read(tree)


def _fields(tree: ast.Module) -> set[str]:
    """The names that the text gives to fields of its own."""
    attributes = (node for node in ast.walk(tree) if isinstance(node, ast.Attribute))
    fields = {node.attr for node in attributes if isinstance(node.ctx, ast.Store)}
    classes = (node for node in ast.walk(tree) if isinstance(node, ast.ClassDef))
    inner = (part for its in classes for statement in its.body for part in ast.walk(statement))
    return fields | {part.id for part in inner if isinstance(part, ast.Name) and isinstance(part.ctx, ast.Store)}


def _told(node: ast.expr | ast.stmt, sentence: str) -> Diagnostic:
    is_one_line = node.end_lineno == node.lineno
    end = (node.end_col_offset or 0) if is_one_line else 0
    return Diagnostic(node.lineno, node.col_offset, max(end, node.col_offset + 1), sentence, is_error=False)


def _after_the_end(body: list[ast.stmt]) -> Iterator[Diagnostic]:
    """The statement after one that never lets the next one run."""
    for before, statement in pairwise(body):
        if isinstance(before, (ast.Return, ast.Raise, ast.Break, ast.Continue)):
            word = type(before).__name__.lower()
            sentence = f"This line can never run: the “{word}” above it leads away."
            yield Diagnostic(statement.lineno, statement.col_offset, statement.col_offset + 1, sentence, False)
            return


def _goes_nowhere(node: ast.Expr, methods: frozenset[str]) -> Iterator[Diagnostic]:
    its = node.value
    if isinstance(its, ast.Compare) and isinstance(its.ops[0], ast.Eq) and isinstance(its.left, ast.Name):
        name, value = its.left.id, ast.unparse(its.comparators[0])
        yield _told(node, f"This line only compares, and that goes nowhere; a value is given so: {name} = {value}")
    elif isinstance(its, ast.Attribute) and its.attr in methods:
        yield _told(node, f"“{ast.unparse(its)}” is named here, but not called: brackets are missing.")
    elif isinstance(its, _WITHOUT_EFFECT):
        yield _told(node, "What this line works out goes nowhere: nothing stores it, prints it or hands it on.")


def _uncalled(test: ast.expr, methods: frozenset[str]) -> Iterator[Diagnostic]:
    """Methods in a condition that are not called, which are always true."""
    if isinstance(test, ast.BoolOp):
        for value in test.values:
            yield from _uncalled(value, methods)
    elif isinstance(test, ast.UnaryOp) and isinstance(test.op, ast.Not):
        yield from _uncalled(test.operand, methods)
    elif isinstance(test, ast.Attribute) and test.attr in methods:
        text = ast.unparse(test)
        yield _told(test, f"“{text}” is not called here, and so always true: write “{text}()”.")


def _misspelt_module(node: ast.stmt, name: str, can_import: CanImport) -> Iterator[Diagnostic]:
    top = name.partition(".")[0]
    near = get_close_matches(top, _PUBLIC_MODULES, 1, _LIKENESS)
    if near and top not in sys.stdlib_module_names and not can_import(top):
        yield _told(node, f"There is no module “{top}” here: is “{near[0]}” meant?")


def _never_read(tree: ast.Module) -> Iterator[Diagnostic]:
    """Names of the module that get a value by a plain `=` and are read nowhere; those in capitals, and those of a text
    that other modules may import, are left alone."""
    nodes = list(ast.walk(tree))
    names = [node for node in nodes if isinstance(node, ast.Name)]
    read = {node.id for node in names if not isinstance(node.ctx, ast.Store)}
    if "__name__" in read or not any(isinstance(node, (ast.Expr, ast.For, ast.While)) for node in tree.body[1:]):
        return
    texts = " ".join(node.value for node in nodes if isinstance(node, ast.Constant) and isinstance(node.value, str))
    for statement in tree.body:
        target = statement.targets[0] if isinstance(statement, ast.Assign) and len(statement.targets) == 1 else None
        if isinstance(target, ast.Name) and not (target.id in read or target.id in texts or target.id.isupper()):
            read.add(target.id)
            if not target.id.startswith("_"):
                yield _told(target, f"“{target.id}” is set here and never used.")
