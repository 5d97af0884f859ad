"""A student at work on an exercise: cases run, hints used, lines marked, evidence, the answer."""

from __future__ import annotations

from dataclasses import dataclass
from pathlib import Path

import msgspec
from PyQt6.QtCore import pyqtSignal

from eelgrass.desktop.activities.activity import Activity
from eelgrass.desktop.activities.navigator import Navigator
from eelgrass.desktop.services.disk_writer import DiskWriter
from eelgrass.desktop.services.messages import Messages, told
from eelgrass.desktop.services.translation import tr
from eelgrass.desktop.session.edited_texts import LentText
from eelgrass.desktop.session.session_parts import SessionParts
from eelgrass.desktop.workspace.claims import Claims
from eelgrass.desktop.workspace.running.launch import Launch
from eelgrass.desktop.workspace.text_files import kept_beside
from eelgrass.desktop.workspace.workspace import Workspace
from eelgrass.errors import EelgrassError, FileError
from eelgrass.lessons.answering import answer as answers
from eelgrass.lessons.answering.answer import Answer, Evidence, Said
from eelgrass.lessons.exercises.exercise import NEVER, Exercise
from eelgrass.lessons.exercises.marked_lines import MarkedLine, lines_now, toggled
from eelgrass.lessons.exercises.plan import DeskCheck, PlannedPlace
from eelgrass.lessons.judging.judging import Result, judge
from eelgrass.reading.alignment import matched_lines
from eelgrass.reading.progress import Progress
from eelgrass.reading.recording import Recording
from eelgrass.reading.tables.trace_table import TableKey
from eelgrass.runs.order import Leave
from eelgrass.runs.texts import source_text
from eelgrass.trace.columns import find
from eelgrass.trace.program import Place

_MOST_VALUES = 200


@dataclass(frozen=True)
class OpenedAnswer:
    """Another's answer, to be read by the instructor, and the file that it is in."""

    answer: Answer
    path: Path


class Solving(Activity):
    """`answer` is what the student has so far, and nobody else has it: the session store writes it at every change.
    `results` are those of the last time that all cases were run, `before` of the time before that. `checking` is the
    planned desk check whose table is open.

    Signals: `changed` when anything of this has; `judged` when all cases have been run."""

    judged = pyqtSignal()

    def __init__(
        self,
        parts: SessionParts,
        workspace: Workspace,
        launch: Launch,
        navigator: Navigator,
        writer: DiskWriter,
        claims: Claims,
        messages: Messages,
    ) -> None:
        super().__init__("cases", parts, workspace, launch, navigator, writer, messages)
        self._claims = claims
        self.checking: tuple[TableKey, DeskCheck] | None = None
        self.answer = Answer("")
        self.results: dict[str, Result] = {}
        self.before: dict[str, Result] = {}
        self.opened: OpenedAnswer | None = None
        self.may_comment = True
        self.lane.done.connect(self._take)
        self.lane.failed.connect(self._take_failure)
        workspace.store.answer = lambda: self.answer if workspace.exercise is not None else None
        workspace.exercise_opened.connect(self._begin)

    @property
    def exercise(self) -> Exercise | None:
        """The exercise that is open."""
        return self._workspace.exercise

    def _begin(self) -> None:
        self.lane.give_up()
        self._close_opened()
        self.results, self.before, self.checking = {}, {}, None
        exercise = self.exercise
        new = Answer(exercise.title, given=source_text.read(exercise.program)) if exercise is not None else Answer("")
        self.answer = self._workspace.store.saved.answer or new
        self.changed.emit()

    def _put(self, **changes: object) -> None:
        self.answer = msgspec.structs.replace(self.answer, **changes)
        self._workspace.store.keep()
        self.changed.emit()

    # Cases

    def run_all(self) -> None:
        """Runs all cases with the text as it is now, apart from what is on view."""
        exercise = self.exercise
        if exercise is not None:
            now, hints = self._workspace.text, self.answer.hints_used
            leave = self._launch.leave.leave
            self.lane.start(lambda progress: _all(exercise, now, hints, leave, progress))
            self.changed.emit()

    def _take(self, results: list[Result]) -> None:
        if results:
            self.before, self.results = self.results, {result.case: result for result in results}
            self._put(results=answers.told(results), program=self._workspace.text)
        self.changed.emit()
        self.judged.emit()

    def _take_failure(self, error: Exception) -> None:
        if isinstance(error, EelgrassError):
            self.messages.fail(error)
        self._take([])

    def has_changed(self, case: str) -> bool:
        """Whether a case came out otherwise than the time before."""
        now, before = self.results.get(case), self.before.get(case)
        return now is not None and before is not None and now.verdict != before.verdict

    @told
    def begin_again(self) -> None:
        """Puts the text as it was given in the place of the student's, which is kept beside it."""
        workspace = self._workspace
        program, mine = workspace.program, workspace.text
        if self.exercise is None or program is None or mine == workspace.given:
            self.messages.say(tr("The text is as it was given."))
            return
        workspace.save_texts()
        kept = kept_beside(workspace.program or program, mine)
        workspace.edit("", workspace.given, mine)
        self.messages.say(tr("The text is as it was given; what you had written is in {0}.").format(kept.name))

    # What was found

    def use_hint(self) -> None:
        """Unlocks the next hint."""
        if self.exercise is not None and self.answer.hints_used < len(self.exercise.hints):
            self._put(hints_used=self.answer.hints_used + 1)

    def trails_forbidden(self) -> str:
        """Why trails cannot be asked for yet, in a sentence; '' where they can."""
        exercise = self.exercise
        left = exercise.trails_after - self.answer.hints_used if exercise is not None else 0
        if left <= 0 or self._workspace.makes:
            return ""
        return tr("In this exercise trails come after {0} more hints.").format(left)

    def clues_forbidden(self) -> str:
        """Why no clues are shown yet, in a sentence; '' where they are."""
        exercise = self.exercise
        if exercise is None or self._workspace.makes:
            return ""
        if exercise.clues_after == NEVER:
            return tr("This exercise is to be solved without clues.")
        left = exercise.clues_after - self.answer.hints_used
        return tr("In this exercise clues come after {0} more hints.").format(left) if left > 0 else ""

    def _given(self, name: str) -> str:
        """The text of a module as it was given; the main one's is the answer's own."""
        exercise = self.exercise
        if not name or exercise is None:
            return self.answer.given
        path = exercise.program.parent / name
        return source_text.read(path) if path.is_file() else ""

    def _now(self, name: str) -> str:
        """The text of a module as it is now."""
        recording, file = self._session.recording, self._workspace.file_of(name)
        modules = recording.trace.program.modules if recording is not None else []
        found = next((self._texts.now(module) for module in modules if module.file == file), None)
        return self._workspace.text if not name else (found if found is not None else self._given(name))

    def toggle_line(self, place: Place) -> None:
        """Marks a line of a text as it is now, as the faulty one, or no longer; what is kept is the line of the text as
        given."""
        name = self._workspace.name_of(place.file)
        given = self._given(name)
        line = matched_lines(self._now(name), given).get(place.line, 0)
        texts = given.split("\n")
        if not line:
            return
        if name:
            mark = MarkedLine(name, line, texts[line - 1].strip())
            self._put(elsewhere=toggled(self.answer.elsewhere, mark))
        else:
            lines = sorted({*self.answer.lines} ^ {line})
            self._put(lines=tuple(lines), statements=tuple(texts[its - 1].strip() for its in lines))

    def set_reason(self, reason: str) -> None:
        """Why the marked lines are wrong, in the student's words."""
        if reason != self.answer.reason:
            self._put(reason=reason)

    def keep_said(self, said: Said) -> None:
        """Something was said before it was shown."""
        if self.exercise is not None:
            self._put(predictions=(*self.answer.predictions, said))

    def keep_desk_check(self, table: TableKey, title: str, right: int, wrong: int) -> None:
        """A table that was filled in by hand has been compared; `title` is its own, if it is not a planned one's."""
        if self.exercise is not None and not self._workspace.makes:
            planned = self.checking[1].title if self.checking is not None and self.checking[0] == table else title
            tries = self.answer.desk_checks.get(planned, (0, 0, 0))[0] + 1
            self._put(desk_checks={**self.answer.desk_checks, planned: (tries, right, wrong)})

    def attach(self) -> None:
        """Attaches the shown step as evidence: its line and visit, and the names of the line with their values."""
        recording, step = self._session.recording, self._session.step
        if recording is not None:
            self.attach_evidence(self.evidence_at(recording, step, recording.stack_rows.values_in_words(step)))

    def attach_evidence(self, its: Evidence) -> None:
        """Puts evidence into the answer."""
        if self.exercise is not None:
            self._put(evidence=(*self.answer.evidence, its))

    def evidence_at(self, recording: Recording, step: int, words: str) -> Evidence:
        """A step as evidence: which visit of which line it is, in the text as it was given."""
        place = recording.place_at(step)
        name = self._workspace.name_of(place.file)
        module = recording.module_at(step)
        visits = recording.visits.of_line(module, place.line)
        source = recording.trace.program.modules[module].source
        line = matched_lines(source, self._given(name)).get(place.line, place.line)
        return Evidence(self._launch.case.name, line, find(visits, step + 1), words[:_MOST_VALUES], name)

    def go(self, evidence: Evidence) -> None:
        """Goes to the step that was attached, in the run of its case; the text is the one of which it is."""
        was_theirs = self.shows_theirs
        if was_theirs:
            self._texts.lent = None
        place = PlannedPlace(line=evidence.line, visit=evidence.visit, case=evidence.case, file=evidence.file)
        self._navigator.go(place, anew=was_theirs)

    def begin_check(self, check: DeskCheck) -> None:
        """Goes where a table is to be filled in by hand."""
        self._navigator.go(check)

    def faulty_lines(self, file: str) -> set[int]:
        """The lines of a text, as it is now, that are marked."""
        name, answer = self._workspace.name_of(file), self.opened.answer if self.opened is not None else self.answer
        if name:
            return lines_now(answer.elsewhere, name, self._given(name), self._now(name))
        lines = matched_lines(answer.given, self._workspace.text) if answer.lines else {}
        return {lines[line] for line in answer.lines if line in lines}

    def planned(self, _file: str) -> dict[int, str]:
        """A student sees nothing of the plan."""
        return {}

    # The answer as a file

    @told
    def save(self, path: Path) -> None:
        """Writes the answer."""
        try:
            answers.save(self.opened.answer if self.opened is not None else self.answer, path)
        except OSError as error:
            sentence = tr("The answer could not be written to {0}: {1}.").format(path.name, "{0}")
            raise FileError(sentence, error) from error
        self.messages.say(tr("The answer is in {0}.").format(path.name))

    @told
    def open(self, path: Path) -> None:
        """Opens another's answer to read and comment on."""
        if self.exercise is None:
            raise EelgrassError(tr("Open the exercise first; then the answer is shown beside it."))
        answer = self._read(path)
        self._close_opened()
        self.opened = OpenedAnswer(answer, path)
        self.may_comment = self._claims.take(path)
        self.changed.emit()
        if not self.may_comment:
            told_ = tr("“{0}” is open in another window, too; comments are written there.")
            self.messages.say(told_.format(path.name), is_trouble=True)
        if answer.exercise != self.exercise.title:
            raise EelgrassError(tr("This is an answer to “{0}”, not to this exercise.").format(answer.exercise))

    def _read(self, path: Path) -> Answer:
        """The answer in a file, also with a comment that could not be written into it yet."""
        try:
            data = self._writer.read(path, answers.MOST_BYTES + 1)
        except OSError as error:
            raise FileError(tr("“{0}” cannot be read: {1}.").format(path.name, "{0}"), error) from error
        if data is None:
            raise EelgrassError(tr("There is no file “{0}”.").format(path.name))
        return answers.decoded(data, path.name)

    @property
    def shows_theirs(self) -> bool:
        """Whether the program of the opened answer runs in place of one's own."""
        return self.opened is not None and self._texts.lent is not None

    def show_theirs(self, on: bool) -> None:
        """Runs the program of the opened answer, or one's own again."""
        if self.opened is not None:
            text = self.opened.answer.program
            self._launch.lend(LentText(text, tr("their text")) if on and text else None)

    def close(self) -> None:
        """Ends the reading of another's answer."""
        was_theirs = self.shows_theirs
        self._close_opened()
        if was_theirs:
            self._launch.lend(None)
        self.changed.emit()

    def _close_opened(self) -> None:
        if self.opened is not None:
            self._claims.release(self.opened.path)
        self.opened = None

    def comment(self, text: str) -> None:
        """The instructor's comment on the opened answer; it is written into the answer's file."""
        opened = self.opened
        if opened is not None and text != opened.answer.comment and self._claims.holds(opened.path):
            answer = msgspec.structs.replace(opened.answer, comment=text)
            self.opened = OpenedAnswer(answer, opened.path)
            trouble = tr("The comment could not be written: {0}. It is kept while Eelgrass is open.")
            self._writer.write(opened.path, answers.encoded(answer), trouble)


def _all(exercise: Exercise, program: str, hints_used: int, leave: Leave, progress: Progress) -> list[Result]:
    results: list[Result] = []
    for case in exercise.cases:
        if not progress.goes_on(len(results) / len(exercise.cases)):
            return []
        results.append(judge(exercise, case, program, hints_used, leave=leave))
    return results
