"""From the child's stream to columns.

The stream's blocks are checked by `recorder.wire.Blocks` before they come here; what is in them is checked here. A
chunk is handled a column at a time; only frames beginning and ending, and changes inside objects, are looked at singly.
"""

from __future__ import annotations

import json
from typing import Any, NoReturn

import numpy as np
import numpy.typing as npt

from eelgrass.trace.columns import Column, Ints
from eelgrass.trace.histories import Part
from eelgrass.trace.model import FrameEnd, Frames, Outcome, Raises, StepKind, Steps, Texts, Trace
from eelgrass.trace.objects import ObjectBuilder
from eelgrass.trace.points import PointTable
from eelgrass.trace.program import Program
from eelgrass.trace.slots import SlotBuilder
from eelgrass.trace.stream import Chunk, K, StreamError
from eelgrass.trace.values import NOT_SET, Kind, ValueTable

_STEP_KIND = {
    K.STEP: StepKind.LINE,
    K.ENTER: StepKind.CALL,
    K.LEAVE: StepKind.RETURN,
    K.LEFT: StepKind.RETURN,
    K.UNWIND: StepKind.RAISE,
    K.CAUGHT: StepKind.RAISE,
}
_STACK_KINDS = (K.ENTER, K.LEAVE, K.LEFT, K.UNWIND)


def _impossible(what: str) -> NoReturn:
    raise StreamError(f"The recorded program's event stream cannot be right: {what}.")


class Builder:
    """Takes a run's blocks in order and makes `Trace`s of what has arrived so far."""

    def __init__(self, case: dict[str, Any] | None = None) -> None:
        self.case = case or {}
        self.program = Program()
        self.points = PointTable(self.program)
        self.values = ValueTable()
        self.slots = SlotBuilder(self.values)
        self.objects = ObjectBuilder(self.values, self.slots)
        self.steps = {name: Column(dtype) for name, dtype in (("statement", "i4"), ("frame", "i4"), ("kind", "u1"))}
        self.frames = {
            name: Column("u1" if name == "end" else "i4")
            for name in ("function", "caller", "call_step", "first", "last", "value", "end")
        }
        self.texts = _TextBuilder()
        self.raises = {name: Column("u1" if name == "caught" else "i4") for name in ("step", "value", "caught")}
        self.outcome = Outcome()
        self._stack: list[int] = []
        self._last_step: list[int] = []  # by frame: its latest step
        self._returning: dict[int, int] = {}
        self._latest: dict[int, int] = {}  # function: its latest frame
        self._descriptions: list[str] = []
        self._kind_of = np.full(K.COUNT, -1, np.int8)
        for kind, step_kind in _STEP_KIND.items():
            self._kind_of[kind] = step_kind

    # Blocks

    def module(self, payload: bytes) -> None:
        """Takes the tables of one module. Raises StreamError when they contradict themselves."""
        self.points.add_module(payload)

    def ended(self, payload: bytes) -> None:
        """Takes the run's outcome."""
        try:
            told = json.loads(payload)
            self.outcome = Outcome(
                str(told["outcome"]),
                None if told["reason"] is None else str(told["reason"]),
                int(told["exit_status"]),
                float(told["seconds"]),
            )
        except (ValueError, KeyError, TypeError):
            _impossible("its end is not said as it should be")

    def chunk(self, payload: bytes) -> None:
        """Takes one chunk of events. Raises StreamError when they cannot be."""
        chunk = Chunk.parse(payload)
        kinds = self.points.kinds_of(chunk.events)
        arity = K.ARITY[kinds]
        ends = np.cumsum(arity)
        if (int(ends[-1]) if len(ends) else 0) != len(chunk.codes):
            _impossible("events and values do not match")
        numbers = self._numbers(chunk, np.isin(np.repeat(kinds, arity), K.DESCRIBING))
        step_of = self._steps(chunk.events, kinds)
        self._frames_of_events(chunk.events, kinds, numbers, ends - arity, step_of)

    def _numbers(self, chunk: Chunk, describing: npt.NDArray[np.bool_]) -> Ints:
        """Value numbers of a chunk's values. Descriptions are no values: they get, as -2 - n, their place in
        `_descriptions`."""
        is_text = np.isin(chunk.codes, (Kind.TEXT, Kind.OTHER))
        if (chunk.codes[describing] != Kind.OTHER).any():
            _impossible("a description has the wrong form")
        of_text = describing[is_text].tolist()
        self._descriptions = [text for text, its in zip(chunk.texts, of_text, strict=True) if its]
        texts = [text for text, its in zip(chunk.texts, of_text, strict=True) if not its]
        numbers = self.values.numbers(np.where(describing, 255, chunk.codes), chunk.wholes, chunk.floats, texts)
        numbers[describing] = -2 - np.arange(len(self._descriptions))
        return numbers

    def _steps(self, events: npt.NDArray[np.uint32], kinds: Ints) -> Ints:
        """Adds the chunk's steps (frames follow) and says during which step each event happens."""
        step_kinds = self._kind_of[kinds]
        is_step = step_kinds >= 0
        before = len(self.steps["kind"])
        self.steps["kind"].extend(step_kinds[is_step])
        self.steps["statement"].extend(self.points.statement[events[is_step]])
        result: Ints = (before - 1 + np.cumsum(is_step)).astype(np.int32)
        return result

    def _frames_of_events(
        self, events: npt.NDArray[np.uint32], kinds: Ints, numbers: Ints, at: Ints, step_of: Ints
    ) -> None:
        frame_of = np.empty(len(events), np.int32)
        is_step = self._kind_of[kinds] >= 0
        single = np.flatnonzero(np.isin(kinds, K.SINGLE))
        begin = 0
        statements = self.steps["statement"]
        for place in single.tolist():
            kind, event, step = int(kinds[place]), int(events[place]), int(step_of[place])
            if kind in _STACK_KINDS or kind in (K.CAUGHT, K.RETURNING):
                frame = self._stack[-1] if self._stack else -1
                frame_of[begin:place] = frame
                self._note_last_step(frame, begin, place, is_step, step_of)
                begin = place
            value = int(numbers[at[place]]) if K.ARITY[kind] else NOT_SET
            if kind == K.ENTER:
                self._enter(event, step)
            elif kind == K.RETURNING:
                self._returning[self._top(event)] = value
            elif kind in (K.LEAVE, K.LEFT, K.UNWIND, K.CAUGHT):
                frame = self._top(event)
                if statements[step] < 0 or kind != K.LEAVE:
                    last = self._last_step[frame]
                    statements[step] = statements[last] if last >= 0 else -1
                frame_of[place] = frame
                begin = place + 1
                self._last_step[frame] = step
                self._ending(kind, frame, step, value)
            else:
                self._single(kind, place, step, numbers[at[place] : at[place] + int(K.ARITY[kind])])
        frame = self._stack[-1] if self._stack else -1
        frame_of[begin:] = frame
        self._note_last_step(frame, begin, len(events), is_step, step_of)
        if (frame_of[is_step] < 0).any():
            _impossible("a step belongs to no frame")
        self.steps["frame"].extend(frame_of[is_step])
        self._stores(events, kinds, numbers, at, step_of, frame_of)

    def _note_last_step(self, frame: int, begin: int, end: int, is_step: npt.NDArray[np.bool_], step_of: Ints) -> None:
        if frame >= 0 and end > begin and (is_step[begin] or step_of[end - 1] > step_of[begin]):
            self._last_step[frame] = int(step_of[end - 1])

    # Frames

    def _top(self, event: int) -> int:
        """The frame that an ending event speaks of: the innermost one of the event's function."""
        function = int(self.points.function[event])
        functions = self.frames["function"]
        for place in range(len(self._stack) - 1, -1, -1):
            if functions[self._stack[place]] == function:
                for lost in self._stack[place + 1 :]:
                    self._close(lost, len(self.steps["kind"]) - 1, NOT_SET, FrameEnd.RAISED)
                del self._stack[place + 1 :]
                return self._stack[place]
        _impossible("a frame ends that never began")

    def _enter(self, event: int, step: int) -> None:
        function = int(self.points.function[event])
        caller = self._stack[-1] if self._stack else -1
        frame = len(self.frames["function"])
        row = {
            "function": function,
            "caller": caller,
            "call_step": self._last_step[caller] if caller >= 0 else -1,
            "first": step,
            "last": -1,
            "value": NOT_SET,
            "end": FrameEnd.OPEN,
        }
        for name, number in row.items():
            self.frames[name].append(number)
        self._stack.append(frame)
        self._last_step.append(step)
        self._latest[function] = frame

    def _ending(self, kind: int, frame: int, step: int, value: int) -> None:
        if kind in (K.CAUGHT, K.UNWIND):
            for name, number in (("step", step), ("value", value), ("caught", kind == K.CAUGHT)):
                self.raises[name].append(int(number))
        if kind == K.CAUGHT:
            return
        if kind == K.LEFT:
            value = self._returning.pop(frame, NOT_SET)
        self._close(frame, step, value, FrameEnd.RAISED if kind == K.UNWIND else FrameEnd.RETURNED)
        self._stack.pop()

    def _close(self, frame: int, step: int, value: int, end: FrameEnd) -> None:
        self.frames["last"][frame] = step
        self.frames["value"][frame] = value
        self.frames["end"][frame] = end

    # What happens inside a step

    def _single(self, kind: int, place: int, step: int, numbers: Ints) -> None:
        if kind == K.OUTPUT:
            channel, text = self._list(numbers[0], 2)
            if channel not in ("out", "err") or type(text) is not str:
                _impossible("a piece of output is not text")
            self.texts.add(step, 1 if channel == "out" else 2, text)
        elif kind == K.INPUT:
            text = self.values.view().get(int(numbers[0]))
            if type(text) is not str:
                _impossible("a line of input is not text")
            self.texts.add(step, 0, text)
        elif kind == K.OBJECT:
            self.objects.new(self._list(numbers[0], 6), step)
        elif kind == K.CONTENTS:
            number, *inside = self._list(numbers[0], 4)
            self.objects.contents(number, inside, step)
        else:
            owner = self.values.view().object_of(int(numbers[0]))
            if owner is None:
                _impossible("something is stored into what is no object")
            part = Part.ITEM if kind == K.SET_ITEM else Part.FIELD
            self.objects.store(owner, part, int(numbers[1]), int(numbers[2]), step)

    def _list(self, number: Any, size: int) -> list[Any]:
        try:
            value = json.loads(self._descriptions[-2 - int(number)])
        except (ValueError, RecursionError):
            _impossible("a description cannot be read")
        if type(value) is not list or len(value) != size:
            _impossible("a description has the wrong form")
        return value

    def _stores(
        self,
        events: npt.NDArray[np.uint32],
        kinds: Ints,
        numbers: Ints,
        at: Ints,
        step_of: Ints,
        frame_of: Ints,
    ) -> None:
        """Adds the writes of names, all at once."""
        places = np.flatnonzero(np.isin(kinds, (K.STORE, K.DELETE, K.BIND)))
        if not len(places):
            return
        chosen = events[places]
        owners = frame_of[places].copy()
        elsewhere = self.points.elsewhere[chosen]
        for place in np.flatnonzero(elsewhere).tolist():
            owners[place] = self._owner(int(chosen[place]), int(owners[place]))
        if (owners < 0).any():
            _impossible("a name is stored outside of every frame")
        values = np.full(len(places), NOT_SET, np.int32)
        has_value = kinds[places] != K.DELETE
        values[has_value] = numbers[at[places[has_value]]]
        names = self.points.name_values(chosen, self.values)
        # Parameters are there when their frame is: they count as written before its CALL step.
        steps = step_of[places] - (kinds[places] == K.BIND)
        self.slots.names(owners, names, steps, values)

    def _owner(self, event: int, frame: int) -> int:
        """The frame that holds a name which is not local to `frame`'s function: the module's or an enclosing one's."""
        function = self.points.owner_function(event)
        return self._latest.get(function, frame)

    # Results

    def trace(self, waiting: bool = False) -> Trace:
        """Everything that has arrived so far."""
        return Trace(
            Program(list(self.program.modules), list(self.program.functions), list(self.program.statements)),
            Steps(**{name: column.view() for name, column in self.steps.items()}),
            Frames(**{name: column.view().copy() for name, column in self.frames.items()}),
            self.slots.view(),
            self.values.view(),
            self.objects.view(),
            self.texts.view(),
            Raises(**{name: column.view() for name, column in self.raises.items()}),
            self.outcome,
            waiting,
            self.case,
        )


class _TextBuilder:
    def __init__(self) -> None:
        self.step, self.channel = Column("i4"), Column("u1")
        self.pieces: list[str] = []

    def add(self, step: int, channel: int, text: str) -> None:
        self.step.append(step)
        self.channel.append(channel)
        self.pieces.append(text)

    def view(self) -> Texts:
        return Texts(self.step.view(), self.channel.view(), list(self.pieces))
