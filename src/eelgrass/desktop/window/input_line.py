"""The place to type when the program waits for input: nobody can miss it."""

from __future__ import annotations

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import QHBoxLayout, QLabel, QPushButton, QVBoxLayout, QWidget

from eelgrass.desktop.look.look import Look
from eelgrass.desktop.look.palette import code_font, ui_font
from eelgrass.desktop.look.widgets import CodeLine
from eelgrass.desktop.models import Models
from eelgrass.desktop.services.translation import tr
from eelgrass.desktop.session.what_ifs import WhatIfs
from eelgrass.desktop.workspace.program_run import ProgramRun


class InputLine(QWidget):
    """Signals: `given(line)` when a line has been typed, `ended` when there is to be no more input."""

    given = pyqtSignal(str)
    ended = pyqtSignal()

    def __init__(self, look: Look) -> None:
        super().__init__()
        self._look = look
        self.setObjectName("inputPlace")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self._words = QLabel()
        self._prompt = QLabel()
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

    def ask(self, prompt: str, program: str, typed: int) -> None:
        """Shows itself, with what the program printed last as its question."""
        so_far = tr(" ({0} {1} typed so far)").format(typed, "line" if typed == 1 else "lines") if typed else ""
        self._words.setText(tr("{0} waits for input{1}").format(program, so_far))
        self._prompt.setText(prompt.strip() or "›")
        self.line.clear()
        self.show()
        self.line.setFocus()

    def _give(self) -> None:
        self.given.emit(self.line.text())


def wire_input(models: Models, line: InputLine) -> None:
    """What is typed goes to the run that asked: that of the program, or a what-if."""

    def asking() -> ProgramRun | WhatIfs:
        return models.what_ifs if models.what_ifs.is_waiting else models.run

    line.given.connect(lambda text: asking().answer(text))
    line.ended.connect(lambda: asking().end_input())
