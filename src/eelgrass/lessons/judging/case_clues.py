"""The clues of a case's run, beside what the case expects, what the model does, and runs that go right."""

from __future__ import annotations

from collections.abc import Callable, Iterable

from eelgrass.lessons.cases.call_only import ANSWER
from eelgrass.lessons.cases.case import Case
from eelgrass.lessons.judging.first_wrong import first_wrong_moment
from eelgrass.lessons.judging.judging import Ran, first_wrong_character, judged, other_result
from eelgrass.reading.clues.clue import Clue
from eelgrass.reading.clues.finding import find_clues, ranked
from eelgrass.reading.clues.strengths import GoesWrong, beside_model, beside_right_runs
from eelgrass.reading.comparing.matched_statements import matched_statements
from eelgrass.reading.progress import Progress
from eelgrass.reading.recording import Recording
from eelgrass.trace.model import Texts


def case_clues(
    recording: Recording,
    case: Case,
    model: Callable[[], Recording | None] = lambda: None,
    right: Iterable[Recording] = (),
    progress: Progress | None = None,
) -> list[Clue]:
    """The clues of a run of a case, the strongest first. The first wrong character of its output, a wrong result, and
    where it first does otherwise than the `model` count for what lies on the way to them; what is there in the model,
    or in runs of the same program that go `right`, counts less. None of these are run where there is no clue."""
    found = find_clues(recording, progress, wrong=lambda: _goes_wrong(recording, case, model))
    if not found:
        return found
    found = beside_right_runs(found, (find_clues(its, progress) for its in right))
    its = model()
    if its is not None:
        found = beside_model(found, find_clues(its, progress), matched_statements(recording, its))
    return ranked(found)


def _goes_wrong(recording: Recording, case: Case, model: Callable[[], Recording | None]) -> GoesWrong:
    trace = recording.trace
    output = "".join(trace.texts.of(Texts.OUTPUT))
    if judged(case, Ran(trace, output)).is_passed:
        return GoesWrong()  # it may do otherwise than the model
    value = (ANSWER, len(trace.steps) - 1) if other_result(case, trace) else None
    its = model()
    visit = first_wrong_moment(recording, its).visit if its is not None else -1
    return GoesWrong(first_wrong_character(case, output), value, visit if visit >= 0 else None)
