"""What the actions do that are no moves. The names of the methods stand in `actions.ACTIONS`."""

from __future__ import annotations

import shlex
from dataclasses import replace
from pathlib import Path
from typing import TYPE_CHECKING, cast, get_args

from PyQt6.QtWidgets import QFileDialog, QInputDialog, QLineEdit

from eelgrass.atomic_write import replaced
from eelgrass.desktop.commands.exercise_commands import ExerciseCommands
from eelgrass.desktop.commands.shortcuts_dialog import ShortcutsDialog
from eelgrass.desktop.look.palette import LOOKS
from eelgrass.desktop.services.settings import SIZES
from eelgrass.desktop.services.translation import tr
from eelgrass.lessons.answer import SUFFIX as ANSWER_SUFFIX
from eelgrass.lessons.case import Case
from eelgrass.lessons.exercise import MANIFEST
from eelgrass.reading.breakpoints.breakpoint import Breakpoint
from eelgrass.reading.breakpoints.locations import Kind, qualified_name
from eelgrass.reading.expressions.expression import is_expression, parse_expression
from eelgrass.trace.columns import find
from eelgrass.trace.files import recording_file

if TYPE_CHECKING:
    from eelgrass.desktop.window.main_window import MainWindow


class Commands(ExerciseCommands):
    """The commands of one window."""

    def __init__(self, window: MainWindow) -> None:
        super().__init__(window)
        self._session = window.session

    # Going

    def ask_step(self) -> None:
        """Asks for the number of the step to show."""
        if self._session.recording is not None:
            last = len(self._session.recording.trace.steps) - 1
            words = f"Step, 0 to {last}:"
            step, given = QInputDialog.getInt(self._window, tr("Go to step"), words, self._session.step, 0, last)
            if given:
                self._session.go(step)

    def ask_pass(self) -> None:
        """Asks for the number of the pass to show, of the loop around the waterline."""
        recording, step = self._session.recording, self._session.step
        loop = next(iter(recording.loops.around(step)), None) if recording else None
        if recording is None or loop is None:
            self._window.show_notice(tr("The line about to run is in no loop."), False)
            return
        most = len(recording.loops.starts(step, loop))
        number, given = QInputDialog.getInt(
            self._window, tr("Go to pass"), tr("Pass, 1 to {0}:").format(most), 1, 1, max(most, 1)
        )
        if given:
            self._session.go(recording.loops.to_pass(step, loop, number))

    def show_waterline(self) -> None:
        """Scrolls the text back to the line about to run."""
        self._window.text.show_waterline()

    def toggle_bookmark(self) -> None:
        """Sets a bookmark at the shown step, or takes it away."""
        self._session.toggle_mark()

    def toggle_breakpoint(self) -> None:
        """Sets a breakpoint on the line about to run, or takes it away."""
        self._window.text.toggle_breakpoint(self._window.text.gutter.line)

    def new_breakpoint(self) -> None:
        """Asks for a breakpoint, note or claim of any kind."""
        self._show_breakpoints(Breakpoint(""))

    def note(self) -> None:
        """Asks for a note at this step."""
        recording, step = self._session.recording, self._session.step
        if recording is not None:
            visits = recording.visits.of_line(recording.module_at(step), recording.trace.line_of(step))
            number = find(visits, step + 1)
            self._show_breakpoints(Breakpoint("", note=" ", nth=number))

    def claim(self, text: str = "") -> None:
        """Asks for a claim, about a question of which this is the text."""
        self._show_breakpoints(Breakpoint("", kind="everywhere", claims=True, condition=text))

    def stop_when(self, text: str) -> None:
        """Sets a breakpoint where a question becomes true."""
        self._show_breakpoints(Breakpoint("", kind="everywhere", condition=text))

    def look_at(self, how: str, path: str, frame: int) -> None:
        """Shows the picture or the history of a value that `path` names in a frame, or asks for a breakpoint on it."""
        if how == "picture":
            self._window.bench.setCurrentWidget(self._window.pictures)
            self._window.pictures.keep(path)
        elif how == "history" and is_expression(path):
            self._session.ask(parse_expression(path))
            self._window.bench.setCurrentWidget(self._window.history)
        elif how in get_args(Kind):
            self._watch(cast("Kind", how), path, frame)

    def _watch(self, kind: Kind, path: str, frame: int) -> None:
        recording = self._session.recording
        if recording is not None:
            function = int(recording.trace.frames.function[frame])
            name = qualified_name(recording.trace.program, function)
            file = recording.trace.program.module_of(function).file
            self._show_breakpoints(Breakpoint(file, kind=kind, name=path, function=name))

    def _show_breakpoints(self, its: Breakpoint) -> None:
        self._window.bench.setCurrentWidget(self._window.breakpoints)
        self._window.breakpoints.make_new(its)

    def switch_breakpoints(self) -> None:
        """All breakpoints off, or on again."""
        self._session.switch_all()

    def next_bookmark(self) -> None:
        """Goes to the next stop of the route, or, where none is walked, to the next bookmark or breakpoint."""
        self._move_on(forward=True)

    def previous_bookmark(self) -> None:
        """Goes to the one before."""
        self._move_on(forward=False)

    def _move_on(self, forward: bool) -> None:
        (self._window.guiding.move if self._window.guiding.is_on else self._session.to_mark)(forward=forward)

    def ask(self) -> None:
        """Brings the place to ask into view."""
        self._window.bench.setCurrentWidget(self._window.ask)
        self._window.ask.line.setFocus()

    def show_table(self) -> None:
        """Brings the trace table into view."""
        self._window.bench.setCurrentWidget(self._window.table)

    def ask_save_table(self) -> None:
        """Asks where to save the trace table on view."""
        suggestion = Path(self._workspace.title).with_suffix(".csv").name
        name, _ = QFileDialog.getSaveFileName(self._window, tr("Save the table"), suggestion, "Tables (*.csv)")
        if name:
            self.save_table(Path(name))

    def save_table(self, path: Path) -> None:
        """Saves the trace table on view as comma-separated values."""
        try:
            with replaced(path) as file:
                file.write(self._window.table.as_csv().encode("utf-8", "surrogateescape"))
        except OSError as error:
            told = tr("The table could not be written to {0}: {1}.").format(path.name, error.strerror)
            self._window.show_notice(told, True)

    def show_pictures(self) -> None:
        """Brings the pictures into view."""
        self._window.bench.setCurrentWidget(self._window.pictures)

    def ask_save_picture(self, path: str) -> None:
        """Asks where to save the picture of a path."""
        kinds = "Pictures (*.svg *.png)"
        name, _ = QFileDialog.getSaveFileName(self._window, tr("Save the picture"), "picture.svg", kinds)
        if name:
            self.save_picture(path, Path(name))

    def save_picture(self, path: str, file: Path) -> None:
        """Saves the picture of a path as SVG or PNG, by the file's name."""
        try:
            with replaced(file) as writing:
                writing.write(self._window.pictures.sheet.write(path, file))
        except OSError as error:
            told = tr("The picture could not be written to {0}: {1}.").format(file.name, error.strerror)
            self._window.show_notice(told, True)

    def toggle_predict(self) -> None:
        """Lets the student say first what comes next; and back."""
        self._window.predict_first(not self._window.prediction_mode.is_on)

    def toggle_passes(self) -> None:
        """Shows the passes of a loop side by side, or Depths and bench again."""
        self._window.set_passes(not self._window.shows_passes)

    def toggle_tall(self) -> None:
        """Gives the bench all the room on the right, or takes it back."""
        self._window.set_tall(not self._window.is_tall)

    def toggle_play(self) -> None:
        """Walks on by itself, or stops."""
        self._window.player.toggle()

    def play_faster(self) -> None:
        """Walks faster."""
        self._window.player.change_speed(1)

    def play_slower(self) -> None:
        """Walks more slowly."""
        self._window.player.change_speed(-1)

    # The program

    def ask_open(self) -> None:
        """Asks what to open."""
        kinds = f"Programs, recordings, exercises (*.py *.eelrec *.eelx {MANIFEST} *{ANSWER_SUFFIX});;All files (*)"
        name, _ = QFileDialog.getOpenFileName(self._window, tr("Open"), "", kinds)
        if name:
            self.open(Path(name))

    def open(self, path: Path) -> None:
        """Opens a program, a recording, an exercise, or an answer to the one that is open."""
        if path.suffix == ANSWER_SUFFIX:
            self.open_answer(path)
        else:
            self._workspace.open(path.parent if path.name == MANIFEST else path)

    def ask_save(self) -> None:
        """Asks where to save the recording on view."""
        if self._session.recording is None:
            return
        suggestion = Path(self._workspace.title).with_suffix(".eelrec").name
        name, _ = QFileDialog.getSaveFileName(
            self._window, tr("Save the recording"), suggestion, "Recordings (*.eelrec)"
        )
        if name:
            self.save(Path(name))

    def save(self, path: Path) -> None:
        """Saves the recording on view; what went wrong is said in a notice."""
        assert self._session.recording is not None
        try:
            recording_file.save(self._session.recording.trace, path)
            self._window.show_notice(tr("The recording is saved as {0}.").format(path.name), False)
        except OSError as error:
            self._window.show_notice(
                tr("The recording could not be saved as “{0}”: {1}.").format(path, error.strerror), True
            )

    def toggle_editing(self) -> None:
        """Lets the person write in the text, or only read."""
        if self._workspace.program is not None:
            self._window.text.set_editing(not self._window.text.is_editing)

    def save_text(self) -> None:
        """Saves the text of the program."""
        if self._workspace.save_text() and self._workspace.program is not None:
            self._window.show_notice(f"{self._workspace.program.name} is saved.", False)

    def run_again(self) -> None:
        """Runs the program again, typing for the person what was typed before."""
        self._workspace.run(list(self._workspace.runner.typed))

    def run_anew(self) -> None:
        """Runs the program again, with input typed anew."""
        self._workspace.run([])

    def run_draw(self) -> None:
        """Runs the program again with other random numbers."""
        self._workspace.draw += 1
        self.run_again()

    def ask_arguments(self) -> None:
        """Asks what the program is started with, as one would write it in a shell; runs it with that."""
        words = tr("What the program is started with (its arguments):")
        usual = shlex.join(self._workspace.case.arguments)
        text, given = QInputDialog.getText(self._window, tr("Arguments"), words, QLineEdit.EchoMode.Normal, usual)
        if not given:
            return
        try:
            self._workspace.set_arguments(tuple(shlex.split(text)))
        except ValueError:
            self._window.show_notice("A quotation mark is missing in these arguments; they are as they were.", True)

    def ask_call(self) -> None:
        """Asks for a call of one of the program's functions, and works out that alone."""
        words = tr("A call of one of the program's functions, as: total([12, 7])")
        usual = self._workspace.case.call or ""
        text, given = QInputDialog.getText(self._window, tr("One call alone"), words, QLineEdit.EchoMode.Normal, usual)
        if given and text.strip():
            self._workspace.choose_case(Case(text.strip(), call=text.strip()))

    def ask_case(self) -> None:
        """Asks for the name under which to keep arguments and input; of an exercise that is made, they are its case."""
        if self._workspace.makes:
            self._window.making.keep_run()
            return
        words, usual = (
            tr("Keep the arguments and what was typed under the name:"),
            tr("case {0}").format(len(self._workspace.cases) + 1),
        )
        name, given = QInputDialog.getText(self._window, tr("Keep this case"), words, text=usual)
        if given and name.strip():
            self._workspace.keep_case(name.strip())

    def drop_case(self) -> None:
        """Takes the chosen case away."""
        self._workspace.drop_case()

    def ask_library(self) -> None:
        """Asks which library modules to record inside too; runs the program again so."""
        words = tr("Modules written in Python to look inside of (as: textwrap, statistics):")
        usual = ", ".join(self._workspace.opened_libraries)
        text, given = QInputDialog.getText(self._window, tr("Look inside a library"), words, text=usual)
        if given:
            self._workspace.opened_libraries = tuple(name.strip() for name in text.split(",") if name.strip())
            self.run_again()

    def stop_run(self) -> None:
        """Stops the running program."""
        self._workspace.runner.stop()

    # The view

    def show_working(self) -> None:
        """Shows or hides how the line works out."""
        self._window.change_settings(replace(self._window.settings, working=not self._window.settings.working))

    def toggle_present(self) -> None:
        """Large type and only what a class needs to see; and back."""
        self._window.present(not self._window.is_presenting)

    def larger(self) -> None:
        """Everything larger."""
        self._resize(1)

    def smaller(self) -> None:
        """Everything smaller."""
        self._resize(-1)

    def _resize(self, by: int) -> None:
        its = self._window.settings
        now = its.present_points if self._window.is_presenting else its.points
        place = min(range(len(SIZES)), key=lambda number: abs(SIZES[number] - now))
        size = SIZES[min(max(place + by, 0), len(SIZES) - 1)]
        changed = replace(its, present_points=size) if self._window.is_presenting else replace(its, points=size)
        self._window.change_settings(changed)

    def zoom_in(self) -> None:
        """Shows fewer steps on the tide line."""
        self._window.timeline.zoom(0.5)

    def zoom_out(self) -> None:
        """Shows more steps on the tide line."""
        self._window.timeline.zoom(2)

    def zoom_whole(self) -> None:
        """Shows the whole run on the tide line."""
        self._window.timeline.zoom(0)

    def toggle_focus(self) -> None:
        """Shows only the names that this line uses, or all."""
        self._window.depths.set_focus(not self._session.focused)

    def next_look(self) -> None:
        """The next look: light, dark, strong contrast."""
        names = list(LOOKS)
        now = names.index(self._window.settings.look) if self._window.settings.look in names else 0
        self._window.change_settings(replace(self._window.settings, look=names[(now + 1) % len(names)]))

    def show_keys(self) -> None:
        """Shows every action with its keys, which can be changed there."""
        ShortcutsDialog(self._window, self._window.shortcuts, self._window.colours).exec()
        self._window.keep_keys()
