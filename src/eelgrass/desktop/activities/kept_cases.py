"""The kept cases of a program that is no exercise: run all at once, and held against how each ran when it was kept."""

from __future__ import annotations

from dataclasses import dataclass
from pathlib import Path

from PyQt6.QtCore import QObject, pyqtSignal

from eelgrass.desktop.services.background import Lane
from eelgrass.desktop.services.disk_writer import DiskWriter
from eelgrass.desktop.services.messages import Messages
from eelgrass.desktop.services.translation import tr
from eelgrass.desktop.session.comparison import Finding, RunComparison
from eelgrass.desktop.session.session import Session
from eelgrass.desktop.workspace.running.launch import Launch
from eelgrass.desktop.workspace.running.other_runs import of_case, of_file
from eelgrass.desktop.workspace.running.program_run import ProgramRun
from eelgrass.desktop.workspace.session_file import case_run_path
from eelgrass.desktop.workspace.workspace import Workspace
from eelgrass.errors import EelgrassError
from eelgrass.lessons.cases.case import Case
from eelgrass.reading.comparing.runs import compare
from eelgrass.reading.comparing.sentences import sentence
from eelgrass.reading.progress import Progress
from eelgrass.reading.recording import Recording
from eelgrass.trace.files import recording_file

_TROUBLE = "How the case ran could not be kept: {0}."


@dataclass(frozen=True)
class CaseOutcome:
    """What came of a case, in words; whether it did as before (None where nothing is known of before); and how it ran
    now, if it could."""

    case: Case
    words: str
    is_as_before: bool | None
    run: Recording | None = None


class KeptCases(QObject):
    """`outcomes` are those of the last time that all were run, by the case's name. Signal: `changed` when these
    have."""

    changed = pyqtSignal()

    def __init__(
        self,
        session: Session,
        workspace: Workspace,
        launch: Launch,
        run: ProgramRun,
        comparison: RunComparison,
        writer: DiskWriter,
        messages: Messages,
    ) -> None:
        super().__init__()
        self._session, self._workspace, self._launch = session, workspace, launch
        self._comparison, self._writer, self.messages = comparison, writer, messages
        self.outcomes: dict[str, CaseOutcome] = {}
        self._to_compare: Case | None = None
        self.lane = Lane("kept cases")
        self.lane.done.connect(self._take)
        self.lane.failed.connect(self._take_failure)
        launch.kept.connect(self._keep_run)
        launch.dropped.connect(lambda case: writer.remove(self._file(case), tr(_TROUBLE)))
        launch.changed.connect(self.changed)
        workspace.exercise_opened.connect(self._begin)
        run.ended.connect(self._compare)
        comparison.compared.connect(self._go_to_first)

    def _begin(self) -> None:
        self.lane.give_up()
        self.outcomes, self._to_compare = {}, None
        self.changed.emit()

    @property
    def cases(self) -> list[Case]:
        """The cases that the person has kept."""
        return self._launch.cases

    def run_all(self) -> None:
        """Runs all kept cases with the texts as they are now, apart from what is on view."""
        todo = [(case, of_case(self._launch, case), self._file(case)) for case in self.cases]
        self.lane.start(lambda progress: _all(todo, progress))
        self.changed.emit()

    def accept(self) -> None:
        """Takes how the cases ran now as right: they are held against that from now on."""
        for its in self.outcomes.values():
            if its.run is not None:
                self._save(its.case, its.run)
                self.outcomes[its.case.name] = CaseOutcome(its.case, tr("as before"), True, its.run)
        self.changed.emit()

    def show(self, case: Case) -> None:
        """Runs a case in the window; one that did otherwise beside how it ran before, at the first difference."""
        its = self.outcomes.get(case.name)
        self._to_compare = case if its is not None and its.is_as_before is False else None
        self._launch.choose_case(case)

    def _file(self, case: Case) -> Path:
        assert self._workspace.program is not None
        return case_run_path(self._workspace.program, case.name)

    def _keep_run(self, case: Case) -> None:
        if self._session.recording is not None:
            self._save(case, self._session.recording)

    def _save(self, case: Case, recording: Recording) -> None:
        if self._workspace.reads_along:
            return
        file = self._file(case)
        self._writer.run(file, lambda: _save(recording, file), tr(_TROUBLE))

    def _take(self, outcomes: list[CaseOutcome]) -> None:
        self.outcomes = {its.case.name: its for its in outcomes}
        for its in outcomes:
            if its.is_as_before is None and its.run is not None:
                self._save(its.case, its.run)
        self.changed.emit()

    def _take_failure(self, error: Exception) -> None:
        if isinstance(error, EelgrassError):
            self.messages.fail(error)
        self.changed.emit()

    # A case that did otherwise

    def _compare(self, _recording: Recording) -> None:
        case = self._to_compare
        if case is not None and case == self._launch.case:
            before = tr("“{0}” as it was kept").format(case.name)
            self._comparison.compare_with(of_file(self._file(case)).find, before, tr("“{0}” now").format(case.name))

    def _go_to_first(self) -> None:
        beside = self._comparison.beside
        if self._to_compare is not None and beside is not None and beside.differences:
            self._to_compare = None
            self._session.go(beside.place_of(beside.by_place[None][1][0]))


def _save(recording: Recording, file: Path) -> None:
    """Raises OSError."""
    file.parent.mkdir(parents=True, exist_ok=True)
    recording_file.save(recording.trace, file)


def _all(todo: list[tuple[Case, Finding, Path]], progress: Progress) -> list[CaseOutcome]:
    """On another thread."""
    found = []
    for number, (case, make, file) in enumerate(todo):
        if not progress.goes_on(number / len(todo)):
            break
        found.append(_outcome(case, make, file, progress))
    return found


def _outcome(case: Case, make: Finding, file: Path, progress: Progress) -> CaseOutcome:
    try:
        now = make(progress)
    except EelgrassError as error:
        return CaseOutcome(case, str(error), False)
    try:
        before = Recording(recording_file.load(file))
    except FileNotFoundError:
        return CaseOutcome(case, tr("runs; from now on it is held against this run"), None, now)
    except (EelgrassError, OSError):
        return CaseOutcome(case, tr("runs; how it ran before cannot be read"), None, now)
    held = compare(now, before)
    if held.is_same:
        return CaseOutcome(case, tr("as before"), True, now)
    return CaseOutcome(case, tr("differs: {0}").format(sentence(now, before, held)), False, now)
