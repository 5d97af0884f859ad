"""How often each line has run: so far, in all, never (needs M2, M7)."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property

import numpy as np

from eelgrass.trace.columns import Ints
from eelgrass.trace.model import StepKind, Trace


@dataclass(frozen=True)
class Count:
    """A line's visits up to and with the shown step, and in the whole run."""

    so_far: int
    in_all: int


class Visits:
    """The visits of one recording, by module and line."""

    def __init__(self, trace: Trace) -> None:
        self.trace = trace

    @cached_property
    def _by_line(self) -> list[dict[int, Ints]]:
        """For each module: line with a statement → the steps that visit it, in order."""
        trace = self.trace
        program = trace.program
        lines = np.flatnonzero(trace.steps.kind == StepKind.LINE)
        statements = trace.steps.statement[lines]
        order = np.argsort(statements, kind="stable")
        ends = np.searchsorted(statements[order], np.arange(len(program.statements) + 1))
        found: list[dict[int, Ints]] = [{} for _ in program.modules]
        for number, statement in enumerate(program.statements):
            steps = lines[order[ends[number] : ends[number + 1]]]
            of_module = found[program.functions[statement.function].module]
            before = of_module.get(statement.line)
            of_module[statement.line] = steps if before is None else np.sort(np.concatenate((before, steps)))
        return found

    def counts(self, module: int, step: int) -> dict[int, Count]:
        """The counts at `step` of every line of a module at which a statement begins."""
        return {
            line: Count(int(steps.searchsorted(step, "right")), len(steps))
            for line, steps in self._by_line[module].items()
        }

    def of_line(self, module: int, line: int) -> Ints:
        """The steps that visit a line, in order; empty for a line without a statement."""
        return self._by_line[module].get(line, np.zeros(0, np.int64))

    def latest(self, module: int, line: int, step: int) -> int:
        """The latest visit of a line before `step`, or -1."""
        steps = self.of_line(module, line)
        place = int(steps.searchsorted(step, "left"))
        return int(steps[place - 1]) if place else -1

    def nearest(self, module: int, line: int, step: int) -> int:
        """The visit of a line nearest to `step`, the earlier of two; -1 when the line never runs."""
        steps = self.of_line(module, line)
        if not len(steps):
            return -1
        return int(steps[np.argmin(np.abs(steps - step))])
