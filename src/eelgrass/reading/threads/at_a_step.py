"""What statements of programs with tasks and locks stand for at a step: objects, and what is awaited."""

from __future__ import annotations

import ast

from eelgrass.reading.expressions.batch import outcome
from eelgrass.reading.expressions.evaluator import Evaluator
from eelgrass.reading.expressions.python_values import Thing
from eelgrass.reading.recording import Recording


def object_at(recording: Recording, node: ast.expr, step: int) -> int:
    """The object that an expression stands for at a step; -1 where it is none, or cannot be told."""
    frame = recording.stepping.frame_of(step)
    its = outcome(lambda: Evaluator(recording.trace, frame, step).value(node))
    return its.number if isinstance(its, Thing) else -1


def first_await(node: ast.AST | None) -> ast.expr | None:
    """What a statement awaits first; None for none, and for one with a body: that is not done at its step."""
    if node is None or hasattr(node, "body"):
        return None
    return next((part.value for part in ast.walk(node) if isinstance(part, ast.Await)), None)
