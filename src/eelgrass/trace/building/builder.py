"""From the child's stream to columns.

The stream's blocks are checked by `recorder.wire.Blocks` before they come here; what is in them is checked here. A
chunk is handled a column at a time; only changes inside objects are looked at one by one.
"""

from __future__ import annotations

import json
from functools import partial
from typing import Any

import numpy as np

from eelgrass.recorder import wire
from eelgrass.trace.building.frame_builder import Events, FrameBuilder, Framed
from eelgrass.trace.building.made_objects import MadeObjects
from eelgrass.trace.building.object_builder import ObjectBuilder
from eelgrass.trace.building.point_table import PointTable
from eelgrass.trace.building.slot_builder import SlotBuilder
from eelgrass.trace.building.stream import DESCRIBING, WHOLES, Chunk, Layout, impossible
from eelgrass.trace.building.text_builder import TextBuilder
from eelgrass.trace.building.thread_builder import ThreadBuilder
from eelgrass.trace.building.told import LongTexts, Patch, told_clock, told_turns
from eelgrass.trace.columns import Column, Ints
from eelgrass.trace.histories import Part
from eelgrass.trace.model import Outcome, Raises, Results, StepKind, Steps, Texts, Trace
from eelgrass.trace.program import Program
from eelgrass.trace.values import NOT_SET, Kind, ValueTable

_STEP_KIND = np.full(wire.KINDS, -1, np.int8)
for _kinds, _step_kind in (
    ((wire.STEP,), StepKind.LINE),
    ((wire.ENTER, wire.NEW, wire.RESUME), StepKind.CALL),
    ((wire.LEAVE, wire.LEFT, wire.SUSPEND), StepKind.RETURN),
    ((wire.UNWIND, wire.CAUGHT), StepKind.RAISE),
):
    _STEP_KIND[list(_kinds)] = _step_kind

#: Events whose step stands where the frame was, rather than at a statement of their own.
_WHERE_IT_WAS = (wire.LEFT, wire.UNWIND, wire.CAUGHT)
#: Kinds that change what an object has, and all kinds that are looked at one by one.
_RESTLESS = (wire.APPEND, wire.SIZE, wire.REMOVE, wire.INSERT, wire.CUT, wire.LENGTH)
_SINGLE = (*DESCRIBING, wire.MADE, *_RESTLESS)
_SETS = np.isin(np.arange(wire.KINDS), (wire.SET_INDEX, wire.SET_KEY, wire.SET_FIELD))
_CHANNELS = {
    **{wire.INPUT: Texts.TYPED, wire.OUTPUT: Texts.OUTPUT, wire.ERRORS: Texts.ERRORS, wire.PICTURE: Texts.PICTURE},
    **{wire.DESK: Texts.DESK, wire.CAUSE: Texts.CAUSE},
}


class Builder:
    """Takes a run's blocks in order and makes `Trace`s of what has arrived so far.

    After `max_steps` (0: all of them) further steps are left out: a run that a limit stops goes a little further.
    """

    def __init__(self, case: dict[str, Any] | None = None, max_steps: int = 0) -> None:
        self.case = case or {}
        self.max_steps = max_steps
        self.program = Program()
        self.points = PointTable(self.program)
        self.values = ValueTable()
        self._long = LongTexts(self.values)
        self.slots = SlotBuilder()
        self.objects = ObjectBuilder(self.values, self.slots)
        self._made = MadeObjects(self.objects)
        self.frames = FrameBuilder(self.points)
        self.turns = ThreadBuilder()
        self.steps = {name: Column(dtype) for name, dtype in (("statement", "i4"), ("frame", "i4"), ("kind", "u1"))}
        self.texts = TextBuilder()
        self.results = {name: Column("i4") for name in ("step", "frame", "expression", "value")}
        self.raises = {
            name: Column("u1" if name == "caught" else "i4")
            for name in ("step", "value", "caught", "line", "column", "end_line", "end_column")
        }
        self.outcome = Outcome()
        self._key = NOT_SET

    @property
    def steps_so_far(self) -> int:
        """How many steps have arrived."""
        return len(self.steps["kind"])

    @property
    def pieces_so_far(self) -> int:
        """How many pieces of output and input have arrived."""
        return len(self.texts.pieces)

    @property
    def reads_so_far(self) -> int:
        """How often something was read from standard input, its end included."""
        return self.texts.reads

    # Blocks

    def module(self, payload: bytes) -> None:
        """Takes the tables of one module. Raises StreamError when they contradict themselves."""
        self.points.add_module(payload)

    def ended(self, payload: bytes) -> None:
        """Takes the run's outcome."""
        try:
            told = json.loads(payload)
            if told.get("clock") is not None:
                self.case["clock"] = told_clock(told["clock"])
            if told.get("turns") is not None:
                self.case["turns_taken"] = told_turns(told["turns"])
            self.outcome = Outcome(
                str(told["outcome"]),
                None if told["reason"] is None else str(told["reason"]),
                int(told["exit_status"]),
                float(told["seconds"]),
                str(told.get("limit", "")),
            )
        except (ValueError, KeyError, TypeError, AttributeError):
            impossible("its end is not said as it should be")

    def chunk(self, payload: bytes) -> None:
        """Takes one chunk of events. Raises StreamError when they cannot be."""
        chunk = Chunk.parse(payload)
        kinds = self.points.kinds_of(chunk.events // wire.FORMS)
        layout = Layout.of(chunk, kinds)
        if self.max_steps:
            room = self.max_steps - self.steps_so_far
            beyond = np.flatnonzero(_STEP_KIND[kinds] >= 0)[room:]
            if len(beyond):
                chunk, kinds, layout = chunk.until(beyond[0]), kinds[: beyond[0]], layout.until(beyond[0])
        if not len(chunk.events):
            return
        points = chunk.events // wire.FORMS
        values = self._values(chunk, kinds, layout)
        step_kinds = _STEP_KIND[kinds]
        is_step = step_kinds >= 0
        before = self.steps_so_far
        first_wholes = np.append(chunk.wholes, 0)[np.where(WHOLES[kinds] > 0, layout.whole, -1)]
        events = Events(
            points,
            kinds,
            self.points.function[points],
            values,
            self._keys(kinds, values),
            first_wholes,
            (before - 1 + np.cumsum(is_step)).astype(np.int32),
            is_step,
        )
        framed = self.frames.chunk(events)
        self.steps["kind"].extend(step_kinds[is_step])
        self.steps["frame"].extend(framed.frame_of[is_step])
        self._statements(events, framed)
        self._raises(chunk, events, layout)
        self.turns.chunk(chunk, events, layout)
        self._results(events, framed)
        self._stores(events, framed)
        self._singles(chunk, events, layout)

    def _values(self, chunk: Chunk, kinds: Ints, layout: Layout) -> Ints:
        """The number of each event's value; NOT_SET where it has none, or one that is no value of the program."""
        table = self.values
        numbers = np.full(len(kinds), NOT_SET, np.int32)
        form = np.where(np.isin(kinds, DESCRIBING), -1, layout.form)
        for its, kind in ((wire.WHOLE, Kind.WHOLE), (wire.REF, Kind.REF)):
            places = np.flatnonzero(form == its)
            if len(places):
                numbers[places] = table.distinct(kind, chunk.wholes[layout.whole[places] + WHOLES[kinds[places]]])
        places = np.flatnonzero(form == wire.FLOAT)
        if len(places):
            numbers[places] = table.distinct(Kind.FLOAT, chunk.floats[layout.floating[places]].view(np.int64))
        for its, numbers_of in ((wire.TEXT, partial(table.texts_of, Kind.TEXT)), (wire.OTHER, self._long.numbers_of)):
            places = np.flatnonzero(form == its)
            numbers[places] = numbers_of([chunk.texts[place] for place in layout.text[places].tolist()])
        for its, value in ((wire.NONE, None), (wire.FALSE, False), (wire.TRUE, True)):
            chosen = form == its
            if chosen.any():
                numbers[chosen] = table.number(value)
        return numbers

    def _keys(self, kinds: Ints, values: Ints) -> Ints:
        """The value of the latest KEY at each event."""
        latest = np.maximum.accumulate(np.where(kinds == wire.KEY, np.arange(len(kinds)), -1))
        keys: Ints = np.where(latest >= 0, values[latest], self._key).astype(np.int32)
        self._key = int(keys[-1])
        return keys

    # Steps

    def _statements(self, events: Events, framed: Framed) -> None:
        is_step = events.is_step
        statements = self.points.statement[events.points[is_step]]
        kinds = events.kinds[is_step]
        self.steps["statement"].extend(statements)
        column = self.steps["statement"]
        unplaced = np.isin(kinds, _WHERE_IT_WAS) | ((kinds == wire.LEAVE) & (statements < 0))
        steps, earlier = events.step_of[is_step][unplaced].tolist(), framed.step_before[is_step][unplaced].tolist()
        for step, before in zip(steps, earlier, strict=True):
            column[step] = column[before] if before >= 0 else -1

    def _raises(self, chunk: Chunk, events: Events, layout: Layout) -> None:
        kinds = events.kinds
        told = np.flatnonzero((kinds == wire.CAUGHT) | (kinds == wire.UNWIND))
        if not len(told):
            return
        self.raises["step"].extend(events.step_of[told])
        self.raises["value"].extend(events.values[told])
        self.raises["caught"].extend(kinds[told] == wire.CAUGHT)
        placed = np.maximum.accumulate(np.where(kinds == wire.PLACE, np.arange(len(kinds)), -1))[told]
        for offset, name in enumerate(("line", "column", "end_line", "end_column")):
            wholes = np.append(chunk.wholes, 0)[np.where(placed >= 0, layout.whole[placed] + offset, -1)]
            self.raises[name].extend(np.clip(wholes, 0, 1 << 30))

    def _results(self, events: Events, framed: Framed) -> None:
        told = np.flatnonzero(np.isin(events.kinds, (wire.RESULT, wire.SUSPEND, wire.RESUME)))
        self.results["step"].extend(events.step_of[told])
        self.results["frame"].extend(framed.frame_of[told])
        self.results["expression"].extend(self.points.expression[events.points[told]])
        self.results["value"].extend(events.values[told])

    # What happens inside a step

    def _singles(self, chunk: Chunk, events: Events, layout: Layout) -> None:
        """Takes what changes inside objects. Of objects whose length changes, or that are told of whole, one event
        after the other; of all others the elements and fields that are set, a column at a time."""
        kinds = events.kinds
        self._made.chunk(events)
        owners = np.append(chunk.wholes, 0)[np.where(_SETS[kinds], layout.whole, -1)]
        single = np.isin(kinds, _SINGLE)
        one_by_one = np.isin(owners, self._restless(chunk, kinds, layout, owners))
        for place in np.flatnonzero(single | (_SETS[kinds] & one_by_one)).tolist():
            kind, step = int(kinds[place]), int(events.step_of[place])
            if kind in DESCRIBING:
                if layout.form[place] not in (wire.TEXT, wire.OTHER):
                    impossible("a description is no text")
                self._describe(kind, step, chunk.texts[layout.text[place]])
            elif kind == wire.MADE:
                first = int(layout.whole[place])
                self._made.begin(chunk.wholes[first : first + 4].tolist(), step)
            else:
                first = int(layout.whole[place])
                self._change(kind, place, events, chunk.wholes[first : first + 3].tolist())
        self.slots.settle()
        self._set_all(chunk, events, layout, np.flatnonzero(_SETS[kinds] & ~one_by_one), owners)

    def _restless(self, chunk: Chunk, kinds: Ints, layout: Layout, owners: Ints) -> Ints:
        """The objects that events of this chunk tell of in other ways than by setting elements and fields."""
        whole = np.flatnonzero(np.isin(kinds, (wire.CONTENTS, wire.PATCH, wire.SPLICE)))
        told = [chunk.texts[place].partition(",")[0].strip("[ ") for place in layout.text[whole].tolist()]
        numbers = [int(text) for text in told if text.isdecimal()]
        changing = chunk.wholes[layout.whole[np.isin(kinds, _RESTLESS)]]
        return np.concatenate((np.array(numbers + self.objects.with_cells, np.int64), changing))

    def _set_all(self, chunk: Chunk, events: Events, layout: Layout, places: Ints, owners: Ints) -> None:
        if not len(places):
            return
        kinds = events.kinds[places]
        keys = np.empty(len(places), np.int32)
        by_index, by_field, by_key = (kinds == kind for kind in (wire.SET_INDEX, wire.SET_FIELD, wire.SET_KEY))
        if by_index.any():
            keys[by_index] = self.values.distinct(Kind.WHOLE, chunk.wholes[layout.whole[places[by_index]] + 1])
        if by_field.any():
            keys[by_field] = self.points.name_values(events.points[places[by_field]], self.values)
        keys[by_key] = events.keys[places[by_key]]
        for part, chosen in ((Part.FIELD, by_field), (Part.ITEM, ~by_field)):
            if chosen.any():
                its = places[chosen]
                self.objects.store_all(part, owners[its], keys[chosen], events.values[its], events.step_of[its])

    def _describe(self, kind: int, step: int, text: str) -> None:
        if kind == wire.OBJECT:
            self.objects.new(_list(text, 6), step)
        elif kind == wire.PATCH:
            number, *patch = _list(text, 5)
            self.objects.patch(number, _patch(patch), step)
        elif kind == wire.SPLICE:
            number, place, count, items = _list(text, 4)
            if type(place) is not int or type(count) is not int or type(items) is not list:
                impossible("a splice has the wrong form")
            self.objects.splice(number, place, count, list(map(self.values.number, items)), step)
        elif kind == wire.TYPE:
            self.objects.type_told(_list(text, 3))
        elif kind == wire.ORDER:
            number, keys = _list(text, 2)
            self.objects.order(number, keys, step)
        elif kind == wire.CONTENTS:
            if not self.objects.last_told.is_again(text):
                number, *inside = _list(text, 4)
                self.objects.contents(number, inside, step)
                self.objects.last_told.note(number, text)
        else:
            self.texts.add(step, _CHANNELS[kind], text)

    def _change(self, kind: int, place: int, events: Events, wholes: list[int]) -> None:
        owner, step, value = wholes[0], int(events.step_of[place]), int(events.values[place])
        if kind == wire.SET_INDEX:
            self.objects.set_item(owner, wholes[1], value, step)
        elif kind == wire.INSERT:
            self.objects.splice(owner, wholes[1], 0, [value], step)
        elif kind == wire.CUT:
            self.objects.splice(owner, wholes[1], wholes[2], [], step)
        elif kind == wire.SET_FIELD:
            name = int(self.points.name_values(events.points[place : place + 1], self.values)[0])
            self.objects.store(owner, Part.FIELD, name, value, step)
        elif kind == wire.APPEND:
            self.objects.append(owner, value, step)
        elif kind == wire.SIZE:
            self.objects.shorten(owner, wholes[1], step)
        elif kind == wire.LENGTH:
            self.objects.length(owner, wholes[1], step)
        elif kind == wire.REMOVE:
            self.objects.remove(owner, int(events.keys[place]), step)
        else:
            self.objects.store(owner, Part.ITEM, int(events.keys[place]), value, step)

    def _stores(self, events: Events, framed: Framed) -> None:
        """Adds the writes of names, all at once."""
        kinds = events.kinds
        places = np.flatnonzero(np.isin(kinds, (wire.STORE, wire.DELETE, wire.BIND, wire.GLOBAL, wire.NAME)))
        if not len(places):
            return
        points = events.points[places]
        names = np.full(len(places), NOT_SET, np.int32)
        named = points >= wire.FIRST_POINT
        names[named] = self.points.name_values(points[named], self.values)
        owners = framed.frame_of[places].copy()
        if (owners < 0).any():
            impossible("a name is stored outside of every frame")
        held_by = self.points.owner[points]
        # A module's names may also be written by other ways than statements; these say their names before.
        for place in np.flatnonzero(~named).tolist():
            names[place] = events.keys[places[place]]
            if kinds[places[place]] == wire.NAME:
                owners[place] = self.frames.known(int(events.tokens[places[place]]))
            else:
                held_by[place] = self.points.module_of[self.frames.function_of(int(owners[place]))]
            if names[place] < 0 or self.values.kinds[int(names[place])] != Kind.TEXT:
                impossible("a name is none")
        elsewhere = np.flatnonzero(held_by >= 0)
        if len(elsewhere):
            owners[elsewhere] = self.frames.holders(owners[elsewhere], held_by[elsewhere])
        # Parameters are there when their frame is: they count as written before its CALL step.
        steps = events.step_of[places] - (kinds[places] == wire.BIND)
        self.slots.names(owners, names, steps, events.values[places])

    # Results

    def trace(self, waiting: bool = False) -> Trace:
        """Everything that has arrived so far."""
        frames, resumes, closures = self.frames.view()
        program = self.program
        slots = self.slots.view(*self.objects.cells())
        return Trace(
            Program(
                list(program.modules), list(program.functions), list(program.statements), list(program.expressions)
            ),
            Steps.of(**{name: column.view() for name, column in self.steps.items()}),
            frames,
            resumes,
            closures,
            Results(**{name: column.view() for name, column in self.results.items()}),
            slots,
            self.values.view(),
            self.objects.view(),
            self.texts.view(),
            Raises(**{name: column.view() for name, column in self.raises.items()}),
            self.outcome,
            waiting,
            self.case,
            self.turns.view(),
        )


def _patch(told: list[Any]) -> Patch:
    size, keys, items, gone = told
    if not all(type(its) is list for its in (keys, items, gone)) or len(keys) != len(items):
        impossible("a difference has the wrong form")
    if size is not None and (type(size) is not int or not 0 <= size < 1 << 31):
        impossible("a difference has an impossible length")
    return Patch(size, keys, items, gone)


def _list(text: str, size: int) -> list[Any]:
    try:
        value = json.loads(text)
    except (ValueError, RecursionError):
        impossible("a description cannot be read")
    if type(value) is not list or len(value) != size:
        impossible("a description has the wrong form")
    return value
