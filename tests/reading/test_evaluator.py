"""Expressions over the recorded state against Python itself: generated ones, and all parts of the corpus's lines."""

from __future__ import annotations

import ast
import json
import re
import subprocess
import sys
from collections import defaultdict
from pathlib import Path

import pytest
from conftest import Record
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st
from support.judges import CORPUS, HERE
from support.oracle import show

from eelgrass.reading.expressions import compiled
from eelgrass.reading.expressions.batch import evaluated
from eelgrass.reading.expressions.evaluator import Evaluator
from eelgrass.reading.expressions.expression import Expression, ExpressionError, parse_expression
from eelgrass.reading.expressions.python_values import CannotAnswerError, Thing
from eelgrass.reading.expressions.source_tree import worked_out
from eelgrass.reading.lines.worked_line import _Worker
from eelgrass.reading.recording import Recording
from eelgrass.reading.watches.side_run_check import need_harmless
from eelgrass.runs.order import Order
from eelgrass.runs.run import Run
from eelgrass.trace.model import StepKind

PROGRAMS = sorted(CORPUS.glob("*.py"))

leaves = st.one_of(
    st.integers(-5, 300),
    st.sampled_from((0.5, -0.0, 1e300, float("inf"), True, False, None, 2**70)),
    st.text("aé‹ 1", max_size=4),
)
values = st.recursive(
    leaves,
    lambda inner: st.one_of(
        st.lists(inner, max_size=3),
        st.tuples(inner, inner),
        st.dictionaries(st.one_of(st.integers(0, 3), st.text("ab", max_size=1)), inner, max_size=3),
    ),
    max_leaves=5,
)
names = st.sampled_from(("level", "tide", "beds", "crab"))
constants = st.one_of(st.integers(-3, 12).map(str), st.sampled_from(("'a'", "None", "True", "1.5", "''")))


def larger(inner: st.SearchStrategy[str]) -> st.SearchStrategy[str]:
    operators = st.sampled_from(
        ("+", "-", "*", "/", "//", "%", "**", "<<", "&", "|", "==", "!=", "<", ">=", "in", "not in", "and", "or", "is")
    )
    return st.one_of(
        st.tuples(inner, operators, inner).map(lambda its: f"({its[0]} {its[1]} {its[2]})"),
        st.tuples(inner, inner).map(lambda its: f"{its[0]}[{its[1]}]"),
        st.tuples(inner, inner, inner).map(lambda its: f"({its[0]} if {its[1]} else {its[2]})"),
        st.tuples(inner, inner).map(lambda its: f"{its[0]}[{its[1]}:]"),
        st.tuples(st.sampled_from(("len", "str", "sorted", "abs", "list", "sum", "max", "repr")), inner).map(
            lambda its: f"{its[0]}({its[1]})"
        ),
        st.tuples(inner, inner).map(lambda its: f"[{its[0]}, *{its[1]}]"),
        inner.map(lambda its: f"[x for x in {its} if x]"),
        inner.map(lambda its: f"(not {its})"),
        inner.map(lambda its: f"{its}.upper()"),
        st.tuples(inner, inner).map(lambda its: f"{{{its[0]}: {its[1]}}}"),
        inner.map(lambda its: f"f'{{{its}!r:>9}}'" if "'" not in its else its),
    )


expressions = st.recursive(st.one_of(names, constants), larger, max_leaves=6)


def result(work_out: object) -> object:
    """What is printed for a value, or the type of the exception; None where there is no answer."""
    try:
        return repr(work_out())  # type: ignore[operator]
    except CannotAnswerError:
        return None
    except Exception as error:
        return type(error)


@pytest.mark.filterwarnings("ignore::SyntaxWarning")
@settings(max_examples=12, deadline=None, suppress_health_check=list(HealthCheck))
@given(st.tuples(values, values, values, values), st.lists(expressions, min_size=60, max_size=60))
def test_generated_questions_over_generated_states_give_what_python_gives(
    record: Record, state: tuple[object, ...], asked: list[str]
) -> None:
    text = "inf = 1e999\n" + "\n".join(f"{name} = {value!r}" for name, value in zip(
        ("level", "tide", "beds", "crab"), state, strict=True)) + "\nlast = 1\n"  # fmt: skip
    recording = record(text)
    step = int(recording.visits.of_line(0, 6)[0])
    there: dict[str, object] = {}
    exec(text, there)
    answered = 0
    for expression in asked:
        try:
            tree = ast.parse(expression, mode="eval").body
        except SyntaxError:
            continue
        if any(isinstance(part, (ast.Pow, ast.LShift)) for part in ast.walk(tree)) and "300" in expression:
            continue
        ours = result(lambda tree=tree: Evaluator(recording.trace, 0, step).value(tree))
        if ours is None:
            continue
        answered += 1
        assert ours == result(lambda expression=expression: eval(expression, there)), (expression, state)
        function = compiled.compiled(tree, tuple(there))
        flat = [value for name, value in there.items() if name in expression]
        if function is not None and all(type(value) in (int, str, float, bool, type(None)) for value in flat):
            assert result(lambda function=function: function(*there.values())) == ours, expression
    assert answered > 10


class Judged(_Worker):
    """Shows parts as the judge does."""

    def _shown(self, node: ast.expr, value: object) -> str:
        return str(show(unlifted(value)))


def unlifted(value: object) -> object:
    """A lifted value with objects of the program as objects of a type of that name."""
    if isinstance(value, Thing):
        return type(value.type_, (), {})()
    if type(value) in (list, tuple, set, frozenset):
        return type(value)(map(unlifted, value))  # type: ignore[call-overload]
    return {unlifted(key): unlifted(its) for key, its in value.items()} if type(value) is dict else value


@pytest.mark.parametrize("program", PROGRAMS, ids=lambda path: path.stem)
def test_every_part_of_the_corpus_has_the_value_that_python_gave_it(program: Path, tmp_path: Path) -> None:
    if program.stem in (
        "threads",
        "thread_turns",
        "sluice_exit",
        "exit_in_finally",
        "endless_depth",
        "odd_values",
        "dynamic",
    ):
        pytest.skip("threads take other turns, the process ends before the judge can tell, or the judge itself is seen")
    out = tmp_path / "rows"
    given = b"Kittiwake\n3\n4\nend\n"
    environment = {"PYTHONHASHSEED": "0", "PATH": "/usr/bin:/bin"}
    judge = [sys.executable, "-B", str(HERE / "worked_by_python.py"), str(out), str(program), "a reason"]
    subprocess.run(
        judge, input=given, capture_output=True, cwd=program.parent, check=False, timeout=60, env=environment
    )
    run = Run(Order(program, arguments=("a reason",)))
    run.start()
    recording = Recording(run.fed(given.decode().splitlines()))
    theirs = defaultdict(list)
    for line in out.read_text().splitlines():
        row = json.loads(line)
        theirs[row["line"], row["column"]].append(row["parts"])
    compared = _compare(recording, str(program), theirs)
    assert compared > 0 or not theirs


#: What a method of a built-in object is told as: by Python, and where it was only named.
_METHOD = re.compile("<builtin_function_or_method>|<method-wrapper>|<NotCalled>")


def _compare(recording: Recording, file: str, theirs: dict[tuple[int, int], list[dict[str, str]]]) -> int:
    """Compares part for part; gives how many there were."""
    trace, compared = recording.trace, 0
    for number, statement in enumerate(trace.program.statements):
        rows = theirs.get((statement.line, statement.column))
        if rows is None or trace.program.module_of(statement.function).file != file:
            continue
        node = recording.worked_lines.syntax.statement(number)
        if node is None:
            continue
        visits = [
            visit
            for visit in recording.visits.of_statement(number).tolist()
            if trace.steps.kind[visit] == StepKind.LINE and not recording.worked_lines._goes_on(node, visit)
        ]
        instrumented = set().union(*rows)
        for visit, row in zip(visits, rows, strict=False):
            lines = recording.worked_lines.syntax.lines(number)
            worker = Judged(trace, recording.stepping, visit, node, lines)
            worker.work_out(worked_out(node))
            for part in worker.parts:
                start, end = (len(lines[line - 1][:column].encode()) for line, column in (
                    (part.line, part.column), (part.end_line, part.end_column)))  # fmt: skip
                place = f"{part.line}:{start}-{part.end_line}:{end}"
                if part.status.name != "VALUE" or place not in instrumented:
                    continue
                expected, value = (_METHOD.sub("a method", its) for its in (row.get(place) or "", part.value))
                same = expected == value or sorted(expected) == sorted(value)
                assert same, f"line {part.line}, visit {visit}: {part.text} is {expected}, not {part.value}"
                compared += 1
    return compared


HOSTILE = """\
().__class__.__base__.__subclasses__()
level.__class__
tide.__init__.__globals__
[].append.__self__
(lambda: 0).__code__
'{0.__class__.__mro__}'.format(level)
'{0.__class__}'.format_map({'0': level})
__import__('os').system('true')
eval('1')
exec('level = 1')
getattr(level, 'real')
open('/etc/passwd').read()
globals()
type(level)
vars()
breakpoint()
[x for x in ().__class__.__bases__]
(y := tide).__dict__
beds.__getitem__(0)
f'{level.__class__}'
sum(x.__class__ for x in beds)
"""


def test_hostile_questions_reach_nothing(record: Record) -> None:
    recording = record("level, tide, beds = 1, 'ebb', [1]\nlast = 2\n")
    step = recording.stepping.last()
    for text in HOSTILE.splitlines():
        asked: Expression = parse_expression(text)
        try:
            told = Evaluator(recording.trace, 0, step).value(asked.tree)
        except Exception as error:
            told = error
        assert isinstance(told, (CannotAnswerError, AttributeError, KeyError)), (text, told)
        assert compiled.compiled(asked.tree, ("level", "tide", "beds")) is None
        truth = evaluated(
            recording.trace, asked, recording.stepping.stops, recording.trace.steps.frame[recording.stepping.stops]
        )
        assert (truth.truth() == -1).all(), text
        if "format" not in text:
            with pytest.raises(ExpressionError):
                need_harmless(recording, asked)
