"""The syntax tree of a recorded program's text, and where its statements are."""

from __future__ import annotations

import ast
from functools import lru_cache

from eelgrass.parsing import parsed
from eelgrass.trace.model import Trace

#: Kinds of statements whose value is in this field.
_VALUE_FIELD = {"if": "test", "while": "test", "assert": "test", "for": "iter", "asyncfor": "iter", "match": "subject"}


class SourceTree:
    """The trees of one recording's modules. The text is not believed to be a program: then there is no tree."""

    def __init__(self, trace: Trace) -> None:
        self.trace = trace
        self._tree = lru_cache(64)(self._parse)
        self.subscripts = lru_cache(64)(self._subscripts)

    def _parse(self, module: int) -> dict[tuple[int, int, str], ast.stmt]:
        try:
            tree = parsed(self.trace.program.modules[module].source)
        except (SyntaxError, ValueError, RecursionError, MemoryError):
            return {}
        return {
            (node.lineno, node.col_offset, type(node).__name__.lower()): node
            for node in ast.walk(tree)
            if isinstance(node, ast.stmt)
        }

    def statement(self, number: int) -> ast.stmt | None:
        """The tree of a statement; None where there is none."""
        its = self.trace.program.statements[number]
        module = self.trace.program.functions[its.function].module
        return self._tree(module).get((its.line, its.column, its.kind))

    def at(self, step: int) -> ast.stmt | None:
        """The tree of the statement that is about to run at a step; None where none is."""
        number = int(self.trace.steps.statement[step])
        return self.statement(number) if number >= 0 else None

    def _subscripts(self, function: int) -> list[ast.Subscript]:
        """The subscripts in the statements of a function, in the order of the text."""
        found: list[ast.Subscript] = []
        for number, its in enumerate(self.trace.program.statements):
            node = self.statement(number) if its.function == function else None
            parts = [] if node is None else own_parts(node)
            found += [one for part in parts for one in ast.walk(part) if isinstance(one, ast.Subscript)]
        return found

    def lines(self, number: int) -> list[str]:
        """The lines of the text of the module that a statement stands in."""
        its = self.trace.program.statements[number]
        return self.trace.program.module_of(its.function).source.split("\n")


#: What defines functions.
DEFINING = (ast.FunctionDef, ast.AsyncFunctionDef)


def lines_of_definition(node: ast.FunctionDef | ast.AsyncFunctionDef) -> range:
    """The lines at which a function may be said to begin: from its first decorator to its `def`."""
    first = min([node.lineno, *(its.lineno for its in node.decorator_list)])
    return range(first, node.lineno + 1)


def header_targets(statement: ast.stmt) -> list[ast.expr]:
    """What a compound statement's first line stores into."""
    if isinstance(statement, (ast.For, ast.AsyncFor)):
        return [statement.target]
    items = statement.items if isinstance(statement, (ast.With, ast.AsyncWith)) else []
    return [item.optional_vars for item in items if item.optional_vars is not None]


def own_parts(statement: ast.stmt) -> list[ast.AST]:
    """What of a statement is its own, without the statements in it, and without what its first line stores into;
    nothing of definitions."""
    if isinstance(statement, (ast.FunctionDef, ast.AsyncFunctionDef, ast.ClassDef)):
        return []
    return [*worked_out(statement), *guards(statement)] if hasattr(statement, "body") else [statement]


def decided_by(statement: ast.stmt) -> list[ast.expr]:
    """What a statement decides by: its condition, what it goes through, its subject with the guards of its cases."""
    return [*worked_out(statement), *guards(statement)] if type(statement).__name__.lower() in _VALUE_FIELD else []


def guards(statement: ast.stmt) -> list[ast.expr]:
    """The conditions of a statement's cases."""
    cases = statement.cases if isinstance(statement, ast.Match) else []
    return [case.guard for case in cases if case.guard is not None]


def worked_out(statement: ast.stmt) -> list[ast.expr]:
    """The expressions that a statement works out itself, in Python's order, without those of its body."""
    field = _VALUE_FIELD.get(type(statement).__name__.lower())
    if field is not None:
        return [getattr(statement, field)]
    if isinstance(statement, (ast.Assign, ast.AnnAssign, ast.Expr, ast.Return)):
        value = [statement.value] if statement.value is not None else []
        return value + [part for target in _targets(statement) for part in _parts_of_target(target)]
    if isinstance(statement, ast.AugAssign):
        return [*_parts_of_target(statement.target), _as_read(statement.target), statement.value]
    if isinstance(statement, (ast.With, ast.AsyncWith)):
        return [item.context_expr for item in statement.items]
    if isinstance(statement, ast.Raise):
        return [part for part in (statement.exc, statement.cause) if part is not None]
    if isinstance(statement, ast.Delete):
        return [part for target in statement.targets for part in _parts_of_target(target)]
    return []


def _targets(statement: ast.stmt) -> list[ast.expr]:
    if isinstance(statement, ast.Assign):
        return statement.targets
    return [statement.target] if isinstance(statement, ast.AnnAssign) else []


def _parts_of_target(target: ast.expr) -> list[ast.expr]:
    """What has to be worked out to know where a value goes: the owner and the index."""
    if isinstance(target, (ast.Tuple, ast.List)):
        return [part for inner in target.elts for part in _parts_of_target(inner)]
    if isinstance(target, ast.Starred):
        return _parts_of_target(target.value)
    if isinstance(target, ast.Subscript):
        return [target.value, target.slice]
    return [target.value] if isinstance(target, ast.Attribute) else []


def _as_read(target: ast.Name | ast.Attribute | ast.Subscript) -> ast.expr:
    """The target of `+=` as the expression that is read first, at the same place."""
    if isinstance(target, ast.Name):
        return ast.copy_location(ast.Name(target.id, ast.Load()), target)
    if isinstance(target, ast.Attribute):
        return ast.copy_location(ast.Attribute(target.value, target.attr, ast.Load()), target)
    return ast.copy_location(ast.Subscript(target.value, target.slice, ast.Load()), target)
