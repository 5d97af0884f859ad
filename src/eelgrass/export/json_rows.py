"""Answers as plain data for JSON: steps, states and dumps, as the shell gives them."""

from __future__ import annotations

import heapq
from collections.abc import Callable, Iterator
from functools import lru_cache, partial
from typing import Any

import numpy as np

from eelgrass.reading.recording import Recording
from eelgrass.reading.state import call_stack, insides, value_text
from eelgrass.reading.state.history import Moment, moments, slots_called
from eelgrass.reading.watches.watch import WatchValue
from eelgrass.trace.columns import find
from eelgrass.trace.histories import Part
from eelgrass.trace.model import StepKind, Trace
from eelgrass.trace.values import NOT_SET, Kind

_CONTAINERS = ("list", "dict", "set", "tuple", *insides.ARRAYS)
#: What is in an object, in it, and so on, comes along so deep.
_DEEPEST = 5
#: So many values are kept as JSON while a recording is dumped.
_KEPT = 4096

_KINDS = {StepKind.LINE: "line", StepKind.CALL: "call", StepKind.RETURN: "return", StepKind.RAISE: "raise"}


def step(trace: Trace, number: int) -> dict[str, Any]:
    """One step. Raises IndexError when the recording has no such step."""
    if not 0 <= number < len(trace.steps):
        raise IndexError(f"there is no step {number}")
    frame = int(trace.steps.frame[number])
    function = trace.function_of_frame(frame)
    return {
        "step": number,
        "file": trace.program.modules[function.module].file,
        "line": trace.line_of(number),
        "function": function.name,
        "depth": int(trace.depths[frame]),
        "frame": frame,
        "thread": int(trace.frames.thread[frame]),
        "kind": _KINDS[StepKind(int(trace.steps.kind[number]))],
    }


def value(trace: Trace, number: int, at: int) -> dict[str, Any]:
    """A value just before step `at`. What is in an object comes along: its fields, and the elements of a container
    that its text does not show whole."""
    return _value(trace, trace.values.get(number), at, ())


def _value(trace: Trace, got: Any, at: int, inside: tuple[int, ...]) -> dict[str, Any]:
    """As `value`, in the objects `inside`, each of which opens once."""
    number = value_text.object_in(got)
    text, is_whole = value_text.text_and_whole(trace, got, at)
    answer: dict[str, Any] = {
        "type": value_text.type_of(trace, got),
        "text": text,
        "object": number,
    }
    if number in inside or len(inside) > _DEEPEST:
        return answer
    deeper = (*inside, -1 if number is None else number)
    if type(got) is list and got[0] == "tuple" and not is_whole:
        answer["items"] = [_value(trace, part, at, deeper) for part in got[1:]]
    elif number is not None:
        fields = insides.fields(trace, number, at)
        if fields:
            answer["fields"] = {name: _value(trace, trace.values.get(held), at, deeper) for name, held in fields}
        if trace.objects.shape_of(number) in _CONTAINERS and not is_whole:
            answer["items"] = _items(trace, number, at, deeper)
            left = insides.untold(trace, number, at)
            if left:
                answer["length"] = len(insides.elements(trace, number, at)) + left
    return answer


def _items(trace: Trace, number: int, at: int, inside: tuple[int, ...]) -> list[Any]:
    rows = insides.items(trace, number, at)
    values = [_value(trace, trace.values.get(held), at, inside) for _, held in rows]
    if trace.objects.shape_of(number) not in ("dict", "table"):
        return values
    keys = [_value(trace, trace.values.get(key), at, inside) for key, _ in rows]
    return [[key, held] for key, held in zip(keys, values, strict=True)]


def full_state(trace: Trace, at: int) -> dict[str, Any]:
    """All frames, scopes and values just before step `at`; a name without a value is null. Raises IndexError."""
    frames = [
        {
            "frame": frame.frame,
            "function": frame.function,
            "depth": frame.depth,
            "line": frame.line,
            "scopes": {
                scope.title: {
                    binding.name: None if binding.value == NOT_SET else value(trace, binding.value, at)
                    for binding in scope.bindings
                }
                for scope in frame.scopes
            },
        }
        for frame in call_stack.frames_at(trace, at)
    ]
    return {**step(trace, at), "frames": frames}


def steps(trace: Trace, first: int, last: int) -> Iterator[dict[str, Any]]:
    """The steps from `first` up to, not including, `last`."""
    for number in range(max(first, 0), min(last, len(trace.steps))):
        yield step(trace, number)


def history(trace: Trace, name: str) -> Iterator[dict[str, Any]]:
    """Every value that a name ever had in any frame, in order of time, with the step and line that set it or changed
    what is in it; null where it is deleted. Raises KeyError when no frame ever has the name."""
    slots = slots_called(trace, name).tolist()
    if not slots:
        raise KeyError(name)
    for _, slot, moment in heapq.merge(*(_moments_in_time(trace, slot) for slot in slots), key=lambda row: row[:2]):
        frame = int(trace.slots.owner[slot])
        by = max(moment.by, int(trace.frames.first[frame]))  # parameters are there when their frame begins
        yield {
            "step": by,
            "line": trace.line_of(by),
            "function": trace.function_of_frame(frame).name,
            "frame": frame,
            "value": None if moment.value == NOT_SET else value(trace, moment.value, moment.seen),
        }


def _moments_in_time(trace: Trace, slot: int) -> Iterator[tuple[int, int, Moment]]:
    return ((moment.by, slot, moment) for moment in moments(trace, slot))


def answer(recording: Recording, told: WatchValue) -> dict[str, Any]:
    """An answer to a question, with its place; `known` is false where `text` is a sentence that says why not."""
    return {
        "step": told.step,
        "line": recording.trace.line_of(told.step),
        "function": recording.trace.function_of_frame(told.frame).name,
        "frame": told.frame,
        "known": told.known,
        "type": told.type_word,
        "text": told.text,
    }


def dump(trace: Trace) -> Iterator[dict[str, Any]]:
    """Each step with the variables of its frame; names that begin with two underscores are left out."""
    shown = _values_in_order(trace)
    for number in range(len(trace.steps)):
        frame = int(trace.steps.frame[number])
        bindings = call_stack.bindings_of(trace, frame, number)
        bindings += [
            call_stack.enclosing_binding(trace, frame, name, number) for name in trace.function_of_frame(frame).free
        ]
        variables = {
            binding.name: shown(binding.value, number)
            for binding in bindings
            if binding.value != NOT_SET and not binding.name.startswith("__")
        }
        yield {**step(trace, number), "variables": variables}


def _values_in_order(trace: Trace) -> Callable[[int, int], dict[str, Any]]:
    """As `value`, quick for whoever asks of one step after the other: what is in objects is looked at again only when
    something inside of any object has been written since."""
    slots = trace.slots
    changes = np.unique(slots.write_step[slots.part[slots.write_slot] != Part.NAME])
    told = lru_cache(_KEPT)(partial(value, trace))

    def shown(number: int, at: int) -> dict[str, Any]:
        kind = trace.values.kinds[number]
        if kind != Kind.REF and kind != Kind.OTHER:
            return told(number, 0)
        place = find(changes, at) - 1
        return told(number, int(changes[place]) + 1 if place >= 0 else 0)

    return shown
