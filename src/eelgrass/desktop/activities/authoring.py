"""An instructor at work on an exercise: its words, cases, error and plan. Everything is written into its folder at
once."""

from __future__ import annotations

from dataclasses import replace
from pathlib import Path

import msgspec
from PyQt6.QtCore import pyqtSignal

from eelgrass.desktop.activities.activity import Activity
from eelgrass.desktop.activities.navigator import Navigator
from eelgrass.desktop.services.disk_writer import DiskWriter
from eelgrass.desktop.services.messages import Messages, told
from eelgrass.desktop.services.translation import tr
from eelgrass.desktop.session.session_parts import SessionParts
from eelgrass.desktop.workspace.running.launch import Launch
from eelgrass.desktop.workspace.workspace import Workspace
from eelgrass.errors import EelgrassError, FileError
from eelgrass.lessons.cases.case import Case
from eelgrass.lessons.exercises import exercise as exercises
from eelgrass.lessons.exercises.exercise import Exercise, ExerciseError, Sealed
from eelgrass.lessons.exercises.exercise_writer import save
from eelgrass.lessons.exercises.marked_lines import marks_after
from eelgrass.lessons.exercises.plan import (
    PlannedPlace,
    followed,
)
from eelgrass.lessons.making import authoring
from eelgrass.lessons.making.faults import Tried, faults_of_text, lines_that_differ, tried
from eelgrass.reading.alignment import matched_lines
from eelgrass.reading.progress import Progress
from eelgrass.runs.order import Leave
from eelgrass.runs.texts import source_text

#: What came of the runs holds as long as these do, and both texts.
_TRIED = frozenset(("cases", "points", "stops", "desk_checks"))


class Authoring(Activity):
    """`found` is what came of all cases when they were tried last. Signals: `changed` when anything of this has;
    `ended` when a search of cases has."""

    ended = pyqtSignal()

    def __init__(
        self,
        parts: SessionParts,
        workspace: Workspace,
        launch: Launch,
        navigator: Navigator,
        writer: DiskWriter,
        messages: Messages,
    ) -> None:
        super().__init__("authoring", parts, workspace, launch, navigator, writer, messages)
        self._given: dict[str, str] = {}  # the texts, by name, of which the lines of the plan are
        self._knows = False  # whether these are of this exercise; while one is being opened, they are not yet
        self.found = Tried()
        self.lane.done.connect(self._take)
        self.lane.failed.connect(self._take_failure)
        workspace.exercise_opened.connect(self._begin)
        workspace.changed.connect(self._follow)

    # Beginning and ending

    @property
    def exercise(self) -> Exercise | None:
        """The exercise that is being made, if one is."""
        return self._workspace.exercise if self._workspace.makes else None

    def _begin(self) -> None:
        self.lane.give_up()
        self.found = Tried()
        self._knows = self.exercise is not None
        self._given = self._read_given()
        self.changed.emit()

    @told
    def start(self, folder: Path) -> None:
        """Makes an exercise of the open program, in a folder of its own, or of a copy of the open exercise."""
        workspace, recording = self._workspace, self._session.recording
        if workspace.program is None:
            return
        try:
            self._writer.flush()
            if workspace.exercise is not None:
                authoring.copied(workspace.exercise, folder)
            else:
                now = workspace.text
                modules = recording.trace.program.modules if recording is not None else []
                others = authoring.belongings(workspace.program, [now, *(module.source for module in modules)])
                authoring.begin(folder, workspace.program, now, others)
        except OSError as error:
            raise FileError(tr("The exercise cannot be made: {0}."), error) from error
        workspace.open_exercise(exercises.load(folder), makes=True)

    def go_on(self) -> None:
        """Goes on making the open exercise, in its own folder."""
        if self._workspace.exercise is not None:
            self._workspace.open_exercise(self._workspace.exercise, makes=True)

    def walk(self) -> None:
        """Opens the exercise as a student finds it, with nothing done yet."""
        if self.exercise is not None:
            self._workspace.open_exercise(self.exercise, afresh=True)

    @told
    def hand_out(self, path: Path, with_sealed: bool) -> None:
        """Packs the exercise as one file."""
        if self.exercise is None:
            return
        self._writer.flush()
        try:
            exercises.pack(self.exercise, path, with_sealed)
        except OSError as error:
            raise FileError(
                tr("The exercise could not be written to {0}: {1}.").format(path.name, "{0}"), error
            ) from error
        self.messages.say(tr("The exercise is in {0}, ready to be handed out.").format(path.name))

    # Changing

    def put(self, **changes: object) -> None:
        """Changes parts of the exercise, and writes it."""
        before = self.exercise
        if before is None:
            return
        after = replace(before, **changes)  # type: ignore[arg-type]
        if after == before:
            return
        if {*changes} & _TRIED or after.model != before.model:
            self.found = Tried()  # what came of the runs was of something else
        trouble = tr("The exercise could not be written: {0}. Your changes are kept while it is open.")
        if self._workspace.store.may_write():
            self._writer.run(("exercise", after.folder), lambda: save(after), trouble)
        self._workspace.take_exercise(after)
        self.changed.emit()

    def _read_given(self) -> dict[str, str]:
        """The texts of the program's modules that something is fastened to, by name."""
        exercise = self.exercise
        if exercise is None:
            return {}
        places: list[PlannedPlace] = [*exercise.points, *exercise.stops, *exercise.desk_checks]
        names = {place.file for place in places} | {mark.file for mark in self.sealed.elsewhere}
        paths = {name: exercise.program.parent / name for name in names - {""}}
        paths[""] = exercise.program
        return {name: source_text.read(path) for name, path in paths.items() if path.is_file()}

    def _follow(self) -> None:
        """Texts have been saved: what is fastened to their lines goes along."""
        if self.exercise is None or not self._knows:
            return
        for name, now in self._read_given().items():
            before = self._given.setdefault(name, now)
            if now == before:
                continue
            self._given[name], self.found = now, Tried()
            plan = {
                part: followed(getattr(self.exercise, part), before, now, name)
                for part in ("points", "stops", "desk_checks")
            }
            elsewhere = marks_after(self.sealed.elsewhere, name, before, now)
            sealed = self._sealed_after(before, now) if not name else self.sealed
            self.put(**plan, sealed=msgspec.structs.replace(sealed, elsewhere=elsewhere))
            self.changed.emit()

    @property
    def given(self) -> str:
        """The text of the program's main module, of which the lines of the plan are."""
        return self._given.get("", "")

    def _sealed_after(self, before: str, now: str) -> Sealed:
        """The faulty lines in a changed text: those that differ from the model, unless somebody chose others."""
        sealed, model = self.sealed, self.model
        if sealed.lines == lines_that_differ(before, model):
            return msgspec.structs.replace(sealed, lines=lines_that_differ(now, model))
        lines = matched_lines(before, now)
        return msgspec.structs.replace(sealed, lines=tuple(sorted(lines[its] for its in sealed.lines if its in lines)))

    # Cases

    def keep_run(self) -> None:
        """What the program was started with and what was typed becomes a case, in one move."""
        if self.exercise is not None:
            name = authoring.new_name(self.exercise.cases)
            its = self._launch.case = self._launch.run_as_case(name)
            self.put(cases=(*self.exercise.cases, its))

    def put_case(self, its: Case, at: int | None = None) -> None:
        """Puts a case in the place of another, or after all. Places that were of it stay so under its new name."""
        if self.exercise is None:
            return
        cases = list(self.exercise.cases)
        if at is None:
            self.put(cases=(*cases, its))
            return
        old, cases[at] = cases[at].name, its
        plan = {name: _renamed(getattr(self.exercise, name), old, its.name) for name in ("points", "stops")}
        self.put(cases=tuple(cases), desk_checks=_renamed(self.exercise.desk_checks, old, its.name), **plan)

    def run_case(self, case: Case) -> None:
        """Runs the program with a case."""
        self._launch.choose_case(case)

    def results_from_model(self) -> None:
        """Runs the model with all cases, and expects what comes of it."""
        exercise = self.exercise
        if exercise is not None:
            leave = self._launch.leave.leave
            self.lane.start(lambda progress: _results(exercise, leave, progress))
            self.changed.emit()

    @told
    def try_all(self) -> None:
        """Runs all cases with the program and with the model."""
        exercise = self.exercise
        if exercise is not None:
            self._workspace.save_texts()
            self._follow()
            leave = self._launch.leave.leave
            self.lane.start(lambda progress: tried(exercise, progress, leave))
            self.changed.emit()

    def _take(self, found: object) -> None:
        if isinstance(found, Tried):
            self.found = found
        elif isinstance(found, tuple) and self.exercise is not None:
            results, troubles = found
            self.put(cases=tuple(_with_result(case, results) for case in self.exercise.cases))
            self.messages.say(" ".join(troubles), is_trouble=True)
        self.changed.emit()
        self.ended.emit()

    def _take_failure(self, error: Exception) -> None:
        if isinstance(error, EelgrassError):
            self.messages.fail(error)
        self._take(None)

    # The error

    @property
    def sealed(self) -> Sealed:
        """The sealed part as it is so far."""
        exercise = self.exercise
        return exercise.sealed if exercise is not None and exercise.sealed is not None else Sealed()

    @property
    def model(self) -> str:
        """The model's text; the program's own while there is none."""
        exercise = self.exercise
        model = exercise.model if exercise is not None else None
        return self.given if model is None else model

    def seal(self, **changes: object) -> None:
        """Changes the sealed part."""
        self.put(sealed=msgspec.structs.replace(self.sealed, **changes))

    def text_on_view(self, name: str) -> str:
        """The text of a module on view: the model's, or one that is not saved yet."""
        if not name:
            return self._texts.lent.text if self._texts.lent is not None else self._workspace.text
        edited = self._texts.of(self._workspace.file_of(name))
        return edited.text if edited is not None else self._given.get(name, "")

    def text_as_given(self, name: str) -> str:
        """The text of a module, of which the lines of the plan and the marks are; they go along with it from now on."""
        if name not in self._given:
            self._given[name] = source_text.read(Path(self._workspace.file_of(name)))
        return self._given[name]

    # What is missing

    def faults(self) -> list[str]:
        """What is missing or contradicts itself; of the runs, as far as they were tried."""
        return [*faults_of_text(self.exercise), *self.found.faults] if self.exercise is not None else []


def _renamed(places: tuple[PlannedPlace, ...], old: str, new: str) -> tuple[PlannedPlace, ...]:
    return tuple(msgspec.structs.replace(place, case=new) if place.case == old else place for place in places)


def _results(exercise: Exercise, leave: Leave, progress: Progress) -> tuple[list[tuple[Case, Case]], list[str]]:
    """Cases, each with what the model makes of it, and sentences about those with which it cannot."""
    results, troubles = [], []
    for number, case in enumerate(exercise.cases):
        if not progress.goes_on(number / len(exercise.cases)):
            break
        try:
            results.append((case, authoring.expected(exercise, case, leave)))
        except ExerciseError as error:
            troubles.append(str(error))
    return results, troubles


def _with_result(case: Case, results: list[tuple[Case, Case]]) -> Case:
    """A case with what the model made of it, if it has not been changed meanwhile."""
    return next((after for before, after in results if before == case), case)
