"""A run that would not end: the circle that it went round in, and what never changed there."""

from __future__ import annotations

import ast
from dataclasses import dataclass
from typing import NamedTuple

from eelgrass.reading.expressions.source_tree import worked_out
from eelgrass.reading.recording import Recording
from eelgrass.reading.state import value_text
from eelgrass.reading.state.call_stack import value_of_name
from eelgrass.trace.columns import find
from eelgrass.trace.values import NOT_SET

#: A loop is looked at over so many of its latest passes, a recursion over so many of its latest calls.
_LATEST = 200
_DEEP = 100
_MOST_CHARACTERS = 40


@dataclass(frozen=True)
class EndlessLoop:
    """The loop's or function's first and last line, how often it went round, and, of the names that decide whether it
    goes on, those that did not change in the latest passes, each with its value as text."""

    first_line: int
    last_line: int
    times: int
    function: str  # '' for a loop
    unchanged: list[tuple[str, str]]

    def words(self) -> str:
        """A sentence for the person."""
        one = self.first_line == self.last_line
        lines = f"line {self.first_line}" if one else f"lines {self.first_line} to {self.last_line}"
        if self.function:
            return f"“{self.function}” ({lines}) was called inside itself {self.times:,} times without an end in sight."
        told = f"It went round in {lines}, {self.times:,} times."
        if self.unchanged:
            names = " and ".join(f"“{name}” ({text})" for name, text in self.unchanged)
            told += f" What decides whether it goes on never changed in the latest passes: {names}."
        return told


def endless_loop(recording: Recording) -> EndlessLoop | None:
    """The circle in which a run stood when it ended; None where there is none to be seen."""
    step = recording.stepping.last()
    return _recursion(recording, step) or _loop(recording, step)


def _recursion(recording: Recording, step: int) -> EndlessLoop | None:
    trace = recording.trace
    frame = recording.stepping.frame_of(step)
    if int(trace.depths[frame]) < _DEEP:
        return None
    function, times = int(trace.frames.function[frame]), 0
    while frame >= 0:
        times += int(trace.frames.function[frame]) == function
        frame = int(trace.frames.caller[frame])
    lines = [its.line for its in trace.program.statements if its.function == function]
    its = trace.program.functions[function]
    return EndlessLoop(its.line, max([its.line, *lines]), times, its.name, [])


def _loop(recording: Recording, step: int) -> EndlessLoop | None:
    busiest = busiest_loop(recording, step)
    if busiest is None:
        return None
    its = recording.trace.program.statements[busiest.loop]
    unchanged = _unchanged(recording, busiest.loop, busiest.step)
    return EndlessLoop(its.line, its.end_line, busiest.times, "", unchanged)


class BusiestLoop(NamedTuple):
    """A loop's times round, its statement, and the step of its frame at which it was still going round."""

    times: int
    loop: int
    step: int


def busiest_loop(recording: Recording, step: int) -> BusiestLoop | None:
    """Of the loops on the call stack at a step, the one that went round most often at its last."""
    trace, found = recording.trace, list[BusiestLoop]()
    frame = recording.stepping.frame_of(step)
    while frame >= 0:
        for loop in recording.loops.around(step):
            its_pass = recording.loops.pass_at(step, loop)
            if its_pass is not None:
                found.append(BusiestLoop(its_pass.in_all, loop, step))
        step = int(trace.frames.call_step[frame])
        frame = int(trace.frames.caller[frame])
    return max(found, default=None)


def _unchanged(recording: Recording, loop: int, step: int) -> list[tuple[str, str]]:
    """The names in a `while`'s condition whose values are the same as many passes before."""
    node = recording.worked_lines.syntax.statement(loop)
    if not isinstance(node, ast.While):
        return []
    starts = recording.loops.starts(step, loop)
    before = int(starts[max(find(starts, step) - _LATEST, 0)])
    frame = recording.stepping.frame_of(step)
    names = [part.id for its in worked_out(node) for part in ast.walk(its) if isinstance(part, ast.Name)]
    found = []
    for name in dict.fromkeys(names):
        texts = []
        for at in (before, step):
            value = value_of_name(recording.trace, frame, name, at)
            texts.append("" if value == NOT_SET else value_text.text(recording.trace, value, at, _MOST_CHARACTERS))
        if texts[0] == texts[1] and texts[1] and not texts[1].startswith("<"):
            found.append((name, texts[1][:_MOST_CHARACTERS]))
    return found
