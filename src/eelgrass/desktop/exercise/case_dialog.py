"""Asks for one case of an exercise: what the program is started with, and what should come of it."""

from __future__ import annotations

import shlex

from PyQt6.QtWidgets import QPlainTextEdit, QWidget

from eelgrass.desktop.look.dialog import FormDialog
from eelgrass.desktop.look.look import Look
from eelgrass.desktop.look.palette import code_font
from eelgrass.desktop.look.widgets import CodeLine
from eelgrass.desktop.services.translation import tr
from eelgrass.lessons.cases.case import Case
from eelgrass.lessons.cases.literals import read_value
from eelgrass.reading.expressions.expression import is_expression
from eelgrass.runs.acts import read_acts
from eelgrass.runs.order import CannotRunError

_TALL = 74


class CaseDialog(FormDialog):
    """`made()` gives the case, after `exec` has been answered with yes. `names` are those that others have."""

    def __init__(self, parent: QWidget, case: Case, names: set[str], look: Look) -> None:
        self.name, self.arguments, self.call, self.gives = (CodeLine(look) for _ in range(4))
        self.input, self.acts, self.output, self.pattern, self.claims = (QPlainTextEdit() for _ in range(5))
        for line in (self.name, self.arguments, self.call, self.gives):
            line.setMinimumWidth(420)
        for text in (self.input, self.acts, self.output, self.pattern, self.claims):
            text.setFont(code_font(10))
            text.setFixedHeight(_TALL)
            text.setTabChangesFocus(True)
        self.call.setPlaceholderText(tr("nothing: the whole program runs; or as: total_shoots([12, 7])"))
        self.gives.setPlaceholderText(tr("what the call should give, as: 19"))
        self.pattern.setPlaceholderText(tr("the output where parts are left open: * stands for any characters"))
        self.acts.setPlaceholderText(tr("what is done with its windows, as: at 500 click add"))
        self.claims.setPlaceholderText(tr("what should always hold, one on a line, as: total >= 0"))
        fields = (
            ("Name", self.name),
            ("Call", self.call),
            ("Result", self.gives),
            ("Arguments", self.arguments),
            ("Input, line by line", self.input),
            ("At the desk", self.acts),
            ("Output, exactly", self.output),
            ("or like", self.pattern),
            ("Claims", self.claims),
        )
        super().__init__(parent, "A case of the exercise", fields, look)
        self._names, self._ends_input, self._turns = names, case.ends_input, case.turns
        self._fill(case)
        self.call.textChanged.connect(self._show_rows)
        self._show_rows()

    def _fill(self, case: Case) -> None:
        self.name.setText(case.name)
        self.arguments.setText(shlex.join(case.arguments))
        self.call.setText(case.call or "")
        self.gives.setText(case.result or "")
        self.input.setPlainText("".join(f"{line}\n" for line in case.input))
        self.acts.setPlainText("\n".join(case.acts))
        self.output.setPlainText(case.output or "")
        self.pattern.setPlainText(case.pattern or "")
        self.claims.setPlainText("\n".join(case.claims))

    def _show_rows(self) -> None:
        """A call has a result; a whole program has arguments, and an output."""
        is_call = bool(self.call.text().strip())
        self._rows.setRowVisible(self.gives, is_call)
        for widget in (self.arguments, self.output, self.pattern):
            self._rows.setRowVisible(widget, not is_call)
        self.adjustSize()

    def made(self) -> Case:
        """What was asked for. Raises ValueError for arguments with a quotation mark too few."""
        call, typed = self.call.text().strip() or None, self.input.toPlainText()
        return Case(
            self.name.text().strip(),
            tuple(shlex.split(self.arguments.text())) if call is None else (),
            tuple(typed.removesuffix("\n").split("\n")) if typed else (),
            self._ends_input,
            output=(self.output.toPlainText() or None) if call is None else None,
            pattern=(self.pattern.toPlainText() or None) if call is None else None,
            call=call,
            result=(self.gives.text().strip() or None) if call is not None else None,
            claims=_lines(self.claims),
            turns=self._turns,
            acts=_lines(self.acts),
        )

    def _trouble(self) -> str:
        """What is wrong with what was asked for, in a sentence; '' for nothing."""
        name = self.name.text().strip()
        if not name:
            return tr("The case has no name yet.")
        if name in self._names:
            return tr("Another case is called “{0}” already.").format(name)
        try:
            its = self.made()
        except ValueError:
            return tr("A quotation mark is missing in these arguments.")
        if its.call is not None and not is_expression(its.call):
            return tr("“{0}” is no call that Python understands.").format(its.call)
        if its.result is not None and read_value(its.result) is None:
            return tr("“{0}” is no value: write it as in a program, a text with quotation marks.").format(its.result)
        try:
            read_acts(its.acts)
        except CannotRunError as error:
            return str(error)
        wrong = next((claim for claim in its.claims if not is_expression(claim)), None)
        return "" if wrong is None else tr("The claim “{0}” is no expression.").format(wrong)


def _lines(text: QPlainTextEdit) -> tuple[str, ...]:
    return tuple(line.strip() for line in text.toPlainText().split("\n") if line.strip())
