"""What the actions do with exercises: solving, making, walking their route."""

from __future__ import annotations

from pathlib import Path

from PyQt6.QtWidgets import QFileDialog, QMessageBox

from eelgrass.atomic_write import replace_file
from eelgrass.desktop.commands.base import CommandGroup, written
from eelgrass.desktop.exercise.authoring_view import AuthoringView
from eelgrass.desktop.exercise.solving_view import SolvingView
from eelgrass.desktop.services.translation import tr
from eelgrass.desktop.tabs.cases_view import CasesView
from eelgrass.desktop.tabs.trace_table.table_view import TableView
from eelgrass.desktop.workspace import exercise_folders
from eelgrass.export.unittests import test_file
from eelgrass.lessons.answering.answer import SUFFIX as ANSWER_SUFFIX
from eelgrass.lessons.exercises.exercise import SEALED_FILE, SUFFIX, Exercise
from eelgrass.lessons.exercises.plan import DeskCheck, PlannedPlace


class ExerciseCommands(CommandGroup):
    """The commands that have to do with exercises."""

    def show_making(self) -> None:
        """Brings the exercise that is made into view, with room to write."""
        self._panes.set_tall(True)
        self.show_exercise()

    def show_exercise(self) -> None:
        """Brings the exercise into view."""
        if self._workspace.exercise is not None:
            self._panes.show_view(AuthoringView if self._workspace.makes else SolvingView)

    def run_cases(self) -> None:
        """Runs all cases of the exercise, or all that are kept of a program."""
        self.show_exercise()
        if self._workspace.exercise is None:
            self._models.kept_cases.run_all()
            self._panes.show_view(CasesView)
        elif self._workspace.makes:
            self._models.authoring.try_all()
        else:
            self._models.solving.run_all()

    def begin_again(self) -> None:
        """Puts the text as it was given in the place of the student's."""
        if self._workspace.exercise is not None and not self._workspace.makes:
            self._models.solving.begin_again()

    def mark_line(self) -> None:
        """Marks the line about to run as the faulty one, or no longer."""
        place = self._panes.source.place
        if self._workspace.makes:
            self._models.error.toggle_line(place)
        else:
            self._models.solving.toggle_line(place)

    # Answers and unit tests

    def ask_save_answer(self) -> None:
        """Asks where to save the answer."""
        suggestion = f"{self._workspace.title.partition('.')[0]}{ANSWER_SUFFIX}"
        path = self._ask_target(tr("Save the answer"), suggestion, f"*{ANSWER_SUFFIX}")
        if path is not None:
            self._models.solving.save(path)

    def ask_open_answer(self) -> None:
        """Asks which answer to this exercise to read."""
        kinds = f"Answers (*{ANSWER_SUFFIX})"
        name, _ = QFileDialog.getOpenFileName(self._panes.widget, tr("Open an answer"), "", kinds)
        if name:
            self.open_answer(Path(name))

    def open_answer(self, path: Path) -> None:
        """Shows an answer to the open exercise."""
        self._models.solving.open(path)
        self.show_exercise()

    def ask_save_unit_tests(self) -> None:
        """Asks where to write the cases as unit tests that run without Eelgrass."""
        exercise = self._workspace.exercise
        if exercise is None:
            self._say(tr("Unit tests are written from the cases of an exercise."))
            return
        suggestion = f"test_{exercise.program.stem}.py"
        path = self._ask_target(tr("Cases as unit tests"), suggestion, "Python (*.py)")
        if path is not None:
            self.save_unit_tests(exercise, path)

    def save_unit_tests(self, exercise: Exercise, path: Path) -> None:
        """Writes the cases as unit tests."""

        data = test_file(exercise).encode("utf-8", "surrogatepass")
        written(path, lambda: replace_file(path, data), tr("The unit tests could not be written to {0}: {1}."))
        self._say(tr("The cases are in {0}; put the program beside it.").format(path.name))

    # The route, and tables to fill in

    def toggle_route(self) -> None:
        """Begins the route of the exercise, or leaves it."""
        route = self._models.route
        route.set_on(not route.is_on)

    def show_place(self, place: PlannedPlace) -> None:
        """A place that was wanted is on view: a table that is to be filled in by hand comes with it."""
        if isinstance(place, DeskCheck):
            table = self._panes.show_view(TableView).begin_by_hand(place.of == "call")
            self._models.solving.checking = None if table is None else (table, place)

    # Making

    def ask_make(self) -> None:
        """Goes on making the open exercise, or asks where to make one of what is open."""
        exercise, workspace = self._workspace.exercise, self._workspace
        handed_out = exercise is not None and exercise_folders.is_handed_out(exercise)
        if exercise is None or (handed_out and self._may_unseal(exercise.folder)):
            self._ask_folder()
        elif not workspace.makes and not handed_out and self._may_unseal(exercise.folder):
            self._models.authoring.go_on()
        if workspace.makes:
            self.show_making()

    def _ask_folder(self) -> None:
        if self._workspace.program is None:
            self._say(tr("Open a program first: an exercise is made of one."))
            return
        suggestion = exercise_folders.documents() / "making" / self._workspace.program.stem
        written(
            suggestion,
            lambda: suggestion.parent.mkdir(parents=True, exist_ok=True),
            tr("There is no folder to make {0} in: {1}."),
        )
        path = self._ask_target(tr("A new folder for the exercise"), str(suggestion), "")
        if path is not None:
            self._models.authoring.start(path)

    def _may_unseal(self, folder: Path) -> bool:
        """What was handed out sealed comes into the open only when that is meant."""
        if not (folder / SEALED_FILE).exists():
            return True
        words = tr("This exercise was handed out sealed. Making it shows where its error is. Go on?")
        asked = QMessageBox.question(self._panes.widget, tr("Make the exercise"), words)
        return bool(asked == QMessageBox.StandardButton.Yes)

    def ask_hand_out(self) -> None:
        """Asks where to write the exercise as one file."""
        exercise = self._models.authoring.exercise
        if exercise is not None:
            suggestion = str(exercise.folder.with_suffix(SUFFIX))
            path = self._ask_target(tr("Hand out"), suggestion, f"Exercises (*{SUFFIX})")
            if path is not None:
                with_sealed = self._panes.view(AuthoringView).with_sealed.isChecked()
                self._models.authoring.hand_out(path, with_sealed)
