"""A recording: what happened in one run of a program, as columns."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field
from enum import IntEnum
from functools import cached_property, lru_cache
from typing import Any, ClassVar

import numpy as np

from eelgrass.trace.cells import Cells
from eelgrass.trace.columns import Bytes, Ints, find, narrow
from eelgrass.trace.histories import Histories, Slots
from eelgrass.trace.program import Function, Program, Statement
from eelgrass.trace.stack_spans import StackSpans, stretches_of
from eelgrass.trace.values import KEPT, Values


class StepKind(IntEnum):
    """What a step is: a statement about to run, a frame that begins, one that hands a value back, an exception on
    its way through a frame."""

    LINE = 0
    CALL = 1
    RETURN = 2
    RAISE = 3


class FrameEnd(IntEnum):
    """How a frame ended."""

    OPEN = 0
    RETURNED = 1
    RAISED = 2


@dataclass(frozen=True)
class Steps:
    """One row a step. `statement` is -1 on a CALL step, whose line is the function's."""

    statement: Ints
    frame: Ints
    kind: Bytes

    @staticmethod
    def of(statement: Ints, frame: Ints, kind: Bytes) -> Steps:
        """With the statements in as little room as they need, since few programs have many."""
        return Steps(narrow(statement), frame, kind)

    def __len__(self) -> int:
        return len(self.kind)


@dataclass(frozen=True)
class Frames:
    """One row a frame. `caller` is -1 for the first module, `call_step` the caller's step that made the call, `last`
    its last step (-1: still open), `thread` the one it began in (0: the main one), `value` what it handed back or the
    exception that ended it (a value number)."""

    function: Ints
    caller: Ints
    call_step: Ints
    first: Ints
    last: Ints
    value: Ints
    end: Bytes
    thread: Ints

    def __len__(self) -> int:
        return len(self.function)

    def clipped(self, frame: int, since: int, until: int) -> tuple[int, int]:
        """What is left of a range of steps, from one up to, not including, another, while a frame was there."""
        last = int(self.last[frame])
        return max(since, int(self.first[frame])), min(until, last + 1) if last >= 0 else until


@dataclass(frozen=True)
class Resumes:
    """One row for each time that a generator's or coroutine's frame goes on, at its CALL step: who resumed it, and that
    frame's step."""

    step: Ints
    frame: Ints
    caller: Ints
    call_step: Ints


@dataclass(frozen=True)
class Closures:
    """One row for each frame whose names another frame, of a function defined in it, uses."""

    frame: Ints
    owner: Ints


@dataclass(frozen=True)
class Results:
    """One row for each value of a part of a statement that was told: during which step, in which frame, the expression,
    and the value's number. A `yield` tells twice: what it hands out, at the frame's RETURN step, and what it is sent,
    at its CALL step."""

    step: Ints
    frame: Ints
    expression: Ints
    value: Ints


@dataclass(frozen=True)
class Objects:
    """One row an object: index into `shapes` and `types`, and the step at which it was first seen."""

    shape: Bytes
    type: Ints
    first: Ints
    shapes: list[str]
    types: list[str]

    def __len__(self) -> int:
        return len(self.shape)

    @cached_property
    def shape_of(self) -> Callable[[int], str]:
        """By an object's number: 'list', 'dict', 'set', 'tuple', 'array', 'instance', 'exception', 'function', 'class',
        'module' or 'opaque'. Kept, since each step asks it of all that a module defines."""
        return lru_cache(KEPT)(lambda number: self.shapes[int(self.shape[number])])

    def type_of(self, number: int) -> str:
        """The Python type's name."""
        return self.types[int(self.type[number])]


@dataclass(frozen=True)
class Texts:
    """What was printed, typed and shown, in order: the step during which each piece passed, its channel (`TYPED`,
    `OUTPUT`, `ERRORS`, or `PICTURE`), and the pieces themselves; a picture is a PNG as base 64. Besides: what
    changed on the simulated `DESK`, as JSON, and the `CAUSE` for which something outside calls the program's code next.
    """

    TYPED: ClassVar[int] = 0
    OUTPUT: ClassVar[int] = 1
    ERRORS: ClassVar[int] = 2
    PICTURE: ClassVar[int] = 3
    DESK: ClassVar[int] = 4
    CAUSE: ClassVar[int] = 5

    step: Ints
    channel: Bytes
    pieces: list[str]

    def of(self, *channels: int, before: int | None = None) -> list[str]:
        """The pieces of some channels, in order; those that passed before a step, if one is given."""
        end = len(self.pieces) if before is None else find(self.step, before)
        chosen = zip(self.channel[:end].tolist(), self.pieces[:end], strict=True)
        return [piece for channel, piece in chosen if channel in channels]


@dataclass(frozen=True)
class Raises:
    """One row for each frame that an exception goes through (`caught` 0) or is caught in (1), at its RAISE step; with
    the place in the text (columns in bytes from 0) of what went wrong there, all 0 where that is unknown."""

    step: Ints
    value: Ints
    caught: Bytes
    line: Ints
    column: Ints
    end_line: Ints
    end_column: Ints


#: More threads are not told apart.
MOST_THREADS = 1 << 20


@dataclass(frozen=True)
class Turns:
    """One row for each time that a thread began to wait or to sleep, or started another: during which step, in which
    thread, which of these, and the thread that was started (else -1). Known of threads that were made to take turns."""

    WAITS: ClassVar[int] = 0
    SLEEPS: ClassVar[int] = 1
    STARTS: ClassVar[int] = 2

    step: Ints
    thread: Ints
    what: Bytes
    other: Ints


def no_turns() -> Turns:
    """Of a run of which nothing such is known."""
    none = np.zeros(0, np.int32)
    return Turns(none, none, none.astype(np.uint8), none)


@dataclass(frozen=True)
class Outcome:
    """How the run ended: "finished", "raised", "exited", "stopped", or "running" while it has not; why, in words; its
    exit status; its wall time in seconds without waiting for input; and the limit that it passed, by its name in the
    order, if that stopped it."""

    outcome: str = "running"
    reason: str | None = None
    exit_status: int = 0
    seconds: float = 0.0
    limit: str = ""


@dataclass(frozen=True)
class Trace:
    """A whole recording, or the part of it that has arrived so far. Never changes once made."""

    program: Program
    steps: Steps
    frames: Frames
    resumes: Resumes
    closures: Closures
    results: Results
    slots: Slots
    values: Values
    objects: Objects
    texts: Texts
    raises: Raises
    outcome: Outcome = field(default_factory=Outcome)
    waiting: bool = False
    case: dict[str, Any] = field(default_factory=dict)
    turns: Turns = field(default_factory=no_turns)

    @cached_property
    def histories(self) -> Histories:
        """Every slot's writes in order of time."""
        return Histories(self.slots)

    @cached_property
    def cells(self) -> Cells:
        """The lists that change elsewhere than at their end."""
        return Cells(self.slots, self.histories, self.values.payloads)

    def function_of_frame(self, frame: int) -> Function:
        """The function that a frame runs."""
        return self.program.functions[int(self.frames.function[frame])]

    def statement_of(self, step: int) -> Statement | None:
        """The statement of a step; None on CALL steps and where a frame ended before its first statement."""
        number = int(self.steps.statement[step])
        return self.program.statements[number] if number >= 0 else None

    def line_of(self, step: int) -> int:
        """Line of the text, from 1, at which a step stands."""
        statement = self.statement_of(step)
        return statement.line if statement else self.function_of_frame(int(self.steps.frame[step])).line

    @cached_property
    def stretches(self) -> StackSpans:
        """When each frame was on the call stack, and who put it there."""
        return stretches_of(self, np.flatnonzero(self.steps.kind == StepKind.RETURN))

    @cached_property
    def first_frames(self) -> dict[int, int]:
        """The first frame of each function that was ever called."""
        functions, frames = np.unique(self.frames.function, return_index=True)
        return dict(zip(functions.tolist(), frames.tolist(), strict=True))

    @cached_property
    def _enclosing(self) -> dict[int, list[int]]:
        enclosing: dict[int, list[int]] = {}
        for frame, owner in zip(self.closures.frame.tolist(), self.closures.owner.tolist(), strict=True):
            enclosing.setdefault(frame, []).append(owner)
        return enclosing

    def holder(self, frame: int, function: int) -> int:
        """The frame of the enclosing `function` whose names `frame` uses, or -1 when that is not known."""
        while frame >= 0:
            for owner in [frame, *self._enclosing.get(frame, [])]:
                if int(self.frames.function[owner]) == function:
                    return owner
            # A comprehension runs at once, in the frame that has the names.
            is_inner = self.function_of_frame(frame).kind == "comprehension"
            frame = int(self.frames.caller[frame]) if is_inner else -1
        return -1

    @cached_property
    def depths(self) -> Ints:
        """Each frame's depth: 0 for the first module. A caller always has a smaller number than its callees."""
        # By pointer jumping (Wyllie 1979): after each round, `up` leads twice as far and `depths` counts as much.
        up = self.frames.caller
        depths = (up >= 0).astype(np.int32)
        while (known := up >= 0).any():
            depths = depths + np.where(known, depths[up], 0)
            up = np.where(known, up[up], -1)
        return depths
