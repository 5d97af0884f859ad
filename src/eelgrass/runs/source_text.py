"""What is wrong, or looks wrong, with a program's text before it runs, in plain words."""

from __future__ import annotations

import ast
import codecs
import io
import re
import tokenize
import warnings
from functools import lru_cache
from pathlib import Path

from pyflakes import checker, messages

from eelgrass.runs.remarks import Diagnostic as Diagnostic
from eelgrass.runs.remarks import remarks

#: So many texts' remarks are kept, since the same text is judged again and again.
_KEPT = 8
#: More errors than this are not looked for: what comes after so many is mostly their echo.
MOST_ERRORS = 5
MOST_REMARKS = 40


#: What Python says of an error, as a pattern, and what that means.
_PLAIN: tuple[tuple[str, str], ...] = (
    (r"expected ':'", "A colon is missing: the line that begins a block ends with “:”."),
    (r"'(.)' was never closed", "The bracket “{0}” is opened here and never closed."),
    (r"unmatched '(.)'", "This “{0}” closes a bracket that was never opened."),
    (r"closing parenthesis '(.)' does not match opening parenthesis '(.)'", "“{0}” does not close the bracket “{1}”."),
    (r"unterminated (triple-quoted )?(f-)?string literal", "A quotation mark is missing: this text never ends."),
    (r"expected an indented block after (.*) on line (\d+)", "What belongs to the {0} of line {1} has to be indented."),
    (r"unexpected indent", "This line is indented further than the one before, and nothing asks for that."),
    (r"unindent does not match", "This line's indent fits none of the lines above it."),
    (r"invalid syntax\. Maybe you meant '==' ", "“=” gives a name a value; to compare two values, write “==”."),
    (r"cannot assign to (.*?) here\. Maybe you meant '=='", "“=” cannot give a value to {0}; to compare, write “==”."),
    (r"cannot assign to (.*)", "No value can be given to {0}."),
    (r"inconsistent use of tabs", "Some lines here are indented with tabs and others with blanks; use blanks only."),
    (r"'(return|yield|await)' outside", "“{0}” only makes sense inside of a function."),
    (r"'(break|continue)' (outside|not properly)", "“{0}” only makes sense inside of a loop."),
    (r"Missing parentheses in call to '(\w+)'", "“{0}” is a function: what it is given stands in brackets."),
    (r"invalid decimal literal", "This number is mixed up with letters; a name cannot begin with a digit."),
    (r"invalid character", "This character has no place in a program: {message}."),
    (r"perhaps you forgot a comma", "Something is missing between two parts here, perhaps a comma."),
)


def read(path: Path) -> str:
    """A program's text as Python reads it: by its encoding declaration, with line ends as `\\n`. Raises OSError."""
    return decoded(path.read_bytes())


def decoded(data: bytes) -> str:
    """A file's bytes as Python reads a program's text."""
    try:
        encoding, _ = tokenize.detect_encoding(io.BytesIO(data).readline)
        text = data.decode(encoding)
    except (SyntaxError, UnicodeDecodeError, LookupError):  # a declaration of what is no encoding, or a wrong one
        text = data.decode("utf-8", "replace")
    return text.replace("\r\n", "\n").replace("\r", "\n")


def encoded(text: str, before: bytes) -> bytes:
    """A text as a file's bytes, by its own encoding declaration, with the line ends and the mark at the beginning that
    the file had `before`. Raises ValueError when it cannot be encoded so."""
    try:
        encoding, _ = tokenize.detect_encoding(io.BytesIO(text.encode("utf-8", "surrogatepass")).readline)
    except SyntaxError as error:
        raise ValueError(f"the text declares an encoding that there is not ({error})") from error
    if b"\r\n" in before:
        text = text.replace("\r\n", "\n").replace("\n", "\r\n")
    mark = codecs.BOM_UTF8 if before.startswith(codecs.BOM_UTF8) else b""
    return mark + text.encode(encoding)


@lru_cache(_KEPT)
def diagnostics(source: str) -> list[Diagnostic]:
    """Errors and, where there are none, quiet warnings, in the order of their lines."""
    errors = _errors(source)
    if errors:
        return errors
    with warnings.catch_warnings():
        warnings.simplefilter("ignore")
        try:
            tree = ast.parse(source)
            found = [*_flakes(tree), *remarks(tree)]
        except (ValueError, RecursionError, MemoryError):
            return []
    found = list(dict.fromkeys(found))
    return sorted(found, key=lambda remark: (remark.line, remark.column))[:MOST_REMARKS]


def explained(message: str, text: str = "") -> str:
    """What Python says of an error, in plain words; `text` is the line."""
    if re.match(r"\s*else\s+if\b", text):
        return "Another condition begins with “elif”, in one word; “else” has none."
    for pattern, sentence in _PLAIN:
        match = re.search(pattern, message)
        if match:
            return sentence.format(*match.groups(), message=message)
    return f"Python does not understand this: {message}."


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
