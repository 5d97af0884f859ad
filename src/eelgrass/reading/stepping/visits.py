"""How often each line has run: so far, in all, never."""

from __future__ import annotations

from functools import cached_property
from typing import NamedTuple

import numpy as np

from eelgrass.trace.columns import Ints, Wides, find
from eelgrass.trace.model import StepKind, Trace
from eelgrass.trace.program import EXPRESSION

#: With more lines than this they are looked up all at once; a step fits into so many bits.
_FEW, _STEP_BITS = 64, 40


class Count(NamedTuple):
    """A line's visits up to and with the shown step, and in the whole run (None where that is not to be known)."""

    so_far: int
    in_all: int | None


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

    def counts(self, module: int, step: int) -> dict[int, Count]:
        """The counts at `step` of every line of a module at which a statement begins."""
        by_line = self._by_line[module]
        if len(by_line) <= _FEW:
            return {line: Count(find(steps, step + 1), len(steps)) for line, steps in by_line.items()}
        keys, starts = self._together[module]
        lines = np.arange(len(by_line), dtype=np.int64) << _STEP_BITS
        so_far = (keys.searchsorted(lines + step + 1) - starts[:-1]).tolist()
        return dict(zip(by_line, map(Count, so_far, np.diff(starts).tolist()), strict=True))

    @cached_property
    def _together(self) -> list[tuple[Wides, Wides]]:
        """For each module, the visits of its lines one after the other: (place of the line and step in one number,
        where each line's begin)."""
        found = []
        for by_line in self._by_line:
            counts = np.array([len(steps) for steps in by_line.values()], np.int64)
            places = np.repeat(np.arange(len(counts), dtype=np.int64), counts) << _STEP_BITS
            steps = np.concatenate([np.zeros(0, np.int64), *by_line.values()])
            found.append((places + steps.astype(np.int64), np.append(0, np.cumsum(counts))))
        return found

    def unreached(self, module: int, reached: set[int]) -> set[int]:
        """The lines whose statements are none of those that were `reached`; of a compound statement, only its first
        line."""
        spans = self._spans[module]
        missed = (line for line in self._by_line[module] if line not in reached)
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
