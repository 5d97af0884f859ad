"""How slots are written: as names, elements and fields."""

from __future__ import annotations

from eelgrass.reading.state import value_text
from eelgrass.reading.state.call_stack import bindings_of
from eelgrass.trace.histories import Part
from eelgrass.trace.model import Trace


def slot_text(trace: Trace, slot: int, frame: int, step: int) -> str:
    """A slot as the program might write it in a frame: by a name there that leads to its owner, else by its type."""
    if trace.slots.part[slot] == Part.NAME:
        return after_owner(trace, slot, step)
    return owner_text(trace, int(trace.slots.owner[slot]), frame, step) + after_owner(trace, slot, step)


def owner_text(trace: Trace, number: int, frame: int, step: int) -> str:
    """A name of a frame that leads to an object just before a step, else the word for what kind of thing it is."""
    for binding in bindings_of(trace, frame, step):
        if trace.values.object_of(binding.value) == number:
            return binding.name
    type_ = trace.objects.type_of(number)
    return value_text.TYPE_WORDS.get(type_, type_)


def after_owner(trace: Trace, slot: int, step: int) -> str:
    """How a slot is written after its owner: a name, `.field`, `[index]`; nothing for a size."""
    part, key = trace.slots.part[slot], int(trace.slots.key[slot])
    if part == Part.SIZE:
        return ""
    if part == Part.CELL:
        return f"[{trace.cells.place_of(slot, step)}]"
    if part == Part.ITEM:
        return value_text.place_text(trace, int(trace.slots.owner[slot]), key, step)
    return ("." if part == Part.FIELD else "") + str(trace.values.get(key))
