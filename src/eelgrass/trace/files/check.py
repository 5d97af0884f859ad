"""Whether a loaded trace holds together: every number that points somewhere points to something."""

from __future__ import annotations

import json
from typing import Any

import numpy as np
import numpy.typing as npt

from eelgrass.trace.histories import Part, Slots
from eelgrass.trace.model import MOST_THREADS, FrameEnd, StepKind, Trace
from eelgrass.trace.values import NOT_SET, Kind


def check(trace: Trace) -> None:
    """Raises ValueError, saying what is wrong, when the columns of `trace` contradict each other."""
    _check_program(trace)
    _check_steps_and_frames(trace)
    _check_values(trace)
    _check_slots(trace)
    _same_length("texts", trace.texts.step, trace.texts.channel, trace.texts.pieces)
    _in_order("texts.step", trace.texts.step)
    _within("texts.step", trace.texts.step, -1, len(trace.steps))
    _within("texts.channel", trace.texts.channel, 0, trace.texts.CAUSE + 1)
    _check_results(trace)
    _same_length("raises", *vars(trace.raises).values())
    _in_order("raises.step", trace.raises.step)
    _within("raises.step", trace.raises.step, 0, len(trace.steps))
    _within("raises.value", trace.raises.value, -1, len(trace.values))
    _same_length("turns", *vars(trace.turns).values())
    _in_order("turns.step", trace.turns.step)
    _within("turns.step", trace.turns.step, -1, len(trace.steps))
    _within("turns.what", trace.turns.what, 0, trace.turns.STARTS + 1)
    _within("turns.other", trace.turns.other, -1, 1 << 31)
    _within("turns.thread", trace.turns.thread, 0, MOST_THREADS + 1)


def _check_results(trace: Trace) -> None:
    steps, frames = len(trace.steps), len(trace.frames)
    results, resumes, closures = trace.results, trace.resumes, trace.closures
    _same_length("results", *vars(results).values())
    _in_order("results.step", results.step)
    _within("results.step", results.step, -1, steps)
    _within("results.frame", results.frame, -1, frames)
    _within("results.expression", results.expression, -1, len(trace.program.expressions))
    _within("results.value", results.value, -1, len(trace.values))
    _same_length("resumes", *vars(resumes).values())
    _in_order("resumes.step", resumes.step)
    _within("resumes.step", resumes.step, 0, steps)
    _within("resumes.frame", resumes.frame, 0, frames)
    _within("resumes.caller", resumes.caller, -1, frames)
    _within("resumes.call_step", resumes.call_step, -1, steps)
    if (resumes.call_step >= np.maximum(resumes.step, 1)).any():
        raise ValueError("a frame goes on before it is resumed")
    _same_length("closures", closures.frame, closures.owner)
    _within("closures.frame", closures.frame, 0, frames)
    if (closures.owner < 0).any() or (closures.owner >= closures.frame).any():
        raise ValueError("a frame is enclosed by one that begins later")


def _within(name: str, column: npt.NDArray[np.integer[Any]], low: int, end: int) -> None:
    if len(column) and not (int(np.min(column)) >= low and int(np.max(column)) < end):
        raise ValueError(f"column {name} points to what is not there")


def _same_length(name: str, *columns: object) -> None:
    if len({len(column) for column in columns}) > 1:  # type: ignore[arg-type]
        raise ValueError(f"the columns of {name} differ in length")


def _in_order(name: str, column: npt.NDArray[np.generic]) -> None:
    if (np.diff(column.astype(np.int64)) < 0).any():
        raise ValueError(f"column {name} goes back in time")


def _check_program(trace: Trace) -> None:
    program = trace.program
    modules, functions, statements = len(program.modules), len(program.functions), len(program.statements)
    for number, function in enumerate(program.functions):
        if not (0 <= function.module < modules and -1 <= function.parent < number):
            raise ValueError("a function belongs nowhere")
    for number, statement in enumerate(program.statements):
        if not (0 <= statement.function < functions and -1 <= statement.parent < number):
            raise ValueError("a statement belongs nowhere")
        if not 1 <= statement.line <= statement.end_line:
            raise ValueError("a statement stands at a line that cannot be")
    for expression in program.expressions:
        if not (-1 <= expression.statement < statements and 1 <= expression.line <= expression.end_line):
            raise ValueError("an expression belongs nowhere")
    if trace.program.statements:
        _within("steps.statement", trace.steps.statement, -1, statements)
    else:
        _within("steps.statement", trace.steps.statement, -1, 0)


def _check_steps_and_frames(trace: Trace) -> None:
    steps, frames = trace.steps, trace.frames
    _same_length("steps", steps.statement, steps.frame, steps.kind)
    _same_length("frames", *vars(frames).values())
    _within("steps.frame", steps.frame, 0, len(frames))
    _within("steps.kind", steps.kind, 0, len(StepKind))
    _within("frames.function", frames.function, 0, len(trace.program.functions))
    _within("frames.thread", frames.thread, 0, MOST_THREADS + 1)
    _within("frames.end", frames.end, 0, len(FrameEnd))
    _within("frames.value", frames.value, -1, len(trace.values))
    for name in ("call_step", "last"):
        _within(f"frames.{name}", getattr(frames, name), -1, len(steps))
    _within("frames.first", frames.first, 0, len(steps))
    numbers = np.arange(len(frames))
    if (frames.caller < -1).any() or (frames.caller >= numbers).any():
        raise ValueError("a frame is called by one that begins later")
    if (frames.call_step >= np.maximum(frames.first, 1)).any():
        raise ValueError("a frame begins before its call")


def _check_values(trace: Trace) -> None:
    values, objects = trace.values, trace.objects
    _same_length("values", values.kinds, values.payloads)
    _same_length("objects", objects.shape, objects.type, objects.first)
    _within("values.kinds", values.kinds, 0, Kind.COUNT)
    _within("objects.shape", objects.shape, 0, len(objects.shapes))
    _within("objects.type", objects.type, 0, len(objects.types))
    _within("objects.first", objects.first, -1, len(trace.steps))
    _within("references", values.payloads[values.kinds == Kind.REF], 0, len(objects))
    for kind in (Kind.TEXT, Kind.OTHER):
        _within("texts", values.payloads[values.kinds == kind], 0, len(values.texts))
    for index in values.payloads[values.kinds == Kind.OTHER].tolist():
        _check_tagged(json.loads(values.texts[index]), len(objects))


#: The types of what follows a tag; of a tuple, values.
_TAGS: dict[str, tuple[type, ...]] = {
    **{"int": (str,), "bytes": (str,), "complex": (float, float), "ellipsis": (), "tuple": ()},
    **{"cut": (str, int), "cutbytes": (str, int), "large": (int, bool), "size": (int,)},
}
_NESTING = 8


def _check_tagged(told: object, objects: int, nesting: int = 0) -> None:
    """A tagged list of `docs/formats/values.md`, or a scalar inside one."""
    if type(told) is not list:
        if nesting and (told is None or type(told) in (str, int, float, bool)):
            return
        raise ValueError("a value has the wrong form")
    if len(told) == 1 and type(told[0]) is int and nesting:
        if not 0 <= told[0] < objects:
            raise ValueError("a value leads to an object that is not there")
        return
    if not told or told[0] not in _TAGS or nesting > _NESTING:
        raise ValueError("a value has the wrong form")
    if told[0] == "tuple":
        for part in told[1:]:
            _check_tagged(part, objects, nesting + 1)
    else:
        _check_plain(told)


def _check_plain(told: list[object]) -> None:
    """The parts of a tagged list that holds no other values."""
    tag, *parts = told
    types = _TAGS[str(tag)]
    if len(parts) != len(types) or not all(isinstance(part, type_) for part, type_ in zip(parts, types, strict=True)):
        raise ValueError("a value has the wrong form")
    if tag == "int":
        int(str(parts[0]), 16)
    elif tag in ("bytes", "cutbytes"):
        bytes.fromhex(str(parts[0]))


def _check_slots(trace: Trace) -> None:
    slots = trace.slots
    _same_length("slots", slots.part, slots.owner, slots.key)
    _within("slots.part", slots.part, 0, Part.COUNT)
    of_frame = slots.part == Part.NAME
    _within("slots.owner", slots.owner[of_frame], 0, len(trace.frames))
    _within("slots.owner", slots.owner[~of_frame], 0, len(trace.objects))
    _within("slots.key", slots.key, 0, max(len(trace.values), 1))
    named = (slots.part == Part.NAME) | (slots.part == Part.FIELD)
    if len(slots) and (trace.values.kinds[slots.key[named]] != Kind.TEXT).any():
        raise ValueError("a name is no text")
    _same_length("writes", slots.when, slots.write_value)
    if len(slots.when):
        _within("slots.write_slot", slots.when[[0, -1]] >> 32, 0, len(slots))
        _within("slots.write_step", slots.write_step, -1, len(trace.steps))
    _within("slots.write_value", slots.write_value, -1, len(trace.values))
    if (slots.when[1:] < slots.when[:-1]).any():
        raise ValueError("a slot's history goes back in time")
    _check_cells(trace, np.flatnonzero(slots.part == Part.CELL))


def _check_cells(trace: Trace, cells: npt.NDArray[np.integer]) -> None:
    """The cells of each list have the places from 0 on as their keys, and no other elements are there with them."""
    if not len(cells):
        return
    slots, values = trace.slots, trace.values
    keys, owners = slots.key[cells], slots.owner[cells]
    if (values.kinds[keys] != Kind.WHOLE).any():
        raise ValueError("a place in a list is no whole number")
    order = np.lexsort((values.payloads[keys], owners))
    owners, places = owners[order], values.payloads[keys][order]
    first = np.append(True, owners[1:] != owners[:-1])
    if (places != np.arange(len(cells)) - np.maximum.accumulate(np.where(first, np.arange(len(cells)), 0))).any():
        raise ValueError("the places in a list are not counted as they should be")
    _check_one_kind(slots, cells)


def _check_one_kind(slots: Slots, cells: npt.NDArray[np.integer]) -> None:
    """A list that has had elements by their places has lost them all by the step at which it gets its first cell."""
    written, steps = slots.write_slot, slots.write_step
    of_cell, by_place = np.isin(written, cells), slots.part[written] == Part.ITEM
    first = np.full(int(np.max(slots.owner, initial=0)) + 1, np.iinfo(np.int64).max)
    np.minimum.at(first, slots.owner[written[of_cell]], steps[of_cell])
    last = np.flatnonzero(by_place & np.append(written[1:] != written[:-1], True)[: len(written)])
    beside = by_place & (steps > first[slots.owner[written]])
    kept = (slots.write_value[last] != NOT_SET) & (first[slots.owner[written[last]]] != np.iinfo(np.int64).max)
    if beside.any() or kept.any():
        raise ValueError("a list has two kinds of elements")
