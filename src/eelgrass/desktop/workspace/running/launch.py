"""What the open program is started with, and starting it."""

from __future__ import annotations

import contextlib
from dataclasses import dataclass, replace
from pathlib import Path

from PyQt6.QtCore import QObject, pyqtSignal

from eelgrass.desktop.services.background import Lane
from eelgrass.desktop.services.messages import Choice as Doable
from eelgrass.desktop.services.messages import Messages, told
from eelgrass.desktop.services.settings import Settings
from eelgrass.desktop.services.translation import tr
from eelgrass.desktop.session.edited_texts import EditedTexts, LentText
from eelgrass.desktop.session.session import Session
from eelgrass.desktop.workspace.program_paths import beside
from eelgrass.desktop.workspace.running.program_leave import ProgramLeave
from eelgrass.desktop.workspace.running.program_run import ProgramRun
from eelgrass.desktop.workspace.running.run_limits import RunLimits
from eelgrass.desktop.workspace.workspace import Workspace
from eelgrass.errors import EelgrassError, FileError
from eelgrass.lessons.cases.call_only import alone
from eelgrass.lessons.cases.case import USUAL, Case
from eelgrass.reading.recording import Recording
from eelgrass.runs.order import CannotRunError, Leave, Order, Typed, kept_clock
from eelgrass.runs.programs.test_files import by_pytest
from eelgrass.runs.pythons.choosing import Choice, Place, choice, choose, choose_usual, known, offered
from eelgrass.runs.pythons.interpreters import check_text_by
from eelgrass.runs.pythons.libraries import check_libraries


@dataclass(frozen=True)
class _Start:
    """A run that is to begin: with what is typed for the person, and the whole text of which it may run a part."""

    order: Order
    prepared: Typed
    whole: str

    def by(self, found: Choice) -> _Start:
        """The same by a Python."""
        return replace(self, order=by_python(self.order, found))


def by_python(order: Order, found: Choice) -> Order:
    """An order by a Python, and by its pytest where the program is a file of tests."""
    order = replace(order, python=found.interpreter.python, python_found=found.words)
    return by_pytest(order, found.interpreter.path)


def checked(folder: Path, order: Order) -> Choice:
    """The Python of a folder, asked what it is and what it makes of the program's text. Raises CannotRunError."""
    found = choice(folder)
    if order.program is not None:
        check_text_by(found.interpreter, order.program, order.text)
    return found


class Launch(QObject):
    """`case` is what the program is started with; `cases` are those that the person has kept; with the same `draw`,
    random numbers are the same. Signals: `changed` when another case is chosen, or one is kept or taken away; then
    `kept(Case)` or `dropped(Case)`."""

    changed = pyqtSignal()
    kept = pyqtSignal(object)
    dropped = pyqtSignal(object)

    def __init__(
        self,
        workspace: Workspace,
        run: ProgramRun,
        session: Session,
        texts: EditedTexts,
        settings: Settings,
        messages: Messages,
    ) -> None:
        super().__init__()
        self._workspace = workspace
        self._run = run
        self._session = session
        self._texts = texts
        self.messages = messages
        self.case = USUAL
        self.cases: list[Case] = []
        self.opened_libraries: tuple[str, ...] = ()
        self._settings = settings
        self._asking = Lane("python")
        self._asking.done.connect(self._go_on)
        self._asking.failed.connect(self._refuse)
        self.draw = 1
        self._clocks: dict[Case, dict[str, list[float]]] = {}  # what the clock said in the last run of each case
        run.ended.connect(self._keep_clock)
        self._limits, self.leave = RunLimits(settings, self.run_again), ProgramLeave(workspace.store)
        self.leave.granted.connect(self.let_reach)
        run.choices_after, run.why_after = self._choices_after, self._why_after
        workspace.store.cases = lambda: self.cases
        workspace.exercise_opened.connect(self._begin)
        workspace.program_opened.connect(lambda runs: self.run(Typed()) if runs else None)

    def _choices_after(self, recording: Recording) -> tuple[Doable, ...]:
        if self._workspace.program is None:
            return ()
        return (*self._limits.after(recording), *self.leave.after(recording))

    def _why_after(self, recording: Recording) -> str:
        return self.leave.why(recording) if self._workspace.program is not None else ""

    def let_reach(self, leave: Leave) -> None:
        """Lets the open program reach this from now on, and runs it again."""
        self.leave.give(leave)
        self._workspace.store.keep()
        self.run_again()

    def _begin(self) -> None:
        exercise = self._workspace.exercise
        plain = [case for case in (exercise.cases if exercise else ()) if case.is_plain]
        self.case, self.opened_libraries = plain[0] if plain else USUAL, ()
        self.cases = list(self._workspace.store.saved.cases)
        self._limits.as_usual()
        self.leave.begin(self._workspace.store.saved.leave)
        self._clocks = {}
        self.changed.emit()

    # Running

    @property
    def is_asking(self) -> bool:
        """Whether a run waits until its Python has said what it is."""
        return self._asking.is_busy

    @property
    def is_whole(self) -> bool:
        """Whether a run is of the program's own text, and of all of it."""
        return self._texts.lent is None and self.case.call is None

    @told
    def run(self, prepared: Typed) -> None:
        """Runs the open program with the texts as they are now; what is `prepared` is typed for the person.
        Texts that cannot be saved run all the same."""
        workspace = self._workspace
        if workspace.program is None:
            self.messages.say(tr("This is a recording from a file; open its program to run it."))
            return
        self.messages.say("")
        failure: EelgrassError | None = None
        try:
            workspace.save_texts()
        except EelgrassError as error:
            failure = error
        try:
            self._start(prepared)
        finally:
            workspace.changed.emit()
        if failure is not None:
            self.messages.fail(failure)

    def _start(self, prepared: Typed) -> None:
        """Starts the program; where its Python has to be asked first, as soon as that has answered."""
        program = self._workspace.program
        assert program is not None
        self._asking.give_up()
        try:
            whole = self._texts.lent.text if self._texts.lent is not None else self._workspace.text
            start = _Start(self._order(whole, self.case), prepared, whole)
            found = known(program.parent)
            if found is None or not found.interpreter.reads_as_ours:
                self._asking.start(lambda _progress: start.by(checked(program.parent, start.order)))
            else:
                self._go_on(start.by(found))
        except (SyntaxError, CannotRunError, OSError) as error:
            self._refuse(error)

    @told
    def _go_on(self, start: _Start) -> None:
        if start.order.program != self._workspace.program:
            return  # another one was opened meanwhile
        texts = {self._workspace.text_file: start.whole}
        try:
            self._run.start(start.order, start.prepared, is_lent=not self.is_whole, whole_texts=texts)
        except (CannotRunError, OSError) as error:
            self._refuse(error)

    @told
    def _refuse(self, error: Exception) -> None:
        if isinstance(error, SyntaxError):
            raise EelgrassError(tr("This call cannot be worked out: {0}.").format(error.msg)) from error
        if isinstance(error, OSError):
            raise FileError(tr("{0} cannot be run: {1}.").format(self._workspace.title, "{0}"), error) from error
        if isinstance(error, CannotRunError) and self._session.recording is None:
            self._workspace.text_shown.emit(self._workspace.text, error.line or 0)
        raise error

    def order_of(self, case: Case) -> Order:
        """A run of the program's text as it is now on a case, by nobody's Python yet. Raises SyntaxError and
        OSError."""
        return self._order(self._workspace.text, case)

    def _order(self, whole: str, case: Case) -> Order:
        """A run of the program, or, for a case that calls one of its functions, of that alone. Raises SyntaxError and
        OSError."""
        workspace = self._workspace
        assert workspace.program is not None
        unsaved = ((file, self._texts.of(file)) for file in workspace.files.unsaved)
        texts = {file: its.text for file, its in unsaved if its is not None}
        if self._texts.lent is not None:
            texts[workspace.text_file] = whole
        if case.call is not None:
            texts[workspace.text_file] = alone(whole, case.call)
        values = self._settings.values
        return Order(
            workspace.program,
            texts=texts,
            arguments=case.arguments,
            seed=self.draw,
            turns=case.turns,
            desk=case.desk(self.leave.leave),
            clock=self._clocks.get(case, {}),
            open_libraries=self.opened_libraries,
            leave=self.leave.leave,
            reads=beside(workspace.program),
            **self._limits.of_order(),
            max_elements=values.most_elements,
            max_recording_mib=values.recording_mib,
        )

    def _keep_clock(self, recording: Recording) -> None:
        with contextlib.suppress(CannotRunError):
            self._clocks[self.case] = kept_clock(recording.trace.case)

    def draw_anew(self) -> None:
        """Runs the program again with other random numbers, at another time."""
        self.draw += 1
        self._clocks = {}
        self.run_again()

    def look_inside(self, libraries: tuple[str, ...]) -> None:
        """Runs the program again, recorded inside of these library modules too. Raises CannotRunError for one that
        cannot be looked into."""
        program = self._workspace.program
        folder = program.parent if program is not None else Path.cwd()
        found = known(folder)
        check_libraries(libraries, folder, found.interpreter.path if found is not None else ())
        self.opened_libraries = libraries
        self.run_again()

    @property
    def pythons(self) -> list[Place]:
        """Every Python that the program's folder offers."""
        program = self._workspace.program
        return offered(program.parent) if program is not None else []

    def choose_python(self, place: Place | None) -> None:
        """Runs the programs of this folder with another Python from now on; None: with the usual one."""
        program = self._workspace.program
        if program is None:
            return
        try:
            choose_usual(program.parent) if place is None else choose(program.parent, place.file)
        except OSError as error:
            raise FileError(tr("The choice cannot be kept in {0}: {1}."), error) from error
        self.run_again()

    @property
    def made_by(self) -> tuple[str, str]:
        """The Python that made the recording on view, in few words and in more; '' where none is known."""
        told = self._session.recording.trace.case.get("python") if self._session.recording is not None else None
        if not isinstance(told, dict):
            return "", ""
        version, file, found = (str(told.get(key) or "") for key in ("version", "file", "found"))
        if self._workspace.program is None:
            return tr("made by Python {0}").format(version), file
        module = self._session.recording.trace.case.get("module") if self._session.recording is not None else None
        parts = (f"Python {'.'.join(version.split('.')[:2])}", found, str(module or ""), self.leave.words)
        return ", ".join(filter(None, parts)), f"Python {version}: {file}"

    def run_again(self) -> None:
        """Runs the program again, typing for the person what was typed before."""
        self.run(self._run.typed)

    def lend(self, lent: LentText | None, case: Case | None = None) -> None:
        """Runs another's text in place of the program's own, until None ends that; on another case, if one is given."""
        self._texts.lent = lent
        self.choose_case(case or self.case)

    # Cases

    @property
    def all_cases(self) -> list[Case]:
        """The cases of the exercise, and those that the person has kept."""
        exercise = self._workspace.exercise
        return [*(exercise.cases if exercise else ()), *self.cases]

    def choose_case(self, case: Case) -> None:
        """Runs the program with a case's arguments and input."""
        self.case = case
        self.changed.emit()
        self.run(case.typed)

    def set_arguments(self, arguments: tuple[str, ...]) -> None:
        """Runs the program with other arguments, and the same input."""
        case = Case("new arguments", arguments, *self._run.typed, turns=self.case.turns, acts=self.case.acts)
        self.choose_case(case)

    def run_as_case(self, name: str) -> Case:
        """What the program was started with, and what was typed into it, as a case."""
        return Case(
            name, self.case.arguments, *self._run.typed, call=self.case.call, turns=self.case.turns, acts=self.case.acts
        )

    def keep_case(self, name: str) -> None:
        """Keeps what the program was started with, and what was typed into it, as a case."""
        if self._workspace.program is not None:
            self.case = self.run_as_case(name)
            self._keep([*(case for case in self.cases if case.name != name), self.case])
            self.kept.emit(self.case)

    def keep_made(self, case: Case) -> None:
        """Keeps a case that was found, in place of one by its name, and runs it."""
        self._keep([*(its for its in self.cases if its.name != case.name), case])
        self.choose_case(case)

    def drop_case(self) -> None:
        """Takes the chosen case away."""
        dropped, kept = self.case, [case for case in self.cases if case != self.case]
        self.case = USUAL
        self._keep(kept)
        self.dropped.emit(dropped)

    def _keep(self, cases: list[Case]) -> None:
        self.cases = cases
        self._workspace.store.keep()
        self.changed.emit()
