"""The part of the tour about two runs: the model beside a program, what if, an answer beside the model."""

from __future__ import annotations

from eelgrass.desktop.tour_driver import TourDriver
from eelgrass.desktop.workspace.running.other_runs import offered


class TwoRunsTour(TourDriver):
    """Pictures of two runs along one time."""

    def _beside_model(self) -> None:
        """Puts the model beside the run on view, and goes to where they first differ."""
        models, comparison = self.window.models, self.window.models.comparison
        runs = offered(models.workspace, models.launch, models.earlier, shows_answer=True)
        self.window.commands.compare_with(runs[0])
        self._wait(lambda: comparison.beside is not None, "the comparison with the model", comparison.compared)
        comparison.go(0)

    def _two_runs(self) -> None:
        """A program beside its model, and two what-ifs, one of them in the other."""
        models = self.window.models
        models.workspace.open_exercise(self.window.lesson.exercise("gauge_report"))
        self._wait(self._is_over, "the end of the exercise's program")
        self._beside_model()
        self._act("next_line")
        self._picture("two-runs")
        models.comparison.end()
        self._visit(self._line_with("return total / 4"), 1)
        self._what_if("levels[1] = 9.5")
        self._visit(self._line_with("if mean > 2.4"), 1)
        self._what_if("mean = 2.2")
        self._act("next_line")
        self._picture("what-if")
        models.what_ifs.go_in(0)
        models.comparison.end()

    def _what_if(self, text: str) -> None:
        models = self.window.models
        session, what_ifs, comparison = models.parts.session, models.what_ifs, models.comparison
        assert session.recording is not None
        before = len(what_ifs.runs)
        self.window.commands.run_what_if(text, session.recording.stepping.frame_of(session.step))
        self._wait(
            lambda: len(what_ifs.runs) > before and comparison.beside is not None, "a what-if", comparison.compared
        )

    def _program_and_model(self) -> None:
        """A student's program beside the model, large enough for a class."""
        self.window.models.workspace.open_exercise(self.window.lesson.exercise("crab_tags"))
        self._wait(self._is_over, "the end of the student's program")
        self._beside_model()
        self._act("next_line", "present")
        self._picture("program-and-model")
        self._act("present")
        self.window.models.comparison.end()
