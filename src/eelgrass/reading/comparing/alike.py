"""Whether what two runs wrote stands for the same."""

from __future__ import annotations

import json
from typing import Any

import numpy as np
import numpy.typing as npt

from eelgrass.reading.comparing.visited import GIVEN, RESULT, Event
from eelgrass.reading.recording import Recording
from eelgrass.reading.state import insides, value_text
from eelgrass.trace.columns import Wides
from eelgrass.trace.histories import Part
from eelgrass.trace.model import Trace
from eelgrass.trace.program import Program
from eelgrass.trace.values import NOT_SET, Kind, Ref


class Alike:
    """Whether names and values of two runs stand for each other: names and objects as they first met."""

    def __init__(self, a: Recording, b: Recording) -> None:
        self._a, self._b = a.trace, b.trace
        self._names: dict[tuple[int, str], str] = {}
        self._objects: dict[int, int] = {}
        self._known: dict[tuple[int, int], bool] = {}
        self._step = -1, -1

    def at_a_glance(self, ours: Wides, theirs: Wides) -> npt.NDArray[np.bool_]:
        """Where two values are the same number or truth value, or both none: without a look at either."""
        plain = (Kind.NONE, Kind.TRUTH, Kind.WHOLE, Kind.FLOAT)
        there = (ours != NOT_SET) & (theirs != NOT_SET)
        found: npt.NDArray[np.bool_] = ~there & (ours == theirs)
        a, b = ours[there], theirs[there]
        kinds = self._a.values.kinds[a]
        same = (kinds == self._b.values.kinds[b]) & (self._a.values.payloads[a] == self._b.values.payloads[b])
        found[there] = same & np.isin(kinds, plain)
        return found

    def what(self, event: Event) -> str:
        """The name, field or place that an event of the first run is about."""
        if event.part == GIVEN:
            return self._a.program.functions[event.scope].name
        if event.part == RESULT:
            return _text_of(self._a.program, event.scope)
        if event.key == NOT_SET:
            return ""
        key = self._a.values.get(event.key)
        return f"the element {key!r}" if event.part == Part.ITEM else str(key)

    def values(self, mine: Event, its: Event) -> bool:
        """Whether the values of two events are alike."""
        self._step = mine.step, its.step
        return self._values(mine.value, its.value)

    def owners(self, mine: Event, its: Event) -> bool:
        """Whether two events are about parts of the same object; two that meet are the same from then on."""
        return self._objects.setdefault(mine.owner, its.owner) == its.owner

    def keys(self, mine: Event, its: Event) -> bool:
        """Whether two events are about the same name, field or place."""
        self._step = mine.step, its.step
        return self._keys(mine, its)

    def _keys(self, mine: Event, its: Event) -> bool:
        if NOT_SET in (mine.key, its.key):  # an element of a list whose places move
            return True
        ours, theirs = self._a.values.get(mine.key), self._b.values.get(its.key)
        if mine.part == Part.NAME:
            return self._names.setdefault((mine.scope, str(ours)), str(theirs)) == str(theirs)
        return self._same(ours, theirs)

    def _values(self, ours: int, theirs: int) -> bool:
        if ours == NOT_SET or theirs == NOT_SET:
            return ours == theirs
        known = self._known.get((ours, theirs))
        if known is None:
            known = self._same(self._a.values.get(ours), self._b.values.get(theirs))
            if not isinstance(self._a.values.get(ours), (Ref, list)):  # which stand for what they have met
                self._known[ours, theirs] = known
        return known

    def _same(self, ours: Any, theirs: Any) -> bool:
        if isinstance(ours, Ref) or isinstance(theirs, Ref):
            if not (isinstance(ours, Ref) and isinstance(theirs, Ref)):
                return False
            return self._same_objects(ours.number, theirs.number)
        if isinstance(ours, list) and isinstance(theirs, list):
            return len(ours) == len(theirs) and all(map(self._same_part, ours, theirs))
        return type(ours) is type(theirs) and (ours == theirs or json.dumps(ours) == json.dumps(theirs))

    def _same_part(self, ours: Any, theirs: Any) -> bool:
        number, other = value_text.object_in(ours), value_text.object_in(theirs)
        if number is not None and other is not None:
            return self._same_objects(number, other)
        return self._same(ours, theirs)

    def _same_objects(self, ours: int, theirs: int) -> bool:
        """Whether two objects stand for each other: of one shape, met together before, or now, with the same in them
        when they came to be."""
        if ours in self._objects:
            return self._objects[ours] == theirs
        if self._a.objects.shape_of(ours) != self._b.objects.shape_of(theirs):
            return False
        self._objects[ours] = theirs
        mine, its = _inside(self._a, ours, self._step[0] + 1), _inside(self._b, theirs, self._step[1] + 1)
        return len(mine) == len(its) and all(
            self._values(key, their_key) and self._values(value, held)
            for (key, value), (their_key, held) in zip(mine, its, strict=True)
        )


def _text_of(program: Program, expression: int) -> str:
    """The text of a part of a statement, where it stands on one line."""
    its = program.expressions[expression]
    if its.line != its.end_line or its.statement < 0:
        return ""
    module = program.module_of(program.statements[its.statement].function)
    line = module.lines[its.line - 1].encode()
    return line[its.column : its.end_column].decode("utf-8", "replace")


def _inside(trace: Trace, number: int, step: int) -> list[tuple[int, int]]:
    """(key, value) of what an object holds; nothing of functions, classes and modules, whose parts have other names in
    other texts."""
    if trace.objects.shape_of(number) in insides.DEFINITIONS:
        return []
    held = insides.fields(trace, number, step)
    return [
        *insides.items(trace, number, step),
        *((trace.values.number_of_text(name), value) for name, value in held),
    ]
