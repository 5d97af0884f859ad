"""What is wrong, or looks wrong, with a program's text before it runs, in plain words."""

from __future__ import annotations

import ast
import re
import warnings
from functools import lru_cache
from pathlib import Path

from pyflakes import checker, messages

from eelgrass.parsing import parsed
from eelgrass.runs.pythons.libraries import can_be_imported
from eelgrass.runs.texts.remarks import Diagnostic, remarks
from eelgrass.runs.texts.source_text import explained

#: So many texts' remarks are kept, since the same text is judged again and again.
_KEPT = 8
#: More errors than this are not looked for: what comes after so many is mostly their echo.
MOST_ERRORS = 5
MOST_REMARKS = 40


@lru_cache(_KEPT)
def diagnostics(source: str, folder: Path | None = None, path: tuple[str, ...] = ()) -> list[Diagnostic]:
    """Errors and, where there are none, quiet warnings, in the order of their lines. The text's own modules are in
    `folder`; its interpreter looks for others along `path`."""
    errors = _errors(source)
    if errors:
        return errors
    with warnings.catch_warnings():
        warnings.simplefilter("ignore")
        try:
            tree = parsed(source)
            found = [*_flakes(tree), *remarks(tree, lambda name: can_be_imported(name, folder or Path(), path))]
        except (ValueError, RecursionError, MemoryError):
            return []
    found = list(dict.fromkeys(found))
    return sorted(found, key=lambda remark: (remark.line, remark.column))[:MOST_REMARKS]


def _errors(source: str) -> list[Diagnostic]:
    """The errors of syntax. Python stops at the first one; to find more, its line is taken out and the rest is looked
    at again."""
    lines = source.split("\n")
    found: list[Diagnostic] = []
    while len(found) < MOST_ERRORS:
        error = _first_error("\n".join(lines))
        if error is None or any(error.line == other.line for other in found):
            break
        found.append(error)
        place = error.line - 1
        if place >= len(lines):
            break
        text = lines[place]
        indent = text[: len(text) - len(text.lstrip())]
        opens_block = re.match(r"\s*(if|elif|else|for|while|def|class|with|try|except|finally|match|case)\b", text)
        lines[place] = indent + ("if True:" if opens_block else "pass")
    return sorted(found, key=lambda remark: remark.line)


def _first_error(source: str) -> Diagnostic | None:
    with warnings.catch_warnings():
        warnings.simplefilter("ignore")
        try:
            compile(source, "<text>", "exec", dont_inherit=True)
        except SyntaxError as error:
            line, column = error.lineno or 1, max((error.offset or 1) - 1, 0)
            end = (error.end_offset or 0) - 1 if error.end_lineno == error.lineno else 0
            told = explained(error.msg, error.text or "")
            return Diagnostic(line, column, max(end, column + 1), told, is_error=True)
        except (ValueError, RecursionError, MemoryError) as error:
            return Diagnostic(1, 0, 1, f"This text cannot be read as a program: {error}.", is_error=True)
    return None


def _flakes(tree: ast.Module) -> list[Diagnostic]:
    """What pyflakes notices, as far as it matters to a beginner."""
    found = []
    for message in checker.Checker(tree, builtins=("__file__",)).messages:
        sentence = _sentence(message)
        if sentence:
            name = str(message.message_args[0]) if message.message_args else ""
            found.append(Diagnostic(message.lineno, message.col, message.col + max(len(name), 1), sentence, False))
    return found


def _sentence(message: messages.Message) -> str:
    name = str(message.message_args[0]) if message.message_args else ""
    if isinstance(message, messages.UndefinedName):
        return f"“{name}” is not set anywhere: is it misspelt?"
    if isinstance(message, messages.UndefinedLocal):
        return f"“{name}” is used here before this function gives it a value."
    if isinstance(message, messages.UnusedVariable):
        return f"“{name}” is set here and never used."
    if isinstance(message, messages.UnusedImport):
        return f"“{name}” is imported and never used."
    if isinstance(message, messages.RedefinedWhileUnused):
        return f"“{name}” was defined before and is replaced here without having been used."
    if isinstance(message, messages.IsLiteral):
        return "“is” asks whether two things are one; to compare values, write “==”."
    if isinstance(message, messages.IfTuple):
        return "This condition is a tuple, and so always true: is a comma too much?"
    if isinstance(message, messages.AssertTuple):
        return "This claim is a tuple, and so always holds: are the brackets too much?"
    if isinstance(message, messages.MultiValueRepeatedKeyLiteral):
        return f"The key {name} stands here twice; only the last value counts."
    if isinstance(message, messages.FStringMissingPlaceholders):
        return "This text begins with f, but nothing is put into it."
    return ""
