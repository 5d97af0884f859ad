"""The part of the tour in which programs go wrong."""

from __future__ import annotations

from pathlib import Path

from eelgrass.desktop.desk.desk_view import DeskView
from eelgrass.desktop.tabs.clues_view import CluesView
from eelgrass.desktop.tabs.threads_view import ThreadsView
from eelgrass.desktop.tour_programs import CLUES, DEADLOCK, ENDLESS, FULL
from eelgrass.desktop.tour_two_runs import TwoRunsTour

_CLUES = 3


class TroublesTour(TwoRunsTour):
    """What a class does wrong, each program with its pictures."""

    def _troubles(self, folder: Path) -> None:
        """What a class does wrong: an exception, a run without an end, a text that is none."""
        for name, text, what in (
            ("exception", FULL, "the end of the run that fails"),
            ("run-away", ENDLESS, "the end of the run that is stopped"),
        ):
            program = folder / f"{name.replace('-', '_')}.py"
            program.write_text(text, encoding="utf-8")
            self.window.models.workspace.open(program)
            self._wait(self._is_over, what)
            self._act("last")
            self._picture(name)
        self._clues(folder / "ferry_crew.py")
        self._deadlock(folder / "ferry_and_pier.py")
        self._two_threads()
        self._desk()
        self.window.models.workspace.open(folder / "run_away.py")
        self._wait(self._is_over, "the end of the run that is stopped")
        self._act("edit")
        self.window.source.editor.setText(ENDLESS.replace(":", "") + "print('shoots, shoots)\n")
        self.window.diagnose()
        self._picture("text-with-errors")
        self.window.source.set_editing(False)

    def _clues(self, program: Path) -> None:
        """What looks like usual mistakes, and one of them followed to a moment that shows it."""
        program.write_text(CLUES, encoding="utf-8")
        self.window.models.workspace.open(program)
        self._wait(lambda: len(self.window.models.clues.likely) == _CLUES, "three clues")
        self._act("clues")
        self._act("tall")
        self._picture("clues")
        self._act("tall")
        view = self.window.view(CluesView)
        for _ in range(2):
            view.itemClicked.emit(view.item(0))
        self._picture("clue-followed")

    def _two_threads(self) -> None:
        """Two threads beside each other, one of which comes in between."""
        exercise = self.window.lesson.exercise("eel_tally")
        self.window.models.workspace.open_exercise(exercise)
        self._wait(self._is_over, "the end of the run of two threads")
        self.window.models.launch.choose_case(exercise.cases[1])
        self._wait(self._is_over, "the end of the run in another order")
        self.window.show_view(ThreadsView)
        recording = self.window.models.parts.session.recording
        assert recording is not None
        visits = recording.visits.of_line(0, 12)
        self.window.models.parts.session.go(int(visits[1]))
        self._wait(lambda: self.window.view(ThreadsView).list.count() > 3, "the clue of a lost update")
        self._picture("two-threads")

    def _desk(self) -> None:
        """A drawing in step, a button that calls twice, a board with a gate: the desk of each."""
        for name, line, which in (("eel_button", 10, 3), ("eel_gate", 15, 2), ("bed_of_stars", 9, 4)):
            exercise = self.window.lesson.exercise(name)
            self.window.models.workspace.open_exercise(exercise)
            self._wait(self._is_over, "the end of the run at the desk")
            self.window.models.launch.choose_case(exercise.cases[0])
            self._wait(self._is_over, "the end of the run of the case")
            recording = self.window.models.parts.session.recording
            assert recording is not None
            if not recording.desk.is_there:
                continue  # this Python has no tkinter
            self.window.show_view(DeskView)
            self.window.models.parts.session.go(int(recording.visits.of_line(0, line)[which]))
            self._picture(name.replace("_", "-"))

    def _deadlock(self, program: Path) -> None:
        """Two threads that wait for one another, until the run is ended for that."""
        program.write_text(DEADLOCK, encoding="utf-8")
        self.window.models.workspace.open(program)
        self._wait(self._is_over, "the end of the run in which nobody can go on")
        self.window.show_view(ThreadsView)
        self._act("last")
        self._picture("threads")
