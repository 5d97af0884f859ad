"""What kept a line from running: in the whole run, or after a step in its frame."""

from __future__ import annotations

import ast
from dataclasses import dataclass, field

from eelgrass.reading.expressions.source_tree import decided_by
from eelgrass.reading.recording import Recording
from eelgrass.reading.state import insides
from eelgrass.reading.state.call_stack import value_of_name
from eelgrass.reading.stepping.loops import inside
from eelgrass.reading.trails.origins import Origins
from eelgrass.reading.trails.sentences import Sentences
from eelgrass.reading.trails.turnings import Reason, Turning
from eelgrass.trace.columns import find
from eelgrass.trace.model import StepKind
from eelgrass.trace.program import EXPRESSION
from eelgrass.trace.values import NOT_SET

_TURNED_AWAY = (Reason.DECISION, Reason.NO_PASSES)


@dataclass(frozen=True)
class DecisionPart:
    """A name, element or field in a decision, with its value then (a value number)."""

    text: str
    value: int


@dataclass(frozen=True)
class KeptOut:
    """Why a line did not run: how often it did, the reason, a sentence, and the step of the decision, of what left, or
    of the exception (-1: none), with the parts that a decision was made from."""

    line: int
    visits: int
    reason: Reason
    text: str
    step: int = -1
    decision: str = ""
    parts: list[DecisionPart] = field(default_factory=list)


def kept_out(origins: Origins, module: int, line: int, at: int = -1, end: int | None = None) -> KeptOut:
    """Why a line of a module did not run; with `at`, after that step in its frame, if that is one of the line's
    function, and before the step `end`, if one is named."""
    its = _Asked(origins, module, line, at, len(origins.trace.steps) if end is None else end)
    return its.answer()


def kept_out_here(origins: Origins, module: int, line: int, step: int) -> KeptOut:
    """Why a line never ran; of one that ran at times, why it did not in the call and pass in which a step stands."""
    answer = kept_out(origins, module, line)
    if answer.reason != Reason.RAN:
        return answer
    recording = origins.recording
    loop = next(iter(recording.loops.around(step)), -1)
    begin, end = step, None
    if loop >= 0 and len(starts := recording.loops.starts(step, loop)):
        number = find(starts, step + 1) - 1
        begin = int(starts[number]) - 1 if number >= 0 else step
        end = int(recording.loops.ends(step, loop)[number]) if number >= 0 else None
    here = kept_out(origins, module, line, begin, end)
    return here if here.visits == 0 and here.step >= 0 else answer


class _Asked:
    def __init__(self, origins: Origins, module: int, line: int, at: int, end: int) -> None:
        self.origins = origins
        self.recording: Recording = origins.recording
        self.trace = origins.trace
        self.sentences = Sentences(self.recording)
        self.module, self.line, self.at, self.end = module, line, at, end

    def answer(self) -> KeptOut:
        statement = self._statement()
        if statement < 0:
            return self._told(0, Reason.NO_STATEMENT, f"No statement stands on line {self.line}.")
        function = self.trace.program.statements[statement].function
        frame = self._frame_asked(function)
        visits = self.recording.visits.of_statement(statement)
        if frame >= 0:
            visits = visits[find(visits, self.at + 1) : find(visits, self.end)]
            visits = visits[self.trace.steps.frame[visits] == frame]
        if len(visits):
            times = "once" if len(visits) == 1 else f"{len(visits):,} times"
            return self._told(len(visits), Reason.RAN, f"Line {self.line} ran {times}, first at step {int(visits[0])}.")
        frames = [frame] if frame >= 0 else self.recording.calls.of_function(function)[::-1].tolist()
        if not frames:
            return self._never_called(function)
        first = self.at + 1 if frame >= 0 else 0
        for its in frames:
            turning = next(self.origins.turnings.of(statement, its, first, self.end), None)
            if turning is not None:
                return self._of_turning(turning)
        return self._told(0, Reason.STOPPED, "The recording ends before anything decided about this line.")

    def _statement(self) -> int:
        """The statement that begins on the line, else the smallest one that covers it."""
        program = self.trace.program
        covering = [
            (its.end_line - its.line, number)
            for number, its in enumerate(program.statements)
            if program.functions[its.function].module == self.module
            and its.arm != EXPRESSION
            and its.line <= self.line <= its.end_line
        ]
        begins = [number for _, number in covering if program.statements[number].line == self.line]
        if begins:
            return begins[0]
        _, number = min(covering, default=(0, -1))
        node = self.recording.worked_lines.syntax.statement(number) if number >= 0 else None
        return -1 if node is None or hasattr(node, "body") else number

    def _frame_asked(self, function: int) -> int:
        """The frame that stands at the step, where it is one of the line's function; else the nearest around it."""
        frame = int(self.trace.steps.frame[self.at]) if 0 <= self.at < len(self.trace.steps) else -1
        while frame >= 0 and self.trace.frames.function[frame] != function:
            frame = int(self.trace.frames.caller[frame])
        return frame

    def _told(self, visits: int, reason: Reason, text: str) -> KeptOut:
        return KeptOut(self.line, visits, reason, text)

    def _never_called(self, function: int) -> KeptOut:
        """Who would have called, and, where that is one statement that did not run, that it did not."""
        its = self.trace.program.functions[function]
        callers = [
            number
            for number in self.origins.rules.mentioning(its.name)
            if self.trace.program.statements[number].function != function
        ]
        kind = {"class": "class body", "module": "module"}.get(its.kind, "function")
        if not callers:
            return self._told(0, Reason.NEVER_CALLED, f"The {kind} {its.name} never ran: nothing in the text names it.")
        lines = sorted({self.trace.program.statements[number].line for number in callers})
        where = ", ".join(map(str, lines[:4])) + (" …" if len(lines) > 4 else "")
        ran = any(len(self.recording.visits.of_statement(number)) for number in callers)
        word = "names" if len(lines) == 1 else "name"
        more = "" if ran else ", and did not run"
        text = f"{its.name} was never called: line{'s' if len(lines) > 1 else ''} {where} {word} it{more}."
        return self._told(0, Reason.NEVER_CALLED, text)

    def _of_turning(self, turning: Turning) -> KeptOut:
        words = self.sentences.turning(turning.step, turning.reason)
        text = f"Line {self.line} did not run: {words}."
        if turning.reason not in _TURNED_AWAY:
            return KeptOut(self.line, 0, turning.reason, text, turning.step)
        decision, parts = self._decision(turning.step)
        loops = self.recording.loops.pass_at(turning.step)
        reason = turning.reason
        if reason == Reason.NO_PASSES and loops is not None and loops.in_all:
            reason = Reason.DECISION
        return KeptOut(self.line, 0, reason, text, turning.step, decision, parts)

    def _decision(self, visit: int) -> tuple[str, list[DecisionPart]]:
        """(the decision's text, its names, elements and fields with their values)."""
        node = self.recording.worked_lines.syntax.at(visit)
        tests = decided_by(node) if node is not None else []
        frame = self.recording.stepping.frame_of(visit)
        parts: dict[str, int] = {}
        for test in tests:
            for its in ast.walk(test):
                if isinstance(its, ast.Name):
                    value = value_of_name(self.trace, frame, its.id, visit)
                    is_plain = value != NOT_SET and not self._is_furniture(value)
                    if is_plain:
                        parts.setdefault(its.id, value)
        return ", ".join(map(ast.unparse, tests)) or "?", [DecisionPart(*its) for its in parts.items()]

    def _is_furniture(self, value: int) -> bool:
        number = self.trace.values.object_of(value)
        return number is not None and self.trace.objects.shape_of(number) in insides.DEFINITIONS


def value_of_decision(recording: Recording, step: int) -> bool | None:
    """Which way a decision went: whether its body was entered; None where that is not known."""
    after = recording.stepping.next_in_frame(step)
    if after < 0 or recording.trace.steps.kind[after] == StepKind.RAISE:
        return None
    numbers = (int(recording.trace.steps.statement[its]) for its in (after, step))
    return inside(recording.trace, *numbers)
