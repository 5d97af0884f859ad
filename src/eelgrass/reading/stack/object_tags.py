"""Tags: short syllables for objects that are reached from more than one place."""

from __future__ import annotations

from functools import cached_property

import numpy as np

from eelgrass.reading.state.call_stack import FrameState
from eelgrass.reading.state.references import References
from eelgrass.trace.columns import Ints
from eelgrass.trace.model import Trace
from eelgrass.trace.values import NOT_SET, Kind

#: Syllables that are words would be read as such, beside a value.
_WORDS = frozenset(
    (
        *("to", "so", "no", "do", "go", "ho", "ti", "hi", "pi", "ma", "ha"),
        *("la", "pa", "fa", "mu", "nu", "be", "he", "me", "we", "re"),
    )
)
_SYLLABLES = [its for vowel in "oiaue" for consonant in "mtkslnrpbdgfwh" if (its := consonant + vowel) not in _WORDS]
#: Shapes of objects that can be changed through one name and seen through another.
TAGGABLE = ("list", "dict", "set", "instance", "array", "table")
#: No more places than this are looked at to find what is shared.
_MOST_PLACES = 4000


class ObjectTags:
    """The tags of one recording: an object's tag is the same wherever and whenever it shows."""

    def __init__(self, trace: Trace, references: References) -> None:
        self.trace = trace
        self.references = references

    @cached_property
    def _ranks(self) -> Ints:
        objects = self.trace.objects
        wanted = np.array([shape in TAGGABLE for shape in objects.shapes], np.bool_)
        return np.cumsum(wanted[objects.shape]) - 1

    def is_taggable(self, number: int) -> bool:
        """Whether the object is of a kind that can be shared in a way that matters."""
        return self.trace.objects.shape_of(number) in TAGGABLE

    def syllable(self, number: int) -> str:
        """The tag of an object: 'mo', 'ti', … and, when these have run out, 'mo-mo', 'ti-mo', …"""
        rounds, place = divmod(int(self._ranks[number]), len(_SYLLABLES))
        return _SYLLABLES[place] + (f"-{_SYLLABLES[(rounds - 1) % len(_SYLLABLES)]}" if rounds else "")

    def shared(self, frames: list[FrameState], step: int) -> set[int]:
        """The objects that more than one name, element or field leads to, from the frames on the call stack."""
        values, histories = self.trace.values, self.trace.histories
        found = [
            number
            for frame in frames
            for scope in frame.scopes
            for binding in scope.bindings
            if scope.title != "enclosing"
            for number, _ in self.references.objects_in(binding.value)
        ]
        seen: set[int] = set()
        shared: set[int] = set()
        looked_at = 0
        while found and looked_at < _MOST_PLACES:
            level: list[int] = []
            for number in filter(self.is_taggable, found):
                if number in seen:
                    shared.add(number)
                else:
                    seen.add(number)
                    level.append(number)
            slots = [self.references.leading_slots(number)[:_MOST_PLACES] for number in level]
            inside = histories.values_at(np.concatenate(slots), step) if slots else np.zeros(0, np.int32)
            looked_at += len(inside)
            inside = inside[inside != NOT_SET]
            found = values.payloads[inside[values.kinds[inside] == Kind.REF]].tolist()
        return shared
