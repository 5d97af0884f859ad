"""What the actions do with the open program: opening, running, saving, its text and its cases."""

from __future__ import annotations

import shlex
from dataclasses import replace
from pathlib import Path

from PyQt6.QtWidgets import QFileDialog, QInputDialog, QLineEdit

from eelgrass.atomic_write import replace_file
from eelgrass.desktop.commands.base import CommandGroup, written
from eelgrass.desktop.commands.dialogs.leave_dialog import LeaveDialog
from eelgrass.desktop.commands.dialogs.limits_dialog import LimitsDialog
from eelgrass.desktop.commands.dialogs.python_dialog import PythonDialog
from eelgrass.desktop.look.plain_text import as_rich
from eelgrass.desktop.services.translation import tr
from eelgrass.desktop.tabs.pictures_view import PicturesView
from eelgrass.desktop.tabs.trace_table.table_view import TableView
from eelgrass.lessons.answering.answer import SUFFIX as ANSWER_SUFFIX
from eelgrass.lessons.cases.case import Case
from eelgrass.lessons.exercises.exercise import MANIFEST
from eelgrass.runs import confinement
from eelgrass.runs.order import Typed
from eelgrass.trace.files import recording_file


class ProgramCommands(CommandGroup):
    """The group “Program”, but for what has to do with exercises; and what is saved as a file."""

    def ask_open(self) -> None:
        """Asks what to open."""
        of_ours = f"*.eelrec *.eelx {MANIFEST} *{ANSWER_SUFFIX}"
        kinds = f"Programs, notebooks, recordings, exercises (*.py *.pyw *.ipynb {of_ours});;All files (*)"
        name, _ = QFileDialog.getOpenFileName(self._panes.widget, tr("Open"), "", kinds)
        if name:
            self.open(Path(name))

    def ask_open_folder(self) -> None:
        """Asks for a folder: of a program with several modules, or of an exercise."""
        name = QFileDialog.getExistingDirectory(self._panes.widget, tr("Open a folder"))
        if name:
            self.open(Path(name))

    def ask_which(self, programs: list[Path]) -> None:
        """Asks which of a folder's programs is to be opened."""
        names = [program.name for program in programs]
        words = tr("The folder “{0}” has several programs. Which one is to start?").format(programs[0].parent.name)
        name, given = QInputDialog.getItem(self._panes.widget, tr("Open"), as_rich(words), names, editable=False)
        if given:
            self.open(programs[names.index(name)])

    def open(self, path: Path) -> None:
        """Opens a program, a recording, an exercise, or an answer to the one that is open."""
        if path.suffix == ANSWER_SUFFIX:
            self.open_answer(path)
        else:
            self._workspace.open(path.parent if path.name == MANIFEST else path)

    def open_answer(self, path: Path) -> None:
        """Shows an answer to the open exercise."""
        raise NotImplementedError

    # Saving

    def ask_save(self) -> None:
        """Asks where to save the recording on view."""
        if self._session.recording is not None:
            suggestion = Path(self._workspace.title).with_suffix(".eelrec").name
            path = self._ask_target(tr("Save the recording"), suggestion, "Recordings (*.eelrec)")
            if path is not None:
                self.save(path)

    def save(self, path: Path) -> None:
        """Saves the recording on view."""
        assert self._session.recording is not None
        trace = self._session.recording.trace
        trouble = tr("The recording could not be saved as “{0}”: {1}.")
        written(path, lambda: recording_file.save(trace, path), trouble)
        self._say(tr("The recording is saved as {0}.").format(path.name))

    def ask_save_table(self) -> None:
        """Asks where to save the trace table on view."""
        suggestion = Path(self._workspace.title).with_suffix(".csv").name
        path = self._ask_target(tr("Save the table"), suggestion, "Tables (*.csv)")
        if path is not None:
            self.save_table(path)

    def save_table(self, path: Path) -> None:
        """Saves the trace table on view as comma-separated values."""
        data = self._panes.view(TableView).as_csv().encode("utf-8", "surrogateescape")
        written(path, lambda: replace_file(path, data), tr("The table could not be written to {0}: {1}."))

    def ask_save_picture(self, path: str) -> None:
        """Asks where to save the picture of a path."""
        file = self._ask_target(tr("Save the picture"), "picture.svg", "Pictures (*.svg *.png)")
        if file is not None:
            self.save_picture(path, file)

    def save_picture(self, path: str, file: Path) -> None:
        """Saves the picture of a path as SVG or PNG, by the file's name."""
        data = self._panes.view(PicturesView).sheet.write(path, file)
        written(file, lambda: replace_file(file, data), tr("The picture could not be written to {0}: {1}."))

    # The text

    def toggle_editing(self) -> None:
        """Lets the person write in the text, or only read."""
        source, workspace = self._panes.source, self._workspace
        file = source.file or workspace.text_file
        if source.is_editing:
            source.set_editing(False)
        elif workspace.reads_along:
            self._say(tr("Another window is the one that writes; this one reads along."))
        elif workspace.may_edit(file):
            source.set_editing(True)
        elif workspace.program is not None:
            self._say(tr("“{0}” is no part of this program, and stays as it is.").format(Path(file).name))

    def save_text(self) -> None:
        """Saves the texts of the program that were edited."""
        saved = self._workspace.save_texts()
        names = tr(" and ").join(saved) if saved else self._workspace.title
        if saved or self._workspace.program is not None:
            self._say((tr("{0} are saved.") if len(saved) > 1 else tr("{0} is saved.")).format(names))

    # Running

    def run_again(self) -> None:
        """Runs the program again, typing for the person what was typed before."""
        self._launch.run_again()

    def run_anew(self) -> None:
        """Runs the program again, with input typed anew."""
        self._launch.run(Typed())

    def run_draw(self) -> None:
        """Runs the program again with other random numbers."""
        self._launch.draw_anew()

    def another_order(self) -> None:
        """Runs the program again with its threads in another order."""
        self._models.turns.another()

    def wrong_order(self) -> None:
        """Searches an order of turns in which something goes wrong."""
        self._models.turns.find_wrong()

    def stop_run(self) -> None:
        """Stops the running program."""
        self._models.run.stop()

    def ask_arguments(self) -> None:
        """Asks what the program is started with, as one would write it in a shell; runs it with that."""
        words = tr("What the program is started with (its arguments):")
        text = self._ask_line(tr("Arguments"), words, shlex.join(self._launch.case.arguments))
        if text is None:
            return
        try:
            self._launch.set_arguments(tuple(shlex.split(text)))
        except ValueError:
            self._say(tr("A quotation mark is missing in these arguments; they are as they were."), is_trouble=True)

    def _ask_line(self, title: str, words: str, usual: str) -> str | None:
        text, given = QInputDialog.getText(self._panes.widget, title, as_rich(words), QLineEdit.EchoMode.Normal, usual)
        return text if given else None

    def ask_call(self) -> None:
        """Asks for a call of one of the program's functions, and works out that alone."""
        words = tr("A call of one of the program's functions, as: total([12, 7])")
        text = self._ask_line(tr("One call alone"), words, self._launch.case.call or "")
        if text is not None and text.strip():
            self._launch.choose_case(Case(text.strip(), call=text.strip()))

    def ask_case(self) -> None:
        """Asks for the name under which to keep arguments and input; of an exercise that is made, they are its case."""
        if self._workspace.makes:
            self._models.authoring.keep_run()
            return
        words = tr("Keep the arguments and what was typed under the name:")
        name = self._ask_line(tr("Keep this case"), words, tr("case {0}").format(len(self._launch.cases) + 1))
        if name is not None and name.strip():
            self._launch.keep_case(name.strip())

    def drop_case(self) -> None:
        """Takes the chosen case away."""
        self._launch.drop_case()

    def ask_library(self) -> None:
        """Asks which library modules to record inside too; runs the program again so."""
        words = tr("Modules written in Python to look inside of (as: textwrap, statistics):")
        text = self._ask_line(tr("Look inside a library"), words, ", ".join(self._launch.opened_libraries))
        if text is not None:
            self._launch.look_inside(tuple(name.strip() for name in text.split(",") if name.strip()))

    def ask_python(self) -> None:
        """Asks which Python runs the programs of the open one's folder, and runs it with that."""
        form = PythonDialog(self._panes.widget, self._launch.pythons, self._models.look)
        if form.exec():
            self._launch.choose_python(form.chosen)

    def ask_leave(self, wish: str = "", folder: Path | None = None) -> None:
        """Asks what the open program may reach; with what it wishes for, that is put forward."""
        leave, program = self._launch.leave.leave, self._models.workspace.program
        if program is None:
            return
        wanted = replace(
            leave,
            display=leave.display or wish == "display",
            network=leave.network or wish == "network",
            folders=leave.folders if folder is None else (folder,),
        )
        form = LeaveDialog(self._panes.widget, program.name, wanted, confinement.missing_words(), self._models.look)
        if form.exec():
            self._launch.let_reach(form.leave)

    def ask_limits(self) -> None:
        """Asks when a run is stopped, and how much is recorded, for the next runs."""
        form = LimitsDialog(self._panes.widget, self._models.settings, self._models.look)
        if form.exec():
            self._models.settings.change(**form.made)
            self._say(tr("This counts from the next run on."))
