"""What a path in the text, as `stock[2]` or `crab.place.name`, leads to at a step."""

from __future__ import annotations

import ast

from eelgrass.parsing import parsed_expression
from eelgrass.reading.state import insides
from eelgrass.reading.state.call_stack import value_of_name
from eelgrass.reading.state.name_lookup import NO_SLOT
from eelgrass.trace.histories import Part
from eelgrass.trace.model import Trace
from eelgrass.trace.values import NOT_SET


def value_at_path(trace: Trace, frame: int, path: str, step: int) -> int:
    """The value number that a path leads to, seen from a frame just before `step`; NOT_SET where it leads nowhere."""
    try:
        return value_of_node(trace, frame, parsed_expression(path), step)
    except (SyntaxError, ValueError, IndexError):
        return NOT_SET


def value_of_node(trace: Trace, frame: int, node: ast.expr, step: int) -> int:
    """As `value_at_path`, for a path that has been read. Raises ValueError for an index that is no constant, and
    IndexError."""
    if isinstance(node, ast.Name):
        return value_of_name(trace, frame, node.id, step)
    if not isinstance(node, (ast.Attribute, ast.Subscript)):
        return NOT_SET
    number = trace.values.object_of(value_of_node(trace, frame, node.value, step))
    if number is None:
        return NOT_SET
    if isinstance(node, ast.Attribute):
        return insides.field(trace, number, node.attr, step)
    slot = insides.slot_of_part(trace, number, Part.ITEM, ast.literal_eval(node.slice), step)
    return trace.histories.value_at(slot, step) if slot != NO_SLOT else NOT_SET
