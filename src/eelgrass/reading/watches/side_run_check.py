"""Whether a side run came to the same place as the recording, as far as that can be told."""

from __future__ import annotations

import ast
import builtins
import re

from eelgrass.reading.expressions import safe_builtins
from eelgrass.reading.expressions.expression import Expression, ExpressionError
from eelgrass.reading.recording import Recording
from eelgrass.reading.state import value_text
from eelgrass.reading.state.call_stack import bindings_of, stack_at
from eelgrass.trace.model import Texts
from eelgrass.trace.values import NOT_SET

#: Attributes that lead from a value into the interpreter.
_INNER = re.compile(r"__|(gi|cr|ag|f|tb|co)_|mro$|func_|im_")
COMPREHENSIONS = ("<listcomp>", "<setcomp>", "<dictcomp>")
#: Built-in names that a question may use in a side run.
_ALLOWED = frozenset(
    (*safe_builtins.FUNCTIONS, "isinstance", "issubclass", "callable", "iter", "next", "map", "filter")
)


def frames_out(recording: Recording, frame: int, step: int) -> int:
    """How many calls further out than the innermost frame at a step another one on the stack is; 0 where it is none.
    Comprehensions do not count, which have no frames in every version."""
    trace = recording.trace
    frames = [its for its, _ in stack_at(trace, step) if trace.function_of_frame(its).name not in COMPREHENSIONS]
    return len(frames) - 1 - frames.index(frame) if frame in frames else 0


def difference(recording: Recording, frame: int, step: int, written: int, names: dict[str, str]) -> str:
    """What was otherwise in a side run, in a sentence; '' where it came to the same place. `written` are the
    characters of output by then, `names` the texts of the plain names of the frame."""
    trace = recording.trace
    if sum(map(len, trace.texts.of(Texts.OUTPUT, Texts.ERRORS, before=step))) != written:
        return "The side run went another way than the recording: it did not print the same."
    for binding in bindings_of(trace, frame, step):
        recorded = trace.values.get(binding.value) if binding.value != NOT_SET else None
        told = names.get(binding.name)
        if told is not None and isinstance(recorded, (int, float, str, bool)) and repr(recorded) != told:
            return (
                f"The side run went another way than the recording: {binding.name} was {told} there, not {recorded!r}."
            )
    return ""


def word(type_: str) -> str:
    """The word for a Python type's name."""
    return value_text.TYPE_WORDS.get(type_, type_)


def need_harmless(recording: Recording, asked: Expression) -> None:
    """Raises ExpressionError unless a question calls nothing but what the program defines and functions that change
    nothing. What the program's own functions do is theirs, as in any run."""
    program = recording.trace.program
    own = {name for function in program.functions for name in (*function.local, *function.params)}
    for node in ast.walk(asked.tree):
        if isinstance(node, ast.Attribute) and _INNER.match(node.attr):
            raise ExpressionError(
                f"“{node.attr}” belongs to Python's inside; a side run does not touch it.", node.col_offset
            )
        if (
            isinstance(node, ast.Name)
            and node.id not in own
            and (node.id.startswith("__") or (hasattr(builtins, node.id) and node.id not in _ALLOWED))
        ):
            raise ExpressionError(f"“{node.id}” is not among the functions that a side run calls.", node.col_offset)
