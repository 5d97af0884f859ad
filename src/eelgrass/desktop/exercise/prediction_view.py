"""What is to be said first: the question, a line to answer in, and what there is to say to the answer."""

from __future__ import annotations

from PyQt6.QtWidgets import QHBoxLayout, QPushButton, QVBoxLayout, QWidget

from eelgrass.desktop.activities.prediction_mode import PredictionMode
from eelgrass.desktop.look.look import Look
from eelgrass.desktop.look.palette import ui_font
from eelgrass.desktop.look.plain_text import PlainLabel
from eelgrass.desktop.look.widgets import CodeLine
from eelgrass.desktop.services.translation import tr


class PredictionView(QWidget):
    """The question, a line to answer in, and what there is to say to the answer."""

    def __init__(self, prediction_mode: PredictionMode, look: Look) -> None:
        super().__init__()
        self._prediction_mode = prediction_mode
        self._look = look
        self.setAutoFillBackground(True)
        self.ask, self.told = PlainLabel(), PlainLabel()
        for label in (self.ask, self.told):
            label.setWordWrap(True)
        self.line = CodeLine(look, 11)
        self.line.setAccessibleName(tr("What you expect"))
        self.say, self.skip = QPushButton(tr("Say it")), QPushButton(tr("Pass over"))
        self.true, self.false = QPushButton(tr("true")), QPushButton(tr("false"))  # a word in class is one click
        row = QHBoxLayout()
        row.addWidget(self.true)
        row.addWidget(self.false)
        row.addWidget(self.line, 1)
        row.addWidget(self.say)
        row.addWidget(self.skip)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(16, 10, 16, 10)
        layout.addWidget(self.ask)
        layout.addLayout(row)
        layout.addWidget(self.told)
        layout.addStretch(1)
        self.line.returnPressed.connect(self._answer)
        self.say.clicked.connect(self._answer)
        self.true.clicked.connect(lambda: prediction_mode.answer("true"))
        self.false.clicked.connect(lambda: prediction_mode.answer("false"))
        self.skip.clicked.connect(prediction_mode.pass_over)
        prediction_mode.changed.connect(self.refresh)
        look.dresses(self._dress)

    def _dress(self) -> None:
        self.ask.setFont(ui_font(11, bold=True))
        self.refresh()

    def _answer(self) -> None:
        self._prediction_mode.answer(self.line.text())

    def refresh(self) -> None:
        """Shows what is asked, or what was said to the answer."""
        its, c = self._prediction_mode, self._look.colours
        pending = its.pending
        for widget in (self.line, self.say, self.skip):
            widget.setVisible(pending is not None)
        for widget in (self.true, self.false):
            widget.setVisible(pending is not None and pending.kind == "way")
        idle = tr("Step on; you are asked when there is something to say first.")
        self.ask.setText(pending.ask if pending is not None else "" if its.told else idle)
        self.told.setText(its.told or (tr("First say what you expect, or pass it over.") if its.is_held else ""))
        colour = c.ink if its.told and its.is_right else c.coral if its.told or its.is_held else c.ink_soft
        self.told.setStyleSheet(f"color: {colour};")
        if pending is not None and not its.is_held:
            self.line.clear()
            if self.isVisible():
                self.line.setFocus()
