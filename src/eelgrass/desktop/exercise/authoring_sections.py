"""Three parts of making an exercise: its words, its cases, its error. Each shows what there is and forwards."""

from __future__ import annotations

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QComboBox, QLineEdit, QPushButton, QWidget

from eelgrass.desktop.activities.authoring import Authoring
from eelgrass.desktop.activities.error_authoring import ErrorAuthoring
from eelgrass.desktop.exercise.case_dialog import CaseDialog
from eelgrass.desktop.look.look import Look
from eelgrass.desktop.look.palette import code_font
from eelgrass.desktop.look.plain_text import PlainLabel
from eelgrass.desktop.look.widgets import Heading, OwnList, lay_out, row_of, show_text, writing
from eelgrass.desktop.services.translation import tr
from eelgrass.lessons.cases.case import Case
from eelgrass.lessons.exercises.exercise import NEVER
from eelgrass.lessons.judging.judging import Result
from eelgrass.lessons.making.authoring import new_name
from eelgrass.lessons.making.faults import lines_that_differ

_SHORT, _SIGNS = 40, {True: "✓", False: "✗"}


class WordsSection(QWidget):
    """Title, task, and hints that unlock in their order."""

    def __init__(self, authoring: Authoring, look: Look) -> None:
        super().__init__()
        self._authoring = authoring
        self.title = QLineEdit()
        self.title.setAccessibleName(tr("Title"))
        self.task = writing("Task", "what the program should do, and what it does instead (Markdown)")
        self.hints = OwnList(tr("Hints"), look, edits=True)
        self.new = QPushButton(tr("New hint"))
        self.clues = QComboBox()
        self.clues.setAccessibleName(tr("When clues are shown"))
        lay_out(
            self,
            row_of(Heading("Title", look), self.title),
            Heading("Task", look),
            self.task,
            Heading("Hints, in the order in which they unlock", look),
            self.hints,
            row_of(self.new, self.hints.away()),
            row_of(Heading("Clues", look), self.clues),
            grows=(self.task, self.hints),
        )
        self.title.textEdited.connect(lambda words: authoring.put(title=words))
        self.task.textChanged.connect(lambda: authoring.put(task=self.task.toPlainText()))
        self.hints.ordered.connect(lambda rows: authoring.put(hints=tuple(rows)))
        self.new.clicked.connect(self._add)
        self.clues.activated.connect(lambda _: authoring.put(clues_after=self.clues.currentData()))

    def _add(self) -> None:
        exercise = self._authoring.exercise
        if exercise is not None:
            self._authoring.put(hints=(*exercise.hints, tr("a hint")))
            self.hints.setCurrentRow(self.hints.count() - 1)
            self.hints.editItem(self.hints.currentItem())

    def refresh(self) -> None:
        """Shows what there is."""
        exercise = self._authoring.exercise
        if exercise is not None:
            if self.title.text() != exercise.title:
                self.title.setText(exercise.title)
            show_text(self.task, exercise.task)
            self.hints.fill([(hint, number) for number, hint in enumerate(exercise.hints)])
            self._fill_clues(len(exercise.hints), exercise.clues_after)

    def _fill_clues(self, hints: int, chosen: int) -> None:
        """After how many hints clues may be shown."""
        self.clues.clear()
        self.clues.addItem(tr("are shown at once"), 0)
        for count in range(1, max(hints, chosen) + 1):
            self.clues.addItem(tr("are shown after hint {0}").format(count), count)
        self.clues.addItem(tr("are not shown"), NEVER)
        self.clues.setCurrentIndex(self.clues.findData(chosen))


class CasesSection(QWidget):
    """The cases, and what came of each with the program and with the model. A click runs a case."""

    def __init__(self, authoring: Authoring, look: Look) -> None:
        super().__init__()
        self._authoring = authoring
        self._look = look
        self.list = OwnList(tr("Cases"), look)
        self.keep, self.new, self.change, self.results, self.try_all = (
            QPushButton(tr(words))
            for words in ("Keep this run", "New…", "Change…", "Results from the model", "Try all cases")
        )
        self.keep.setToolTip(tr("What the program was started with, and what was typed, becomes a case"))
        buttons = row_of(self.keep, self.new, self.change, self.list.away())
        lay_out(self, self.list, buttons, row_of(self.results, self.try_all), grows=(self.list,))
        self.keep.clicked.connect(authoring.keep_run)
        self.new.clicked.connect(lambda: self._ask(None))
        self.change.clicked.connect(lambda: self._ask(self.list.currentRow()))
        self.list.itemActivated.connect(lambda item: self._ask(self.list.row(item)))
        self.list.itemClicked.connect(lambda item: authoring.run_case(item.data(Qt.ItemDataRole.UserRole)))
        self.results.clicked.connect(authoring.results_from_model)
        self.try_all.clicked.connect(lambda: authoring.try_all())
        self.list.ordered.connect(lambda rows: authoring.put(cases=tuple(rows)))

    def _ask(self, row: int | None) -> None:
        exercise = self._authoring.exercise
        if exercise is None or (row is not None and not 0 <= row < len(exercise.cases)):
            return
        case = exercise.cases[row] if row is not None else Case(new_name(exercise.cases))
        others = {its.name for number, its in enumerate(exercise.cases) if number != row}
        form = CaseDialog(self, case, others, self._look)
        if form.exec():
            self._authoring.put_case(form.made(), row)

    def refresh(self) -> None:
        """Shows what there is."""
        exercise, found = self._authoring.exercise, self._authoring.found
        if exercise is not None:
            pairs = ((found.given.get(case.name), found.model.get(case.name)) for case in exercise.cases)
            self.list.fill([(_told(case, *pair), case) for case, pair in zip(exercise.cases, pairs, strict=True)])
        for button in (self.results, self.try_all):
            button.setEnabled(exercise is not None and bool(exercise.cases) and not self._authoring.lane.is_busy)


def _told(case: Case, given: Result | None, model: Result | None) -> str:
    """A case in two lines: what it is and what is expected; what came of it."""
    typed = tr("{0} lines typed").format(len(case.input)) if case.input else ""
    how = case.call or ", ".join(part for part in (" ".join(case.arguments), typed) if part) or tr("no input")
    wants = case.result if case.call else case.pattern if case.pattern is not None else case.output
    claims = tr("{0} claims").format(len(case.claims)) if case.claims else ""
    shown = " · ".join(part for part in (_short(wants), claims) if part) or tr("nothing expected yet")
    came = [(words, its) for words, its in ((tr("program"), given), (tr("model"), model)) if its is not None]
    last = "   ".join(f"{words} {_SIGNS[its.is_passed]} {its.verdict}" for words, its in came)
    return f"{case.name}:  {how}  →  {shown}" + (f"\n{last}" if last else "")


def _short(wants: str | None) -> str:
    line = " ⏎ ".join((wants or "").strip("\n").split("\n"))
    return line if len(line) <= _SHORT else line[: _SHORT - 1] + "…"


class ErrorSection(QWidget):
    """The faulty lines, why they are wrong, and the model program. All of this is sealed."""

    def __init__(self, authoring: Authoring, error: ErrorAuthoring, look: Look) -> None:
        super().__init__()
        self._authoring = authoring
        self._error = error
        self.lines, self.differs = PlainLabel(), PlainLabel()
        for label in (self.lines, self.differs):
            label.setWordWrap(True)
        self.mark, self.suggest, self.exchange, self.take = (
            QPushButton(tr(words))
            for words in ("Mark this line", "Mark what differs", "Exchange the two", "This text is the model")
        )
        self.run_model = QPushButton(tr("Run the model"))
        self.run_model.setCheckable(True)
        self.exchange.setToolTip(tr("The program becomes the model, and the model the program"))
        self.reason = writing("The reason", "why these lines are wrong")
        lay_out(
            self,
            Heading("Faulty lines", look),
            self.lines,
            row_of(self.mark, self.suggest),
            Heading("The reason", look),
            self.reason,
            Heading("The model program", look),
            self.differs,
            row_of(self.exchange, self.take, self.run_model),
            grows=(self.reason,),
        )
        self.suggest.clicked.connect(lambda: authoring.seal(lines=lines_that_differ(authoring.given, authoring.model)))
        self.reason.textChanged.connect(lambda: authoring.seal(reason=self.reason.toPlainText()))
        self.exchange.clicked.connect(error.exchange)
        self.take.clicked.connect(error.take_this_as_model)
        self.run_model.clicked.connect(error.show_model)
        look.dresses(self._dress)

    def _dress(self) -> None:
        self.lines.setFont(code_font(9.5))

    def refresh(self) -> None:
        """Shows what there is."""
        authoring = self._authoring
        if authoring.exercise is None:
            return
        texts = authoring.given.split("\n")
        marked = [f"{its}: {texts[its - 1].strip() if its <= len(texts) else ''}" for its in authoring.sealed.lines]
        marked += [f"{its.file}, {its.line}: {its.statement}" for its in authoring.sealed.elsewhere]
        self.lines.setText("\n".join(marked) or tr("none yet"))
        differ = lines_that_differ(authoring.given, authoring.model)
        same = authoring.given.strip() == authoring.model.strip()
        numbers = ", ".join(map(str, differ))
        self.differs.setText(
            tr("It is the same as the program. Now make the program wrong, or write it right and exchange the two.")
            if same
            else tr("It differs from the program in line {0}.").format(numbers)
            if differ
            else tr("It has lines that are missing in the program.")
        )
        show_text(self.reason, authoring.sealed.reason)
        self.run_model.setChecked(self._error.shows_model)
        for button in (self.mark, self.exchange, self.take):
            button.setEnabled(not self._error.shows_model)
