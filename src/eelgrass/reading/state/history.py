"""The history of a value: everything that a name, element or field ever held."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from eelgrass.reading.state import value_text
from eelgrass.trace.columns import Ints
from eelgrass.trace.model import Trace
from eelgrass.trace.values import NOT_SET

#: So many objects are followed into one another, at most.
_MOST_OBJECTS = 1000


@dataclass(frozen=True)
class Moment:
    """A slot's value from a step on. `by` is the step that set it or changed what is in it (-1: it was there from the
    beginning), `seen` the first step at which the value is there, `value` its number (NOT_SET: deleted), `text` what
    would be printed for it then."""

    by: int
    seen: int
    value: int
    text: str


def moments(trace: Trace, slot: int) -> list[Moment]:
    """Every value that a slot ever held, in order; for a list, dictionary or set also each change inside it."""
    steps, held = trace.histories.columns_of(slot)
    bounds = np.append(steps[1:], len(trace.steps) - 1)
    found: list[Moment] = []
    for by, value, until in zip(steps.tolist(), held.tolist(), bounds.tolist(), strict=True):
        for step in [by, *_changes_inside(trace, value, by, until)]:
            seen = step + 1
            text = "" if value == NOT_SET else value_text.text(trace, value, seen)
            if not found or (found[-1].value, found[-1].text) != (value, text):
                found.append(Moment(step, seen, value, text))
    return found


def slots_called(trace: Trace, name: str) -> Ints:
    """The slots of all frames that hold a name, in the order in which they were first written."""
    return np.sort(trace.histories.of_name(trace.values.number_of_text(name))[1])


def _changes_inside(trace: Trace, value: int, after: int, until: int) -> list[int]:
    """The steps after `after` and before `until` during which something was written inside an object that Python can
    write as a literal, or in such objects in it."""
    number = trace.values.object_of(value)
    if number is None or not value_text.is_literal(trace, number):
        return []
    inside = trace.histories.of_object(number).tolist()
    return sorted(steps_written(trace, inside, after + 1, until, lambda other: value_text.is_literal(trace, other)))


def steps_written(trace: Trace, slots: list[int], first: int, end: int, follow: Callable[[int], bool]) -> set[int]:
    """The steps from `first` up to, not including, `end` during which some slots were written, or something inside of
    the objects that these ever held and that are to be followed."""
    waiting, seen, steps = list(slots), set[int](), set[int]()
    while waiting:
        when, held = trace.histories.columns_of(waiting.pop())
        steps.update(when[(when >= first) & (when < end)].tolist())
        for value in np.unique(held).tolist():
            number = trace.values.object_of(value)
            if number is not None and number not in seen and len(seen) < _MOST_OBJECTS and follow(number):
                seen.add(number)
                waiting += trace.histories.of_object(number).tolist()
    return steps
