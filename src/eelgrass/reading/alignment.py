"""The same place in another recording, or in a text that has been changed since."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from difflib import SequenceMatcher

from eelgrass.reading.recording import Recording
from eelgrass.trace.columns import find
from eelgrass.trace.model import StepKind

#: Lines that have so much in common are one line that was changed.
_ALIKE = 0.5


def matched_lines(old: str, new: str) -> dict[int, int]:
    """For the lines of an old text that are still there, their numbers in the new one, from 1. Lines that were changed
    where they stand count as still there."""
    if old == new:
        return {line: line for line in range(1, old.count("\n") + 2)}
    before, after = old.split("\n"), new.split("\n")
    matcher = SequenceMatcher(None, before, after, autojunk=False)
    matched: dict[int, int] = {}
    for tag, first, end, new_first, new_end in matcher.get_opcodes():
        if tag == "equal":
            matched.update({line + 1: new_first + line - first + 1 for line in range(first, end)})
        elif tag == "replace":
            matched.update(_changed_lines(before, after, range(first, end), range(new_first, new_end)))
    return matched


def _changed_lines(before: list[str], after: list[str], old: range, new: range) -> dict[int, int]:
    """Which of some lines became which others: each, in order, the first that is like it; one line in the place of one
    is that line, changed."""
    if len(old) == len(new) == 1:
        return {old.start + 1: new.start + 1}
    found, start = {}, new.start
    for line in old:
        for other in range(start, new.stop):
            if SequenceMatcher(None, before[line].strip(), after[other].strip()).ratio() > _ALIKE:
                found[line + 1] = other + 1
                start = other + 1
                break
    return found


def line_after(lines: Mapping[int, int], texts: list[str], line: int, statement: str) -> tuple[int, str]:
    """Where something that is fastened to a statement is in a changed text, and the statement there. `lines` are the
    matched ones, `texts` those of the changed text. The line is 0 when the statement is gone; it comes back where one
    line alone has become again what it was."""
    line = lines.get(line, 0) if line else _only_line(texts, statement)
    return line, texts[line - 1].strip() if line else statement


def _only_line(texts: list[str], statement: str) -> int:
    lines = [line for line, text in enumerate(texts, 1) if text.strip() == statement]
    return lines[0] if len(lines) == 1 and statement else 0


@dataclass(frozen=True)
class Found:
    """A step of another recording (-1: there is none), and why it is not quite the one looked for, or ''."""

    step: int
    why: str = ""


def same_place(before: Recording, step: int, after: Recording) -> Found:
    """The visit in another recording that is the same, by its statement and by how often that had run."""
    visit = _line_step(before, step)
    statement = int(before.trace.steps.statement[visit]) if visit >= 0 else -1
    if statement < 0:
        return Found(-1)
    line = before.trace.line_of(visit)
    there = _statement_after(before, statement, after)
    if there < 0:
        return Found(-1, f"Line {line} of the text before is gone; this is the beginning of the new run.")
    number = find(before.visits.of_statement(statement), visit + 1)
    visits = after.visits.of_statement(there)
    new_line = after.trace.program.statements[there].line
    if not len(visits):
        return Found(-1, f"Line {new_line} does not run in the new run; this is its beginning.")
    if number > len(visits):
        times = "once" if len(visits) == 1 else f"{len(visits)} times"
        return Found(int(visits[-1]), f"Line {new_line} runs only {times} in the new run; this is the last time.")
    found = int(visits[number - 1])
    return Found(found if visit == step else max(after.stepping.next_in_frame(found), found))


def _line_step(recording: Recording, step: int) -> int:
    """The step itself, or the latest one before it in its frame at which a statement was about to run."""
    while step >= 0 and recording.trace.steps.kind[step] != StepKind.LINE:
        step = recording.stepping.previous_in_frame(step)
    return step


def _statement_after(before: Recording, statement: int, after: Recording) -> int:
    """The statement of another recording's text that stands where this one does; -1 when it is gone."""
    old, new = before.trace.program, after.trace.program
    its = old.statements[statement]
    module = old.functions[its.function].module
    name = old.modules[module].file
    modules = [number for number, other in enumerate(new.modules) if other.file == name]
    if not modules and module < len(new.modules):
        modules = [module]
    if not modules:
        return -1
    line = matched_lines(old.modules[module].source, new.modules[modules[0]].source).get(its.line)
    here = [
        number
        for number, other in enumerate(new.statements)
        if other.line == line and new.functions[other.function].module == modules[0]
    ]
    alike = [number for number in here if new.statements[number].kind == its.kind]
    return (alike or here or [-1])[0]
