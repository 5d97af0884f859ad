"""The remarks of a text: its comments and docstrings, with the function that each is about."""

from __future__ import annotations

import ast
import io
import re
import tokenize
from collections.abc import Iterator
from dataclasses import dataclass

from eelgrass.parsing import parsed

#: A longer text has no remarks that anybody would claim.
_MOST_CHARACTERS = 500_000
_SENTENCES = re.compile(r"[.;!]\s+|\n")


@dataclass(frozen=True)
class Remark:
    """A sentence of a comment or docstring: the line that it stands on, and what it says."""

    line: int
    text: str


def remarks_of(source: str) -> list[Remark]:
    """All of a module's, in the order of the text; none of a text that is no program."""
    if len(source) > _MOST_CHARACTERS:
        return []
    try:
        found = [*_comments(source), *_docstrings(parsed(source))]
    except (SyntaxError, ValueError, RecursionError, MemoryError, tokenize.TokenError):
        return []
    return sorted(found, key=lambda its: its.line)


def _comments(source: str) -> Iterator[Remark]:
    for token in tokenize.generate_tokens(io.StringIO(source).readline):
        if token.type == tokenize.COMMENT:
            yield from _sentences(token.start[0], token.string.lstrip("#! "))


def _docstrings(tree: ast.Module) -> Iterator[Remark]:
    for node in ast.walk(tree):
        if isinstance(node, (ast.Module, ast.ClassDef, ast.FunctionDef, ast.AsyncFunctionDef)) and node.body:
            first = node.body[0]
            told = first.value if isinstance(first, ast.Expr) else None
            if isinstance(told, ast.Constant) and isinstance(told.value, str):
                for place, line in enumerate(told.value.split("\n")):
                    yield from _sentences(told.lineno + place, line)


def _sentences(line: int, text: str) -> Iterator[Remark]:
    for sentence in _SENTENCES.split(text):
        if said := sentence.strip(" .\t-*"):
            yield Remark(line, said)
