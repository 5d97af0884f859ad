"""A judge of what-ifs: with the value that was there already, a what-if is the recording again; and one just after an
assignment is the run of a text in which that assignment was another."""

from __future__ import annotations

import ast
import json
import random
import re
import tokenize
from collections.abc import Iterator
from pathlib import Path

from eelgrass.export import json_rows
from eelgrass.reading.recording import Recording
from eelgrass.reading.state.call_stack import bindings_of, stack_at
from eelgrass.reading.watches.settable import wish
from eelgrass.runs.what_if import begun_what_if, what_is_missing
from eelgrass.trace.model import StepKind, Trace
from eelgrass.trace.values import NOT_SET
from support.runs import run_of

#: What nothing else happens in than that a value is made.
_WITHOUT_EFFECT = (
    *(ast.Constant, ast.Name, ast.List, ast.Tuple, ast.Dict, ast.Set, ast.BinOp, ast.UnaryOp, ast.Compare, ast.BoolOp),
    *(ast.expr_context, ast.operator, ast.unaryop, ast.cmpop, ast.boolop),
)
_OTHERS = ("7", "-1", "2.5", "'kelp'", "[]", "[4, 2]", "True", "None", "{'pier': 3}", "(1, 2)")


def rows(trace: Trace) -> list[object]:
    """What a recording tells, in a form in which two can be held against each other."""
    printed = [(piece, int(step)) for piece, step in zip(trace.texts.pieces, trace.texts.step, strict=True)]
    return [*json_rows.dump(trace), *printed, trace.outcome.outcome, trace.outcome.exit_status]


def recorded(program: Path, typed: list[str], text: str | None = None) -> Trace:
    """A run with lines typed into it, of another text if one is given."""
    texts = {} if text is None else {str(program): text}
    return run_of(program, typed, texts=texts, arguments=("a reason",), seed=1)


def what_if(recording: Recording, step: int, frame: int, text: str) -> tuple[Trace, str]:
    """(the recording of a what-if, why it is none)."""
    run = begun_what_if(recording.trace, step, [wish(recording, step, frame, text)])
    trace = run.fed(())
    return trace, what_is_missing(run, trace)


def unchanged(recording: Recording, draw: random.Random, count: int) -> Iterator[str]:
    """What went otherwise in what-ifs that set names to what they are, at steps drawn by chance, in any frame."""
    expected = rows(recording.trace)
    for step, frame, name in _names(recording, draw, count):
        found, missing = what_if(recording, step, frame, f"{name} = {name}")
        if missing or rows(found) != expected:
            yield f"step {step}, {name} as it is: {missing or 'another recording'}"


def _names(recording: Recording, draw: random.Random, count: int) -> Iterator[tuple[int, int, str]]:
    trace = recording.trace
    lines = [step for step in range(len(trace.steps)) if trace.steps.kind[step] == StepKind.LINE]
    for step in draw.sample(lines, min(count, len(lines))):
        frames = [frame for frame, _ in stack_at(trace, step) if trace.function_of_frame(frame).kind != "comprehension"]
        frame = draw.choice(frames)
        names = [
            its.name for its in bindings_of(trace, frame, step) if its.value != NOT_SET and its.name.isidentifier()
        ]
        names = [name for name in names if not name.startswith("__")]
        if names:
            yield step, frame, draw.choice(names)


def rewritten(recording: Recording, program: Path, typed: list[str], draw: random.Random, count: int) -> Iterator[str]:
    """What went otherwise in what-ifs just after assignments, held against runs of texts in which these are others."""
    with tokenize.open(program) as file:
        text = file.read()
    for statement, name in _assigned_once(recording, ast.parse(text), draw, count):
        value = draw.choice(_OTHERS)
        step = _step_after(recording, statement)
        if step < 0:
            continue
        found, missing = what_if(recording, step, recording.stepping.frame_of(step), f"{name} = {value}")
        lines = text.splitlines(keepends=True)
        node = recording.trace.program.statements[statement]
        lines[node.line - 1] = f"{' ' * node.column}{name} = {value}\n"
        expected = recorded(program, typed, "".join(lines))
        if missing or _told(found, step) != _told(expected, step):
            yield f"line {node.line}, {name} = {value}: {missing or 'not as with that text'}"


def _assigned_once(recording: Recording, tree: ast.Module, draw: random.Random, count: int) -> list[tuple[int, str]]:
    """(statement, name) of simple assignments on a line of their own which ran once, not in a class's body."""
    trace = recording.trace
    plain = {
        node.lineno: node.targets[0].id
        for node in ast.walk(tree)
        if isinstance(node, ast.Assign) and isinstance(node.targets[0], ast.Name) and len(node.targets) == 1
        if node.lineno == node.end_lineno and all(isinstance(part, _WITHOUT_EFFECT) for part in ast.walk(node.value))
    }
    found = []
    for number, its in enumerate(trace.program.statements):
        visits = [step for step in recording.visits.of_statement(number) if trace.steps.kind[step] == StepKind.LINE]
        in_class = trace.program.functions[its.function].kind == "class"
        if its.line in plain and len(visits) == 1 and not in_class:
            found.append((number, plain[its.line]))
    return draw.sample(found, min(count, len(found)))


def _step_after(recording: Recording, statement: int) -> int:
    """The step after a statement's visit, if it is one in the same frame at which a value can be set; else -1."""
    trace = recording.trace
    visit = int(next(iter(recording.visits.of_statement(statement))))
    after = visit + 1
    there = after < len(trace.steps) and trace.steps.frame[after] == trace.steps.frame[visit]
    return after if there and trace.steps.kind[after] == StepKind.LINE else -1


def _told(trace: Trace, first: int) -> list[str]:
    """What a recording tells from a step on, without the numbers of objects: the other text makes others."""
    told = [row for row in rows(trace) if not (isinstance(row, dict) and row["step"] < first)]
    return [re.sub(r'#\d+|"object": \d+', "#", json.dumps(row)) for row in told]
