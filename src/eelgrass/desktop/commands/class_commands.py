"""What the actions do with class sets."""

from __future__ import annotations

from pathlib import Path

from PyQt6.QtWidgets import QFileDialog, QMessageBox

from eelgrass.atomic_write import replace_file
from eelgrass.desktop.class_set.class_set_window import ClassSetWindow
from eelgrass.desktop.commands.base import CommandGroup, written
from eelgrass.desktop.look.plain_text import as_rich
from eelgrass.desktop.services.translation import tr
from eelgrass.export import class_reports
from eelgrass.lessons.class_sets.class_runs import Judged
from eelgrass.lessons.exercises.exercise import is_exercise

_ZIP = ".zip"


class ClassCommands(CommandGroup):
    """The commands that have to do with class sets."""

    _class_window: ClassSetWindow | None = None

    @property
    def class_window(self) -> ClassSetWindow:
        """The window of the class set, which is there once it was asked for."""
        if self._class_window is None:
            models = self._models
            its = ClassSetWindow(self._panes.widget, models.class_work, models.look)
            its.group.wanted.connect(models.hand_in.show)
            its.matrix.wanted.connect(models.hand_in.show)
            its.group.beside.connect(lambda one, other: self.show_two(one, other))
            its.more.clicked.connect(self.ask_more_hand_ins)
            its.save.clicked.connect(self.ask_save_class_set)
            self._panes.shortcuts.share("names", its)
            self._class_window = its
        return self._class_window

    def show_class_set(self) -> None:
        """Shows the class set; where there is none yet, asks for one."""
        self.class_window.show()
        self.class_window.raise_()
        if not self._models.class_work.paths:
            self.ask_more_hand_ins()

    def toggle_names(self) -> None:
        """Shows names of a class set, or numbers in their place."""
        self.class_window.names.toggle()

    def ask_more_hand_ins(self) -> None:
        """Asks for a folder of hand-ins."""
        name = QFileDialog.getExistingDirectory(self._panes.widget, tr("A folder of hand-ins"))
        if name:
            self._models.class_work.add([Path(name)])

    def take_dropped(self, paths: list[Path]) -> bool:
        """Whether what was dropped on the window is handed in to the open exercise: a zip, or a folder of which the
        person says so."""
        exercise = self._workspace.exercise
        if exercise is None or any(is_exercise(its) for its in paths):
            return False
        folders = [its for its in paths if its.suffix != _ZIP]
        if not all(its.is_dir() for its in folders) or (folders and not self._is_class(exercise.title)):
            return False
        self.class_window.show()
        self._models.class_work.open(paths)
        return True

    def _is_class(self, title: str) -> bool:
        words = tr("Is this what a class handed in to “{0}”? Otherwise it is opened as a program.").format(title)
        asked = QMessageBox.question(self._panes.widget, tr("A folder"), as_rich(words))
        return bool(asked == QMessageBox.StandardButton.Yes)

    def show_two(self, one: Judged, other: Judged) -> None:
        """Two hand-ins side by side."""
        self._models.hand_in.show(one, beside=other)

    def next_of_group(self) -> None:
        """The next hand-in of the same group."""
        self._models.hand_in.step(1)

    def previous_of_group(self) -> None:
        """The hand-in before of the same group."""
        self._models.hand_in.step(-1)

    def leave_hand_in(self) -> None:
        """The program's own text again."""
        self._models.hand_in.leave()

    # Saving

    def ask_save_class_set(self) -> None:
        """Asks where to save what came of a class set."""
        kinds = "Tables (*.csv);;JUnit XML (*.xml);;A folder of pages (*)"
        name, kind = QFileDialog.getSaveFileName(self.class_window, tr("Save the class set"), "class.csv", kinds)
        if name:
            self.save_class_set(Path(name), "pages" if kind.startswith("A folder") else Path(name).suffix)

    def save_class_set(self, path: Path, kind: str) -> None:
        """Saves it as a table (.csv), as JUnit XML (.xml), or as `pages` in a folder, one for each student, beside
        the answer with its comment where it was one: with names where these are shown, else with numbers."""
        work = self._models.class_work
        its = work.its
        assert its is not None

        def write() -> None:
            if kind == "pages":
                path.mkdir(parents=True, exist_ok=True)
                for name, data in class_reports.handed_back(its, work.groups, work.decisions, work.shows_names):
                    replace_file(path / name, data)
            elif kind == ".xml":
                replace_file(path, class_reports.junit(its))
            else:
                table = "".join(class_reports.csv(its, work.groups, work.decisions))
                replace_file(path, table.encode("utf-8", "surrogateescape"))

        written(path, write, tr("The class set could not be written to {0}: {1}."))
        self._say(tr("The class set is in {0}.").format(path.name))
