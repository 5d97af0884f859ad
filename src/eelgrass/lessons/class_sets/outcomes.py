"""What came of a case of one hand-in, in little room: thousands are held at a time, and kept on the disk."""

from __future__ import annotations

import hashlib
import re
from collections.abc import Sequence
from typing import Literal

import msgspec

from eelgrass.lessons.cases.case import Case
from eelgrass.lessons.exercises.exercise import Exercise
from eelgrass.lessons.judging.judging import Result, judged, recorded
from eelgrass.runs.order import CannotRunError, Leave, check_text

Word = Literal["passed", "failed", "raised", "stopped", "could not run"]

#: Of what was printed, so much is kept to be shown.
_MOST_OUTPUT = 2_000
_MOST_WHY = 600
_PLACE = re.compile(r"[“\"'‘][^”\"'’]*[”\"'’]|\d+")
#: Where a claim does not hold hangs on how many lines a student takes.
_STEP = re.compile(r" at step \d+ \(line \d+\)")


class Outcome(msgspec.Struct, frozen=True):
    """What came of `case`: a word, why in a sentence ('' when passed), the beginning of what was printed, the seconds
    of the run, and its `behaviour`: the same for all that do the same."""

    case: str
    word: Word
    why: str
    output: str
    seconds: float
    behaviour: str


def outcome_of(result: Result) -> Outcome:
    """The same in little room."""
    word, why = _word(result), result.why[:_MOST_WHY]
    return Outcome(result.case, word, why, result.output[:_MOST_OUTPUT], result.seconds, _behaviour(result, word))


def as_result(its: Outcome) -> Result:
    """The same as cases are told of elsewhere."""
    verdicts: dict[Word, Literal["passed", "failed", "run away", "cannot run"]]
    verdicts = {"passed": "passed", "failed": "failed", "raised": "failed"}
    verdicts |= {"stopped": "run away", "could not run": "cannot run"}
    return Result(its.case, verdicts[its.word], its.why, its.output, its.seconds)


def run_case(exercise: Exercise, case: Case, text: str, leave: Leave | None) -> Outcome:
    """Runs a case with a program of this text, apart from everything; once more where it may have been the machine that
    failed, and not the program. Where Eelgrass itself fails with it, that is what comes of it: one hand-in does not
    take all others' results away."""
    try:
        result = judged(case, recorded(exercise, case, text, leave))
        if _may_be_the_machine(result, exercise, text):
            result = judged(case, recorded(exercise, case, text, leave))
        return outcome_of(result)
    except Exception as error:
        why = f"Eelgrass itself failed with it ({type(error).__name__}: {error})."
        return outcome_of(Result(case.name, "cannot run", why))


def _may_be_the_machine(result: Result, exercise: Exercise, text: str) -> bool:
    """Whether it ended for want of time, or could not be run though its text can."""
    if result.verdict != "cannot run":
        return result.limit == "max_seconds"
    try:
        check_text(exercise.program, text)
    except CannotRunError:
        return False
    return True


def not_run(exercise: Exercise, why: str) -> tuple[Outcome, ...]:
    """What comes of all cases of a hand-in that is no program."""
    return tuple(outcome_of(Result(case.name, "cannot run", why)) for case in exercise.cases)


def _word(result: Result) -> Word:
    if result.raised:
        return "raised"
    if result.verdict == "run away":
        return "stopped"
    return "could not run" if result.verdict == "cannot run" else result.verdict


def _behaviour(result: Result, word: Word) -> str:
    """Names and places in what is said of a failure are each student's own; what was printed by a run that was stopped
    hangs on when it was."""
    if word in ("stopped", "could not run"):
        told = _PLACE.sub("", result.why)
    else:
        told = f"{result.raised or _STEP.sub('', result.why)}\n{result.output.rstrip()}"
    return digest(word, told)


def behaviour_of(outcomes: Sequence[Outcome]) -> str:
    """What a hand-in does on all its cases, as a text that is the same for those that do the same."""
    return digest(*(its.behaviour for its in outcomes))


def digest(*texts: str) -> str:
    """A short text that stands for some texts."""
    told = hashlib.sha256()
    for text in texts:
        told.update(text.encode("utf-8", "surrogatepass") + b"\0")
    return told.hexdigest()[:24]
