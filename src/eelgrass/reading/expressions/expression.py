"""What a person asks: an expression, read and found to be one."""

from __future__ import annotations

import ast
import string
from dataclasses import dataclass

from eelgrass.errors import EelgrassError
from eelgrass.parsing import parsed, parsed_expression


class ExpressionError(EelgrassError):
    """A question that cannot be understood: a sentence, and the column (from 0) that it is about."""

    def __init__(self, sentence: str, column: int) -> None:
        super().__init__(sentence)
        self.column = column


@dataclass(frozen=True)
class Expression:
    """An expression, with its text and the names in it that are looked up."""

    text: str
    tree: ast.expr
    names: tuple[str, ...]


def parse_expression(text: str) -> Expression:
    """Reads a question. Raises ExpressionError, saying in plain words what is wrong with it."""
    if not text.strip():
        raise ExpressionError("There is no question here yet: write an expression.", 0)
    try:
        tree = parsed_expression(text.strip())
    except SyntaxError as error:
        if _is_statement(text):
            raise ExpressionError(_instead_of(text), 0) from error
        column = max((error.offset or 1) - 1, 0)
        raise ExpressionError(f"Python does not understand this question: {error.msg}.", column) from error
    except (ValueError, RecursionError, MemoryError) as error:
        raise ExpressionError("This question is too long or too deeply nested.", 0) from error
    return Expression(text.strip(), tree, names_in(tree))


def is_expression(text: str) -> bool:
    """Whether a text can be understood as a question."""
    try:
        parse_expression(text)
    except ExpressionError:
        return False
    return True


def template(text: str) -> Expression:
    """A text with expressions in braces, as `{total} of {len(beds)}`, as a question whose answer is the text filled in.
    Raises ExpressionError."""
    parts: list[ast.expr] = []
    try:
        for before, inside, how, conversion in string.Formatter().parse(text):
            parts.append(ast.Constant(before))
            if inside is not None:
                its = parse_expression(inside)
                spec = template(how).tree if how else None
                parts.append(ast.FormattedValue(its.tree, ord(conversion) if conversion else -1, spec))
    except ValueError as error:
        raise ExpressionError(f"The braces in this text do not fit together: {error}.", 0) from error
    tree = ast.JoinedStr(parts)
    return Expression(text, tree, names_in(tree))


def names_in(tree: ast.expr) -> tuple[str, ...]:
    """The names of an expression that are looked up, in the order of the text."""
    bound = {part.id for part in ast.walk(tree) if isinstance(part, ast.Name) and isinstance(part.ctx, ast.Store)}
    names = [part for part in ast.walk(tree) if isinstance(part, ast.Name) and part.id not in bound]
    names.sort(key=lambda part: (part.lineno, part.col_offset))
    return tuple(dict.fromkeys(part.id for part in names))


def _is_statement(text: str) -> bool:
    try:
        return bool(parsed(text).body)
    except (SyntaxError, ValueError, RecursionError, MemoryError):
        return False


def _instead_of(text: str) -> str:
    assigned = isinstance(parsed(text).body[0], ast.Assign)
    hint = " To compare, write == with two signs." if assigned else ""
    return f"A question is an expression; this would do something.{hint}"
