"""How a statement itself writes the objects that it changes."""

from __future__ import annotations

import ast

from eelgrass.reading.expressions.source_tree import own_parts
from eelgrass.reading.state import insides
from eelgrass.reading.state.call_stack import value_of_name
from eelgrass.reading.state.name_lookup import NO_SLOT
from eelgrass.trace.histories import Part
from eelgrass.trace.model import Trace
from eelgrass.trace.values import NOT_SET

#: What is longer is no name for anything.
_LONGEST = 30


def written_as(trace: Trace, statement: ast.stmt, frame: int, step: int, number: int) -> str:
    """The name, field or element in a statement's text that led to an object just before a step; '' where none did."""
    for part in (inner for its in own_parts(statement) for inner in ast.walk(its)):
        if isinstance(part, (ast.Name, ast.Attribute, ast.Subscript)) and _object(trace, part, frame, step) == number:
            text = ast.unparse(part)
            if len(text) <= _LONGEST:
                return text
    return ""


def _object(trace: Trace, node: ast.expr, frame: int, step: int) -> int | None:
    return trace.values.object_of(_value(trace, node, frame, step))


def _value(trace: Trace, node: ast.expr, frame: int, step: int) -> int:
    """The value number of a name, field or element; NOT_SET where it has none, or is anything else."""
    if isinstance(node, ast.Name):
        return value_of_name(trace, frame, node.id, step)
    if not isinstance(node, (ast.Attribute, ast.Subscript)):
        return NOT_SET
    owner = _object(trace, node.value, frame, step)
    if owner is None:
        return NOT_SET
    if isinstance(node, ast.Attribute):
        return insides.field(trace, owner, node.attr, step)
    key = _key(trace, node.slice, frame, step)
    slot = insides.slot_of_part(trace, owner, Part.ITEM, key, step) if key is not None else NO_SLOT
    return trace.histories.value_at(slot, step) if slot != NO_SLOT else NOT_SET


def _key(trace: Trace, node: ast.expr, frame: int, step: int) -> object:
    """A number or text that is written in the place of a key, or that a name or field there holds; else None."""
    if isinstance(node, ast.Constant):
        return node.value
    number = _value(trace, node, frame, step)
    found = trace.values.get(number) if number != NOT_SET else None
    return found if isinstance(found, (int, str)) else None
