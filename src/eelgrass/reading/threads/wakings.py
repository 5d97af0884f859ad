"""Who let a task go on: the statement of another that did what it waited for, the end of another, or time."""

from __future__ import annotations

import ast
from dataclasses import dataclass
from functools import cached_property

import numpy as np

from eelgrass.reading.recording import Recording
from eelgrass.reading.threads.at_a_step import first_await, object_at
from eelgrass.trace.columns import Ints

#: By the method that is awaited, those by which another does what it waits for.
_WAKERS: dict[str, frozenset[str]] = {
    "wait": frozenset(("set", "notify", "notify_all", "abort")),
    "get": frozenset(("put", "put_nowait")),
    "put": frozenset(("get", "get_nowait")),
    "acquire": frozenset(("release",)),
    "join": frozenset(("task_done",)),
}
#: What waits for others to end, besides an object that is awaited itself.
_FOR_ENDS = ("gather", "wait", "wait_for", "shield", "as_completed")
#: So many statements that may have done it are looked at, the latest first.
_MOST = 4_000


@dataclass(frozen=True)
class Waking:
    """`by`: the first frame of the task that let another go on (-1: none), at a step; it `ended`, or only time passed
    (`is_time`)."""

    by: int
    step: int
    ended: bool = False
    is_time: bool = False


class Wakings:
    """The tasks of one recording, by the frames that they begin with."""

    def __init__(self, recording: Recording, roots: list[int]) -> None:
        self.recording = recording
        self._trace = recording.trace
        self._roots = roots
        self._callers: dict[frozenset[str], dict[int, list[ast.Call]]] = {}

    @cached_property
    def _of_step(self) -> Ints:
        """The task of each step; -1 for none."""
        callers = self._trace.frames.caller
        found, roots = np.full(len(callers), -1, np.int32), set(self._roots)
        for frame in range(len(callers)):
            caller = int(callers[frame])
            found[frame] = frame if frame in roots else found[caller] if 0 <= caller < frame else -1
        return found[self._trace.steps.frame]

    def latest(self, root: int, step: int) -> Waking | None:
        """Who let a task go on that is on at a step; None where it has never waited, or that cannot be told."""
        stretches = self._trace.stretches
        row = stretches.row_at(root, step)
        went_on = int(stretches.first[row])
        own = np.flatnonzero(self._of_step[:went_on] == root)
        if not len(own) or row == stretches.row_at(root, -1):
            return None
        waited = int(own[-1])
        node = self.recording.worked_lines.syntax.at(waited)
        if isinstance(node, ast.AsyncWith):
            return self._by_method(node.items[0].context_expr, _WAKERS["acquire"], waited, went_on)
        awaited = first_await(node)
        return self._of(awaited, waited, went_on) if awaited is not None else None

    def _of(self, node: ast.expr, waited: int, went_on: int) -> Waking | None:
        if not isinstance(node, ast.Call):
            return self._by_end(waited, went_on)
        name = getattr(node.func, "attr", getattr(node.func, "id", ""))
        if name == "sleep":
            return Waking(-1, -1, is_time=True)
        if isinstance(node.func, ast.Attribute) and name in _WAKERS:
            found = self._by_method(node.func.value, _WAKERS[name], waited, went_on)
            if found is not None or name not in _FOR_ENDS:
                return found
        return self._by_end(waited, went_on) if name in _FOR_ENDS else None

    def _by_method(self, owner: ast.expr, methods: frozenset[str], waited: int, went_on: int) -> Waking | None:
        """The latest statement in between, of another task, that calls one of some methods of the same object."""
        its = object_at(self.recording, owner, waited)
        if its < 0:
            return None
        within = [
            (step, number)
            for number in self._calling(methods)
            for step in self.recording.visits.between(number, waited + 1, went_on).tolist()
        ]
        for step, number in sorted(within, reverse=True)[:_MOST]:
            if any(self._is_of(call, its, step) for call in self._calling(methods)[number]):
                return Waking(int(self._of_step[step]), step)
        return None

    def _calling(self, methods: frozenset[str]) -> dict[int, list[ast.Call]]:
        """The statements in which one of some methods is called, with these calls; found once."""
        if methods not in self._callers:
            syntax, found = self.recording.worked_lines.syntax, dict[int, list[ast.Call]]()
            for number in range(len(self._trace.program.statements)):
                node = syntax.statement(number)
                within = ast.walk(node) if node is not None and not hasattr(node, "body") else ()
                calls = [call for call in within if isinstance(call, ast.Call)]
                its = [call for call in calls if getattr(call.func, "attr", "") in methods]
                if its:
                    found[number] = its
            self._callers[methods] = found
        return self._callers[methods]

    def _is_of(self, node: ast.Call, number: int, step: int) -> bool:
        """Whether it is a call of a method of an object."""
        return isinstance(node.func, ast.Attribute) and object_at(self.recording, node.func.value, step) == number

    def _by_end(self, waited: int, went_on: int) -> Waking | None:
        lasts = ((int(self._trace.frames.last[root]), root) for root in self._roots)
        last, root = max(((last, root) for last, root in lasts if waited < last < went_on), default=(-1, -1))
        return Waking(root, last, ended=True) if root >= 0 else None
