"""Which values an exception was about: those of the names in the part of the line that raised it."""

from __future__ import annotations

import ast

from eelgrass.parsing import parsed_expression
from eelgrass.reading.lines.exception_paths import ExceptionPath
from eelgrass.reading.lines.worked_line import Status
from eelgrass.reading.recording import Recording
from eelgrass.reading.state import value_text
from eelgrass.reading.state.call_stack import value_of_name
from eelgrass.trace.values import NOT_SET

#: Errors that other values would have kept away; of a name that is not there, there is no value.
_ABOUT_VALUES = frozenset(
    ("TypeError", "ValueError", "IndexError", "KeyError", "ZeroDivisionError", "AttributeError", "OverflowError")
)
_MOST, _MOST_CHARACTERS = 3, 30


def error_values(recording: Recording, path: ExceptionPath) -> str:
    """A sentence with the names and values, as “total” is the text '12'; '' where there are none to tell."""
    raised = path.stations[0].step
    if path.type not in _ABOUT_VALUES:
        return ""
    frame, step = recording.stepping.frame_of(raised), recording.stepping.previous_in_frame(raised)
    worked = recording.worked_lines.at(step)
    part = next((its for its in worked.parts if its.status is Status.RAISED), None) if worked is not None else None
    if part is None:
        return ""
    told = []
    for name in _names(part.text)[:_MOST]:
        value = value_of_name(recording.trace, frame, name, step)
        if value != NOT_SET:
            text = value_text.text(recording.trace, value, step, _MOST_CHARACTERS + 1)
            if len(text) <= _MOST_CHARACTERS and not text.startswith("<"):
                told.append(f"“{name}” is {text} ({value_text.type_word(recording.trace, value, step)})")
    return f"{', '.join(told)}." if told else ""


def _names(text: str) -> list[str]:
    """The names that an expression reads, in their order, but for functions that it calls."""
    try:
        tree = parsed_expression(text)
    except SyntaxError:
        return []
    called = {id(node.func) for node in ast.walk(tree) if isinstance(node, ast.Call)}
    names = [node for node in ast.walk(tree) if isinstance(node, ast.Name) and id(node) not in called]
    return list(dict.fromkeys(node.id for node in sorted(names, key=lambda its: (its.lineno, its.col_offset))))
