"""What leads to an object: every name, element and field that holds it, with a way to say so."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from functools import cached_property, lru_cache
from typing import Any

import numpy as np
import numpy.typing as npt

from eelgrass.reading.state import insides, value_text
from eelgrass.reading.state.call_stack import stack_at
from eelgrass.reading.state.slot_text import after_owner, slot_text
from eelgrass.trace.columns import Ints, between
from eelgrass.trace.histories import Part
from eelgrass.trace.model import Trace
from eelgrass.trace.values import Kind, Ref

#: So many objects are looked through, at most, on the way from names to an object.
_MOST_OBJECTS = 20_000
_KEPT, _FEW = 1024, 4


@dataclass(frozen=True)
class Reference:
    """One slot that holds an object: the frame whose name it is or begins with, and how it is written, as
    `ferry.seats[2]`."""

    frame: int
    text: str
    slot: int


class References:
    """The leads of one recording."""

    def __init__(self, trace: Trace) -> None:
        self.trace = trace
        self.leading_slots = lru_cache(_KEPT)(self._leading_slots)
        self._ways = lru_cache(_FEW)(self._found_ways)  # many objects are asked about at one step

    @cached_property
    def _in_tuples(self) -> dict[int, list[tuple[int, str]]]:
        """For the values that are short tuples with objects in them: these, and where: `[1]`, `[0][2]`."""
        found: dict[int, list[tuple[int, str]]] = {}
        for value in np.flatnonzero(self.trace.values.kinds == Kind.OTHER).tolist():
            text = self.trace.values.texts[int(self.trace.values.payloads[value])]
            if "[" in text[1:]:
                found[value] = list(_objects_in(self.trace.values.get(value), ""))
        return found

    @cached_property
    def _leading(self) -> npt.NDArray[np.bool_]:
        """By value number, and for none: whether the value is an object or a tuple with one in it."""
        leading = np.append(self.trace.values.kinds == Kind.REF, False)
        leading[list(self._in_tuples)] = True
        return leading

    @cached_property
    def _ever_leading(self) -> npt.NDArray[np.bool_]:
        """By slot: whether it ever holds such a value."""
        slots = self.trace.slots
        ever = np.zeros(len(slots), np.bool_)
        ever[slots.when[self._leading[slots.write_value]] >> 32] = True
        return ever

    @cached_property
    def _holding(self) -> tuple[Ints, Ints]:
        """(slots that ever lead to an object, sorted by the object; the objects), each pair once."""
        values_, slots = self.trace.values, self.trace.slots
        written = slots.write_value
        places = np.flatnonzero(np.append(values_.kinds == Kind.REF, False)[written])
        pairs = [values_.payloads[written[places]] << 32 | slots.when[places] >> 32]
        for value, inside in self._in_tuples.items():
            its = slots.when[written == value] >> 32
            pairs += [its | number << 32 for number, _ in inside]
        sorted_ = np.unique(np.concatenate(pairs))
        return (sorted_ & 0xFFFFFFFF).astype(np.int32), (sorted_ >> 32).astype(np.int32)

    def _leading_slots(self, number: int) -> Ints:
        """The slots of an object that ever hold other objects."""
        its = self.trace.histories.of_object(number)
        leading: Ints = its[self._ever_leading[its]]
        return leading

    def objects_in(self, value: int) -> list[tuple[int, str]]:
        """The objects that a value is or has in it, each with the text that leads there from the value."""
        number = self.trace.values.object_of(value)
        return [(number, "")] if number is not None else self._in_tuples.get(value, [])

    def leads(self, number: int, step: int) -> list[Reference]:
        """Every name on the call stack or in a module, and every element and field of what these lead to, that holds
        an object just before `step`; names first."""
        ways, frames = self._ways(step), self._frames(step)
        slots, objects = self._holding
        its = slots[between(objects, number, number + 1)]
        now = self.trace.histories.values_at(its, step)
        found = []
        for slot, value in zip(its.tolist(), now.tolist(), strict=True):
            inner = next((text for held, text in self.objects_in(value) if held == number), None)
            frame, before = self._owner(slot, ways)
            if inner is not None and (frame in frames):
                found.append(Reference(frame, before + after_owner(self.trace, slot, step) + inner, slot))
        return sorted(found, key=lambda lead: (self.trace.slots.part[lead.slot] != Part.NAME, lead.slot))

    def name_of_slot(self, slot: int, frame: int, step: int) -> str:
        """What the program calls a slot just before a step: by a name in the frame, else by the shortest way that leads
        to its owner; '' for what is a library's own affair."""
        trace = self.trace
        if trace.slots.part[slot] == Part.NAME:
            return slot_text(trace, slot, frame, step)
        leads = self.leads(int(trace.slots.owner[slot]), step)
        ways = [its.text for its in leads if its.frame == frame] or [its.text for its in leads]
        own = [way for way in ways if "._" not in way and "children" not in way]
        name = min(own, key=len) + after_owner(trace, slot, step) if own else ""
        return "" if "._" in name or ".children" in name else name

    def equals(self, number: int, step: int) -> list[int]:
        """The other reachable objects of the same built-in type that are written alike just before `step`: equal, but
        not the same."""
        trace = self.trace
        if not value_text.is_literal(trace, number) or insides.untold(trace, number, step):
            return []
        mine = value_text.text_of(trace, Ref(number), step)
        alike = (other for other in self._ways(step) if trace.objects.type[other] == trace.objects.type[number])
        return [
            other for other in sorted(alike) if other != number and value_text.text_of(trace, Ref(other), step) == mine
        ]

    def _frames(self, step: int) -> list[int]:
        """The frames whose names count: those on the stack, and those of modules."""
        functions = self.trace.program.functions
        modules = [number for number, function in enumerate(functions) if function.kind == "module"]
        frames = self.trace.frames
        begun = np.flatnonzero(np.isin(frames.function, modules) & (frames.first <= step)).tolist()
        return list(dict.fromkeys([frame for frame, _ in stack_at(self.trace, step)] + begun))

    def _found_ways(self, step: int) -> dict[int, tuple[int, str]]:
        """For each object that names lead to, the frame and the text of a shortest way; found breadth first."""
        histories = self.trace.histories
        ways: dict[int, tuple[int, str]] = {}
        waiting: list[int] = []

        def see(slots: Ints, frame: int, before: str) -> None:
            for slot, value in zip(slots.tolist(), histories.values_at(slots, step).tolist(), strict=True):
                for number, inner in self.objects_in(value):
                    if number not in ways:
                        ways[number] = frame, before + after_owner(self.trace, slot, step) + inner
                        waiting.append(number)

        for frame in reversed(self._frames(step)):
            its = histories.of_frame(frame)
            see(its[self._ever_leading[its]], frame, "")
        for number in waiting:  # which grows meanwhile
            if len(waiting) > _MOST_OBJECTS:
                break
            see(self.leading_slots(number), *ways[number])
        return ways

    def _owner(self, slot: int, ways: dict[int, tuple[int, str]]) -> tuple[int, str]:
        """(the frame, what is written before a slot); (-1, '') where nothing leads to the slot's owner."""
        owner = int(self.trace.slots.owner[slot])
        return (owner, "") if self.trace.slots.part[slot] == Part.NAME else ways.get(owner, (-1, ""))


def _objects_in(told: Any, before: str) -> Iterator[tuple[int, str]]:
    """The objects in a tagged list of `docs/formats/values.md`, with the text that leads there."""
    if type(told) is list and len(told) == 1 and type(told[0]) is int:
        yield told[0], before
    elif type(told) is list and told[0] == "tuple":
        for place, part in enumerate(told[1:]):
            yield from _objects_in(part, f"{before}[{place}]")
