"""What threads wait for, and what they hold, by the statements that they stand in and those that they have done."""

from __future__ import annotations

import ast
from bisect import bisect_left
from collections.abc import Iterator
from dataclasses import dataclass

from eelgrass.reading.recording import Recording
from eelgrass.reading.state.call_stack import stack_at
from eelgrass.reading.state.thread_names import is_thread
from eelgrass.reading.threads.at_a_step import object_at
from eelgrass.trace.model import StepKind

#: What the types of locks are called in a program.
_KINDS = {"lock": "Lock", "_RLock": "RLock"}
#: Held by one thread, or by so many; to be waited for until somebody does something.
HELD = ("Lock", "RLock", "Condition", "Semaphore", "BoundedSemaphore")
#: The methods that make a thread wait, with how many arguments: with more, it waits for a time, or not at all.
_WAITING = {"acquire": 0, "join": 0, "get": 0, "put": 1, "wait": 0, "wait_for": 1, "result": 0}
#: So many of the latest calls are looked at.
_MOST_CALLS = 4_000
_BY_CALL, _GIVES_BACK = ("acquire", "release"), "release"


@dataclass(frozen=True)
class Lock:
    """A lock, queue, event or thread: its object, what the program calls it, and its kind."""

    object: int
    name: str
    kind: str


@dataclass(frozen=True)
class Held:
    """A lock that a thread has, and the line and step at which it took it."""

    lock: Lock
    line: int
    step: int


@dataclass(frozen=True)
class LockCall:
    """A call that takes or `gives_back` what `owner` is; one that need not have got it is not `is_certain`."""

    owner: ast.expr
    gives_back: bool
    is_certain: bool


@dataclass(frozen=True)
class LockVisit:
    """A visit that takes or gives back; it has done so by the step `told`."""

    told: int
    visit: int
    call: LockCall


class Locks:
    """Locks of one recording just before a step; `calls` are those that take and give back, in order of when, and
    `objects` what they were found to be about, kept from step to step."""

    def __init__(
        self,
        recording: Recording,
        step: int,
        calls: list[LockVisit],
        objects: dict[tuple[int, ast.expr], int],
    ) -> None:
        self.recording = recording
        self.step = step
        self._calls, self._objects = calls, objects
        self._trace = recording.trace

    def waited_for(self, last: int) -> Lock | None:
        """What the statement in which a thread stands, at its latest step, is to wait for; None for nothing."""
        if self._trace.steps.kind[last] != StepKind.LINE:
            return None
        node = self.recording.worked_lines.syntax.at(last)
        if isinstance(node, (ast.With, ast.AsyncWith)):
            found = (self._lock(item.context_expr, last) for item in node.items)
            return next((its for its in found if its is not None and its.kind in HELD), None)
        if node is None or hasattr(node, "body"):
            return None
        for call in ast.walk(node):
            if not (isinstance(call, ast.Call) and isinstance(call.func, ast.Attribute)):
                continue
            most = _WAITING.get(call.func.attr, -1)
            its = self._lock(call.func.value, last) if len(call.args) <= most and not call.keywords else None
            if its is not None:
                return its
        return None

    def held(self, last: int) -> list[Held]:
        """What a thread that stands at a step has taken and not given back."""
        thread = int(self._trace.frames.thread[self._trace.steps.frame[last]])
        found = {its.lock.object: its for its in self._by_calls(thread)}
        found |= {its.lock.object: its for its in self._by_with(last)}
        return list(found.values())

    def _by_with(self, last: int) -> Iterator[Held]:
        """Those of the `with` statements that the thread is inside of."""
        trace = self._trace
        for frame, place in stack_at(trace, last):
            statement = int(trace.steps.statement[place])
            while statement >= 0:
                around, arm = trace.program.statements[statement].parent, trace.program.statements[statement].arm
                if around >= 0 and arm == 0 and trace.program.statements[around].kind in ("with", "asyncwith"):
                    yield from self._taken_with(around, frame, place)
                statement = around

    def _taken_with(self, statement: int, frame: int, before: int) -> Iterator[Held]:
        visits = self.recording.visits.of_statement(statement)
        visits = visits[(self._trace.steps.frame[visits] == frame) & (visits <= before)]
        node = self.recording.worked_lines.syntax.statement(statement)
        if len(visits) and isinstance(node, (ast.With, ast.AsyncWith)):
            visit = int(visits[-1])
            for item in node.items:
                lock = self._lock(item.context_expr, visit)
                if lock is not None and lock.kind in HELD:
                    yield Held(lock, self._trace.line_of(visit), visit)

    def _by_calls(self, thread: int) -> Iterator[Held]:
        """Those that were taken by a call, so often as they have not been given back: by the same thread or, where that
        has none, by another."""
        taken: dict[int, list[tuple[int, int, ast.expr]]] = {}
        come = bisect_left(self._calls, self.step + 1, key=lambda its: its.told)
        for call in self._calls[max(come - _MOST_CALLS, 0) : come]:
            number = self._object(call.call.owner, call.visit)
            if number < 0:
                continue
            its, held = (
                int(self._trace.frames.thread[self._trace.steps.frame[call.visit]]),
                taken.setdefault(number, []),
            )
            if not call.call.gives_back:
                held += [(its, call.visit, call.call.owner)] if call.call.is_certain else []
            elif held:
                own = [place for place, one in enumerate(held) if one[0] == its]
                del held[own[-1] if own else -1]
        for held in taken.values():
            own_visits = [(visit, owner) for its, visit, owner in held if its == thread]
            lock = self._lock(own_visits[-1][1], own_visits[-1][0]) if own_visits else None
            if lock is not None:
                yield Held(lock, self._trace.line_of(own_visits[-1][0]), own_visits[-1][0])

    def _object(self, node: ast.expr, step: int) -> int:
        """The object that an expression stands for at a step; -1 where it is none, or cannot be told."""
        found = self._objects.get((step, node))
        if found is None:
            found = self._objects[step, node] = object_at(self.recording, node, step)
        return found

    def _lock(self, node: ast.expr, step: int) -> Lock | None:
        number = self._object(node, step)
        return Lock(number, self._name(number, ast.unparse(node)), self._kind(number)) if number >= 0 else None

    def _kind(self, number: int) -> str:
        type_ = self._trace.objects.type_of(number)
        return "thread" if is_thread(self._trace, number) else _KINDS.get(type_, type_)

    def _name(self, number: int, written: str) -> str:
        """What the module calls an object, else what the statement does."""
        leads = self.recording.references.leads(number, self.step)
        own = [its.text for its in leads if self._trace.function_of_frame(its.frame).kind == "module"]
        return min(own, key=len, default=written)


def calls_of_locks(recording: Recording) -> list[LockVisit]:
    """Every visit of a statement that takes or gives back by a call, in order of when it has done so: who takes one may
    have to wait."""
    found = []
    for number, statement in enumerate(recording.trace.program.statements):
        is_plain = statement.kind in ("expr", "assign")
        node = recording.worked_lines.syntax.statement(number) if is_plain else None
        for call in ast.walk(node) if node is not None else ():
            if isinstance(call, ast.Call) and isinstance(call.func, ast.Attribute) and call.func.attr in _BY_CALL:
                is_certain = not call.args and not call.keywords
                its = LockCall(call.func.value, call.func.attr == _GIVES_BACK, is_certain)
                for visit in recording.visits.of_statement(number).tolist():
                    after = recording.stepping.next_in_frame(visit)
                    if after >= 0:
                        found.append(LockVisit(visit + 1 if its.gives_back else after, visit, its))
    return sorted(found, key=lambda its: its.told)
