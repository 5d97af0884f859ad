"""What a name in the text is worth: now, and when its line last ran."""

from __future__ import annotations

import ast
from dataclasses import dataclass

from eelgrass.parsing import parsed_expression
from eelgrass.reading.recording import Recording
from eelgrass.reading.state import value_text
from eelgrass.reading.state.call_stack import stack_at
from eelgrass.reading.state.value_paths import value_at_path
from eelgrass.trace.values import NOT_SET

_MOST_CHARACTERS = 300


@dataclass(frozen=True)
class Pointed:
    """A name or field with its type in words and its text; `then` is its text when the line last ran, where that was
    another, else ''."""

    name: str
    type_word: str
    text: str
    then: str


def name_at(line: str, column: int) -> str:
    """The name, or name with fields as `crab.place`, that stands at a column (in characters from 0); '' for none."""
    if not 0 <= column < len(line) or not (line[column].isidentifier() or line[column].isdigit()):
        return ""
    start = end = column
    while start > 0 and (line[start - 1].isidentifier() or line[start - 1].isdigit() or line[start - 1] == "."):
        start -= 1
    while end < len(line) and (line[end].isidentifier() or line[end].isdigit()):
        end += 1
    found = line[start:end].strip(".")
    try:
        tree = parsed_expression(found)
    except (SyntaxError, ValueError):
        return ""
    return found if isinstance(tree, (ast.Name, ast.Attribute)) else ""


def pointed(recording: Recording, module: int, line: int, name: str, step: int) -> Pointed | None:
    """What a name on a line of the text is worth at a step, as seen from the innermost frame of the call stack whose
    text is around that line; None when it has no value."""
    frame = _frame_around(recording, module, line, step)
    now = value_at_path(recording.trace, frame, name, step)
    if now == NOT_SET:
        return None
    text = value_text.text(recording.trace, now, step, _MOST_CHARACTERS)[:_MOST_CHARACTERS]
    visit = recording.visits.latest(module, line, step)
    then = ""
    if visit >= 0:
        before = value_at_path(recording.trace, recording.stepping.frame_of(visit), name, visit)
        if before != NOT_SET:
            then = value_text.text(recording.trace, before, visit, _MOST_CHARACTERS)[:_MOST_CHARACTERS]
    return Pointed(name, value_text.type_word(recording.trace, now, step), text, then if then != text else "")


def _frame_around(recording: Recording, module: int, line: int, step: int) -> int:
    trace = recording.trace
    functions = trace.program.functions
    around = [its for its in trace.program.statements if its.line == line and functions[its.function].module == module]
    wanted = around[0].function if around else -1
    frames = [frame for frame, _ in stack_at(trace, step)]
    for frame in reversed(frames):
        if int(trace.frames.function[frame]) == wanted:
            return frame
    visit = recording.visits.latest(module, line, step)
    return recording.stepping.frame_of(visit) if visit >= 0 else frames[-1]
