"""Say it first: what is worth asking before a step is shown.

Asked are decisions, numbers of passes, accumulators, returns, output, and what another name sees of a shared object; at
the first visits of a statement, and where it goes otherwise than the time before. Never what is trivial.
"""

from __future__ import annotations

import ast
from collections.abc import Callable
from dataclasses import dataclass

from eelgrass.lessons.answering.predictions import Kind, Prediction
from eelgrass.lessons.cases.literals import read_value
from eelgrass.lessons.exercises.plan import PlannedQuestion
from eelgrass.reading.expressions.expression import is_expression, names_in, parse_expression
from eelgrass.reading.expressions.source_tree import worked_out
from eelgrass.reading.recording import Recording
from eelgrass.reading.state import value_text
from eelgrass.reading.state.call_stack import handed_back, value_of_name
from eelgrass.reading.stepping.loops import inside
from eelgrass.reading.watches.watch import at
from eelgrass.trace.columns import between, find
from eelgrass.trace.model import StepKind
from eelgrass.trace.values import NOT_SET

#: Of a statement that goes the same way each time, so many visits are worth asking about.
_ASKED_VISITS = 2
#: Where a decision goes to and fro, so many visits are asked about.
_MOST_TURNS = 8
#: So many ends of calls may lie between two lines.
_MOST_ENDS = 100
_LONGEST = 60


@dataclass(frozen=True)
class _Moment:
    """A statement about to run: its number and syntax, and the next step of its frame."""

    recording: Recording
    step: int
    after: int
    number: int
    node: ast.stmt

    @property
    def frame(self) -> int:
        return self.recording.stepping.frame_of(self.step)


def _moment(recording: Recording, step: int) -> _Moment | None:
    trace = recording.trace
    number = int(trace.steps.statement[step])
    node = recording.worked_lines.syntax.statement(number) if number >= 0 else None
    after = recording.stepping.next_in_frame(step)
    if node is None or after < 0 or trace.steps.kind[step] != StepKind.LINE:
        return None
    return None if trace.steps.kind[after] == StepKind.RAISE else _Moment(recording, step, after, number, node)


def asked_at(recording: Recording, step: int, point: PlannedQuestion) -> Prediction | None:
    """What an instructor wants to have asked before a step; None where that cannot be asked there."""
    its = _moment(recording, step)
    if its is None:
        return None
    if point.ask == "value" and point.name:
        return _value_of(its, point.name)
    asking: dict[str, Callable[[_Moment], Prediction | None]] = {
        "way": _way,
        "passes": _passes,
        "value": _stored,
        "returns": _returned,
        "output": _printed,
        "line": _next_line,
    }
    if point.ask:
        return asking[point.ask](its)
    return next((found for ask in (*asking.values(), _shared) if (found := ask(its)) is not None), None)


def prediction_at(recording: Recording, step: int) -> Prediction | None:
    """What is worth asking before the statement at a step runs; None for what is trivial, or not known."""
    its = _moment(recording, step)
    if its is None:
        return None
    node = its.node
    if isinstance(node, (ast.If, ast.While)):
        return _way(its) if _is_open(its) else None
    if isinstance(node, (ast.For, ast.AsyncFor)):
        is_new = find(recording.loops.rounds(its.number), step) < _ASKED_VISITS
        return _passes(its) if is_new else None
    if find(recording.visits.of_statement(its.number), step) >= _ASKED_VISITS:
        return None
    if isinstance(node, ast.Return) and not isinstance(node.value, ast.Constant):
        return _returned(its)
    if isinstance(node, (ast.Assign, ast.AugAssign)):
        return _stored(its) if _is_worth(node) else None
    if isinstance(node, (ast.Break, ast.Continue)):
        return _next_line(its)
    return (_printed(its) or _shared(its)) if isinstance(node, ast.Expr) else None


def _is_open(its: _Moment) -> bool:
    """Whether a decision is new, or goes otherwise than the time before."""
    visits = its.recording.visits.of_statement(its.number)
    place = find(visits, its.step)
    if place < _ASKED_VISITS:
        return True
    after = its.recording.stepping.next_in_frame(int(visits[place - 1]))
    return place < _MOST_TURNS and _goes_in(its, after) != _goes_in(its, its.after)


def _goes_in(its: _Moment, after: int) -> bool:
    trace = its.recording.trace
    return inside(trace, int(trace.steps.statement[after]), its.number)


def _is_worth(node: ast.Assign | ast.AugAssign) -> bool:
    """Whether what is stored has to be worked out from something."""
    if isinstance(node, ast.AugAssign):
        return not isinstance(node.value, ast.Call)
    return not isinstance(node.value, (ast.Constant, ast.Name, ast.Call)) and bool(names_in(node.value))


def _way(its: _Moment) -> Prediction | None:
    if not isinstance(its.node, (ast.If, ast.While)):
        return None
    ask = f"Is “{ast.unparse(its.node.test)}” true or false here?"
    return Prediction(its.step, "way", ask, "true" if _goes_in(its, its.after) else "false", _values(its))


def _passes(its: _Moment) -> Prediction | None:
    """At the beginning of a loop."""
    found = its.recording.loops.pass_at(its.step, its.number)
    if found is None or found.number > 1 or (found.number == 0 and found.in_all):
        return None
    if not isinstance(its.node, (ast.For, ast.AsyncFor, ast.While)):
        return None
    return Prediction(its.step, "passes", "How many passes will this loop make?", str(found.in_all), _values(its))


def _returned(its: _Moment) -> Prediction | None:
    if not isinstance(its.node, ast.Return) or its.node.value is None:
        return None
    value = handed_back(its.recording.trace, its.frame, its.after)
    return _about(its, "returns", "What does this call give back?", value)


def _stored(its: _Moment) -> Prediction | None:
    if not isinstance(its.node, (ast.Assign, ast.AugAssign)):
        return None
    target = its.node.targets[0] if isinstance(its.node, ast.Assign) else its.node.target
    return _value_of(its, target.id) if isinstance(target, ast.Name) else None


def _value_of(its: _Moment, text: str) -> Prediction | None:
    """What an expression will be after the line."""
    if not is_expression(text):
        return None
    answer = at(its.recording, parse_expression(text), its.frame, its.after)
    ask = f"What will {text} be after this line?"
    if not answer.known or len(answer.text) > _LONGEST or read_value(answer.text) is None:
        return None
    return Prediction(its.step, "value", ask, answer.text, _values(its))


def _printed(its: _Moment) -> Prediction | None:
    if not (isinstance(its.node, ast.Expr) and isinstance(its.node.value, ast.Call)):
        return None
    printed = its.recording.changes.printed(its.step).rstrip("\n")
    if not printed or len(printed) > _LONGEST or "\n" in printed:
        return None
    return Prediction(its.step, "output", "What will be printed?", printed, _values(its))


def _next_line(its: _Moment) -> Prediction | None:
    """The line of the next statement that runs, in whatever frame; not where another module goes on."""
    recording, trace = its.recording, its.recording.trace
    stops = recording.stepping.stops
    for step in stops[between(stops, its.step + 1, len(trace.steps))][:_MOST_ENDS].tolist():
        if trace.steps.kind[step] == StepKind.LINE:
            is_here = recording.module_at(step) == recording.module_at(its.step)
            expected = str(trace.line_of(step))
            ask = "Which line runs next? (a click on its number says it, too)"
            return Prediction(its.step, "line", ask, expected, _values(its)) if is_here else None
    return None


def _shared(its: _Moment) -> Prediction | None:
    """Where what a method changes has another name in the same call: what is seen under that."""
    function = its.node.value.func if isinstance(its.node, ast.Expr) and isinstance(its.node.value, ast.Call) else None
    if not (isinstance(function, ast.Attribute) and isinstance(function.value, ast.Name)):
        return None
    trace, name = its.recording.trace, function.value.id
    number = trace.values.object_of(value_of_name(trace, its.frame, name, its.step))
    leads = its.recording.references.leads(number, its.step) if number is not None else []
    others = [lead.text for lead in leads if lead.frame == its.frame and lead.text.isidentifier() and lead.text != name]
    if not others:
        return None
    value = value_of_name(trace, its.frame, others[0], its.after)
    return _about(its, "value", f"What will be in {others[0]} after this line?", value)


def _about(its: _Moment, kind: Kind, ask: str, value: int) -> Prediction | None:
    """A question about a value, if it can be written in short."""
    if value == NOT_SET:
        return None
    text = value_text.text(its.recording.trace, value, its.after, _LONGEST + 1)
    if len(text) > _LONGEST or read_value(text) is None:
        return None
    return Prediction(its.step, kind, ask, text, _values(its))


def _values(its: _Moment) -> str:
    """The names that the statement works with, and their values, as `total = 5.0, level = 2.0`."""
    names = dict.fromkeys(name for node in worked_out(its.node) for name in names_in(node))
    answers = ((name, at(its.recording, parse_expression(name), its.frame, its.step)) for name in names)
    return ", ".join(
        f"{name} = {its.text}" for name, its in answers if its.known and its.type_word and "<" not in its.text
    )
