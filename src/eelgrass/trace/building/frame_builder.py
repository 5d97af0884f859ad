"""Frames while they are being filled: which frame each event belongs to, how frames begin and end, who called them.

A chunk's events nest like brackets nearly always, and then `_nested` finds their frames a column at a time: events of
one depth belong to the frame that began last at that depth. Where that fails (a lambda that an exception went through
has no end of its own; a coroutine may wait where no text of its own tells so), `_walk` goes through the chunk.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from eelgrass.recorder import wire
from eelgrass.trace.building.point_table import PointTable
from eelgrass.trace.building.stacks import Stacks, Walk
from eelgrass.trace.building.stream import impossible
from eelgrass.trace.columns import Column, Ints
from eelgrass.trace.model import Closures, FrameEnd, Frames, Resumes
from eelgrass.trace.values import NOT_SET

Flags = npt.NDArray[np.bool_]

#: The largest number of 16 bits, which NumPy sorts in linear time.
_MOST_SMALL = (1 << 15) - 1
_OPENING = np.isin(np.arange(wire.KINDS), (wire.ENTER, wire.NEW, wire.RESUME))
_CLOSING = np.isin(np.arange(wire.KINDS), (wire.LEAVE, wire.LEFT, wire.UNWIND, wire.SUSPEND))
_ENDING = np.isin(np.arange(wire.KINDS), (wire.LEAVE, wire.LEFT, wire.UNWIND))


@dataclass(frozen=True)
class Events:
    """What is known of a chunk's events: point, kind, function (-1: no place in the text), number of their value, the
    value of the latest KEY, the token that goes with NEW, RESUME and ENCLOSING (with THREAD, its number), and the step
    during which each happens."""

    points: npt.NDArray[np.uint32]
    kinds: Ints
    functions: Ints
    values: Ints
    keys: Ints
    tokens: Ints
    step_of: Ints
    is_step: Flags


@dataclass(frozen=True)
class Framed:
    """The events' frames. `last_step`: the latest step of the event's frame, up to and with the event itself;
    `step_before`: the one without it. -1 where there is none. `order` sorts the events by frame and time; `sorted_`
    holds both for them, packed into one number each."""

    frame_of: Ints
    last_step: Ints
    step_before: Ints
    order: Ints
    sorted_: Ints


class FrameBuilder:
    """Takes chunks in order."""

    def __init__(self, points: PointTable) -> None:
        self._points = points
        self._columns = {
            name: Column("u1" if name == "end" else "i4")
            for name in ("function", "caller", "call_step", "first", "last", "value", "end", "thread")
        }
        self._resumes = {name: Column("i4") for name in ("step", "frame", "caller", "call_step")}
        self._closures = {name: Column("i4") for name in ("frame", "owner")}
        self._stack: Ints = np.zeros(0, np.int32)
        self._stacks = Stacks()
        self._last_step = Column("i4")  # by frame
        self._of_token = Column("i4")
        self._returning: dict[int, int] = {}
        self._modules: dict[int, int] = {}  # the function that is a module: its latest frame
        self._enclosing: dict[int, list[int]] = {}  # by frame: frames of enclosing functions

    def chunk(self, events: Events) -> Framed:
        """Adds the frames of a chunk. Raises StreamError when its events cannot be."""
        opens = np.flatnonzero(_OPENING[events.kinds])
        opened = self._opened(events, opens)
        alone = not (events.kinds == wire.THREAD).any()
        found = self._nested(events, opens, opened) if alone else None
        threads, lost = np.full(len(opens), self._stacks.thread, np.int32), []
        if found is None:
            walk = self._walk(events, dict(zip(opens.tolist(), opened.tolist(), strict=True)))
            found = np.array(walk.frame_of, np.int32), np.array(walk.callers, np.int32)
            threads, lost = np.array(walk.threads, np.int32), walk.lost
        frame_of, callers = found
        framed = self._framed(events, frame_of)
        self._begin(events, framed, opens, callers, threads)
        self._close(events, framed)
        for frame, place in lost:
            self._columns["last"][frame] = int(events.step_of[place])
            self._columns["end"][frame] = FrameEnd.RAISED
        self._enclose(events, frame_of)
        return framed

    def _opened(self, events: Events, opens: Ints) -> Ints:
        """The frames that the opening events begin or go on with."""
        kinds = events.kinds[opens]
        is_new = kinds != wire.RESUME
        frames = np.empty(len(opens), np.int32)
        frames[is_new] = len(self._columns["function"]) + np.arange(int(is_new.sum()))
        with_token = kinds == wire.NEW
        tokens = events.tokens[opens]
        expected = len(self._of_token) + np.arange(int(with_token.sum()))
        if (tokens[with_token] != expected).any():
            impossible("a frame begins out of order")
        self._of_token.extend(frames[with_token])
        if (~is_new).any():
            asked = tokens[~is_new]
            if int(asked.min()) < 0 or int(asked.max()) >= len(self._of_token):
                impossible("a frame goes on that never began")
            frames[~is_new] = self._of_token.view()[asked]
        return frames

    # Which frame

    def _nested(self, events: Events, opens: Ints, opened: Ints) -> tuple[Ints, Ints] | None:
        """(frame of each event, caller of each opened frame), if the events nest; else None."""
        size = len(events.kinds)
        is_open, closes = _OPENING[events.kinds], _CLOSING[events.kinds]
        level = len(self._stack) + np.cumsum(is_open) - np.cumsum(closes) + closes
        lowest = int(np.min(level))
        if lowest < 0 or (level[events.functions >= 0] < 1).any():
            return None
        above = level - lowest
        order = np.argsort(above.astype(np.int16) if int(np.max(above)) <= _MOST_SMALL else above, kind="stable")
        levels = level[order]
        opens_here = is_open[order]
        begins_group = np.diff(levels, prepend=-1) != 0
        places = np.arange(size)
        segment = np.maximum.accumulate(np.where(opens_here | begins_group, places, 0))
        its_frame = np.full(size, -1, np.int32)
        its_frame[opens] = opened
        below = np.append(self._stack, np.int32(-1))
        carried = below[np.where(levels <= len(self._stack), levels - 1, -1)]
        frames = np.where(opens_here[segment], its_frame[order][segment], carried[segment])
        functions = events.functions[order]
        known = self._columns["function"].view()
        expected = np.where(opens_here[segment], functions[segment], known[carried[segment]] if len(known) else -1)
        if ((functions >= 0) & ((functions != expected) | (frames < 0))).any():
            return None
        frame_of = np.empty(size, np.int32)
        frame_of[order] = frames
        # The caller is the frame of the last event one level up; or, before any in this chunk, the one carried over.
        keys = levels.astype(np.int64) << 32 | order
        wanted = level[opens] - 1
        found = np.maximum(keys.searchsorted(wanted.astype(np.int64) << 32 | opens) - 1, 0)
        carried_over = below[np.where(wanted <= len(self._stack), wanted - 1, -1)]
        callers = np.where(
            (levels[found] == wanted) & (keys[found] < (wanted << 32 | opens)), frames[found], carried_over
        )
        self._stack = self._after(int(level[-1] - closes[-1]), levels, frames)
        return frame_of, callers

    def _after(self, depth: int, levels: Ints, frames: Ints) -> Ints:
        """The stack at the end of a chunk whose events are sorted by level."""
        stack = np.full(depth, -1, np.int32)
        kept = min(depth, len(self._stack))
        stack[:kept] = self._stack[:kept]
        ends = levels.searchsorted(np.arange(1, depth + 1), "right") - 1
        present = levels[ends] == np.arange(1, depth + 1)
        stack[present] = frames[ends[present]]
        return stack

    def _walk(self, events: Events, opened: dict[int, int]) -> Walk:
        """As `_nested`, for events that do not nest, or are of several threads."""
        new = {frame: int(events.functions[place]) for place, frame in opened.items()}

        def function_of(frame: int) -> int:
            return new[frame] if frame in new else self.function_of(frame)

        def waits(function: int) -> bool:
            return bool(self._points.waits[function])

        stack: list[int] = self._stack.tolist()
        walk = Walk()
        for place, (kind, function) in enumerate(zip(events.kinds.tolist(), events.functions.tolist(), strict=True)):
            if kind == wire.THREAD:
                stack = self._stacks.switch(stack, int(events.tokens[place]))
            elif _OPENING[kind]:
                self._stacks.opens(stack, opened[place], function, walk, goes_on=kind == wire.RESUME)
            elif function >= 0 and (not stack or function_of(stack[-1]) != function):
                self._stacks.find(stack, function, function_of, waits, walk)
            walk.frame_of.append(stack[-1] if stack else -1)
            if _CLOSING[kind] and stack:
                stack.pop()
        self._stack = np.array(stack, np.int32)
        return walk

    # What follows from it

    def _framed(self, events: Events, frame_of: Ints) -> Framed:
        size = len(frame_of)
        order = np.argsort(frame_of, kind="stable")
        frames = frame_of[order]
        begins = np.diff(frames, prepend=-2) != 0
        known = np.append(self._last_step.view(), np.int32(-1))
        start = np.where((frames >= 0) & (frames < len(known) - 1), frames, -1)
        steps = np.where(events.is_step[order], events.step_of[order], np.where(begins, known[start], -1))
        # Steps only grow within a frame, so a running maximum over (frame, step) carries the latest along.
        packed = np.maximum.accumulate((np.cumsum(begins) << 32) | (steps + 1))
        latest = ((packed & 0xFFFFFFFF) - 1).astype(np.int32)
        before = np.where(begins, known[start], np.concatenate(([-1], latest[:-1])))
        last_step, step_before = np.empty(size, np.int32), np.empty(size, np.int32)
        last_step[order], step_before[order] = latest, before
        if (events.is_step & (frame_of < 0)).any():
            impossible("a step belongs to no frame")
        return Framed(frame_of, last_step, step_before, order, frames.astype(np.int64) << 32 | order)

    def _last_of(self, frames: Ints, places: Ints, framed: Framed) -> Ints:
        """The latest step of each of `frames` before the event at each of `places`."""
        found = np.maximum(framed.sorted_.searchsorted(frames.astype(np.int64) << 32 | places) - 1, 0)
        event = framed.order[found]
        here = (framed.frame_of[event] == frames) & (event < places)
        known = np.append(self._last_step.view(), np.int32(-1))
        earlier = known[np.where(frames < len(known) - 1, frames, -1)]
        return np.where(here, framed.last_step[event], earlier).astype(np.int32)

    def _begin(self, events: Events, framed: Framed, opens: Ints, callers: Ints, threads: Ints) -> None:
        call_steps = self._last_of(callers, opens, framed)
        is_new = events.kinds[opens] != wire.RESUME
        new = opens[is_new]
        for name, column in (
            ("function", events.functions[new]),
            ("caller", callers[is_new]),
            ("call_step", call_steps[is_new]),
            ("first", events.step_of[new]),
            ("last", np.full(len(new), -1)),
            ("value", np.full(len(new), NOT_SET)),
            ("end", np.full(len(new), FrameEnd.OPEN)),
            ("thread", threads[is_new]),
        ):
            self._columns[name].extend(column)
        for place in new[self._points.is_module[events.functions[new]]].tolist():
            self._modules[int(events.functions[place])] = int(framed.frame_of[place])
        again = opens[~is_new]
        for name, column in (
            ("step", events.step_of[again]),
            ("frame", framed.frame_of[again]),
            ("caller", callers[~is_new]),
            ("call_step", call_steps[~is_new]),
        ):
            self._resumes[name].extend(column)
        self._last_step.extend(np.full(len(new), -1))
        ends = np.flatnonzero(np.diff(framed.frame_of[framed.order], append=-2) != 0)
        lasts = framed.order[ends]
        lasts = lasts[framed.frame_of[lasts] >= 0]
        self._last_step.put(framed.frame_of[lasts], framed.last_step[lasts])

    def _close(self, events: Events, framed: Framed) -> None:
        closing = np.flatnonzero(_ENDING[events.kinds])
        frames = framed.frame_of[closing]
        values = events.values[closing].copy()
        if (events.kinds == wire.RETURNING).any() or self._returning:
            self._collect_returning(events, framed, closing, values)
        self._columns["last"].put(frames, events.step_of[closing])
        self._columns["value"].put(frames, values)
        ends = np.where(events.kinds[closing] == wire.UNWIND, FrameEnd.RAISED, FrameEnd.RETURNED)
        self._columns["end"].put(frames, ends)

    def _collect_returning(self, events: Events, framed: Framed, closing: Ints, values: Ints) -> None:
        """What a frame meant to hand back counts once it has LEFT."""
        told = np.flatnonzero((events.kinds == wire.RETURNING) | (events.kinds == wire.LEFT))
        for place in told.tolist():
            frame = int(framed.frame_of[place])
            if events.kinds[place] == wire.RETURNING:
                self._returning[frame] = int(events.values[place])
            else:
                values[closing.searchsorted(place)] = self._returning.pop(frame, NOT_SET)

    # Scopes

    def _enclose(self, events: Events, frame_of: Ints) -> None:
        for place in np.flatnonzero(events.kinds == wire.ENCLOSING).tolist():
            token, frame = int(events.tokens[place]), int(frame_of[place])
            if not 0 <= token < len(self._of_token) or frame < 0:
                impossible("a frame is enclosed by one that never began")
            owner = self._of_token[token]
            self._closures["frame"].append(frame)
            self._closures["owner"].append(owner)
            self._enclosing.setdefault(frame, []).append(owner)

    def holders(self, frames: Ints, functions: Ints) -> Ints:
        """For each of `frames` the frame of the function (the module's, or an enclosing one's) that holds its names."""
        holders = np.empty(len(frames), np.int32)
        packed = frames.astype(np.int64) << 32 | functions
        distinct, which = np.unique(packed, return_inverse=True)
        pairs = ((key >> 32, key & 0xFFFFFFFF) for key in distinct.tolist())
        holders = np.array([self._holder(frame, function) for frame, function in pairs], np.int32)[which]
        return holders

    def _holder(self, frame: int, function: int) -> int:
        functions = self._columns["function"]
        if self._points.is_module[function]:
            return self._modules.get(function, frame)
        around: int = frame
        while around >= 0:
            for owner in [around, *self._enclosing.get(around, [])]:
                if functions[owner] == function:
                    return owner
            # A comprehension runs at once, in the frame that has the names.
            is_inner = self._points.is_comprehension[functions[around]]
            around = self._columns["caller"][around] if bool(is_inner) else -1
        return frame

    def function_of(self, frame: int) -> int:
        """The function that a frame runs."""
        return self._columns["function"][frame]

    def known(self, frame: int) -> int:
        """The frame that has this number. Raises StreamError when there is none."""
        if not 0 <= frame < len(self._columns["function"]):
            impossible("a name is set in a frame that never began")
        return frame

    def view(self) -> tuple[Frames, Resumes, Closures]:
        """The frames as they stand. Copied, since ends are filled in later."""
        return (
            Frames(**{name: column.view().copy() for name, column in self._columns.items()}),
            Resumes(**{name: column.view() for name, column in self._resumes.items()}),
            Closures(**{name: column.view() for name, column in self._closures.items()}),
        )
