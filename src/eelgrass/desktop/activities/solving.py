"""A student at work on an exercise: cases run, hints used, lines marked, evidence, the answer (needs R2, T4, T6)."""

from __future__ import annotations

from pathlib import Path

import msgspec
from PyQt6.QtCore import QObject, pyqtSignal

from eelgrass.desktop.activities.navigator import Navigator
from eelgrass.desktop.services.background import Seeker
from eelgrass.desktop.services.translation import tr
from eelgrass.desktop.session.session import Session
from eelgrass.desktop.workspace import exercise_folders
from eelgrass.desktop.workspace.workspace import Lent, Workspace
from eelgrass.lessons import answer as answers
from eelgrass.lessons.answer import Answer, Evidence, Said
from eelgrass.lessons.exercise import Exercise
from eelgrass.lessons.judging import Result, judge
from eelgrass.lessons.plan import DeskCheck, Spot
from eelgrass.reading.alignment import matched_lines
from eelgrass.reading.expressions.batch import Progress
from eelgrass.reading.stack.stack_rows import Row
from eelgrass.runs import source_text
from eelgrass.trace.columns import find

_MOST_VALUES = 200


class Solving(QObject):
    """`answer` is what the student has so far; it is kept with the program at every change, so that a crash loses
    nothing. `results` are those of the last time that all cases were run, `before` of the time before that.

    Signals: `changed` when anything of this has; `judged` when all cases have been run."""

    changed = pyqtSignal()
    judged = pyqtSignal()

    def __init__(self, session: Session, workspace: Workspace, navigator: Navigator) -> None:
        super().__init__()
        self._session = session
        self._workspace = workspace
        self._navigator = navigator
        self.checking: dict[str, str] = {}  # by a table's title, that of the planned desk check
        self.answer = Answer("")
        self.results: dict[str, Result] = {}
        self.before: dict[str, Result] = {}
        self.opened: Answer | None = None  # another's, to be read by the instructor
        self._opened_from = Path()
        self.seeker = Seeker("cases")
        self.seeker.found.connect(self._take)
        workspace.exercise_opened.connect(self._begin)

    @property
    def exercise(self) -> Exercise | None:
        """The exercise that is open."""
        return self._workspace.exercise

    def _begin(self) -> None:
        self.seeker.give_up()
        self.results, self.before, self.opened, self.checking = {}, {}, None, {}
        exercise = self.exercise
        new = Answer(exercise.title, given=source_text.read(exercise.program)) if exercise is not None else Answer("")
        self.answer = self._workspace.store.answer or new
        self.changed.emit()

    def _put(self, **changes: object) -> None:
        self.answer = msgspec.structs.replace(self.answer, **changes)
        self._workspace.keep_answer(self.answer)
        self.changed.emit()

    # Cases

    def run_all(self) -> None:
        """Runs all cases with the text as it is now, apart from what is on view."""
        exercise = self.exercise
        if exercise is not None:
            now = self._workspace.text
            self.seeker.seek(lambda going: _all(exercise, now, going))
            self.changed.emit()

    def _take(self, results: list[Result] | None) -> None:
        if results:
            self.before, self.results = self.results, {result.case: result for result in results}
            self._put(results=answers.told(results), program=self._workspace.text)
        self.changed.emit()
        self.judged.emit()

    def has_changed(self, case: str) -> bool:
        """Whether a case came out otherwise than the time before."""
        now, before = self.results.get(case), self.before.get(case)
        return now is not None and before is not None and now.verdict != before.verdict

    def begin_again(self) -> str:
        """Puts the text as it was given in the place of the student's, which is kept beside it; gives a sentence."""
        program, mine = self._workspace.program, self._workspace.text
        if self.exercise is None or program is None or mine == self._workspace.given:
            return tr("The text is as it was given.")
        try:
            if not self._workspace.save_text():
                return ""
            kept = exercise_folders.beside(self._workspace.program or program)
            kept.write_text(mine, encoding="utf-8", errors="surrogatepass")
        except OSError as error:
            return tr("What you have written cannot be kept, so nothing was changed: {0}.").format(error.strerror)
        self._session.set_text(self._workspace.text_file, self._workspace.given)
        return tr("The text is as it was given; what you had written is in {0}.").format(kept.name)

    # What was found

    def use_hint(self) -> None:
        """Unlocks the next hint."""
        if self.exercise is not None and self.answer.hints_used < len(self.exercise.hints):
            self._put(hints_used=self.answer.hints_used + 1)

    def toggle_line(self, line: int) -> None:
        """Marks a line of the text, as the faulty one, or no longer; what is kept is the line of the text as given."""
        texts = self.answer.given.split("\n")
        given = matched_lines(self._workspace.text, self.answer.given).get(line, 0)
        if given:
            lines = sorted({*self.answer.lines} ^ {given})
            self._put(lines=tuple(lines), statements=tuple(texts[its - 1].strip() for its in lines))

    def set_reason(self, reason: str) -> None:
        """Why the marked lines are wrong, in the student's words."""
        if reason != self.answer.reason:
            self._put(reason=reason)

    def keep_said(self, said: Said) -> None:
        """Something was said before it was shown."""
        if self.exercise is not None:
            self._put(predictions=(*self.answer.predictions, said))

    def keep_desk_check(self, title: str, right: int, wrong: int) -> None:
        """A table that was filled in by hand has been compared."""
        if self.exercise is not None and not self._workspace.makes:
            title = self.checking.get(title, title)
            tries = self.answer.desk_checks.get(title, (0, 0, 0))[0] + 1
            self._put(desk_checks={**self.answer.desk_checks, title: (tries, right, wrong)})

    def attach(self) -> None:
        """Attaches the shown step as evidence: its line and visit, and the names of the line with their values."""
        recording, step = self._session.recording, self._session.step
        if recording is None:
            return
        line = recording.trace.line_of(step)
        visits = recording.visits.of_line(recording.module_at(step), line)
        rows = [row for row in recording.stack_rows.at(step)[-1].rows if row.status == "set"]
        told = ", ".join(f"{row.name} = {_text(row)}" for row in rows)[:_MOST_VALUES]
        source = recording.trace.program.modules[0].source
        given = matched_lines(source, self.answer.given).get(line, line)
        its = Evidence(self._workspace.case.name, given, find(visits, step + 1), told)
        self._put(evidence=(*self.answer.evidence, its))

    def go(self, evidence: Evidence) -> None:
        """Goes to the step that was attached, in the run of its case; the text is the one of which it is."""
        was_theirs = self.shows_theirs
        if was_theirs:
            self._workspace.lent = None
        self._navigator.go(Spot(line=evidence.line, visit=evidence.visit, case=evidence.case), anew=was_theirs)

    def begin_check(self, check: DeskCheck) -> None:
        """Goes where a table is to be filled in by hand."""
        self._navigator.go(check)

    @property
    def faulty_lines(self) -> set[int]:
        """The marked lines, in the text as it is now."""
        answer = self.opened or self.answer
        lines = matched_lines(answer.given, self._workspace.text) if answer.lines else {}
        return {lines[line] for line in answer.lines if line in lines}

    @property
    def planned(self) -> dict[int, str]:
        """A student sees nothing of the plan."""
        return {}

    # The answer as a file

    def save(self, path: Path) -> str:
        """Writes the answer; gives a sentence."""
        try:
            answers.save(self.opened or self.answer, path)
        except OSError as error:
            return tr("The answer could not be written to {0}: {1}.").format(path.name, error.strerror)
        return tr("The answer is in {0}.").format(path.name)

    def open(self, path: Path) -> str:
        """Opens another's answer to read and comment on; gives what is wrong, or ''."""
        if self.exercise is None:
            return tr("Open the exercise first; then the answer is shown beside it.")
        try:
            self.opened, self._opened_from = answers.load(path), path
        except answers.AnswerError as error:
            return str(error)
        self.changed.emit()
        if self.opened.exercise != self.exercise.title:
            return tr("This is an answer to “{0}”, not to this exercise.").format(self.opened.exercise)
        return ""

    @property
    def shows_theirs(self) -> bool:
        """Whether the program of the opened answer runs in place of one's own."""
        return self.opened is not None and self._workspace.lent is not None

    def show_theirs(self, on: bool) -> None:
        """Runs the program of the opened answer, or one's own again."""
        if self.opened is not None:
            self._workspace.lend(Lent(self.opened.program, tr("their text")) if on and self.opened.program else None)

    def close(self) -> None:
        """Ends the reading of another's answer."""
        was_theirs, self.opened = self.shows_theirs, None
        if was_theirs:
            self._workspace.lend(None)
        self.changed.emit()

    def comment(self, text: str) -> None:
        """The instructor's comment on the opened answer; it is written into the answer's file."""
        if self.opened is not None and text != self.opened.comment:
            self.opened = its = msgspec.structs.replace(self.opened, comment=text)
            path, trouble = self._opened_from, tr("The comment could not be written: {0}. It is kept while it is open.")
            self._workspace.writer.write(("answer", path), lambda: answers.save(its, path), trouble)


def _all(exercise: Exercise, program: str, going: Progress) -> list[Result]:
    results: list[Result] = []
    for case in exercise.cases:
        if not going.goes_on(len(results) / len(exercise.cases)):
            return []
        results.append(judge(exercise, case, program))
    return results


def _text(row: Row) -> str:
    return f"[{', '.join(cell.text for cell in row.cells)}]" if row.cells else row.text
