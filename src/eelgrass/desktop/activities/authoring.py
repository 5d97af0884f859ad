"""An instructor at work on an exercise: its words, cases, error and plan. Everything is written into its folder at
once."""

from __future__ import annotations

from dataclasses import replace
from pathlib import Path
from typing import Any

import msgspec
from PyQt6.QtCore import QObject, pyqtSignal

from eelgrass.desktop.activities.navigator import Navigator
from eelgrass.desktop.services.background import Seeker
from eelgrass.desktop.services.translation import tr
from eelgrass.desktop.session.session import Session
from eelgrass.desktop.workspace.workspace import Lent, Workspace
from eelgrass.lessons import authoring
from eelgrass.lessons import exercise as exercises
from eelgrass.lessons.case import Case
from eelgrass.lessons.exercise import Exercise, ExerciseError, Sealed
from eelgrass.lessons.exercise_writer import save
from eelgrass.lessons.faults import Tried, faults_of_text, lines_that_differ, tried
from eelgrass.lessons.plan import Ask, DeskCheck, Point, Spot, Stop, followed, here
from eelgrass.reading.alignment import matched_lines
from eelgrass.reading.expressions.batch import Progress
from eelgrass.reading.tables import trace_table as tables
from eelgrass.runs import source_text

#: What came of the runs holds as long as these do, and both texts.
_TRIED = frozenset(("cases", "points", "stops", "desk_checks"))


class Authoring(QObject):
    """`found` is what came of all cases when they were tried last. Signals: `changed` when anything of this has;
    `ended` when a search of cases has."""

    changed = pyqtSignal()
    ended = pyqtSignal()

    def __init__(self, session: Session, workspace: Workspace, navigator: Navigator) -> None:
        super().__init__()
        self._session = session
        self._workspace = workspace
        self._navigator = navigator
        self.given = ""  # the program's text, of which the lines of the plan are
        self._knows = False  # whether `given` is this exercise's; while one is being opened, it is not yet
        self.found = Tried()
        self.seeker = Seeker("making")
        self.seeker.found.connect(self._take)
        workspace.exercise_opened.connect(self._begin)
        workspace.changed.connect(self._follow)

    # Beginning and ending

    @property
    def exercise(self) -> Exercise | None:
        """The exercise that is being made, if one is."""
        return self._workspace.exercise if self._workspace.makes else None

    def _begin(self) -> None:
        self.seeker.give_up()
        self.found = Tried()
        self._knows = self.exercise is not None
        self.given = source_text.read(self.exercise.program) if self.exercise is not None else ""
        self.changed.emit()

    def start(self, folder: Path) -> None:
        """Makes an exercise of the open program, in a folder of its own, or of a copy of the open exercise."""
        workspace, recording = self._workspace, self._session.recording
        if workspace.program is None:
            return
        try:
            workspace.writer.flush()
            if workspace.exercise is not None:
                authoring.copied(workspace.exercise, folder)
            else:
                now = workspace.text
                modules = recording.trace.program.modules if recording is not None else []
                others = authoring.belongings(workspace.program, [now, *(module.source for module in modules)])
                authoring.begin(folder, workspace.program, now, others)
            workspace.open_exercise(exercises.load(folder), makes=True)
        except (ExerciseError, OSError) as error:
            why = f"{error.strerror}." if isinstance(error, OSError) else str(error)
            workspace.notice.emit(tr("The exercise cannot be made: {0}").format(why), True)

    def go_on(self) -> None:
        """Goes on making the open exercise, in its own folder."""
        if self._workspace.exercise is not None:
            self._workspace.open_exercise(self._workspace.exercise, makes=True)

    def walk(self) -> None:
        """Opens the exercise as a student finds it, with nothing done yet."""
        if self.exercise is not None:
            self._workspace.open_exercise(self.exercise, afresh=True)

    def hand_out(self, path: Path, with_sealed: bool) -> str:
        """Packs the exercise as one file; gives a sentence."""
        if self.exercise is None:
            return ""
        self._workspace.writer.flush()
        try:
            exercises.pack(self.exercise, path, with_sealed)
        except OSError as error:
            return tr("The exercise could not be written to {0}: {1}.").format(path.name, error.strerror)
        return tr("The exercise is in {0}, ready to be handed out.").format(path.name)

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
        self._workspace.writer.write(("exercise", after.folder), lambda: save(after), trouble)
        self._workspace.take_exercise(after)
        self.changed.emit()

    def _follow(self) -> None:
        """The program's text has been saved: what is fastened to its lines goes along."""
        exercise = self.exercise
        now = source_text.read(exercise.program) if exercise is not None and exercise.program.exists() else self.given
        if exercise is None or not self._knows or now == self.given:
            return
        before, self.given, self.found = self.given, now, Tried()
        plan = {name: followed(getattr(exercise, name), before, now) for name in ("points", "stops", "desk_checks")}
        self.put(**plan, sealed=self._sealed_after(before, now))
        self.changed.emit()

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
            its = Case(
                name,
                self._workspace.case.arguments,
                tuple(self._workspace.runner.typed),
                call=self._workspace.case.call,
            )
            self._workspace.case = its
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
        self._workspace.choose_case(case)

    def results_from_model(self) -> None:
        """Runs the model with all cases, and expects what comes of it."""
        exercise = self.exercise
        if exercise is not None:
            self.seeker.seek(lambda going: _results(exercise, going))
            self.changed.emit()

    def try_all(self) -> None:
        """Runs all cases with the program and with the model."""
        exercise = self.exercise
        if exercise is not None and self._workspace.save_text():
            self._follow()
            self.seeker.seek(lambda going: tried(exercise, going))
            self.changed.emit()

    def _take(self, told: object) -> None:
        if isinstance(told, Tried):
            self.found = told
        elif isinstance(told, tuple) and self.exercise is not None:
            results, troubles = told
            self.put(cases=tuple(_with_result(case, results) for case in self.exercise.cases))
            self._workspace.notice.emit(" ".join(troubles), True)
        self.changed.emit()
        self.ended.emit()

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

    @property
    def faulty_lines(self) -> set[int]:
        """The lines that are marked as faulty, in the text on view."""
        on_view = self._on_view()
        return {on_view[line] for line in self.sealed.lines if line in on_view}

    def _on_view(self) -> dict[int, int]:
        """Where each line of the program is in the text on view: the model's, or one that is not saved yet."""
        shown = self._workspace.lent.text if self._workspace.lent is not None else self._workspace.text
        return matched_lines(self.given, shown)

    @property
    def planned(self) -> dict[int, str]:
        """By line, a sign of what is planned there: “?” for a prediction, the number of a stop, “=” for a table."""
        exercise = self.exercise
        if exercise is None:
            return {}
        signs: list[tuple[Spot, str]] = [(its, "?") for its in exercise.points]
        signs += [(its, "=") for its in exercise.desk_checks]
        signs += [(its, str(number)) for number, its in enumerate(exercise.stops, 1)]
        found: dict[int, str] = {}
        on_view = self._on_view()
        for spot, sign in signs:
            line = on_view.get(spot.line, 0) if not spot.file else 0
            if line:
                found[line] = found.get(line, "") + sign
        return found

    def toggle_line(self, line: int) -> None:
        """Marks a line of the program as faulty, or no longer."""
        self.seal(lines=tuple(sorted({*self.sealed.lines} ^ {line})))

    def take_this_as_model(self) -> None:
        """Makes the text as it is now the model."""
        self.take_model(self._workspace.text)

    def take_model(self, model: str) -> None:
        """Makes a text the model."""
        if self.exercise is not None:
            name = self.exercise.program.relative_to(self.exercise.folder).as_posix()
            self.seal(model={**self.sealed.model, name: model})

    def exchange(self) -> None:
        """What was the program becomes the model, and the model the program."""
        given, model = self._workspace.text, self.model
        if self.exercise is not None and given != model:
            self.take_model(given)
            self._session.set_text(self._workspace.text_file, model)
            self._workspace.run(list(self._workspace.case.input))
            self.seal(lines=lines_that_differ(model, given))

    @property
    def shows_model(self) -> bool:
        """Whether the model runs in place of the program."""
        return self._workspace.lent is not None

    def show_model(self, on: bool) -> None:
        """Runs the model in place of the program, or the program again."""
        self._workspace.lend(Lent(self.model, tr("the model")) if on else None)

    # The plan

    def _here(self, every: bool = False) -> Spot | None:
        recording = self._session.recording
        if recording is None or self.exercise is None or self.shows_model:
            return None
        is_own = any(case.name == self._workspace.case.name for case in self.exercise.cases)
        spot = here(recording, self._session.step, self._workspace.case.name if is_own and not every else "")
        return msgspec.structs.replace(spot, visit=0) if every else spot

    def add_point(self, ask: Ask, name: str, every: bool) -> None:
        """Something is to be said first at the shown step, or at every visit of its line."""
        spot = self._here(every)
        if spot is not None and self.exercise is not None:
            self.put(points=(*self.exercise.points, Point(**_fields(spot), ask=ask, name=name)))

    def add_stop(self) -> None:
        """The route stops at the shown step, too."""
        spot = self._here()
        if spot is not None and self.exercise is not None:
            self.put(stops=(*self.exercise.stops, Stop(**_fields(spot))))

    def set_say(self, row: int, say: str) -> None:
        """Sets the talking points of a stop."""
        if self.exercise is not None:
            stops = list(self.exercise.stops)
            stops[row] = msgspec.structs.replace(stops[row], say=say)
            self.put(stops=tuple(stops))

    def add_desk_check(self, of_call: bool) -> None:
        """The table of this call, or of the passes of this loop, is to be filled in by hand."""
        spot, recording = self._here(), self._session.recording
        if spot is None or self.exercise is None or recording is None:
            return
        loop = tables.loop_at(recording, self._session.step)
        if loop < 0 and not of_call:
            self._workspace.notice.emit(tr("The line about to run is in no loop."), False)
            return
        frame = recording.stepping.frame_of(self._session.step)
        table = tables.of_call(recording, frame) if of_call else tables.of_loop(recording, self._session.step, loop)
        its = DeskCheck(**_fields(spot), title=table.title, of="call" if of_call else "passes")
        self.put(desk_checks=(*self.exercise.desk_checks, its))

    def go(self, spot: Spot) -> None:
        """Shows a place of the plan."""
        self._navigator.go(Spot(**{name: getattr(spot, name) for name in Spot.__struct_fields__}))

    # What is missing

    def faults(self) -> list[str]:
        """What is missing or contradicts itself; of the runs, as far as they were tried."""
        return [*faults_of_text(self.exercise), *self.found.faults] if self.exercise is not None else []


def _fields(spot: Spot) -> dict[str, Any]:
    return msgspec.structs.asdict(spot)


def _renamed(spots: tuple[Spot, ...], old: str, new: str) -> tuple[Spot, ...]:
    return tuple(msgspec.structs.replace(spot, case=new) if spot.case == old else spot for spot in spots)


def _results(exercise: Exercise, going: Progress) -> tuple[list[tuple[Case, Case]], list[str]]:
    """Cases, each with what the model makes of it, and sentences about those with which it cannot."""
    results, troubles = [], []
    for number, case in enumerate(exercise.cases):
        if not going.goes_on(number / len(exercise.cases)):
            break
        try:
            results.append((case, authoring.expected(exercise, case)))
        except ExerciseError as error:
            troubles.append(str(error))
    return results, troubles


def _with_result(case: Case, results: list[tuple[Case, Case]]) -> Case:
    """A case with what the model made of it, if it has not been changed meanwhile."""
    return next((after for before, after in results if before == case), case)
