"""What is open: a program, an exercise that is solved or made, or a recording from a file."""

from __future__ import annotations

from dataclasses import dataclass
from pathlib import Path

from PyQt6.QtCore import QObject, pyqtSignal

from eelgrass.desktop.services.background import Lane
from eelgrass.desktop.services.messages import Choice, Message, Messages, told
from eelgrass.desktop.services.settings import Settings
from eelgrass.desktop.services.translation import tr
from eelgrass.desktop.session.session_parts import SessionParts
from eelgrass.desktop.workspace import exercise_folders
from eelgrass.desktop.workspace.claims import Claims
from eelgrass.desktop.workspace.program_paths import program_at
from eelgrass.desktop.workspace.running.program_run import ProgramRun
from eelgrass.desktop.workspace.session_store import SessionStore
from eelgrass.desktop.workspace.text_files import TextFiles
from eelgrass.errors import EelgrassError, FileError
from eelgrass.lessons.demo_lesson import FOLDER
from eelgrass.lessons.exercises.exercise import Exercise, is_exercise, load
from eelgrass.reading.recording import Recording
from eelgrass.runs.programs.finding import SeveralProgramsError
from eelgrass.runs.programs.notebooks import SUFFIX as NOTEBOOK_SUFFIX
from eelgrass.runs.texts import source_text
from eelgrass.trace.files import recording_file

RECORDING_SUFFIX = ".eelrec"
_CLAIM = "claim"


@dataclass(frozen=True)
class Opening:
    """How something is opened: a program, by which path; whether it runs at once; of which exercise it is, if of one
    that is solved or made."""

    program: Path
    path: Path
    runs: bool = True
    exercise: Exercise | None = None
    makes: bool = False


class Workspace(QObject):
    """`makes` says whether the exercise is being made, not solved. `reads_along` says that another window is the one
    that writes: nothing that is changed here is kept.

    Signals: `changed` when another program is open, or something of it is different; `program_opened(runs)` when one
    has been; `text_shown(text, line)` when a text without a recording is to be shown, with the line of its trouble (0:
    none); `exercise_opened` when another exercise is open, or none; `several(paths)` when what is to be opened has
    several programs, and nothing tells which is meant.
    """

    changed = pyqtSignal()
    program_opened = pyqtSignal(bool)
    text_shown = pyqtSignal(str, int)
    exercise_opened = pyqtSignal()
    several = pyqtSignal(list)

    def __init__(
        self,
        parts: SessionParts,
        run: ProgramRun,
        store: SessionStore,
        files: TextFiles,
        claims: Claims,
        settings: Settings,
        messages: Messages,
    ) -> None:
        super().__init__()
        self._parts = parts
        self._run = run
        self.store = store
        self.files = files
        self._claims = claims
        self._settings = settings
        self.messages = messages
        self.program: Path | None = None
        self.title = ""
        self.exercise: Exercise | None = None
        self.makes = False
        self.reads_along = False
        self._opening: Opening | None = None
        self._claimed: Path | None = None
        self._loading = Lane("load")
        self._loading.done.connect(self._take_loaded)
        self._loading.failed.connect(self._take_not_loaded)
        store.may_write = lambda: not self.reads_along and (self._claimed is None or claims.holds(self._claimed))
        claims.lost.connect(self._lose)
        run.on_view.connect(self._follow_files)

    # Opening

    @told
    def open(self, path: Path) -> None:
        """Opens a program, a folder, a recording or an exercise; what is wrong with it is said."""
        if path.suffix == RECORDING_SUFFIX and path.is_file():
            self._open_recording(path)
        elif is_exercise(path):
            self._open_packed(path)
        else:
            self._open_program(path)

    def _open_program(self, path: Path) -> None:
        try:
            program = program_at(path)
        except SeveralProgramsError as error:
            self.several.emit(error.programs)
        else:
            self._open(Opening(program, path))

    def _open_packed(self, path: Path) -> None:
        """Opens an exercise from its folder, or from a file, which is unpacked among the person's documents."""
        if path.is_dir():
            self.open_exercise(load(path), runs=path.is_relative_to(FOLDER))
            return
        self.open_exercise(exercise_folders.unpacked(path), runs=False)

    def open_exercise(self, exercise: Exercise, runs: bool = True, makes: bool = False, afresh: bool = False) -> None:
        """Opens an exercise: the program as the student left it, or as it was given; that is what whoever `makes` it
        works on. `afresh` forgets what a student did. One that comes from elsewhere is not run before the person says
        so."""
        work = exercise.program if makes else exercise_folders.work_of(exercise)
        if afresh:
            work.unlink(missing_ok=True)
            self.files.forget_drafts(work)
        program = work if work.exists() else exercise.program
        self._open(Opening(program, exercise.folder, runs, exercise, makes), afresh)
        if not runs:
            self.messages.say(tr("The exercise is open; nothing of it has run yet. Ctrl+R runs the program."))

    def _open(self, opening: Opening, afresh: bool = False) -> None:
        self._leave()
        self._parts.session.show(None)
        self._opening = opening
        program = self.program = opening.program
        self.title = (opening.path if opening.path.suffix == NOTEBOOK_SUFFIX else program).name
        self.exercise, self.makes = opening.exercise, opening.makes
        self._claim(self._to_claim(opening))
        self.messages.say("")
        troubles = [self.store.begin(program, afresh), self.files.open(program, keeps=not self.reads_along)]
        self.exercise_opened.emit()
        self.store.start_keeping(program)
        self.text_shown.emit(self.text, 0)  # a run may have nothing to show for long
        self._settings.remember_opened(opening.path)  # not before: what cannot be opened is not to come again
        self.program_opened.emit(opening.runs)
        self.changed.emit()
        if any(troubles):
            seen = Choice(tr("Seen"), lambda: self.messages.over("damaged"))
            self.messages.stand("damaged", Message(" ".join(filter(None, troubles)), True, (seen,)))

    def _leave(self) -> None:
        """Another thing is being opened: what belonged to the program before is no longer on view."""
        self._run.forget()
        self.store.end()
        self.program, self.exercise, self.makes, self._opening = None, None, False, None
        self._release()
        self.files.close()
        self._parts.forget()
        self.exercise_opened.emit()

    def close(self) -> None:
        """The window is closed."""
        self.store.keep()
        self._run.stop()
        self._claims.release_all()

    def take_exercise(self, exercise: Exercise) -> None:
        """The open exercise has been changed."""
        self.exercise = exercise
        self.changed.emit()

    # Who writes

    @staticmethod
    def _to_claim(opening: Opening) -> Path:
        """A student's claim is on the copy to write in, whether it is there already or not."""
        if opening.exercise is None or opening.makes:
            return opening.program
        return exercise_folders.work_of(opening.exercise)

    def _claim(self, path: Path, by_force: bool = False) -> None:
        self._claimed = path
        self.reads_along = not self._claims.take(path, by_force)
        if self.reads_along:
            self._tell_reads_along(tr("“{0}” is open in another window, too."))

    def _release(self) -> None:
        if self._claimed is not None:
            self._claims.release(self._claimed)
        self._claimed, self.reads_along = None, False
        self.messages.over(_CLAIM)

    def _lose(self, path: Path) -> None:
        if path == self._claimed:
            self.reads_along = True
            self.files.set_keeps(False)
            self._tell_reads_along(tr("Another window has taken over “{0}”."))
            self.changed.emit()

    def _tell_reads_along(self, why: str) -> None:
        sentence = why.format(self.title) + tr(" This one reads along: what is changed here is not kept.")
        self.messages.stand(_CLAIM, Message(sentence, True, (Choice(tr("Write here"), self.take_over),)))

    def take_over(self) -> None:
        """This window is the one that writes from now on; it begins with what the other one has written."""
        opening, path = self._opening, self._claimed
        if opening is not None and path is not None:
            self._claims.take(path, by_force=True)
            self._open(opening)

    # Recordings

    def _open_recording(self, path: Path) -> None:
        self._leave()
        self.title = path.name
        self.changed.emit()
        self.messages.say(tr("Opening {0} …").format(path.name))
        self._loading.start(lambda _progress: (path, _loaded(path)))

    def _take_loaded(self, told_: tuple[Path, Recording]) -> None:
        path, recording = told_
        if self.program is None and self.title == path.name:
            self._settings.remember_opened(path)
            self._parts.session.show(recording)
            self._run.say_outcome(recording)
            self.changed.emit()

    def _take_not_loaded(self, error: Exception) -> None:
        if self.program is None:
            is_known = isinstance(error, EelgrassError)
            self.messages.say(str(error) if is_known else tr("{0} cannot be opened.").format(self.title), True)
            self.changed.emit()

    # Texts

    def _follow_files(self, recording: Recording) -> None:
        modules = recording.trace.program.modules
        lent = self.text_file if self._parts.texts.shows_lent else ""
        own = {its.file: its.source for its in modules if its.file != lent and self._is_own(its.file)}
        self.files.follow(own)

    def _is_own(self, file: str) -> bool:
        """Whether a file is the program's own, as the recorder sees it: in its folder, and no library kept there."""
        if self.program is None:
            return False
        path = Path(file)
        return path.is_relative_to(self.program.absolute().parent) and "site-packages" not in path.parts

    @property
    def text_file(self) -> str:
        """The program's file, as recordings name it."""
        return str(self.program.absolute()) if self.program is not None else ""

    @property
    def text(self) -> str:
        """The open program's text as it is now, with what is not saved yet."""
        if self.program is None:
            return ""
        edited = self._parts.texts.of(self.text_file)
        return source_text.read(self.program) if edited is None else edited.text

    @property
    def given(self) -> str:
        """The text of the exercise's program as it was given: the plan's lines are of that."""
        return source_text.read(self.exercise.program) if self.exercise is not None else self.text

    def name_of(self, file: str) -> str:
        """How an exercise or answer names a file of the program: relative to its folder, the main module's ''."""
        if self.program is None or file in ("", self.text_file):
            return ""
        path, folder = Path(file), self.program.absolute().parent
        return (path.relative_to(folder) if path.is_relative_to(folder) else path).as_posix()

    def file_of(self, name: str) -> str:
        """The file of this program that an exercise or answer names so."""
        return str(self.program.absolute().parent / name) if name and self.program is not None else self.text_file

    def may_edit(self, file: str) -> bool:
        """Whether a text is the program's own, and this window the one that writes."""
        return self._is_own(file) and not self.reads_along

    def edit(self, file: str, text: str, started_from: str) -> None:
        """The person has changed a text, which began as `started_from`; '' means the main module's file."""
        file = file or self.text_file
        if file and not self.reads_along:
            self.files.edit(file, text, started_from)

    def save_texts(self) -> list[str]:
        """Saves all texts that were edited; what comes with Eelgrass is copied first. Gives the names of the files.
        What cannot be saved is told, and stays told until it is saved; raises the first such failure."""
        if self.program is None or self.reads_along or not self.files.unsaved:
            return []
        saved: list[str] = []
        failure: EelgrassError | None = None
        for file in self._copied(self.files.unsaved):
            try:
                if self.files.save(file):
                    saved.append(Path(file).name)
                self.messages.over(("save", file))
            except FileError as error:
                failure = failure or error
                again = Choice(tr("Try again"), self.try_to_save)
                self.messages.stand(("save", file), Message(str(error), True, (again,)))
            except EelgrassError as error:
                failure = failure or error
        if saved:
            self.changed.emit()
        if failure is not None:
            raise failure
        return saved

    @told
    def try_to_save(self) -> None:
        """Saves what could not be saved before."""
        self.save_texts()

    def _copied(self, files: list[str]) -> list[str]:
        """The files to save: those of the student's copy of an exercise, which is made now if it is not there yet."""
        exercise, program = self.exercise, self.program
        if program is None or exercise is None or self.makes or exercise_folders.work_of(exercise) == program:
            return files
        source = program.absolute().parents[_depth(exercise) - 1]
        sources = {self.text_file: source_text.read(program)}
        try:
            work = exercise_folders.copy_of(exercise)
        except OSError as error:
            sentence = tr("{0} could not be saved: {1}. Your changes are kept.").format(program.name, "{0}")
            failure = FileError(sentence, error)
            self.messages.stand(("save", self.text_file), Message(str(failure), True))
            raise failure from error
        self.messages.over(("save", self.text_file))
        target = work.absolute().parents[_depth(exercise) - 1]

        def moved(file: str) -> str:
            inside = Path(file).is_relative_to(source)
            return str(target / Path(file).relative_to(source)) if inside else file

        self.files.move(work, moved)
        self.program = work
        self._settings.remember_opened(work)
        self.store.go_on_with(work, moved, sources)
        return [moved(file) for file in files]


def _depth(exercise: Exercise) -> int:
    """How many folders up from its program the exercise's own folder is."""
    return len(exercise.program.relative_to(exercise.folder).parts)


def _loaded(path: Path) -> Recording:
    """A recording with its indexes; not on the window's thread. Raises RecordingError and FileError."""
    try:
        recording = Recording(recording_file.load(path))
    except OSError as error:
        raise FileError(tr("“{0}” cannot be read: {1}.").format(path.name, "{0}"), error) from error
    recording.prepare()
    return recording
