"""The place to type when the program waits for input: nobody can miss it."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import (
    QAbstractScrollArea,
    QApplication,
    QHBoxLayout,
    QLineEdit,
    QPushButton,
    QVBoxLayout,
    QWidget,
)

from eelgrass.desktop.look.look import Look
from eelgrass.desktop.look.palette import code_font, ui_font
from eelgrass.desktop.look.plain_text import PlainLabel
from eelgrass.desktop.look.widgets import CodeLine
from eelgrass.desktop.models import Models
from eelgrass.desktop.services.translation import tr
from eelgrass.desktop.session.what_ifs import WhatIfs
from eelgrass.desktop.workspace.running.program_run import ProgramRun


class InputLine(QWidget):
    """Signals: `given(line)` when a line has been typed, `ended` when there is to be no more input."""

    given = pyqtSignal(str)
    ended = pyqtSignal()

    def __init__(self, look: Look) -> None:
        super().__init__()
        self._look = look
        self.setObjectName("inputPlace")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self._words = PlainLabel()
        self._prompt = PlainLabel()
        self.line = CodeLine(look, 11)
        self.line.setAccessibleName(tr("Input for the program"))
        self.line.setPlaceholderText("type here, then Enter")
        self.give = QPushButton(tr("Give"))
        self.give.setProperty("strong", "true")
        self.no_more = QPushButton(tr("No more input"))
        row = QHBoxLayout()
        row.addWidget(self._prompt)
        row.addWidget(self.line, 1)
        row.addWidget(self.give)
        row.addWidget(self.no_more)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(14, 9, 14, 11)
        layout.addWidget(self._words)
        layout.addLayout(row)
        self.line.returnPressed.connect(self._give)
        self.give.clicked.connect(self._give)
        self.no_more.clicked.connect(self.ended)
        look.dresses(self._dress)
        self.hide()

    def _dress(self) -> None:
        c = self._look.colours
        self.setStyleSheet(
            f"#inputPlace {{ background: {c.waterline}; border-top: 3px solid {c.kelp}; }}"
            f"#inputPlace QLabel {{ color: {c.kelp}; }}"
        )
        self._words.setFont(ui_font(10, bold=True))
        self._prompt.setFont(code_font(10))

    def ask(self, prompt: str, words: str) -> None:
        """Shows itself, with what the program printed last as its question. What is half typed stays."""
        self._prompt.setText(prompt.strip() or "›")
        self.say(words)
        if not isinstance(QApplication.focusWidget(), (QLineEdit, QAbstractScrollArea)):
            self.line.setFocus()

    def say(self, words: str) -> None:
        """Shows itself, and says what there is to say about typing now."""
        self._words.setText(words)
        was_hidden = self.isHidden()
        self.show()
        if was_hidden:
            self.line.setFocus()

    def _give(self) -> None:
        text = self.line.text()
        self.line.clear()
        self.given.emit(text)


def wire_input(models: Models, line: InputLine, take_keys: Callable[[], None]) -> None:
    """What is typed goes to the run that asked: that of the program, or a what-if. A program that has asked may ask
    again, so while it runs the place stays, for what is typed ahead."""
    run, what_ifs = models.run, models.what_ifs

    def asking() -> ProgramRun | WhatIfs:
        return what_ifs if what_ifs.is_waiting else run

    def words() -> str:
        title = models.workspace.title
        if what_ifs.is_waiting:
            return tr("{0} waits for input").format(title)
        typed = len(run.typed.lines)
        if run.is_waiting:
            so_far = tr(" ({0} {1} typed so far)").format(typed, _lines(typed)) if typed else ""
            return tr("{0} waits for input{1}").format(title, so_far)
        ahead = run.runner.ahead
        told = tr("{0} is running; what you type is given when it asks").format(title)
        return told + (tr(" ({0} {1} ahead)").format(ahead, _lines(ahead)) if ahead else "")

    def follow() -> None:
        if what_ifs.is_waiting or (run.is_running and run.has_asked):
            line.no_more.setEnabled(what_ifs.is_waiting or not run.typed.ends)
            line.say(words())
        elif not line.isHidden():
            had_keys = line.isAncestorOf(QApplication.focusWidget())
            line.hide()
            if had_keys:
                take_keys()

    models.workspace.program_opened.connect(lambda _runs: line.line.clear())
    for owner in (run, what_ifs):
        owner.asked.connect(lambda prompt: line.ask(prompt, words()))
        owner.changed.connect(follow)
    line.given.connect(lambda text: asking().answer(text))
    line.ended.connect(lambda: asking().end_input())


def _lines(count: int) -> str:
    return tr("line") if count == 1 else tr("lines")
