"""Making an exercise: from a program to its folder, and from the model's own runs to what is expected."""

from __future__ import annotations

import re
from collections.abc import Iterable
from pathlib import Path

import msgspec

from eelgrass.lessons.cases.case import Case
from eelgrass.lessons.cases.literals import read_value
from eelgrass.lessons.exercises.exercise import Exercise, ExerciseError, Sealed, all_files, copy_files
from eelgrass.lessons.exercises.exercise_writer import save
from eelgrass.lessons.judging.judging import given_back, recorded
from eelgrass.reading.expressions.python_values import CannotAnswerError
from eelgrass.runs.order import OWN_FOLDER, Leave
from eelgrass.runs.texts.source_text import encoded

#: So many neighbours of a program are looked at for what belongs to it.
_MOST_NEIGHBOURS = 2_000
#: How the result of a model's call may be written down.
_LONGEST_RESULT = 2_000


def belongings(program: Path, texts: Iterable[str]) -> list[Path]:
    """The files beside a program that its texts speak of: modules that are imported, and files that are named."""
    words = {word for text in texts for word in re.findall(r"[\w.-]+", text)}
    found = []
    for number, path in enumerate(sorted(program.parent.iterdir())):
        if number >= _MOST_NEIGHBOURS:
            break
        if path != program and path.is_file() and not path.is_symlink():
            name = path.stem if path.suffix == ".py" else path.name
            found += [path] if name in words else []
    return found


def begin(folder: Path, program: Path, text: str, others: Iterable[Path] = ()) -> Exercise:
    """Makes a new exercise of a program with this text, which is its model, too, until it is changed. `others` are the
    files beside it that belong to it. Raises OSError, and ExerciseError where the folder is in use."""
    _take(folder)
    copy = folder / program.name
    try:
        copy.write_bytes(encoded(text, b""))
    except ValueError as error:
        raise ExerciseError(f"The program cannot be written: {error}.") from error
    copy_files(others, program.parent, folder)
    title = folder.name.replace("_", " ").strip().capitalize()
    exercise = Exercise(folder, copy, title, sealed=Sealed(model={copy.name: text}))
    save(exercise)
    return exercise


def copied(exercise: Exercise, folder: Path) -> None:
    """Copies an exercise, with its sealed part, to a folder of its own. Raises OSError, and ExerciseError where that is
    in use."""
    _take(folder)
    copy_files(all_files(exercise.folder), exercise.folder, folder)


def _take(folder: Path) -> None:
    if folder.exists() and any(folder.iterdir()):
        raise ExerciseError(f"The folder “{folder.name}” is not empty; an exercise needs one of its own.")
    folder.mkdir(parents=True, exist_ok=True)


def new_name(cases: Iterable[Case]) -> str:
    """A name that no case has yet."""
    names = {case.name for case in cases}
    return next(name for number in range(1, len(names) + 2) if (name := f"case {number}") not in names)


def expected(exercise: Exercise, case: Case, leave: Leave | None = OWN_FOLDER) -> Case:
    """A case with what the model makes of it: its output, or, for a call, its result; one with a pattern keeps that.
    Raises ExerciseError, with a sentence, where the model does not come to an end or its result cannot be written."""
    if exercise.model is None:
        raise ExerciseError("There is no model program yet.")
    ran = recorded(exercise, case, exercise.model, leave)
    if isinstance(ran, str):
        raise ExerciseError(f"“{case.name}”: {ran}")
    trace = ran.trace
    if trace.outcome.outcome not in ("finished", "exited"):
        raise ExerciseError(f"“{case.name}”: the model does not come to its end. {trace.outcome.reason or ''}".strip())
    if case.call is None:
        return case if case.pattern is not None else msgspec.structs.replace(case, output=ran.output)
    try:
        result = repr(given_back(trace))
    except CannotAnswerError as error:
        raise ExerciseError(f"“{case.name}”: {error}") from error
    if read_value(result) is None:
        raise ExerciseError(f"“{case.name}”: what the model gives back cannot be written as a value.")
    if len(result) > _LONGEST_RESULT:
        raise ExerciseError(f"“{case.name}”: what the model gives back is too long to be written down.")
    return msgspec.structs.replace(case, result=result)
