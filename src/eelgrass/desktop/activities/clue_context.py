"""What the cases of a program say of its clues: where the output is first wrong, and which runs go right."""

from __future__ import annotations

from collections.abc import Callable

from eelgrass.desktop.activities.kept_cases import KeptCases
from eelgrass.desktop.activities.solving import Solving
from eelgrass.desktop.session.questions.clue_list import ClueList
from eelgrass.desktop.workspace.running.launch import Launch
from eelgrass.desktop.workspace.workspace import Workspace
from eelgrass.lessons.cases.case import Case
from eelgrass.lessons.exercises.exercise import Exercise
from eelgrass.lessons.judging.judging import first_wrong_character, recorded
from eelgrass.reading.recording import Recording
from eelgrass.runs.order import Leave
from eelgrass.trace.model import Texts

#: So many runs that go right are looked at.
_MOST_RIGHT = 2
_Making = Callable[[], Recording | None]


class ClueContext:
    """Tells the clues of the run on view what its case and the other cases know."""

    def __init__(
        self, clues: ClueList, solving: Solving, kept: KeptCases, launch: Launch, workspace: Workspace
    ) -> None:
        self._solving, self._kept, self._launch, self._workspace = solving, kept, launch, workspace
        clues.forbidden = solving.clues_forbidden
        clues.wrong_character = self._wrong_character
        clues.right_runs = self._right_runs
        solving.changed.connect(clues.changed)
        solving.judged.connect(clues.look)
        kept.changed.connect(clues.look)

    def _wrong_character(self, recording: Recording) -> int | None:
        return first_wrong_character(self._launch.case, "".join(recording.trace.texts.of(Texts.OUTPUT)))

    def _right_runs(self) -> list[_Making]:
        """What makes runs of other cases that go right while the one on view does not."""
        exercise, now = self._solving.exercise, self._launch.case
        if exercise is None:
            outcomes = self._kept.outcomes
            its = outcomes.get(now.name)
            right = [one.run for one in outcomes.values() if one.is_as_before and one.run is not None]
            is_wrong = its is not None and its.is_as_before is False
            return [lambda run=run: run for run in right[:_MOST_RIGHT]] if is_wrong else []  # type: ignore[misc]
        results = self._solving.results
        if now.name not in results or results[now.name].is_passed:
            return []
        passed = [case for case in exercise.cases if case.name in results and results[case.name].is_passed]
        text, leave = self._workspace.text, self._launch.leave.leave
        return [_making(exercise, case, text, leave) for case in passed[:_MOST_RIGHT]]


def _making(exercise: Exercise, case: Case, text: str, leave: Leave) -> _Making:
    def make() -> Recording | None:
        ran = recorded(exercise, case, text, leave)
        return None if isinstance(ran, str) else Recording(ran.trace)

    return make
