"""How slots are written: as names, elements and fields."""

from __future__ import annotations

from eelgrass.reading.recording import Recording
from eelgrass.reading.state import value_text
from eelgrass.reading.state.call_stack import bindings_of
from eelgrass.trace.histories import Part
from eelgrass.trace.values import NOT_SET


def slot_text(recording: Recording, slot: int, visit: int, step: int) -> str:
    """A slot as the program might write it at a visit: by a name there that leads to its owner, else by its type."""
    trace = recording.trace
    part, key, owner = int(trace.slots.part[slot]), int(trace.slots.key[slot]), int(trace.slots.owner[slot])
    if part == Part.NAME:
        return str(trace.values.get(key))
    name = owner_text(recording, owner, visit, step)
    if part == Part.FIELD:
        return f"{name}.{trace.values.get(key)}"
    if part == Part.CELL:
        return f"{name}[{trace.cells.place_of(slot, step)}]"
    return f"{name}{value_text.place_text(trace, owner, key, step)}" if part == Part.ITEM else name


def owner_text(recording: Recording, number: int, visit: int, step: int) -> str:
    """A name in the visiting frame that leads to an object, or a name and field; else the word for its type."""
    trace = recording.trace
    bound = [its for its in bindings_of(trace, recording.stepping.frame_of(visit), step) if its.value != NOT_SET]
    for binding in bound:
        if trace.values.object_of(binding.value) == number:
            return binding.name
    type_ = trace.objects.type_of(number)
    return value_text.TYPE_WORDS.get(type_, type_)
