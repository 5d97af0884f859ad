"""What is missing in an exercise, or contradicts itself; for whoever makes it."""

from __future__ import annotations

import re
from collections.abc import Iterator
from dataclasses import dataclass, field
from functools import lru_cache

from eelgrass.lessons.answering.prediction_points import asked_at
from eelgrass.lessons.cases.case import USUAL
from eelgrass.lessons.exercises.exercise import Exercise
from eelgrass.lessons.exercises.plan import PlannedPlace, PlannedQuestion, steps_of
from eelgrass.lessons.judging.judging import Result, judge, judged, recorded
from eelgrass.reading.alignment import matched_lines
from eelgrass.reading.expressions.expression import is_expression
from eelgrass.reading.progress import Progress
from eelgrass.reading.recording import Recording
from eelgrass.runs.order import OWN_FOLDER, Leave
from eelgrass.runs.texts.source_text import read

_KEPT = 8
_LINE_OF_HINT = re.compile(r"\b[Ll]ines? (\d+)(?:(?:,| and| to) (\d+))*")


@dataclass
class Tried:
    """What came of all cases, by name: with the program as it is given, and with the model; and what is wrong with the
    exercise."""

    given: dict[str, Result] = field(default_factory=dict)
    model: dict[str, Result] = field(default_factory=dict)
    faults: list[str] = field(default_factory=list)


def faults(exercise: Exercise) -> list[str]:
    """Sentences; none for an exercise that is as it should be. Runs all cases with the program and with the model."""
    return [*faults_of_text(exercise), *tried(exercise).faults]


def faults_of_text(exercise: Exercise) -> list[str]:
    """What can be seen without running anything."""
    try:
        given = read(exercise.program)
    except OSError as error:
        return [f"The program “{exercise.program.name}” cannot be read: {error.strerror}."]
    return [*_of_cases(exercise), *_of_words(exercise, given), *_of_error(exercise, given), *_of_plan(exercise)]


def _of_cases(exercise: Exercise) -> Iterator[str]:
    if not exercise.cases:
        yield "There is no case yet."
    for case in exercise.cases:
        if not case.expects:
            yield f"Nothing is said of what should come of the case “{case.name}”."
        yield from (f"“{claim}” is no expression." for claim in case.claims if not is_expression(claim))
    names = [case.name for case in exercise.cases]
    yield from (f"Several cases are called “{name}”." for name in dict.fromkeys(names) if names.count(name) > 1)


def _of_words(exercise: Exercise, given: str) -> Iterator[str]:
    if not exercise.task.strip():
        yield "There is no task yet."
    lines = given.split("\n")
    for number, hint in enumerate(exercise.hints, 1):
        if not hint.strip():
            yield f"Hint {number} is empty."
        for match in _LINE_OF_HINT.finditer(hint):
            for line in map(int, re.findall(r"\d+", match[0])):
                if not (0 < line <= len(lines) and lines[line - 1].strip()):
                    yield f"Hint {number} speaks of line {line}, but there is no such line in the program."


def _of_error(exercise: Exercise, given: str) -> Iterator[str]:
    sealed, lines = exercise.sealed, given.split("\n")
    if sealed is None:
        yield "There is no sealed part: nobody can tell where the error is."
        return
    if not sealed.lines and not sealed.elsewhere:
        yield "No line is marked as faulty."
    for line in sealed.lines:
        if not (0 < line <= len(lines) and lines[line - 1].strip()):
            yield f"Line {line} is marked as faulty, but there is no such line any more."
    if not sealed.reason.strip():
        yield "Nothing is said of why the marked lines are wrong."
    if exercise.model is None:
        yield "There is no model program."
    elif exercise.model.strip() == given.strip():
        yield "The model is the same as the program: nothing is wrong with it yet."
    else:
        for line in sorted(set(lines_that_differ(given, exercise.model)) - set(sealed.lines)):
            yield f"Line {line} is otherwise in the model, but it is not marked as faulty."


@lru_cache(_KEPT)
def lines_that_differ(given: str, model: str) -> tuple[int, ...]:
    """The lines of the program that are otherwise in the model, or not there; empty ones and comments do not count."""
    lines, models = given.split("\n"), model.split("\n")
    same = {old for old, new in matched_lines(given, model).items() if lines[old - 1] == models[new - 1]}
    return tuple(line for line, text in enumerate(lines, 1) if text.strip()[:1] not in ("", "#") and line not in same)


def _of_plan(exercise: Exercise) -> Iterator[str]:
    names = {"", USUAL.name, *(case.name for case in exercise.cases)}
    for what, place in _places(exercise):
        if not place.line:
            yield f"The statement of {what} is gone: “{place.statement}”."
        if place.case not in names:
            yield f"There is no case “{place.case}”, of which {what} is."
    asked = [(its.file, its.line, its.visit, its.case) for its in exercise.points]
    for where in dict.fromkeys(where for where in asked if asked.count(where) > 1):
        yield f"Several predictions are asked for at one place, line {where[1]}: only the last one is."
    for number, stop in enumerate(exercise.stops, 1):
        if not stop.say.strip():
            yield f"Nothing is said at stop {number} of the route."


def _places(exercise: Exercise) -> Iterator[tuple[str, PlannedPlace]]:
    yield from ((f"prediction {number}", place) for number, place in enumerate(exercise.points, 1))
    yield from ((f"stop {number} of the route", place) for number, place in enumerate(exercise.stops, 1))
    yield from ((f"desk check {number}", place) for number, place in enumerate(exercise.desk_checks, 1))


# What runs show


def tried(exercise: Exercise, progress: Progress | None = None, leave: Leave | None = OWN_FOLDER) -> Tried:
    """Runs all cases with the program and with the model; less than all where `progress` was given up."""
    found, given = Tried(), read(exercise.program)
    reached: set[str] = set()
    asked: set[str] = set()
    for number, case in enumerate(exercise.cases):
        if progress is not None and not progress.goes_on(number / len(exercise.cases)):
            return found
        ran = recorded(exercise, case, given, leave)
        found.given[case.name] = judged(case, ran)
        if not isinstance(ran, str):
            _note_reached(exercise, case.name, Recording(ran.trace), given, reached, asked)
        if exercise.model is not None:
            found.model[case.name] = judge(exercise, case, exercise.model, leave=leave)
    found.faults = [*_of_results(found), *_of_reach(exercise, reached, asked)]
    return found


def _note_reached(
    exercise: Exercise, case: str, recording: Recording, given: str, reached: set[str], asked: set[str]
) -> None:
    """Notes which places the run of a case comes to, and at which points there is something to ask."""
    for what, place in _places(exercise):
        steps = steps_of(recording, place, given)
        if len(steps) and place.case in ("", case):
            reached.add(what)
            if isinstance(place, PlannedQuestion) and asked_at(recording, int(steps[0]), place) is not None:
                asked.add(what)


def _of_results(found: Tried) -> Iterator[str]:
    if found.given and all(result.is_passed for result in found.given.values()):
        yield "The faulty program passes all cases: none of them shows the error."
    for name, result in found.model.items():
        if not result.is_passed:
            yield f"The model does not pass the case “{name}”: {result.why}"


def _of_reach(exercise: Exercise, reached: set[str], asked: set[str]) -> Iterator[str]:
    for what, place in _places(exercise):
        if place.line and exercise.cases and place.case != USUAL.name:
            where = f"line {place.line}" + (f", visit {place.visit}" if place.visit else "")
            if what not in reached:
                yield f"No run of the cases comes to {what} ({where})."
            elif isinstance(place, PlannedQuestion) and what not in asked:
                yield f"There is nothing to be asked at {what} ({where}), or its answer is too long."
