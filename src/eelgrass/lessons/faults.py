"""What is missing in an exercise, or contradicts itself; for whoever makes it (need T4)."""

from __future__ import annotations

from collections.abc import Iterator

from eelgrass.lessons.exercise import Exercise
from eelgrass.lessons.judging import judge
from eelgrass.reading.question import is_question
from eelgrass.runs.text import read


def faults(exercise: Exercise) -> Iterator[str]:
    """Sentences; none for an exercise that is as it should be. Runs all cases with the program and with the model."""
    faulty = read(exercise.program)
    if not exercise.cases:
        yield "There is no case yet."
    if not exercise.task.strip():
        yield "There is no task yet."
    for case in exercise.cases:
        if not case.expects:
            yield f"Nothing is said of what should come of the case “{case.name}”."
        yield from (f"“{claim}” is no expression." for claim in case.claims if not is_question(claim))
    names = [case.name for case in exercise.cases]
    yield from (f"Several cases are called “{name}”." for name in dict.fromkeys(names) if names.count(name) > 1)
    if exercise.cases and all(judge(exercise, case, faulty).is_passed for case in exercise.cases):
        yield "The faulty program passes all cases: none of them shows the error."
    yield from _sealed(exercise, faulty)


def _sealed(exercise: Exercise, faulty: str) -> Iterator[str]:
    sealed, lines = exercise.sealed, faulty.split("\n")
    if sealed is None:
        yield "There is no sealed part: nobody can tell where the error is."
        return
    if not sealed.lines:
        yield "No line is marked as faulty."
    for line in sealed.lines:
        if not (0 < line <= len(lines) and lines[line - 1].strip()):
            yield f"Line {line} is marked as faulty, but there is no such line any more."
    model = sealed.model.get(exercise.program.relative_to(exercise.folder).as_posix())
    if model is None:
        yield "There is no model program."
        return
    for case in exercise.cases:
        result = judge(exercise, case, model)
        if not result.is_passed:
            yield f"The model does not pass the case “{case.name}”: {result.why}"
