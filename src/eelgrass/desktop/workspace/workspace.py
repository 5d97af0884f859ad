"""What is open: a program with its runs, or a recording from a file; and what to say when it cannot be opened."""

from __future__ import annotations

from dataclasses import dataclass
from pathlib import Path

from PyQt6.QtCore import QObject, pyqtSignal

from eelgrass.atomic_write import replaced
from eelgrass.desktop.services.disk_writer import DiskWriter
from eelgrass.desktop.services.loader import Loader
from eelgrass.desktop.services.settings import remember_opened
from eelgrass.desktop.services.translation import tr
from eelgrass.desktop.session.messages import outcome
from eelgrass.desktop.session.session import Session
from eelgrass.desktop.workspace import drafts, exercise_folders
from eelgrass.desktop.workspace.runner import Runner
from eelgrass.desktop.workspace.session_store import SessionStore
from eelgrass.lessons.answer import Answer
from eelgrass.lessons.call_only import alone
from eelgrass.lessons.case import USUAL, Case
from eelgrass.lessons.demo_lesson import FOLDER
from eelgrass.lessons.exercise import Exercise, ExerciseError, is_exercise, load
from eelgrass.reading.alignment import same_place
from eelgrass.reading.recording import Recording
from eelgrass.reading.state.output import prompt
from eelgrass.runs import source_text as text_
from eelgrass.runs.order import CannotRunError, Order, find_program

RECORDING_SUFFIX = ".eelrec"


@dataclass(frozen=True)
class Lent:
    """A text that runs in place of the program's own, and whose it is, in words."""

    text: str
    whose: str


class Workspace(QObject):
    """Signals: `notice(sentence, is_trouble)` for the person, '' takes it away; `changed` when another program is open
    or its run begins, waits or ends; `asked(prompt)` when the program waits for a line of input; `text_broken(text,
    line)` when a text that cannot run is to be shown; `exercise_opened` when another exercise is open, or none."""

    notice = pyqtSignal(str, bool)
    changed = pyqtSignal()
    asked = pyqtSignal(str)
    text_broken = pyqtSignal(str, int)
    exercise_opened = pyqtSignal()

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.session = session
        self.runner = Runner()
        self.program: Path | None = None
        self.title = ""
        self.exercise: Exercise | None = None
        self.makes = False  # whether the exercise is being made, not solved
        self.is_waiting = False
        self._before: tuple[Recording, int] | None = None  # what was on view when the run began
        self._why = ""
        self._is_on_view = False  # whether the reader shows the run that is on its way
        self.prompt = ""  # what the program asks while it waits
        self.case = USUAL
        self.writer = DiskWriter()
        self.writer.failed.connect(lambda sentence: self.notice.emit(sentence, True))
        self.store = SessionStore(session, self.writer)
        self.lent: Lent | None = None
        self._ran = ""  # the text, whole, that the run on view was made of
        self.opened_libraries: tuple[str, ...] = ()
        self.draw = 1  # the same again draws the same random numbers
        self.runner.waiting.connect(self._on_waiting)
        self.runner.progressed.connect(self._on_progressed)
        self.runner.ended.connect(self._on_ended)
        self.loader = Loader()
        self.loader.loaded.connect(self._on_loaded)
        session.edited.connect(self._keep_draft)
        session.marked.connect(self.store.keep)

    def open(self, path: Path) -> None:
        """Opens a program, a folder or a recording; what is wrong with it is said in a notice."""
        if path.suffix == RECORDING_SUFFIX and path.is_file():
            self.load(path)
            return
        if is_exercise(path):
            self._open_packed(path)
            return
        try:
            program = find_program(path)
        except CannotRunError as error:
            self.notice.emit(str(error), True)
            return
        self._open_program(program, path)

    def _open_packed(self, path: Path) -> None:
        """Opens an exercise from its folder, or from a file, which is unpacked among the person's documents."""
        try:
            if path.is_dir():
                self.open_exercise(load(path), runs=path.is_relative_to(FOLDER))
            else:
                self.open_exercise(exercise_folders.unpacked(path), runs=False)
        except ExerciseError as error:
            self.notice.emit(str(error), True)
        except OSError as error:
            self.notice.emit(tr("{0} cannot be unpacked: {1}.").format(path.name, error.strerror), True)

    def _open_program(
        self,
        program: Path,
        path: Path,
        runs: bool = True,
        exercise: Exercise | None = None,
        makes: bool = False,
    ) -> None:
        self._leave()
        self.exercise, self.makes = exercise, makes
        plain = [case for case in (exercise.cases if exercise else ()) if case.is_plain]
        self.case = plain[0] if plain else USUAL
        self.session.show(None)
        self.program, self.title = program, program.name
        remember_opened(path)
        self.store.begin(program)
        draft = drafts.kept(program)
        if draft is not None and draft != _text_of(program):
            self.session.set_text(str(program.absolute()), draft)
        if runs:
            self.run([])
        else:
            self.text_broken.emit(self.text, 0)

    def _leave(self) -> None:
        """Another thing is being opened: what belonged to the program before is no longer on view."""
        self.store.end()
        self.program, self.exercise, self.makes, self.lent = None, None, False, None
        self.case, self.opened_libraries = USUAL, ()
        self.exercise_opened.emit()
        self.session.forget()

    def open_exercise(self, exercise: Exercise, runs: bool = True, makes: bool = False, afresh: bool = False) -> None:
        """Opens an exercise: the program as the student left it, or as it was given; that is what whoever `makes` it
        works on. `afresh` forgets what a student did. One that comes from elsewhere is not run before the person says
        so."""
        work = exercise.program if makes else exercise_folders.work_of(exercise)
        self.writer.flush()
        if afresh:
            work.unlink(missing_ok=True)
            drafts.forget(work)
        program = work if work.exists() else exercise.program
        self._open_program(program, exercise.folder, runs, exercise, makes)
        if afresh:
            self.store.answer = None
        if not runs:
            self.notice.emit(tr("The exercise is open; nothing of it has run yet. Ctrl+R runs the program."), False)
        self.changed.emit()
        self.exercise_opened.emit()

    def take_exercise(self, exercise: Exercise) -> None:
        """The open exercise has been changed."""
        self.exercise = exercise
        self.changed.emit()

    @property
    def all_cases(self) -> list[Case]:
        """The cases of the exercise, and those that the person has kept."""
        return [*(self.exercise.cases if self.exercise else ()), *self.cases]

    @property
    def text(self) -> str:
        """The open program's text as it is now, with what is not saved yet."""
        if self.program is None:
            return ""
        written = self.session.texts.get(self.text_file)
        return _text_of(self.program) if written is None else written

    @property
    def given(self) -> str:
        """The text of the exercise's program as it was given: the plan's lines are of that."""
        return _text_of(self.exercise.program) if self.exercise is not None else self.text

    def keep_answer(self, answer: Answer) -> None:
        """Keeps the student's answer so far."""
        self.store.answer = answer
        self.store.keep()

    def lend(self, lent: Lent | None) -> None:
        """Runs another's text in place of the program's own, until None ends that."""
        self.lent = lent
        self.run(list(self.case.input))

    def load(self, path: Path) -> None:
        """Reads a recording from a file."""
        self.runner.forget()
        self.is_waiting = False
        self._leave()
        self.title = path.name
        self.changed.emit()
        self.notice.emit(tr("Opening {0} …").format(path.name), False)
        self.loader.load(path)

    def _on_loaded(self, path: Path, result: object) -> None:
        if path.name != self.title or self.program is not None:
            return  # something else has been opened meanwhile
        if isinstance(result, str):
            self.notice.emit(result, True)
        elif isinstance(result, Recording):
            remember_opened(path)
            self.session.show(result)
            self._say_outcome(result)
        self.changed.emit()

    def run(self, prepared: list[str]) -> None:
        """Runs the open program; `prepared` lines of input are typed for the person."""
        if self.program is None:
            self.notice.emit("This is a recording from a file; open its program to run it.", False)
            return
        self.is_waiting = self._is_on_view = False
        self.notice.emit("", False)
        if not self.save_text():
            return
        before = self.session.recording
        self._before = (before, self.session.step) if before is not None else None
        try:
            self.runner.start(self._order(self.program), prepared)
        except SyntaxError as error:
            self.notice.emit(tr("This call cannot be worked out: {0}.").format(error.msg), True)
        except CannotRunError as error:
            if self.session.recording is None:
                self.text_broken.emit(_text_of(self.program), error.line or 0)
            self.notice.emit(str(error), True)
        except OSError as error:
            self.notice.emit(tr("{0} cannot be run: {1}.").format(self.program.name, error.strerror), True)
        self.changed.emit()

    def _order(self, program: Path) -> Order:
        """A run of the program, or, for a case that calls one of its functions, of that alone. Raises SyntaxError and
        OSError."""
        self._ran = self.lent.text if self.lent is not None else _text_of(program)
        text = self.lent.text if self.lent is not None else None
        if self.case.call is not None:
            text = alone(self._ran, self.case.call)
        return Order(program, text, None, self.case.arguments, seed=self.draw, open_libraries=self.opened_libraries)

    @property
    def is_whole(self) -> bool:
        """Whether a run is of the program's own text, and of all of it."""
        return self.lent is None and self.case.call is None

    # Cases

    def choose_case(self, case: Case) -> None:
        """Runs the program with a case's arguments and input."""
        self.case = case
        self.run(list(case.input))

    def set_arguments(self, arguments: tuple[str, ...]) -> None:
        """Runs the program with other arguments, and the same input."""
        self.choose_case(Case("new arguments", arguments, tuple(self.runner.typed)))

    def keep_case(self, name: str) -> None:
        """Keeps what the program was started with, and what was typed into it, as a case."""
        if self.program is None:
            return
        self.case = Case(name, self.case.arguments, tuple(self.runner.typed), call=self.case.call)
        self._keep([*(case for case in self.cases if case.name != name), self.case])

    def drop_case(self) -> None:
        """Takes the chosen case away."""
        self._keep([case for case in self.cases if case != self.case])
        self.case = USUAL

    @property
    def cases(self) -> list[Case]:
        """The cases that the person has kept."""
        return self.store.cases

    def _keep(self, cases: list[Case]) -> None:
        self.store.cases = cases
        self.store.keep()
        self.changed.emit()

    def answer(self, line: str) -> None:
        """Gives the waiting program a line of input."""
        self.is_waiting = False
        self.changed.emit()
        self.runner.type_line(line)

    def end_input(self) -> None:
        """Tells the waiting program that there is no more input."""
        self.is_waiting = False
        self.changed.emit()
        self.runner.end_input()

    def _on_progressed(self, recording: Recording) -> None:
        """The run goes on; what has been recorded so far can be read already."""
        self._show_again(recording)
        steps = len(recording.trace.steps)
        self.notice.emit(tr("The program is still running: the first {0:,} steps are here.").format(steps), False)
        self.changed.emit()

    def _show_again(self, recording: Recording) -> None:
        """Who is reading already stays where they are, or at the same place of the run before."""
        step: int | None = None
        if self._is_on_view and self.session.recording is not None:
            step = self.session.step
        elif self._before is not None:
            before, place = self._before
            found = same_place(before, place, recording)
            step, self._why = (found.step if found.step >= 0 else None), found.why
            places = (same_place(before, mark, recording).step for mark in self.session.marks)
            self.session.set_marks([place for place in places if place >= 0])
        texts = {module.file: module.source for module in recording.trace.program.modules}
        if self.text_file in texts:
            texts[self.text_file] = self._ran  # of which a call alone is a part, with the same lines
        self._why += self.store.follow(texts)
        self._is_on_view = True
        self.session.is_lent = not self.is_whole
        self.session.show(recording, step)

    # The text

    @property
    def text_file(self) -> str:
        """The program's file, as recordings name it."""
        return str(self.program.absolute()) if self.program is not None else ""

    def write(self, text: str) -> None:
        """The person has changed a text that has no recording."""
        self.session.set_text(self.text_file, text)

    def save_text(self) -> bool:
        """Saves what has been edited; what comes with Eelgrass is copied first. False when it could not be saved."""
        text = self.session.texts.get(self.text_file)
        if self.program is None or text is None:
            return True
        original = self.program
        try:
            before = original.read_bytes() if original.exists() else b""
            if before and text == _text_of(original):
                return True
            data = text_.encoded(text, before)
            if not self.makes and self.exercise is not None and exercise_folders.work_of(self.exercise) != original:
                self._go_on_with_copy(self.exercise)
            with replaced(self.program) as file:
                file.write(data)
        except (OSError, ValueError) as error:
            why = error.strerror if isinstance(error, OSError) else error
            told = tr("{0} could not be saved: {1}. Your changes are kept.")
            self.notice.emit(told.format(self.program.name, why), True)
            return False
        self.writer.write(("draft", original), lambda: drafts.forget(original), "")
        return True

    def _go_on_with_copy(self, exercise: Exercise) -> None:
        """Goes on with a copy among the person's documents; text and breakpoints go along."""
        assert self.program is not None
        before, source = self.text_file, _text_of(self.program)
        self.program = work = exercise_folders.copy_of(exercise)
        remember_opened(self.program)
        self.session.texts.pop(before, None)
        self.store.go_on_with(work, before, source)

    def _keep_draft(self) -> None:
        text = self.session.texts.get(self.text_file)
        program = self.program
        if program is not None and text is not None:
            self.writer.write(("draft", program), lambda: drafts.keep(program, text), "")

    def _on_waiting(self, recording: Recording) -> None:
        self.is_waiting = self._is_on_view = True
        self.notice.emit("", False)
        self.session.is_lent = not self.is_whole
        self.session.show(recording, recording.stepping.last())
        self.changed.emit()
        self.prompt = prompt(recording.trace)
        self.asked.emit(self.prompt)

    def _on_ended(self, recording: Recording) -> None:
        self.is_waiting = False
        self._show_again(recording)
        self._say_outcome(recording)
        self.changed.emit()

    def _say_outcome(self, recording: Recording) -> None:
        if self.session.horizon is not None:  # nothing is told of what is to be said first
            self._why = ""
            self.notice.emit("", False)
            return
        self.notice.emit(*outcome(recording))
        if self._why:
            self.notice.emit(self._why, False)
            self._why = ""


def _text_of(program: Path) -> str:
    return text_.read(program)
