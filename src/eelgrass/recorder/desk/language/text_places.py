"""Places in a text as Tk writes them: `2.5`, `end`, `insert`, with steps from there."""

from __future__ import annotations

import re
from typing import Any

from eelgrass.recorder.desk.language.words import TclError, as_text

_BASE = re.compile(r"\s*(end|insert|current|-?\d+\.(?:end|-?\d+)|@-?\d+,-?\d+|[\w.]+)")
_STEP = re.compile(
    r"\s*(?:([+-])\s*(\d+)\s*(?:display\s+|any\s+)?(c\w*|i\w*|l\w*)|(linestart|lineend|wordstart|wordend))"
)


def offset(text: str, place: Any, cursor: int, marks: dict[str, int]) -> int:
    """How many letters are before a place of a text, which Tk takes to end with one more line. Raises TclError."""
    words = as_text(place)
    found = _BASE.match(words)
    if found is None:
        raise TclError(f'bad text index "{words}"')
    at, rest = _begin(text, found[1], cursor, marks, words), words[found.end() :]
    while rest.strip():
        step = _STEP.match(rest)
        if step is None:
            raise TclError(f'bad text index "{words}"')
        at, rest = _moved(text, at, step), rest[step.end() :]
    return at


def place_at(text: str, at: int) -> str:
    """A place by how many letters are before it."""
    before = (text + "\n")[: min(at, len(text) + 1)]
    return f"{before.count(chr(10)) + 1}.{len(before) - before.rfind(chr(10)) - 1}"


def _begin(text: str, base: str, cursor: int, marks: dict[str, int], words: str) -> int:
    if base == "end":
        return len(text) + 1
    if base in ("insert", "current"):
        return cursor if base == "insert" else 0
    if base in marks:
        return marks[base]
    if base.startswith("@"):
        return 0
    line, dot, column = base.partition(".")
    if not dot or not line.lstrip("-").isdecimal():
        raise TclError(f'bad text index "{words}"')
    lines = text.split("\n")
    row = int(line) - 1
    if row >= len(lines):
        return len(text) + 1
    if row < 0:
        return 0
    start = sum(len(one) + 1 for one in lines[:row])
    return start + (len(lines[row]) if column == "end" else min(max(int(column), 0), len(lines[row])))


def _moved(text: str, at: int, step: re.Match[str]) -> int:
    whole = text + "\n"
    start = whole.rfind("\n", 0, at) + 1
    end = whole.find("\n", at) if at < len(whole) else len(whole)
    if step[4]:
        if step[4] == "linestart":
            return start
        if step[4] == "lineend":
            return end
        return _word(whole, at, step[4] == "wordend")
    count = int(step[2]) * (1 if step[1] == "+" else -1)
    if not step[3].startswith("l"):
        return min(max(at + count, 0), len(whole))
    line, column = place_at(text, at).split(".")
    return _begin(text, f"{max(int(line) + count, 1)}.{column}", 0, {}, "")


def _word(whole: str, at: int, is_end: bool) -> int:
    def is_letter(place: int) -> bool:
        return 0 <= place < len(whole) and (whole[place].isalnum() or whole[place] == "_")

    if not is_letter(at):
        return min(at + 1, len(whole)) if is_end else at
    while is_letter(at if is_end else at - 1):
        at += 1 if is_end else -1
    return at
