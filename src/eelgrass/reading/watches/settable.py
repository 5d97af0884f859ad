"""What may be given another value at a step: names of the frames on the stack, elements and fields."""

from __future__ import annotations

import ast
from typing import NamedTuple

from eelgrass.parsing import parsed
from eelgrass.reading.expressions.expression import ExpressionError, parse_expression
from eelgrass.reading.recording import Recording
from eelgrass.reading.state.call_stack import stack_at
from eelgrass.reading.state.name_lookup import NO_SLOT, owner_of, slot_of
from eelgrass.reading.watches.side_run_check import COMPREHENSIONS, frames_out, need_harmless
from eelgrass.trace.values import NOT_SET


class Wish(NamedTuple):
    """What is to get another value: a name, an element or a field, `up` calls further out than the innermost frame;
    `frame` is the one whose name it is, -1 for the others."""

    up: int
    frame: int
    target: str
    expression: str


def wish(recording: Recording, step: int, frame: int, text: str) -> Wish:
    """What `TARGET = EXPRESSION` means in a frame on the stack at a step. Raises ExpressionError where it is no such
    thing, or what is to be set is not there."""
    try:
        statement = parsed(text.strip()).body[0]
    except (SyntaxError, ValueError, IndexError) as error:
        raise ExpressionError(f"“{text}” does not say what is to be set: NAME = VALUE is wanted.", 0) from error
    if not isinstance(statement, ast.Assign) or len(statement.targets) > 1:
        raise ExpressionError(f"“{text}” does not say what is to be set: NAME = VALUE is wanted.", 0)
    target, value = (ast.unparse(its) for its in (statement.targets[0], statement.value))
    for its in (target, value):
        need_harmless(recording, parse_expression(its))
    trace = recording.trace
    if frame not in (its for its, _ in stack_at(trace, step)):
        raise ExpressionError(f"That call is not on the stack at step {step:,}, so nothing can be set in it.", 0)
    if trace.function_of_frame(frame).name in COMPREHENSIONS:
        raise ExpressionError("Within a comprehension nothing can be set.", 0)
    owner = -1
    if isinstance(statement.targets[0], ast.Name):
        owner = owner_of(trace, frame, target)
        slot = slot_of(trace, frame, target)
        if owner < 0 or slot == NO_SLOT or trace.histories.value_at(slot, step) == NOT_SET:
            raise ExpressionError(f"There is no “{target}” at step {step:,}, so it cannot be set.", 0)
    elif not isinstance(statement.targets[0], (ast.Subscript, ast.Attribute)):
        raise ExpressionError(f"“{target}” cannot be set: one name, element or field at a time.", 0)
    return Wish(frames_out(recording, frame, step), owner, target, value)
