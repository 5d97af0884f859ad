"""The page of an exercise: its program in its cases, with the route's talking points and what is to be said first."""

from __future__ import annotations

from collections.abc import Sequence

from eelgrass.errors import EelgrassError
from eelgrass.export.pages.page import ToShow, page
from eelgrass.export.pages.runs import Chosen
from eelgrass.export.pages.texts import markdown
from eelgrass.lessons.answering.prediction_points import asked_at
from eelgrass.lessons.cases.case import Case
from eelgrass.lessons.exercises.exercise import Exercise
from eelgrass.lessons.exercises.plan import questions_in, steps_of
from eelgrass.lessons.judging.judging import recorded
from eelgrass.reading.recording import Recording
from eelgrass.runs.order import OWN_FOLDER, Leave
from eelgrass.runs.texts import source_text

#: A case for an exercise without any.
_PLAIN = Case("the run")


class CannotShowError(EelgrassError):
    """An exercise of which no page can be made; the message is a sentence for the person."""


def exercise_page(
    exercise: Exercise, names: Sequence[str] = (), asks: bool = True, leave: Leave | None = OWN_FOLDER
) -> str:
    """The page of the cases of these names; without any, of those that the route and the questions speak of, else of
    the first one. Raises CannotShowError for a case that is not there or cannot be run."""
    given = source_text.decoded(exercise.program.read_bytes())
    runs = [_to_show(exercise, case, given, asks, leave) for case in _cases(exercise, names)]
    return page(exercise.title, runs, exercise.task)


def _cases(exercise: Exercise, names: Sequence[str]) -> list[Case]:
    known = {its.name: its for its in exercise.cases}
    for name in names:
        if name not in known:
            raise CannotShowError(f"The exercise has no case “{name}”.")
    planned = {its.case for its in (*exercise.stops, *exercise.points)}
    wanted = [its for its in exercise.cases if its.name in (names or planned)]
    return wanted or [*exercise.cases[:1]] or [_PLAIN]


def _to_show(exercise: Exercise, case: Case, given: str, asks: bool, leave: Leave | None) -> ToShow:
    ran = recorded(exercise, case, given, leave)
    if isinstance(ran, str):
        raise CannotShowError(f"The case “{case.name}” cannot be run. {ran}")
    recording = Recording(ran.trace)
    return ToShow(recording, planned(exercise, case.name, recording, given, asks))


def planned(exercise: Exercise, case: str, recording: Recording, given: str, asks: bool) -> Chosen:
    """A run of a case with what is planned in it: the stops of the route, and, if it `asks`, what is to be said first.
    `given` is the program's text of which the plan is."""
    stops: dict[int, list[tuple[int, str]]] = {}
    for number, stop in enumerate(exercise.stops, 1):
        if stop.case in ("", case):
            for step in steps_of(recording, stop, given)[:1].tolist():
                stops.setdefault(step, []).append((number, markdown(stop.say)))
    points = questions_in(recording, exercise.points, case, given) if asks else {}
    asked = ((step, asked_at(recording, step, point)) for step, point in points.items())
    return Chosen(case, stops=stops, questions={step: its for step, its in asked if its is not None})
