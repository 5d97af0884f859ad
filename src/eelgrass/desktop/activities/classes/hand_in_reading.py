"""A hand-in of a class set in the reading window, at the moment at which it first goes wrong."""

from __future__ import annotations

from functools import partial

from PyQt6.QtCore import QObject

from eelgrass.desktop.activities.classes.class_work import ClassWork
from eelgrass.desktop.services.translation import tr
from eelgrass.desktop.session.comparison import RunComparison
from eelgrass.desktop.session.edited_texts import EditedTexts, LentText
from eelgrass.desktop.workspace.running.launch import Launch
from eelgrass.desktop.workspace.running.other_runs import OtherRun, run_of_text
from eelgrass.desktop.workspace.running.program_run import ProgramRun
from eelgrass.lessons.cases.case import Case
from eelgrass.lessons.class_sets.class_runs import Judged
from eelgrass.reading.recording import Recording


class HandInReading(QObject):
    """`shown` is the hand-in on view, on `case`; the reading window runs its text in place of the program's own."""

    def __init__(
        self, work: ClassWork, launch: Launch, run: ProgramRun, texts: EditedTexts, comparison: RunComparison
    ) -> None:
        super().__init__()
        self._work, self._launch, self._texts, self._comparison = work, launch, texts, comparison
        self.shown: Judged | None = None
        self.case: Case | None = None
        self._beside: OtherRun | None = None
        self._goes_beside = ""  # whose run it is beside which it goes to the first difference, once that is known
        run.lent_ended.connect(self._compare)
        comparison.compared.connect(self._go)

    def show(self, its: Judged, case: str = "", beside: Judged | None = None) -> None:
        """Runs a hand-in on a case (the first one that it does not pass), with the model's run beside it, or another
        hand-in's, and goes to where they first differ."""
        exercise = self._work.its.exercise if self._work.its is not None else None
        if exercise is None or not its.hand_in.text or not exercise.cases:
            return
        wanted = case or next((out.case for out in its.outcomes if out.word != "passed"), exercise.cases[0].name)
        self.shown, self.case = its, next(one for one in exercise.cases if one.name == wanted)
        leave = self._launch.leave.leave
        other = beside.hand_in.text if beside is not None else exercise.model
        name = self._work.name_of(beside.hand_in) if beside is not None else tr("the model")
        run = partial(run_of_text, exercise, self.case, other, leave) if other is not None else None
        self._beside = OtherRun(name, run) if run is not None else None
        self._launch.lend(LentText(its.hand_in.text, self._work.name_of(its.hand_in)), self.case)

    def step(self, by: int) -> None:
        """Shows the next hand-in of the same group, or the one before, on the same case."""
        for group in self._work.groups:
            if self.shown in group.members:
                place = group.members.index(self.shown) + by
                self.show(group.members[place % len(group.members)], self.case.name if self.case is not None else "")
                return

    def leave(self) -> None:
        """Shows the program's own text again."""
        if self.shown is not None:
            self.shown = None
            self._launch.lend(None)

    def _compare(self, _recording: Recording) -> None:
        lent = self._texts.lent
        if self.shown is None or lent is None or lent.text != self.shown.hand_in.text or self._beside is None:
            return
        beside, self._beside = self._beside, None
        self._goes_beside = beside.name
        self._comparison.compare_with(beside.find, beside.name, lent.whose)

    def _go(self) -> None:
        beside = self._comparison.beside
        if beside is None or not self._goes_beside:
            return
        if beside.name == self._goes_beside and beside.differences:
            self._comparison.go(0)
        self._goes_beside = ""
