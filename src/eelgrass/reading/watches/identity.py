"""Whether two names hold one object or two equal ones, since when, and where they came apart."""

from __future__ import annotations

import ast

import numpy as np

from eelgrass.reading.expressions.expression import Expression
from eelgrass.reading.recording import Recording
from eelgrass.reading.state import insides, value_text
from eelgrass.reading.state.call_stack import value_of_name
from eelgrass.reading.state.name_lookup import NO_SLOT, slot_of
from eelgrass.trace.columns import Ints
from eelgrass.trace.values import NOT_SET


def asks_of_identity(asked: Expression) -> tuple[str, str] | None:
    """The two names of a question like `crew is boats` or `crew == boats`; None for any other."""
    node = asked.tree
    if not isinstance(node, ast.Compare) or len(node.ops) != 1:
        return None
    if not isinstance(node.ops[0], (ast.Is, ast.IsNot, ast.Eq, ast.NotEq)):
        return None
    one, other = node.left, node.comparators[0]
    return (one.id, other.id) if isinstance(one, ast.Name) and isinstance(other, ast.Name) else None


def identity(recording: Recording, frame: int, one: str, other: str, step: int) -> str:
    """In a sentence: whether two names of a frame hold one object, two equal ones, or different values just before a
    step, since which step, and at which line they came apart; '' where one has no value."""
    trace = recording.trace
    held = [value_of_name(trace, frame, name, step) for name in (one, other)]
    if NOT_SET in held:
        return ""
    numbers = [trace.values.object_of(value) for value in held]
    slots = [slot_of(trace, frame, name) for name in (one, other)]
    if None in numbers:
        return f"{one} and {other} hold {'equal' if held[0] == held[1] else 'different'} values that cannot be changed."
    if numbers[0] == numbers[1]:
        since = max(trace.histories.set_by(slot, step) for slot in slots if slot != NO_SLOT)
        return (
            f"{one} and {other} are one and the same object since step {since + 1} (line {_line(recording, since)}): "
            "what is changed through one name is seen under both."
        )
    texts = [value_text.text(trace, value, step) for value in held]
    if insides.untold(trace, numbers[0] or 0, step):
        return f"{one} and {other} are two objects; of {one} {value_text.recorded_part(trace, numbers[0] or 0, step)}."
    equal = "equal" if texts[0] == texts[1] and value_text.is_literal(trace, numbers[0] or 0) else "different"
    parted = _came_apart(recording, slots, step)
    told = f"{one} and {other} are two objects, {equal} at this step."
    if parted < 0:
        return told + " They were never the same object before."
    return (
        told + f" They were one object until line {_line(recording, parted)} (step {parted}) gave one of them another."
    )


def _line(recording: Recording, step: int) -> int:
    return recording.trace.line_of(max(step, 0))


def _came_apart(recording: Recording, slots: list[int], step: int) -> int:
    """The latest step before `step` during which two slots that held one object came to hold two; -1 for none."""
    histories = recording.trace.histories
    writes = [histories.columns_of(slot)[0] for slot in slots]
    moments: Ints = np.unique(np.concatenate(writes))
    moments = moments[moments < step]
    for by in moments[::-1].tolist():
        before = [histories.value_at(slot, by) for slot in slots]
        if before[0] == before[1] != NOT_SET and recording.trace.values.object_of(before[0]) is not None:
            return int(by)
    return -1
