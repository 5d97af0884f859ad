"""Moments in words: one sentence each, with the program's own names and values."""

from __future__ import annotations

import ast

from eelgrass.parsing import parsed_expression
from eelgrass.reading.expressions.source_tree import decided_by
from eelgrass.reading.lines.exception_paths import message
from eelgrass.reading.lines.filled_in import filled_in
from eelgrass.reading.recording import Recording
from eelgrass.reading.state.function_words import function_words
from eelgrass.reading.state.value_text import brief
from eelgrass.reading.stepping.loops import inside
from eelgrass.reading.trails.moments import Kind, Moment, named
from eelgrass.reading.trails.turnings import Reason
from eelgrass.trace.columns import between
from eelgrass.trace.model import StepKind
from eelgrass.trace.values import NOT_SET

MOST_CHARACTERS = 90
_VALUE_CHARACTERS, _EXPRESSION_CHARACTERS = 30, 34
_REASONS = {
    Reason.LEFT_BEFORE: "line {line} left before",
    Reason.EXCEPTION: "an exception at line {line} came first",
    Reason.HANDLER_NOT_NEEDED: "nothing went wrong in the try of line {line}",
    Reason.STOPPED: "the run was stopped at line {line}",
}


class Sentences:
    """The sentences of one recording."""

    def __init__(self, recording: Recording) -> None:
        self.recording = recording
        self.trace = recording.trace
        self._syntax = recording.worked_lines.syntax

    def of(self, moment: Moment) -> str:
        """What happened at a moment, in at most `MOST_CHARACTERS`."""
        rules = {
            Kind.STORED: self._stored,
            Kind.CHANGED: self._changed,
            Kind.HANDED_OVER: self._handed,
            Kind.GIVEN_BACK: self._given,
            Kind.DECIDED: self._decided,
            Kind.NOT_RUN: self._not_run,
            Kind.RAISED: self._raised,
        }
        text = rules[moment.kind](moment) if moment.kind in rules else self._end(moment)
        return text if len(text) <= MOST_CHARACTERS else text[: MOST_CHARACTERS - 1] + "…"

    def place(self, step: int) -> str:
        """A step's line, with the pass of the loop around it."""
        its_pass = self.recording.loops.pass_at(step)
        which = f", pass {its_pass.number}" if its_pass is not None and its_pass.number else ""
        modules = self.trace.program.modules
        module = self.recording.module_at(step)
        file = f" of {modules[module].file.rpartition('/')[2]}" if module else ""
        return f"line {self.trace.line_of(step)}{file}{which}"

    def _stored(self, moment: Moment) -> str:
        told = f"{self.place(moment.step)}: {named(self.recording, moment)} ← "
        node, value = self._syntax.at(moment.step), self._value(moment)
        if isinstance(node, (ast.For, ast.AsyncFor)):
            return f"{told}{value}, from {_clipped(ast.unparse(node.iter))}"
        if isinstance(node, (ast.FunctionDef, ast.AsyncFunctionDef, ast.ClassDef)):
            return f"{self.place(moment.step)} defines {node.name}"
        worked = self._worked(node, moment.step)
        return f"{told}{worked} = {value}" if worked and worked != value else f"{told}{value}"

    def _worked(self, node: ast.stmt | None, step: int) -> str:
        """The right side with values in it; '' where it is one name or constant, or long."""
        frame = self.recording.stepping.frame_of(step)
        if isinstance(node, ast.AugAssign):
            target = parsed_expression(ast.unparse(node.target))
            right: ast.expr = ast.BinOp(target, node.op, node.value)
        elif isinstance(node, (ast.Assign, ast.AnnAssign, ast.Return)) and node.value is not None:
            right = node.value
        else:
            return ""
        if isinstance(right, (ast.Name, ast.Constant, ast.List, ast.Dict, ast.Tuple)):
            return ""
        text = filled_in(self.trace, frame, right, step) or ast.unparse(right)
        return text if len(text) <= _EXPRESSION_CHARACTERS else ""

    def _changed(self, moment: Moment) -> str:
        node, what = self._syntax.at(moment.step), named(self.recording, moment)
        if node is None or hasattr(node, "body"):
            return f"{self.place(moment.step)} changed {what}"
        did = self._did(node, moment.step)
        value = f", {what} is {self._value(moment)}" if moment.value != NOT_SET else ""
        return f"{self.place(moment.step)} changed {what}: {did}{value if len(did) < 30 else ''}"

    def _did(self, node: ast.stmt, step: int) -> str:
        if isinstance(node, ast.Expr) and isinstance(node.value, ast.Call):
            call = node.value
            frame = self.recording.stepping.frame_of(step)
            arguments = [filled_in(self.trace, frame, its, step) or ast.unparse(its) for its in call.args]
            return _clipped(f"{ast.unparse(call.func)}({', '.join(arguments)})")
        return _clipped(ast.unparse(node))

    def _handed(self, moment: Moment) -> str:
        name = function_words(self.trace.function_of_frame(moment.frame).name)
        if moment.slot < 0:
            return f"{self.place(moment.step)} called {name}"
        return f"{self.place(moment.step)} called {name} with {named(self.recording, moment)} = {self._value(moment)}"

    def _given(self, moment: Moment) -> str:
        if moment.value == NOT_SET:
            waits = int(self.trace.frames.last[moment.frame]) != moment.seen
            did = "hands on what comes from elsewhere" if waits else "ended here"
            return f"{self.place(moment.step)}: {moment.what} {did}"
        worked = self._worked(self._syntax.at(moment.step), moment.step)
        value = self._value(moment)
        how = f"{worked} = " if worked and worked != value else ""
        return f"{self.place(moment.step)}: {moment.what} gives back {how}{value}"

    def _decided(self, moment: Moment) -> str:
        return f"{self.place(moment.step)} decided: {self.decision(moment.step)}"

    def decision(self, visit: int) -> str:
        """Which way a decision went, with the values that it was made from."""
        node = self._syntax.at(visit)
        frame = self.recording.stepping.frame_of(visit)
        if isinstance(node, (ast.For, ast.AsyncFor)):
            loop = int(self.trace.steps.statement[visit])
            its_pass = self.recording.loops.pass_at(visit, loop)
            goes_on = its_pass is not None and its_pass.number
            return f"{_clipped(ast.unparse(node.iter))} {'had another element' if goes_on else 'had no more elements'}"
        tests = decided_by(node) if node is not None else []
        if not tests:
            return "it got through to here" if isinstance(node, (ast.Try, ast.TryStar)) else "this way"
        text = _clipped(filled_in(self.trace, frame, tests[0], visit) or ast.unparse(tests[0]))
        if isinstance(node, ast.Match):
            return f"the case for {text}"
        after = self.recording.stepping.next_in_frame(visit)
        if after < 0 or self.trace.steps.kind[after] == StepKind.RAISE:
            return text
        numbers = (int(self.trace.steps.statement[step]) for step in (after, visit))
        return f"{text} is {'true' if inside(self.trace, *numbers) else 'false'}"

    def _not_run(self, moment: Moment) -> str:
        line = self.trace.program.statements[moment.statement].line
        return f"line {line} did not run: {self.turning(moment.step, Reason(moment.what))}"

    def turning(self, step: int, reason: Reason) -> str:
        """What kept a line out."""
        if reason in (Reason.DECISION, Reason.NO_PASSES):
            return f"at {self.place(step)}, {self.decision(step)}"
        return _REASONS[reason].format(line=self.trace.line_of(step))

    def _raised(self, moment: Moment) -> str:
        told = message(self.trace, moment.value, moment.seen)
        return f"{self.place(moment.step)} raised {moment.what}{': ' if told else ''}{told}"

    def _end(self, moment: Moment) -> str:
        place = self.place(moment.step)
        if moment.kind == Kind.LITERAL:
            return f"{place}: the text says {_clipped(moment.what, 50)}"
        if moment.kind == Kind.PRINTED:
            return f"{place} printed '{_clipped(moment.what, 50)}'"
        if moment.kind == Kind.TYPED:
            return f"{place}, typed: {_clipped(repr(self._typed(moment.step)), 50)}"
        words = {Kind.FROM_FILE: "read from a file", Kind.RANDOM: "drawn by chance", Kind.LIBRARY: "from a library"}
        return f"{place}, {words[moment.kind]}: {_clipped(moment.what, 50)}"

    def _typed(self, visit: int) -> str:
        after = self.recording.stepping.next_in_frame(visit)
        texts = self.trace.texts
        its = between(texts.step, visit, after if after >= 0 else len(self.trace.steps))
        typed = (texts.pieces[place] for place in range(its.start, its.stop) if texts.channel[place] == texts.TYPED)
        return "".join(typed).rstrip("\n")

    def _value(self, moment: Moment) -> str:
        if moment.value == NOT_SET:
            return "nothing"
        return brief(self.trace, moment.value, max(moment.seen, 0), _VALUE_CHARACTERS)


def _clipped(text: str, most: int = _EXPRESSION_CHARACTERS) -> str:
    return text if len(text) <= most else text[: most - 1] + "…"
