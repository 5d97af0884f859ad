"""A program's text as a file's bytes and back; what Python says of an error in it, in plain words."""

from __future__ import annotations

import codecs
import io
import re
import tokenize
from pathlib import Path

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
    except (SyntaxError, UnicodeError, LookupError):  # a declaration of what is no encoding, or a wrong one
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
    try:
        return mark + text.encode(encoding)
    except LookupError as error:
        raise ValueError(f"no text can be written in {encoding}") from error


def explained(message: str, text: str = "") -> str:
    """What Python says of an error, in plain words; `text` is the line."""
    if re.match(r"\s*else\s+if\b", text):
        return "Another condition begins with “elif”, in one word; “else” has none."
    for pattern, sentence in _PLAIN:
        match = re.search(pattern, message)
        if match:
            return sentence.format(*match.groups(), message=message)
    return f"Python does not understand this: {message}."
