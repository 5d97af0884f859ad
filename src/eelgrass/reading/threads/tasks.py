"""Tasks of a program with coroutines: what each does at a step, and what it awaits."""

from __future__ import annotations

import ast
import re
from collections import Counter
from dataclasses import dataclass
from functools import cached_property
from typing import Literal

import numpy as np
import numpy.typing as npt

from eelgrass.reading.recording import Recording
from eelgrass.reading.state.call_stack import stack_at
from eelgrass.reading.threads.at_a_step import first_await
from eelgrass.reading.threads.task_circles import TaskCircles
from eelgrass.reading.threads.wakings import Wakings
from eelgrass.trace.model import StepKind, Texts

_CHARACTERS = 40
_NEVER = re.compile(r"coroutine '([^']+)' was never awaited")


@dataclass(frozen=True)
class TaskState:
    """A task just before a step: the frame that it began with, what it is called, where it stands (the step of the
    innermost frame; -1: it has ended), what it awaits, as written ('' for nothing), and, of one that is on, who let it
    go on, in words."""

    frame: int
    name: str
    state: Literal["running", "waiting", "ended"]
    step: int
    line: int
    awaits: str
    woken: str = ""


class TaskReader:
    """The tasks of one recording. A task is a coroutine that no other coroutine of the program awaits itself: the event
    loop goes on with it."""

    def __init__(self, recording: Recording) -> None:
        self.recording = recording
        self._trace = recording.trace
        functions, frames = self._trace.program.functions, self._trace.frames
        waits = np.array([its.waits and its.kind == "function" for its in functions], np.bool_)
        coroutines = self._coroutines()
        self._is_coroutine = waits & coroutines if len(waits) else waits
        of_frames = self._is_coroutine[frames.function] if len(frames) else np.zeros(0, np.bool_)
        callers = np.where(frames.caller >= 0, frames.caller, 0)
        awaited = (frames.caller >= 0) & of_frames[callers] if len(frames) else of_frames
        self._roots = dict.fromkeys(np.flatnonzero(of_frames & ~awaited).tolist())
        self._all = np.flatnonzero(of_frames)
        self._wakings = Wakings(recording, list(self._roots))
        self._circles = TaskCircles(recording, list(self._roots))

    def _coroutines(self) -> npt.NDArray[np.bool_]:
        """Which functions are written with `async`."""
        trace, names = self._trace, set[str]()
        for number, its in enumerate(trace.program.statements):
            if its.kind == "asyncfunctiondef":
                node = self.recording.worked_lines.syntax.statement(number)
                names |= {node.name} if isinstance(node, ast.AsyncFunctionDef) else set()
        return np.array([its.name in names for its in trace.program.functions], np.bool_)

    @property
    def has_tasks(self) -> bool:
        """Whether there are any."""
        return len(self._roots) > 0

    @cached_property
    def never_awaited(self) -> list[str]:
        """The coroutines of which Python itself said that nobody ever awaited them."""
        said = "".join(self._trace.texts.of(Texts.ERRORS))
        return list(dict.fromkeys(_NEVER.findall(said)))

    def circle(self, states: list[TaskState]) -> list[int]:
        """The places, among all tasks at a step, of those that wait for one another in a circle."""
        kinds = self._trace.steps.kind
        stands = [its for its in states if its.step >= 0]
        waits = [its for its in stands if its.state == "waiting" or kinds[its.step] == StepKind.RETURN]
        roots = [its.frame for its in states]
        return [roots.index(root) for root in self._circles.circle({its.frame: its.step for its in waits})]

    def at(self, step: int) -> list[TaskState]:
        """All tasks that have begun just before a step."""
        on = {frame: place for frame, place in stack_at(self._trace, step)}
        innermost = self._innermost(step)
        found = []
        for root in self._roots:
            if int(self._trace.frames.first[root]) > step:
                continue
            found.append(self._state(root, self._names[root], step, on, innermost))
        return found

    def _woken(self, root: int, step: int) -> str:
        """Who let a task go on, in words; '' where that is not known."""
        its = self._wakings.latest(root, step)
        if its is None or its.is_time:
            return "time" if its is not None else ""
        name = f"“{self._names[its.by]}”" if its.by >= 0 else "the program"
        line = self._trace.line_of(its.step)
        return f"the end of {name}" if its.ended else f"{name} at line {line}"

    @cached_property
    def _names(self) -> dict[int, str]:
        """The tasks of one coroutine are told apart by the order in which they began."""
        found, counts = dict[int, str](), Counter[int]()
        for root in sorted(self._roots):
            function = int(self._trace.frames.function[root])
            counts[function] += 1
            found[root] = f"{self._trace.function_of_frame(root).name} ({counts[function]})"
        return found

    def _state(
        self, root: int, name: str, step: int, on: dict[int, int], innermost: dict[int, tuple[int, int]]
    ) -> TaskState:
        last = int(self._trace.frames.last[root])
        if 0 <= last <= step and root not in on:
            return TaskState(root, name, "ended", -1, 0, "")
        if root in on:
            place = max(on.values())
            return TaskState(root, name, "running", place, self._trace.line_of(place), "", self._woken(root, step))
        _, place = innermost.get(root, (root, int(self._trace.frames.first[root])))
        return TaskState(root, name, "waiting", place, self._trace.line_of(place), self._awaited(place))

    def _innermost(self, step: int) -> dict[int, tuple[int, int]]:
        """By root, the frame that waits inside all others, and its latest stop."""
        stretches, found = self._trace.stretches, dict[int, tuple[int, int, int]]()
        frames = self._trace.frames
        lasts = frames.last[self._all]
        alive = self._all[(frames.first[self._all] <= step) & ((lasts < 0) | (lasts > step))]
        for frame in alive.tolist():
            stops = self.recording.stepping.stops_of(frame)
            place = int(np.searchsorted(stops, step)) - 1
            depth, root = 0, frame
            while root not in self._roots:
                row = stretches.row_at(root, step)
                root, depth = int(stretches.caller[row]), depth + 1
                if root < 0 or depth > len(frames):
                    break
            if root >= 0 and place >= 0 and depth >= found.get(root, (-1, 0, 0))[0]:
                found[root] = depth, frame, int(stops[place])
        return {root: (frame, place) for root, (_, frame, place) in found.items()}

    def _awaited(self, step: int) -> str:
        """What the statement at a step awaits, as written."""
        node = self.recording.worked_lines.syntax.at(step)
        if isinstance(node, ast.AsyncWith):
            return ast.unparse(node.items[0].context_expr)[:_CHARACTERS]
        if isinstance(node, ast.AsyncFor):
            return ast.unparse(node.iter)[:_CHARACTERS]
        found = first_await(node)
        return ast.unparse(found)[:_CHARACTERS] if found is not None else ""
