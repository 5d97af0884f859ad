"""The exercise: its task, hints that unlock one by one, its cases, and what the student has found."""

from __future__ import annotations

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QColor
from PyQt6.QtWidgets import (
    QListWidgetItem,
    QPushButton,
    QSplitter,
    QVBoxLayout,
    QWidget,
)

from eelgrass.desktop.activities.solving import Solving
from eelgrass.desktop.look.look import Look
from eelgrass.desktop.look.markdown_view import MarkdownView, plain
from eelgrass.desktop.look.plain_text import PlainLabel, visible
from eelgrass.desktop.look.widgets import PlainList, row_of, show_text, thin_progress, writing
from eelgrass.desktop.services.translation import tr
from eelgrass.desktop.session.session import Session
from eelgrass.desktop.workspace.running.launch import Launch
from eelgrass.desktop.workspace.workspace import Workspace
from eelgrass.lessons.answering import answer as answers
from eelgrass.lessons.answering.answer import Answer, Evidence
from eelgrass.lessons.cases.case import Case
from eelgrass.lessons.exercises.exercise import Sealed
from eelgrass.lessons.exercises.marked_lines import MarkedLine
from eelgrass.lessons.exercises.plan import DeskCheck

_WORDS = {"passed": "passed", "failed": "failed", "run away": "ran away", "cannot run": "cannot run"}


class SolvingView(QWidget):
    """A click on a case opens it; the buttons run all cases, unlock a hint, mark the line about to run, attach the
    shown step. Everything written is kept at once."""

    def __init__(self, solving: Solving, session: Session, workspace: Workspace, launch: Launch, look: Look) -> None:
        super().__init__()
        self._solving = solving
        self._session = session
        self._workspace = workspace
        self._launch = launch
        self._look = look
        self.task = MarkdownView(look)
        self.cases = PlainList(tr("Cases"), look)
        self.run, self.hint, self.mark, self.attach, self.save = (
            QPushButton(tr(text))
            for text in ("Run all cases", "Hint", "Mark this line", "Attach this step", "Save answer…")
        )
        self.theirs, self.close_answer = QPushButton(tr("Run their program")), QPushButton(tr("Close the answer"))
        self.theirs.setCheckable(True)
        for button in (self.theirs, self.close_answer):
            button.hide()
        self.progress = thin_progress()
        self.found = PlainLabel()
        self.found.setWordWrap(True)
        self.found.setTextFormat(Qt.TextFormat.PlainText)
        self.evidence = PlainList(tr("Evidence"), look)
        self.evidence.setMaximumHeight(70)
        self.reason = writing("The reason", "why this line is wrong, in your own words")
        self.reason.setMaximumHeight(64)
        self._lay_out()
        self.run.clicked.connect(solving.run_all)
        self.hint.clicked.connect(solving.use_hint)
        self.attach.clicked.connect(solving.attach)
        self.cases.itemClicked.connect(lambda item: self._go(item.data(Qt.ItemDataRole.UserRole)))
        self.cases.itemActivated.connect(lambda item: self._go(item.data(Qt.ItemDataRole.UserRole)))
        self.theirs.clicked.connect(solving.show_theirs)
        self.close_answer.clicked.connect(solving.close)
        self.evidence.itemClicked.connect(lambda item: solving.go(item.data(Qt.ItemDataRole.UserRole)))
        self.evidence.itemActivated.connect(lambda item: solving.go(item.data(Qt.ItemDataRole.UserRole)))
        self.reason.textChanged.connect(self._take_reason)
        solving.changed.connect(self.refresh)
        solving.lane.progressed.connect(self._tell)
        for changed in (workspace.changed, session.opened, session.revealed, look.changed):
            changed.connect(self.refresh)
        self.refresh()

    def _lay_out(self) -> None:
        left, right = QWidget(), QWidget()
        about = QVBoxLayout(left)
        about.addWidget(self.task, 1)
        about.addWidget(self.hint)
        work = QVBoxLayout(right)
        for widget in (self.run, self.progress, self.cases):
            work.addWidget(widget)
        for its in (about, work):
            its.setContentsMargins(0, 0, 0, 0)
            its.setSpacing(4)
        upper = QSplitter(Qt.Orientation.Horizontal)
        upper.setHandleWidth(8)
        upper.addWidget(left)
        upper.addWidget(right)
        upper.setSizes([300, 300])
        buttons = row_of(self.mark, self.attach, self.theirs, self.close_answer, self.save)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(8, 6, 8, 4)
        layout.setSpacing(4)
        layout.addWidget(upper, 1)
        layout.addLayout(buttons)
        layout.addWidget(self.found)
        layout.addWidget(self.reason)
        layout.addWidget(self.evidence)

    def _go(self, its: Case | DeskCheck) -> None:
        if isinstance(its, DeskCheck):
            self._solving.begin_check(its)
        else:
            self._launch.choose_case(its)

    def _tell(self, share: float) -> None:
        self.progress.setValue(int(share * 100))

    def _take_reason(self) -> None:
        if self._solving.opened is not None:
            self._solving.comment(self.reason.toPlainText())
        else:
            self._solving.set_reason(self.reason.toPlainText())

    def refresh(self) -> None:
        """Shows the exercise and what has been found."""
        exercise = self._solving.exercise
        if exercise is None:
            return
        opened = self._solving.opened.answer if self._solving.opened is not None else None
        answer = opened or self._solving.answer
        self.setEnabled(not self._workspace.reads_along)
        self.task.folder = exercise.folder
        self.task.setMarkdown(
            _about(exercise.title, exercise.task, exercise.hints[: answer.hints_used], opened, exercise.sealed)
        )
        left = len(exercise.hints) - answer.hints_used
        self.hint.setText(tr("Hint ({0} of {1} used)").format(answer.hints_used, len(exercise.hints)))
        self.hint.setEnabled(left > 0)
        self.run.setEnabled(not self._solving.lane.is_busy)
        self.progress.setVisible(self._solving.lane.is_busy)
        for button in (self.mark, self.attach):
            button.setEnabled(self._session.recording is not None)
        for button in (self.mark, self.attach, self.hint, self.run):
            button.setVisible(opened is None)
        for button in (self.theirs, self.close_answer):
            button.setVisible(opened is not None)
        self.theirs.setChecked(self._solving.shows_theirs)
        self._show_cases(exercise.cases, opened)
        self._show_checks(exercise.desk_checks, answer)
        marked = [f"{line}: {text}" for line, text in zip(answer.lines, answer.statements, strict=False)]
        lines = ", ".join([*marked, *(f"{its.file}, {its.line}: {its.statement}" for its in answer.elsewhere)])
        self.found.setText(tr("Marked: {0}").format(lines) if lines else tr("No line is marked yet."))
        self.reason.setPlaceholderText(
            tr("why this line is wrong, in your own words") if opened is None else tr("your comment on this answer")
        )
        self.reason.setReadOnly(opened is not None and not self._solving.may_comment)
        self.save.setText(tr("Save answer…") if opened is None else tr("Save with the comment…"))
        show_text(self.reason, opened.comment if opened is not None else answer.reason)
        self.evidence.clear()
        self.evidence.setVisible(bool(answer.evidence))
        for its in answer.evidence:
            self._show_evidence(its)
            for moment in its.moments:
                self._show_evidence(moment, "    ")

    def _show_evidence(self, its: Evidence, indent: str = "") -> None:
        case = f"{its.case}, {its.file}" if its.file else its.case
        note = f" – {its.note}" if its.note else ""
        words = tr("{0}: line {1}, visit {2}: {3}").format(case, its.line, its.visit, its.told)
        item = QListWidgetItem(f"{indent}{its.told if indent else words}{note}")
        item.setData(Qt.ItemDataRole.UserRole, its)
        self.evidence.addItem(item)

    def _show_cases(self, cases: tuple[Case, ...], opened: Answer | None) -> None:
        self.cases.clear()
        results = opened.results if opened is not None else answers.told(list(self._solving.results.values()))
        for case in cases:
            told = results.get(case.name)
            word = _WORDS.get(told[0], told[0]) if told else tr("not run yet")
            changed = tr(", otherwise than before") if opened is None and self._solving.has_changed(case.name) else ""
            is_told = self._session.visible.is_whole  # or why a case fails says what the run comes to
            why = f"\n{told[1]}" if told and told[1] and is_told else ""
            sign = "✓ " if told and told[0] == "passed" else "✗ " if told else "· "
            item = QListWidgetItem(visible(f"{sign}{case.name}: {word}{changed}{why}"))
            item.setData(Qt.ItemDataRole.UserRole, case)
            if told and told[0] != "passed":
                item.setForeground(QColor(self._look.colours.coral))
            self.cases.addItem(item)

    def _show_checks(self, checks: tuple[DeskCheck, ...], answer: Answer) -> None:
        for check in checks:
            tries, right, wrong = answer.desk_checks.get(check.title, (0, 0, 0))
            came = (
                tr("{0} right, {1} wrong or missing, try {2}").format(right, wrong, tries) if tries else tr("not done")
            )
            sign = "✓" if tries and not wrong else "✗" if tries else "·"
            item = QListWidgetItem(tr("{0} by hand, {1}: {2}").format(sign, check.title, came))
            item.setData(Qt.ItemDataRole.UserRole, check)
            self.cases.addItem(item)


def _about(title: str, task: str, hints: tuple[str, ...], opened: Answer | None, sealed: Sealed | None) -> str:
    """The task with the hints so far; for the instructor, with the answer and the sealed part beside it."""
    parts = [f"### {title}", task, *(f"**Hint {number}.** {hint}" for number, hint in enumerate(hints, 1))]
    if opened is not None:
        parts += ["#### The answer", *_told(opened)]
        if sealed is not None:
            parts += ["#### Sealed", f"Lines: {_numbers(sealed.lines, sealed.elsewhere)}. {sealed.reason}"]
    return "\n\n".join(parts)


def _numbers(lines: tuple[int, ...], elsewhere: tuple[MarkedLine, ...]) -> str:
    return ", ".join([*map(str, lines), *(plain(f"{its.file} {its.line}") for its in elsewhere)])


def _told(answer: Answer) -> list[str]:
    """What a student found and said, as paragraphs."""
    lines = _numbers(answer.lines, answer.elsewhere) or tr("none")
    told = [
        tr("Lines: {0}. {1}").format(lines, plain(answer.reason)),
        tr("Hints used: {0}.").format(answer.hints_used),
    ]
    if answer.predictions:
        right = sum(said.is_right for said in answer.predictions)
        told.append(tr("Said first: {0} of {1} right.").format(right, len(answer.predictions)))
        told += [
            plain(tr("Line {0}: {1} Said {2}; it is {3}.").format(said.line, said.asked, said.said, said.expected))
            for said in answer.predictions
            if not said.is_right
        ]
    return told
