"""Say it first: what is worth asking before a step is shown, and what an answer is worth (need T1).

Asked are decisions, numbers of passes, accumulators, returns, output, and what another name sees of a shared object; at
the first visits of a statement, and where it goes otherwise than the time before. Never what is trivial.
"""

from __future__ import annotations

import ast
from dataclasses import dataclass
from typing import Literal

from eelgrass.lessons.judging import alike
from eelgrass.reading import values
from eelgrass.reading.ask import at
from eelgrass.reading.loops import inside
from eelgrass.reading.question import names_in, question
from eelgrass.reading.recording import Recording
from eelgrass.reading.state import handed_back, value_of_name
from eelgrass.reading.syntax import worked_out
from eelgrass.trace.columns import find
from eelgrass.trace.model import StepKind
from eelgrass.trace.values import NOT_SET

#: Of a statement that goes the same way each time, so many visits are worth asking about.
_ASKED_VISITS = 2
#: Where a decision goes to and fro, so many visits are asked about.
_MOST_TURNS = 8
_LONGEST = 60
_TRUE = frozenset(("true", "t", "yes", "y"))
_FALSE = frozenset(("false", "f", "no", "n"))


@dataclass(frozen=True)
class Prediction:
    """What to ask before a step: `ask` in words, what is `expected` (a Python literal, "true" or "false", a number, or
    the text printed), and the `values` that it comes from."""

    step: int
    kind: Literal["way", "passes", "value", "returns", "output"]
    ask: str
    expected: str
    values: str


@dataclass(frozen=True)
class Verdict:
    """Whether an answer is right, and what there is to say, without scolding."""

    is_right: bool
    told: str


def prediction_at(recording: Recording, step: int) -> Prediction | None:
    """What is worth asking before the statement at a step runs; None for what is trivial, or not known."""
    trace = recording.trace
    number = int(trace.steps.statement[step])
    node = recording.workings.syntax.statement(number) if number >= 0 else None
    after = recording.places.next_in_frame(step)
    if (
        node is None
        or after < 0
        or trace.steps.kind[step] != StepKind.LINE
        or trace.steps.kind[after] == StepKind.RAISE
    ):
        return None
    if isinstance(node, (ast.If, ast.While)):
        return _way(recording, step, after, number, node)
    if isinstance(node, (ast.For, ast.AsyncFor)):
        return _passes(recording, step, number, node)
    if not _is_early(recording, step, number):
        return None
    if isinstance(node, ast.Return) and node.value is not None and not isinstance(node.value, ast.Constant):
        value = handed_back(trace, recording.places.frame_of(step), after)
        return _about(recording, step, after, "returns", "What does this call give back?", value, node)
    if isinstance(node, (ast.Assign, ast.AugAssign)):
        return _stored(recording, step, after, node)
    return _printed_or_shared(recording, step, after, node) if isinstance(node, ast.Expr) else None


def _is_early(recording: Recording, step: int, statement: int) -> bool:
    return find(recording.visits.of_statement(statement), step) < _ASKED_VISITS


def _way(recording: Recording, step: int, after: int, number: int, node: ast.If | ast.While) -> Prediction | None:
    visits = recording.visits.of_statement(number)
    place = find(visits, step)
    way = inside(recording.trace, int(recording.trace.steps.statement[after]), number)
    if place >= _ASKED_VISITS:
        before = int(visits[place - 1])
        next_ = recording.places.next_in_frame(before)
        is_same = inside(recording.trace, int(recording.trace.steps.statement[next_]), number) == way
        if is_same or place >= _MOST_TURNS:
            return None
    ask = f"Is “{ast.unparse(node.test)}” true or false here?"
    return Prediction(step, "way", ask, "true" if way else "false", _values(recording, step, node))


def _passes(recording: Recording, step: int, number: int, node: ast.For | ast.AsyncFor) -> Prediction | None:
    its = recording.loops.pass_at(step, number)
    if its is None or its.number > 1 or (its.number == 0 and its.in_all):
        return None
    if find(recording.loops.rounds(number), step) >= _ASKED_VISITS:
        return None
    return Prediction(
        step, "passes", "How many passes will this loop make?", str(its.in_all), _values(recording, step, node)
    )


def _stored(recording: Recording, step: int, after: int, node: ast.Assign | ast.AugAssign) -> Prediction | None:
    target = node.targets[0] if isinstance(node, ast.Assign) else node.target
    if not isinstance(target, ast.Name) or isinstance(node.value, ast.Constant):
        return None
    is_worth = isinstance(node, ast.AugAssign) or bool(names_in(node.value))
    if not is_worth or isinstance(node.value, (ast.Name, ast.Call)):
        return None
    value = value_of_name(recording.trace, recording.places.frame_of(step), target.id, after)
    return _about(recording, step, after, "value", f"What will {target.id} be after this line?", value, node)


def _printed_or_shared(recording: Recording, step: int, after: int, node: ast.Expr) -> Prediction | None:
    if not isinstance(node.value, ast.Call):
        return None
    function = node.value.func
    if isinstance(function, ast.Name) and function.id == "print":
        printed = recording.changes.printed(step).rstrip("\n")
        if printed and len(printed) <= _LONGEST and "\n" not in printed:
            return Prediction(step, "output", "What will be printed?", printed, _values(recording, step, node))
    if isinstance(function, ast.Attribute) and isinstance(function.value, ast.Name):
        return _shared(recording, step, after, function.value.id, node)
    return None


def _shared(recording: Recording, step: int, after: int, name: str, node: ast.Expr) -> Prediction | None:
    """Where what is changed has another name in the same call: what is seen under that."""
    trace, frame = recording.trace, recording.places.frame_of(step)
    number = trace.values.object_of(value_of_name(trace, frame, name, step))
    leads = recording.references.leads(number, step) if number is not None else []
    others = [lead.text for lead in leads if lead.frame == frame and lead.text.isidentifier() and lead.text != name]
    if not others:
        return None
    value = value_of_name(trace, frame, others[0], after)
    return _about(recording, step, after, "value", f"What will be in {others[0]} after this line?", value, node)


def _about(
    recording: Recording, step: int, after: int, kind: Literal["value", "returns"], ask: str, value: int, node: ast.stmt
) -> Prediction | None:
    """A question about a value, if it can be written in short."""
    if value == NOT_SET:
        return None
    text = values.text(recording.trace, value, after, _LONGEST + 1)
    if len(text) > _LONGEST or _read(text) is None:
        return None
    return Prediction(step, kind, ask, text, _values(recording, step, node))


def _values(recording: Recording, step: int, node: ast.stmt) -> str:
    """The names that the statement works with, and their values, as `total = 5.0, level = 2.0`."""
    names = dict.fromkeys(name for its in worked_out(node) for name in names_in(its))
    frame = recording.places.frame_of(step)
    answers = ((name, at(recording, question(name), frame, step)) for name in names)
    return ", ".join(
        f"{name} = {its.text}" for name, its in answers if its.known and its.type_word and "<" not in its.text
    )


def judged(prediction: Prediction, given: str) -> Verdict:
    """What an answer is worth. Values are compared by value, not by spelling."""
    given = given.strip()
    right, hint = _compare(prediction, given)
    what = {
        "way": f"It is {prediction.expected}",
        "passes": f"It makes {prediction.expected} {'pass' if prediction.expected == '1' else 'passes'}",
        "value": f"It is {prediction.expected}",
        "returns": f"It gives back {prediction.expected}",
        "output": f"It prints {prediction.expected}",
    }[prediction.kind]
    since = f", from {prediction.values}" if prediction.values else ""
    return Verdict(right, f"{'Yes. ' if right else ''}{what}{since}.{' ' + hint if hint and not right else ''}")


def _compare(prediction: Prediction, given: str) -> tuple[bool, str]:
    if prediction.kind == "way":
        said = True if given.lower() in _TRUE else False if given.lower() in _FALSE else None
        return said is not None and said == (
            prediction.expected == "true"
        ), "Say true or false." if said is None else ""
    if prediction.kind == "output":
        return given == prediction.expected.strip(), ""
    expected, said_value = _read(prediction.expected), _read(given)
    if said_value is None or expected is None:
        is_text = expected is not None and isinstance(expected[0], str)
        return False, "A text is written with quotation marks around it." if is_text else ""
    right = alike(said_value[0], expected[0])
    return right, "" if right else _difference(said_value[0], expected[0])


def _difference(said: object, expected: object) -> str:
    """Why two values that look alike are not the same."""
    if type(said) is not type(expected) and str(said) == str(expected):
        words = [values.TYPE_WORDS.get(type(its).__name__, type(its).__name__) for its in (said, expected)]
        return f"{said!r} is a {words[0]}, {expected!r} a {words[1]}."
    if type(said) in (int, float) and type(expected) in (int, float) and said == expected:
        return f"{said!r} and {expected!r} are equal numbers, but of different types."
    return ""


def _read(text: str) -> tuple[object] | None:
    try:
        return (ast.literal_eval(text),)
    except (ValueError, SyntaxError, TypeError, MemoryError, RecursionError):
        return None
