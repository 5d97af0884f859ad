"""The clues of a case's run, beside what the case expects, what the model does, and runs that go right."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from functools import lru_cache
from typing import NamedTuple

import numpy as np

from eelgrass.lessons.cases.call_only import ANSWER
from eelgrass.lessons.cases.case import Case
from eelgrass.lessons.judging.judging import (
    ModelRuns,
    Ran,
    first_broken,
    first_wrong_character,
    judged,
    other_result,
)
from eelgrass.reading.clues.clue import Clue
from eelgrass.reading.clues.finding import find_clues, ranked
from eelgrass.reading.clues.strengths import GoesWrong, beside_model, beside_right_runs
from eelgrass.reading.comparing.matched_statements import matched_statements
from eelgrass.reading.comparing.runs import compare
from eelgrass.reading.progress import Progress
from eelgrass.reading.recording import Recording
from eelgrass.reading.trails.visits_of_writes import visit_in
from eelgrass.trace.model import StepKind, Texts


class Model(NamedTuple):
    """The model's run of a case, and what is there as well though it goes right."""

    run: Recording
    clues: list[Clue]


class Models:
    """The models of an exercise's cases: each is run, and its clues are looked for, once."""

    def __init__(self, runs: ModelRuns) -> None:
        self._runs = runs
        self.of = lru_cache(None)(self._of)

    def _of(self, case: Case) -> Model | None:
        run = self._runs.of(case)
        return None if run is None else Model(run, find_clues(run))


def case_clues(
    recording: Recording,
    case: Case,
    model: Callable[[], Model | None] = lambda: None,
    right: Iterable[Recording] = (),
    progress: Progress | None = None,
) -> list[Clue]:
    """The clues of a run of a case, the strongest first. The first wrong character of its output, a wrong result, a
    broken claim, and where it first does otherwise than the `model` count for what lies on the way to them; what is
    there in the model, or in runs of the same program that go `right`, counts less."""
    its = model()
    found = find_clues(recording, progress, wrong=_goes_wrong(recording, case, its))
    if not found:
        return found
    found = beside_right_runs(found, (find_clues(one, progress) for one in right))
    if its is not None:
        found = beside_model(found, its.clues, matched_statements(recording, its.run))
    return ranked(found)


def _goes_wrong(recording: Recording, case: Case, model: Model | None) -> GoesWrong:
    trace = recording.trace
    output = "".join(trace.texts.of(Texts.OUTPUT))
    if judged(case, Ran(trace, output)).is_passed:
        return GoesWrong()  # it may do otherwise than the model
    broken = first_broken(case, recording)
    value = (ANSWER, len(trace.steps) - 1) if other_result(case, trace) else broken[:2] if broken is not None else None
    visit = _first_other(recording, model.run) if model is not None else None
    return GoesWrong(first_wrong_character(case, output), value, visit)


def _first_other(recording: Recording, model: Recording) -> int | None:
    """The first visit that does otherwise than the model's run, up to where the two ways part: what follows is not
    looked at, which would take seconds for long runs."""
    found = compare(recording, model)
    value = found.value.step_a if found.value is not None else -1
    parting = _decision_before(recording, found.path.step_a) if found.path is not None else -1
    return min((its for its in (value, parting) if its >= 0), default=None)


def _decision_before(recording: Recording, visit: int) -> int:
    """What decided on the visit that comes after another: the one before it in its frame, which may have made calls in
    between."""
    following = np.flatnonzero(recording.trace.steps.kind[visit + 1 :] == StepKind.LINE)[:1] + visit + 1
    decided = [visit_in(recording, recording.stepping.frame_of(its), its - 1) for its in following.tolist()]
    return next((its for its in decided if its >= 0), visit)
