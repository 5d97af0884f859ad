"""Lines that are marked as faulty in modules other than the program's main one, which keeps numbers alone."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Annotated

import msgspec

from eelgrass.reading.alignment import line_after, matched_lines


class MarkedLine(msgspec.Struct, frozen=True, forbid_unknown_fields=True, order=True):
    """A line of the module `file` (relative to the program's folder) as it is given, with its statement."""

    file: str
    line: Annotated[int, msgspec.Meta(ge=1)]
    statement: str = ""


def toggled(marks: Iterable[MarkedLine], mark: MarkedLine) -> tuple[MarkedLine, ...]:
    """The marks with one more, or, if it is there already, with one less."""
    others = [its for its in marks if (its.file, its.line) != (mark.file, mark.line)]
    return tuple(sorted([*others, mark] if len(others) == len([*marks]) else others))


def marks_after(marks: Iterable[MarkedLine], file: str, old: str, new: str) -> tuple[MarkedLine, ...]:
    """The marks in a module's changed text; those whose statement is gone are gone with it."""
    lines, texts = matched_lines(old, new), new.split("\n")
    found = []
    for mark in marks:
        line, statement = line_after(lines, texts, mark.line, mark.statement) if mark.file == file else (0, "")
        if mark.file != file:
            found.append(mark)
        elif line:
            found.append(MarkedLine(file, line, statement))
    return tuple(found)


def lines_now(marks: Iterable[MarkedLine], file: str, given: str, now: str) -> set[int]:
    """Where the marked lines of a module are in its text as it is now; those that are gone are left out."""
    its = [mark for mark in marks if mark.file == file]
    if not its:
        return set()
    lines, texts = matched_lines(given, now), now.split("\n")
    return {line for mark in its if (line := line_after(lines, texts, mark.line, mark.statement)[0])}
