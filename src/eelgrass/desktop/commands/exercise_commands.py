"""What the actions do with exercises: solving, making, walking their route."""

from __future__ import annotations

from pathlib import Path
from typing import TYPE_CHECKING

from PyQt6.QtWidgets import QFileDialog, QMessageBox

from eelgrass.atomic_write import replaced
from eelgrass.desktop.services.translation import tr
from eelgrass.desktop.workspace import exercise_folders
from eelgrass.export.unittests import test_file
from eelgrass.lessons.answer import SUFFIX as ANSWER_SUFFIX
from eelgrass.lessons.exercise import SEALED_FILE, SUFFIX, Exercise
from eelgrass.lessons.plan import DeskCheck, Spot

if TYPE_CHECKING:
    from eelgrass.desktop.window.main_window import MainWindow


class ExerciseCommands:
    """The commands of one window that have to do with exercises."""

    def __init__(self, window: MainWindow) -> None:
        self._window = window
        self._workspace = window.workspace

    def show_making(self) -> None:
        """Brings the exercise that is made into view, with room to write."""
        self._window.set_tall(True)
        self.show_exercise()

    def show_exercise(self) -> None:
        """Brings the exercise into view."""
        if self._workspace.exercise is not None:
            its = self._window.authoring_view if self._workspace.makes else self._window.exercise
            self._window.bench.setCurrentWidget(its)

    def run_cases(self) -> None:
        """Runs all cases of the exercise."""
        self.show_exercise()
        if self._workspace.makes:
            self._window.making.try_all()
        else:
            self._window.solving.run_all()

    def begin_again(self) -> None:
        """Puts the text as it was given in the place of the student's."""
        if self._workspace.exercise is not None and not self._workspace.makes:
            self._window.show_notice(self._window.solving.begin_again(), False)

    def mark_line(self) -> None:
        """Marks the line about to run as the faulty one, or no longer."""
        its = self._window.making if self._workspace.makes else self._window.solving
        its.toggle_line(self._window.text.gutter.line)

    def ask_save_answer(self) -> None:
        """Asks where to save the answer."""
        suggestion = f"{self._workspace.title.partition('.')[0]}{ANSWER_SUFFIX}"
        name, _ = QFileDialog.getSaveFileName(self._window, tr("Save the answer"), suggestion, f"*{ANSWER_SUFFIX}")
        if name:
            self._window.show_notice(self._window.solving.save(Path(name)), False)

    def ask_open_answer(self) -> None:
        """Asks which answer to this exercise to read."""
        name, _ = QFileDialog.getOpenFileName(self._window, tr("Open an answer"), "", f"Answers (*{ANSWER_SUFFIX})")
        if name:
            self.open_answer(Path(name))

    def open_answer(self, path: Path) -> None:
        """Shows an answer to the open exercise."""
        trouble = self._window.solving.open(path)
        self.show_exercise()
        if trouble:
            self._window.show_notice(trouble, True)

    def ask_save_unit_tests(self) -> None:
        """Asks where to write the cases as unit tests that run without Eelgrass."""
        exercise = self._workspace.exercise
        if exercise is None:
            self._window.show_notice(tr("Unit tests are written from the cases of an exercise."), False)
            return
        suggestion = f"test_{exercise.program.stem}.py"
        name, _ = QFileDialog.getSaveFileName(self._window, tr("Cases as unit tests"), suggestion, "Python (*.py)")
        if name:
            self.save_unit_tests(exercise, Path(name))

    def save_unit_tests(self, exercise: Exercise, path: Path) -> None:
        """Writes the cases as unit tests; what went wrong is said in a notice."""
        try:
            with replaced(path) as file:
                file.write(test_file(exercise).encode("utf-8", "surrogatepass"))
            self._window.show_notice(tr("The cases are in {0}; put the program beside it.").format(path.name), False)
        except OSError as error:
            told = tr("The unit tests could not be written to {0}: {1}.").format(path.name, error.strerror)
            self._window.show_notice(told, True)

    # The route, and tables to fill in

    def toggle_route(self) -> None:
        """Begins the route of the exercise, or leaves it."""
        guiding = self._window.guiding
        if not guiding.stops:
            self._window.show_notice(tr("There is no route here: it is planned where an exercise is made."), False)
        guiding.set_on(not guiding.is_on)

    def show_spot(self, spot: Spot) -> None:
        """A place that was wanted is on view: a table that is to be filled in by hand comes with it."""
        if isinstance(spot, DeskCheck):
            self._window.bench.setCurrentWidget(self._window.table)
            title = self._window.table.begin_by_hand(spot.of == "call")
            self._window.solving.checking[title] = spot.title

    # Making

    def ask_make(self) -> None:
        """Goes on making the open exercise, or asks where to make one of what is open."""
        exercise = self._workspace.exercise
        if exercise is None or (exercise_folders.is_handed_out(exercise) and self._may_unseal(exercise.folder)):
            self._ask_folder()
        elif not (self._workspace.makes or exercise_folders.is_handed_out(exercise)) and self._may_unseal(
            exercise.folder
        ):
            self._window.making.go_on()
        if self._workspace.makes:
            self.show_making()

    def _ask_folder(self) -> None:
        if self._workspace.program is None:
            self._window.show_notice(tr("Open a program first: an exercise is made of one."), False)
            return
        suggestion = exercise_folders.documents() / "making" / self._workspace.program.stem
        suggestion.parent.mkdir(parents=True, exist_ok=True)
        words = tr("A new folder for the exercise")
        name, _ = QFileDialog.getSaveFileName(self._window, words, str(suggestion))
        if name:
            self._window.making.start(Path(name))

    def _may_unseal(self, folder: Path) -> bool:
        """What was handed out sealed comes into the open only when that is meant."""
        if not (folder / SEALED_FILE).exists():
            return True
        words = tr("This exercise was handed out sealed. Making it shows where its error is. Go on?")
        return QMessageBox.question(self._window, tr("Make the exercise"), words) == QMessageBox.StandardButton.Yes

    def ask_hand_out(self) -> None:
        """Asks where to write the exercise as one file."""
        exercise = self._window.making.exercise
        if exercise is not None:
            suggestion = str(exercise.folder.with_suffix(SUFFIX))
            name, _ = QFileDialog.getSaveFileName(self._window, tr("Hand out"), suggestion, f"Exercises (*{SUFFIX})")
            if name:
                with_sealed = self._window.authoring_view.with_sealed.isChecked()
                self._window.show_notice(self._window.making.hand_out(Path(name), with_sealed), False)
