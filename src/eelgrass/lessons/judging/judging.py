"""Running cases and judging what came of them: passed, failed and why, run away."""

from __future__ import annotations

import math
import os
import re
import tempfile
from bisect import bisect_left
from collections.abc import Iterator, Sequence
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass, replace
from fnmatch import fnmatchcase
from pathlib import Path
from threading import Lock
from typing import Any, Literal

from eelgrass.lessons.cases.call_only import ANSWER, alone
from eelgrass.lessons.cases.case import Case
from eelgrass.lessons.cases.literals import read_value
from eelgrass.lessons.exercises.exercise import Exercise, copy_files
from eelgrass.lessons.judging.first_wrong import first_wrong
from eelgrass.reading.breakpoints.breakpoint import Breakpoint, hits
from eelgrass.reading.expressions.python_values import CannotAnswerError, PythonValues
from eelgrass.reading.recording import Recording
from eelgrass.reading.state.call_stack import value_of_name
from eelgrass.reading.threads.waiting import waiting_at_the_end
from eelgrass.runs.order import OWN_FOLDER, CannotRunError, Leave, Order, check_text
from eelgrass.runs.pythons.choosing import choice
from eelgrass.runs.run import Run
from eelgrass.trace.model import Texts, Trace
from eelgrass.trace.values import NOT_SET

MAX_STEPS = 500_000
MAX_SECONDS = 10.0
MAX_MEMORY_MIB = 1024
_MOST_SHOWN = 200
#: So many characters of a text that a pattern asks for say where it should have come.
_FEWEST_OF_PIECE = 4


@dataclass(frozen=True)
class Result:
    """What came of a case: its name, the verdict, why in words ('' when passed), what was printed, the seconds that its
    run took, where it first did otherwise than the model ('' where that is not to be said), a `remark` about how it was
    recorded, the exception that it ended with, by its type's name ('' for none), and the limit that stopped it, as in
    `Outcome`."""

    case: str
    verdict: Literal["passed", "failed", "run away", "cannot run"]
    why: str = ""
    output: str = ""
    seconds: float = 0.0
    first_wrong: str = ""
    remark: str = ""
    raised: str = ""
    limit: str = ""

    @property
    def is_passed(self) -> bool:
        """Whether all was as it should be."""
        return self.verdict == "passed"


@dataclass(frozen=True)
class Ran:
    """A run of a case: its recording, and what really came out of the process, which judges it: a recording is made in
    the program's own process, so that a program could forge it."""

    trace: Trace
    output: str


class ModelRuns:
    """How the model of an exercise runs its cases: each is run when it is first asked for, from whatever thread."""

    def __init__(self, exercise: Exercise, leave: Leave | None) -> None:
        self._exercise = exercise
        self._leave = leave
        self._runs: dict[Case, Recording | None] = {}
        self._lock = Lock()

    def of(self, case: Case) -> Recording | None:
        """The model's run of a case; none where there is no model, or it cannot be run."""
        with self._lock:
            if case not in self._runs:
                model = self._exercise.model
                ran = recorded(self._exercise, case, model, self._leave) if model is not None else ""
                self._runs[case] = None if isinstance(ran, str) else Recording(ran.trace)
            return self._runs[case]


def judge(
    exercise: Exercise,
    case: Case,
    text: str,
    hints_used: int | None = None,
    models: ModelRuns | None = None,
    leave: Leave | None = OWN_FOLDER,
) -> Result:
    """Runs a case of an exercise with a program of this text, apart from everything, and judges it; for a student who
    has used so many hints, or for who makes the exercise. `leave` is what the program may reach."""
    ran = recorded(exercise, case, text, leave)
    result, after = judged(case, ran), exercise.first_wrong_after
    may_tell = after is not None and (hints_used is None or hints_used >= after)
    if result.is_passed or not may_tell or isinstance(ran, str):
        return result
    model = (models or ModelRuns(exercise, leave)).of(case)
    return result if model is None else replace(result, first_wrong=first_wrong(Recording(ran.trace), model))


def recorded(exercise: Exercise, case: Case, text: str, leave: Leave | None = OWN_FOLDER) -> Ran | str:
    """Runs a case of an exercise with a program of this text, in a copy of the exercise's files; a sentence where it
    cannot be run."""
    name = exercise.program.relative_to(exercise.folder)
    with tempfile.TemporaryDirectory(prefix="eelgrass-case-") as made:
        folder = Path(made)
        copy_files(exercise.files(), exercise.folder, folder)
        try:
            if case.call is not None:
                check_text(folder / name, text)
                text = alone(text, case.call)
            (folder / name).write_text(text, encoding="utf-8")
            return _run(folder / name, case, choice(exercise.folder).interpreter.python, leave)
        except (CannotRunError, SyntaxError, ValueError, RecursionError, MemoryError) as error:
            return str(error)
        except OSError as error:
            return f"It cannot be run: {error.strerror}."


def judge_all(
    exercise: Exercise,
    texts: Sequence[tuple[str, str]],
    jobs: int | None = None,
    leave: Leave | None = OWN_FOLDER,
) -> Iterator[tuple[str, list[Result]]]:
    """Judges all cases of many programs, given as (name, text), on the machine's cores; (name, results) in the order
    given, each as soon as it is known."""
    # One more than there are cores, since each run has to be set up and read before and after it takes a core.
    models = ModelRuns(exercise, leave)
    with ThreadPoolExecutor(jobs or (os.cpu_count() or 1) + 1) as workers:
        asked = [
            (name, [workers.submit(judge, exercise, case, text, None, models, leave) for case in exercise.cases])
            for name, text in texts
        ]
        for name, waiting in asked:
            yield name, [one.result() for one in waiting]


def _run(program: Path, case: Case, python: Path | None, leave: Leave | None) -> Ran:
    order = Order(
        program,
        arguments=case.arguments,
        python=python,
        seed=1,
        max_steps=MAX_STEPS,
        max_seconds=MAX_SECONDS,
        max_waiting_seconds=MAX_SECONDS,
        max_memory_mib=MAX_MEMORY_MIB,
        turns=case.turns,
        desk=case.desk(leave),
        leave=leave,
    )
    run = Run(order, keeps_output=True)
    run.start(in_place=True)
    return Ran(run.fed(case.input), run.output)


def judged(case: Case, ran: Ran | str) -> Result:
    """What came of a case's run, or of the sentence that says why there was none."""
    if isinstance(ran, str):
        return Result(case.name, "cannot run", ran)
    result, told = _judged(case, ran), "".join(ran.trace.texts.of(Texts.OUTPUT))
    if ran.trace.outcome.outcome == "stopped" or told == ran.output:
        return result
    return replace(result, remark="Not all that it printed was recorded, or it was recorded otherwise.")


def _judged(case: Case, ran: Ran) -> Result:
    trace, output, seconds = ran.trace, ran.output, ran.trace.outcome.seconds
    reason = trace.outcome.reason or ""
    if trace.outcome.outcome == "stopped":
        reason = f"{reason} {waiting_at_the_end(Recording(trace)).text}".rstrip()
        return Result(case.name, "run away", reason, output, seconds, limit=trace.outcome.limit)
    if trace.outcome.outcome == "raised":
        raised = re.match(r"\w*", reason)
        told = Result(case.name, "failed", f"It ended with an exception. {reason}", output, seconds)
        return replace(told, raised=raised[0] if raised else "")
    why = other_output(case, output) or other_result(case, trace) or broken_claim(case, trace)
    return Result(case.name, "failed" if why else "passed", why, output, seconds)


def first_wrong_character(case: Case, output: str) -> int | None:
    """The place (from 0) of the first character of an output that is otherwise than a case expects; None where there is
    none, or the case says nothing about it."""
    if case.output is None and case.pattern is not None:
        return _first_beside_pattern(case.pattern.rstrip("\n").split("*"), output)
    if case.output is None or output.rstrip("\n") == case.output.rstrip("\n"):
        return None
    pairs = zip(output, case.output, strict=False)
    place = next((place for place, (ours, theirs) in enumerate(pairs) if ours != theirs), len(case.output.rstrip("\n")))
    return place if place < len(output) else None


def _first_beside_pattern(pieces: Sequence[str], output: str) -> int | None:
    """The place behind the most that an output has of the first of some texts that do not come in it one after the
    other; None where they do, or where too little of it comes to say."""
    place = 0
    for piece in pieces:
        found = output.find(piece, place)
        if found < 0:
            # What has a beginning of the piece has all shorter ones.
            count = bisect_left(range(len(piece)), True, key=lambda last: output.find(piece[: last + 1], place) < 0)
            wrong = output.rfind(piece[:count]) + count
            return wrong if count >= _FEWEST_OF_PIECE and wrong < len(output) else None
        place = found + len(piece)
    return None


def other_output(case: Case, output: str) -> str:
    """Where the output is not as expected, in a sentence; '' where it is."""
    if case.output is not None and output.rstrip("\n") != case.output.rstrip("\n"):
        ours, theirs = output.rstrip("\n").split("\n"), case.output.rstrip("\n").split("\n")
        line = next((place for place, pair in enumerate(zip(ours, theirs, strict=False)) if pair[0] != pair[1]), None)
        line = min(len(ours), len(theirs)) if line is None else line
        ours_there, theirs_there = (_quoted(its[line]) if line < len(its) else "nothing more" for its in (ours, theirs))
        return f"Line {line + 1} of the output is {ours_there}, but {theirs_there} was expected."
    if case.pattern is not None:
        # Only `*` means anything; the rest stands for itself.
        pattern = re.sub(r"([\[?])", r"[\1]", case.pattern.rstrip("\n"))
        if not fnmatchcase(output.rstrip("\n"), pattern):
            return f"The output is {_quoted(output)}, which is not like {_quoted(case.pattern)}."
    return ""


def other_result(case: Case, trace: Trace) -> str:
    """Why the call of a case gave not what it was to give, in a sentence; '' where it did, or nothing is expected."""
    if case.result is None:
        return ""
    try:
        gave = given_back(trace)
    except CannotAnswerError as error:
        return str(error)
    expected = read_value(case.result)
    if expected is None:
        return f"The result to expect, {_quoted(case.result)}, is no value that could be written in a program."
    if alike(gave, expected[0]):
        return ""
    hint = " (another type)" if repr(gave).strip("'\"") == repr(expected[0]).strip("'\"") else ""
    return f"{case.call} gave {_quoted(repr(gave), '')}, but {case.result} was expected{hint}."


def given_back(trace: Trace) -> Any:
    """What the call of a case gave. Raises CannotAnswerError."""
    step = len(trace.steps) - 1
    value = value_of_name(trace, 0, ANSWER, step) if step >= 0 else NOT_SET
    if value == NOT_SET:
        raise CannotAnswerError("The call gave nothing back.")
    return PythonValues(trace, step).value(value)


def alike(one: Any, other: Any) -> bool:
    """Whether two values are of the same types and equal, floats but for rounding."""
    if type(one) is not type(other):
        return False
    if isinstance(one, float):
        return math.isclose(one, other, rel_tol=1e-9, abs_tol=1e-12) or (math.isnan(one) and math.isnan(other))
    if isinstance(one, (list, tuple)):
        return len(one) == len(other) and all(map(alike, one, other))
    if isinstance(one, dict):
        return one.keys() == other.keys() and all(alike(one[key], other[key]) for key in one)
    return bool(one == other)


def broken_claim(case: Case, trace: Trace) -> str:
    """Which claim of a case does not hold in a run, where and why, in a sentence; '' where all hold."""
    found = first_broken(case, Recording(trace)) if case.claims else None
    if found is None:
        return ""
    claim, step, values = found
    return f"“{claim}” does not hold at step {step} (line {trace.line_of(step)}): {values}."


def first_broken(case: Case, recording: Recording) -> tuple[str, int, str] | None:
    """The first claim of a case that does not hold in a run, the step at which it does not, and its values there in
    words; None where all hold."""
    for claim in case.claims:
        found = hits(recording, Breakpoint("", condition=claim, kind="everywhere", claims=True))
        if len(found.steps):
            return claim, int(found.steps[0]), found.values
    return None


def _quoted(text: str, mark: str = "“") -> str:
    short = text if len(text) <= _MOST_SHOWN else text[: _MOST_SHOWN - 1] + "…"
    return f"“{short}”" if mark else short
