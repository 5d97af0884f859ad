"""Which of the program's own indices point into a list or text: found from the subscripts in the text."""

from __future__ import annotations

import ast
from dataclasses import dataclass

from eelgrass.reading.expressions.evaluator import Evaluator
from eelgrass.reading.recording import Recording
from eelgrass.reading.state.call_stack import stack_at
from eelgrass.reading.state.value_paths import value_of_node

_SIMPLE = (ast.Name, ast.BinOp, ast.UnaryOp, ast.Constant, ast.Load, ast.operator, ast.unaryop)


@dataclass(frozen=True)
class Pointer:
    """An index as it is written, the place that it points to, and for a slice the place after its end (else -1)."""

    label: str
    index: int
    end: int = -1


def pointers_into(recording: Recording, path: str, number: int, step: int, level: int = 0) -> list[Pointer]:
    """The indices by which the innermost calls' text reads or writes the object `number` (-1: whatever is written as
    `path`), with the places that they point to at a step; `level` 1 for the second index of a nested list."""
    found: dict[tuple[str, int, int], Pointer] = {}
    trace = recording.trace
    for frame, _ in stack_at(trace, step)[-2:]:
        evaluator = Evaluator(trace, frame, step)
        for node in recording.worked_lines.syntax.subscripts(int(trace.frames.function[frame])):
            owner = node.value
            for _ in range(level):
                owner = owner.value if isinstance(owner, ast.Subscript) else ast.Constant(None)
            if _is_it(evaluator, owner, path, number):
                pointer = _pointer(evaluator, node.slice)
                if pointer is not None:
                    found[pointer.label, pointer.index, pointer.end] = pointer
    return list(found.values())


def _is_it(evaluator: Evaluator, owner: ast.expr, path: str, number: int) -> bool:
    if not isinstance(owner, (ast.Name, ast.Attribute)):
        return False
    if number < 0:
        return ast.unparse(owner) == path
    value = value_of_node(evaluator.trace, evaluator.frame, owner, evaluator.lift.step)
    return evaluator.trace.values.object_of(value) == number


def _pointer(evaluator: Evaluator, index: ast.expr) -> Pointer | None:
    parts = [part for part in (index.lower, index.upper) if part] if isinstance(index, ast.Slice) else [index]
    if not _is_index(parts):
        return None
    try:
        places = [evaluator.value(part) for part in parts]
    except Exception:  # a name without a value yet, or no number: it points nowhere
        return None
    if not all(type(place) is int for place in places):
        return None
    label = ast.unparse(index)
    if not isinstance(index, ast.Slice):
        return Pointer(label, places[0])
    low = places[0] if index.lower else 0
    return Pointer(label, low, places[-1]) if index.upper else Pointer(label, low)


def _is_index(parts: list[ast.expr]) -> bool:
    """Whether an index is made of names and numbers: a constant one points nowhere new."""
    found = [inner for part in parts for inner in ast.walk(part)]
    return all(isinstance(its, _SIMPLE) for its in found) and any(isinstance(its, ast.Name) for its in found)
