"""Claims that the text of a program makes itself: in comments and docstrings, by type hints, by asserts that are
switched off. They are offered, never set."""

from __future__ import annotations

import ast
from collections.abc import Iterator
from dataclasses import dataclass

from eelgrass.parsing import parsed, parsed_expression
from eelgrass.reading.breakpoints.breakpoint import Breakpoint
from eelgrass.reading.breakpoints.locations import qualified_name
from eelgrass.reading.expressions.source_tree import DEFINING, lines_of_definition
from eelgrass.reading.stated.remarks import Remark, remarks_of
from eelgrass.reading.stated.sentences import claim_in, given_type, type_claim
from eelgrass.trace.model import Trace
from eelgrass.trace.program import Function, Module

_MOST = 60
_PLAIN = frozenset(("int", "float", "str", "bool", "list", "dict", "set", "tuple", "bytes"))
_OF_ELEMENTS = frozenset(("list", "set", "tuple"))


@dataclass(frozen=True)
class StatedClaim:
    """What a line of the text says, in its words, and the claim that it would be."""

    line: int
    said: str
    claim: Breakpoint


def stated_claims(trace: Trace) -> list[StatedClaim]:
    """All that a recorded program states and that is understood, in the order of the text."""
    found: dict[Breakpoint, StatedClaim] = {}
    for number, module in enumerate(trace.program.modules):
        reader = _Reader(trace, number, module)
        for its in sorted(reader.all(), key=lambda one: one.line):
            found.setdefault(its.claim, its)
    return list(found.values())[:_MOST]


class _Reader:
    """Reads one module's text."""

    def __init__(self, trace: Trace, number: int, module: Module) -> None:
        self.trace, self.number, self.module = trace, number, module
        try:
            tree = parsed(module.source)
        except (SyntaxError, ValueError, RecursionError, MemoryError):
            tree = ast.Module([], [])
        self._functions = [its for its in ast.walk(tree) if isinstance(its, DEFINING)]
        self._tree = tree

    def all(self) -> Iterator[StatedClaim]:
        for remark in remarks_of(self.module.source):
            yield from self._of_remark(remark)
        for function in self._functions:
            yield from self._of_hints(function)

    def _of_remark(self, remark: Remark) -> Iterator[StatedClaim]:
        around = self._around(remark.line)
        if remark.text.startswith("assert "):
            yield from self._of_assert(remark)
        elif told := claim_in(remark.text, self._names(around)):
            yield StatedClaim(remark.line, remark.text, self._claim(around, told))
        elif (type_ := given_type(remark.text)) is not None and around is not None:
            yield from self._of_results(remark.line, remark.text, around, *type_)

    def _of_assert(self, remark: Remark) -> Iterator[StatedClaim]:
        """An assert that stands in a comment: it is claimed at the next line that runs, unless that is a loop, whose
        line is come to more often."""
        condition = remark.text.removeprefix("assert ")
        statements = [its for its in ast.walk(self._tree) if isinstance(its, ast.stmt) and its.lineno > remark.line]
        behind = min(statements, key=lambda its: its.lineno, default=None)
        try:
            tree = parsed_expression(condition)
        except (SyntaxError, ValueError):
            return
        tree = tree.elts[0] if isinstance(tree, ast.Tuple) and len(tree.elts) == 2 else tree
        if behind is not None and not isinstance(behind, (ast.For, ast.AsyncFor, ast.While)):
            line, text = behind.lineno, self.module.lines[behind.lineno - 1].strip()
            its = Breakpoint(self.module.file, line, ast.unparse(tree), claims=True, statement=text)
            yield StatedClaim(remark.line, remark.text, its)

    def _of_hints(self, node: ast.FunctionDef | ast.AsyncFunctionDef) -> Iterator[StatedClaim]:
        for its in [*node.args.posonlyargs, *node.args.args, *node.args.kwonlyargs]:
            hint = _hinted(its.annotation)
            if hint is not None:
                said = f"{its.arg}: {ast.unparse(its.annotation or its)}"
                yield StatedClaim(its.lineno, said, self._claim(node, type_claim(its.arg, *hint)))
        hint = _hinted(node.returns)
        if hint is not None:
            yield from self._of_results(node.lineno, f"-> {ast.unparse(node.returns or node)}", node, *hint)

    def _of_results(
        self, line: int, said: str, node: ast.FunctionDef | ast.AsyncFunctionDef, type_: str, of: str | None
    ) -> Iterator[StatedClaim]:
        """What a function gives is claimed where it gives a name."""
        for its in ast.walk(node):
            if isinstance(its, ast.Return) and isinstance(its.value, ast.Name) and self._around(its.lineno) is node:
                text = self.module.lines[its.lineno - 1].strip()
                told = type_claim(its.value.id, type_, of)
                yield StatedClaim(
                    line, said, Breakpoint(self.module.file, its.lineno, told, claims=True, statement=text)
                )

    def _claim(self, around: ast.AST | None, condition: str) -> Breakpoint:
        function = self._function(around)
        if function is None:
            return Breakpoint(self.module.file, condition=condition, kind="everywhere", claims=True)
        name = qualified_name(self.trace.program, self.trace.program.functions.index(function))
        return Breakpoint(self.module.file, condition=condition, kind="function", name=name, claims=True)

    def _around(self, line: int) -> ast.FunctionDef | ast.AsyncFunctionDef | None:
        """The innermost function that a line stands in."""
        found = [its for its in self._functions if its.lineno <= line <= (its.end_lineno or its.lineno)]
        return max(found, key=lambda its: its.lineno, default=None)

    def _function(self, node: ast.AST | None) -> Function | None:
        """The recorded function of a `def`; None for the module."""
        if not isinstance(node, DEFINING):
            return None
        its = (one for one in self.trace.program.functions if one.module == self.number and one.name == node.name)
        return next((one for one in its if one.line in lines_of_definition(node)), None)

    def _names(self, around: ast.AST | None) -> set[str]:
        """The names that are known at a place."""
        functions = [its for its in self.trace.program.functions if its.module == self.number and its.kind == "module"]
        names = {name for its in functions for name in its.local}
        own = self._function(around)
        return names if own is None else names | {*own.local, *own.params, *own.free}


def _hinted(node: ast.expr | None) -> tuple[str, str | None] | None:
    """(the type, that of the elements) of a hint that is understood."""
    if isinstance(node, ast.Name) and node.id in _PLAIN:
        return ("(int, float)" if node.id == "float" else node.id), None
    if isinstance(node, ast.Subscript) and isinstance(node.value, ast.Name) and node.value.id in _OF_ELEMENTS:
        inner = node.slice.id if isinstance(node.slice, ast.Name) and node.slice.id in _PLAIN else None
        return node.value.id, "(int, float)" if inner == "float" else inner
    return None
