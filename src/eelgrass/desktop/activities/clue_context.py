"""What the cases of a program say of its clues: what is wrong with the run on view, what the model does, and which runs
go right."""

from __future__ import annotations

from collections.abc import Callable, Iterator

from eelgrass.desktop.activities.kept_cases import KeptCases
from eelgrass.desktop.activities.solving import Solving
from eelgrass.desktop.session.questions.clue_list import ClueList, Finder
from eelgrass.desktop.workspace.running.launch import Launch
from eelgrass.desktop.workspace.workspace import Workspace
from eelgrass.lessons.exercises.exercise import Exercise
from eelgrass.lessons.judging.case_clues import Model, Models, case_clues
from eelgrass.lessons.judging.judging import ModelRuns, recorded
from eelgrass.reading.recording import Recording

#: So many runs that go right are looked at.
_MOST_RIGHT = 2


class ClueContext:
    """Finds the clues of the run on view with what its case, the other cases and the model know."""

    def __init__(
        self, clues: ClueList, solving: Solving, kept: KeptCases, launch: Launch, workspace: Workspace
    ) -> None:
        self._solving, self._kept, self._launch, self._workspace = solving, kept, launch, workspace
        self._models: tuple[Exercise, Models] | None = None
        self._clues, self._asked_model = clues, False
        clues.forbidden = solving.clues_forbidden
        clues.finder = self._finder
        solving.changed.connect(self._heed)
        solving.judged.connect(clues.look)
        kept.changed.connect(clues.look)

    def _heed(self) -> None:
        """Another hint may have been used."""
        if self._asked_model != self._may_ask_model():
            self._clues.look()
        else:
            self._clues.changed.emit()

    def _may_ask_model(self) -> bool:
        """Whether a student may hear where a case first goes otherwise than the model: some clues say as much."""
        exercise = self._solving.exercise
        after = exercise.first_wrong_after if exercise is not None else None
        is_told = after is not None and self._solving.answer.hints_used >= after
        return exercise is not None and exercise.model is not None and (is_told or self._workspace.makes)

    def _finder(self) -> Finder:
        self._asked_model = self._may_ask_model()
        case, right, model = self._launch.case, self._right_runs(), self._model()
        return lambda recording, progress: case_clues(recording, case, model, right, progress)

    def _model(self) -> Callable[[], Model | None]:
        """What runs the case on view with the model, which goes right; once."""
        exercise, case = self._solving.exercise, self._launch.case
        if exercise is None or not self._asked_model:
            return lambda: None
        if self._models is None or self._models[0] is not exercise:
            self._models = exercise, Models(ModelRuns(exercise, self._launch.leave.leave))
        models = self._models[1]
        return lambda: models.of(case)

    def _right_runs(self) -> Iterator[Recording]:
        """Runs of other cases that go right while the one on view does not, each made when it is asked for."""
        exercise, now = self._solving.exercise, self._launch.case
        if exercise is None:
            outcomes = self._kept.outcomes
            its = outcomes.get(now.name)
            right = [one.run for one in outcomes.values() if one.is_as_before and one.run is not None]
            is_wrong = its is not None and its.is_as_before is False
            return iter(right[:_MOST_RIGHT] if is_wrong else [])
        results = self._solving.results
        if now.name not in results or results[now.name].is_passed:
            return iter(())
        passed = [case for case in exercise.cases if case.name in results and results[case.name].is_passed]
        text, leave = self._workspace.text, self._launch.leave.leave
        ran = (recorded(exercise, case, text, leave) for case in passed[:_MOST_RIGHT])
        return (Recording(its.trace) for its in ran if not isinstance(its, str))
