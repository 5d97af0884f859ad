"""How often each line has run: so far, in all, never."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from functools import cached_property
from typing import NamedTuple

import numpy as np

from eelgrass.trace.columns import Ints, between, find
from eelgrass.trace.model import StepKind, Trace
from eelgrass.trace.program import EXPRESSION


class Count(NamedTuple):
    """A line's visits up to and with the shown step, and in the whole run (None where that is not to be known)."""

    so_far: int
    in_all: int | None


class _Counts(Mapping[int, Count]):
    def __init__(self, by_line: dict[int, Ints], step: int, tells_all: bool) -> None:
        self._by_line = by_line
        self._step = step
        self._tells_all = tells_all

    def __getitem__(self, line: int) -> Count:
        steps = self._by_line[line]
        return Count(find(steps, self._step + 1), len(steps) if self._tells_all else None)

    def __iter__(self) -> Iterator[int]:
        return iter(self._by_line)

    def __len__(self) -> int:
        return len(self._by_line)


class Visits:
    """The visits of one recording, by module and line."""

    def __init__(self, trace: Trace) -> None:
        self.trace = trace

    @cached_property
    def _by_statement(self) -> tuple[Ints, Ints]:
        """(visits sorted by statement and then time, start of each statement's part)."""
        trace = self.trace
        lines = np.flatnonzero(trace.steps.kind == StepKind.LINE).astype(np.int32)
        statements = trace.steps.statement[lines]
        order = np.argsort(statements, kind="stable")
        return lines[order], np.searchsorted(statements[order], np.arange(len(trace.program.statements) + 1))

    def of_statement(self, statement: int) -> Ints:
        """The steps that visit a statement, in order."""
        visits, ends = self._by_statement
        return visits[ends[statement] : ends[statement + 1]]

    def between(self, statement: int, first: int, end: int) -> Ints:
        """The steps from `first` up to, not including, `end` that visit a statement."""
        visits = self.of_statement(statement)
        return visits[between(visits, first, end)]

    def in_frame(self, statement: int, frame: int, first: int, end: int) -> Ints:
        """Those of them that stand in a frame."""
        visits = self.between(statement, *self.trace.frames.clipped(frame, first, end))
        chosen: Ints = visits[self.trace.steps.frame[visits] == frame]
        return chosen

    @cached_property
    def _by_line(self) -> list[dict[int, Ints]]:
        """For each module: line with a statement → the steps that visit it, in order."""
        program = self.trace.program
        found: list[dict[int, Ints]] = [{} for _ in program.modules]
        whole = {
            (program.functions[statement.function].module, statement.line)
            for statement in program.statements
            if statement.arm != EXPRESSION
        }
        for number, statement in enumerate(program.statements):
            if statement.arm == EXPRESSION and (program.functions[statement.function].module, statement.line) in whole:
                continue  # the passes of a comprehension are no visits of the statement that it stands in
            steps = self.of_statement(number)
            of_module = found[program.functions[statement.function].module]
            before = of_module.get(statement.line)
            of_module[statement.line] = steps if before is None else np.sort(np.concatenate((before, steps)))
        return found

    def counts(self, module: int, step: int, tells_all: bool = True) -> Mapping[int, Count]:
        """The counts at `step` of every line of a module at which a statement begins; each is made when it is asked
        for. In all only if it `tells_all`."""
        return _Counts(self._by_line[module], step, tells_all)

    def reached(self, module: int, step: int) -> int:
        """How many of a module's lines have been visited by a step."""
        return find(self._firsts[module], step + 1)

    @cached_property
    def _firsts(self) -> list[Ints]:
        """For each module, the first visits of its lines, in order."""
        return [
            np.sort(np.array([steps[0] for steps in by_line.values() if len(steps)], np.int32))
            for by_line in self._by_line
        ]

    def unreached(self, module: int, step: int) -> set[int]:
        """The lines whose statements have not been visited by a step; of a compound statement, only its first line."""
        spans = self._spans[module]
        missed = (line for line, steps in self._by_line[module].items() if not len(steps) or steps[0] > step)
        return {covered for line in missed for covered in spans.get(line, (line,))}

    @cached_property
    def _spans(self) -> list[dict[int, range]]:
        """For each module: line at which a statement begins → the lines that it covers itself, without its body."""
        program = self.trace.program
        spans: list[dict[int, range]] = [{} for _ in program.modules]
        with_body = {statement.parent for statement in program.statements if statement.arm != EXPRESSION}
        for number, statement in enumerate(program.statements):
            if statement.arm == EXPRESSION:
                continue
            compound = number in with_body or statement.kind in ("functiondef", "asyncfunctiondef", "classdef")
            end = statement.line if compound else statement.end_line
            spans[program.functions[statement.function].module][statement.line] = range(statement.line, end + 1)
        return spans

    def of_line(self, module: int, line: int) -> Ints:
        """The steps that visit a line, in order; empty for a line without a statement."""
        return self._by_line[module].get(line, np.zeros(0, np.int32))

    def latest(self, module: int, line: int, step: int) -> int:
        """The latest visit of a line before `step`, or -1."""
        steps = self.of_line(module, line)
        place = find(steps, step)
        return int(steps[place - 1]) if place else -1

    def next_visit(self, module: int, line: int, step: int) -> int:
        """The next visit of a line after `step`, or -1."""
        steps = self.of_line(module, line)
        place = find(steps, step + 1)
        return int(steps[place]) if place < len(steps) else -1

    def nearest(self, module: int, line: int, step: int) -> int:
        """The visit of a line nearest to `step`, the earlier of two; -1 when the line never runs."""
        steps = self.of_line(module, line)
        if not len(steps):
            return -1
        return int(steps[np.argmin(np.abs(steps - step))])
