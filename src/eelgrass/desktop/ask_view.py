"""Ask: any expression at the shown moment, over the whole run, and kept in view."""

from __future__ import annotations

import threading
from itertools import islice

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtGui import QColor, QKeyEvent
from PyQt6.QtWidgets import QCompleter, QLabel, QLineEdit, QListWidget, QListWidgetItem, QVBoxLayout, QWidget

from eelgrass.desktop.palette import Palette, code_font, ui_font
from eelgrass.desktop.reader import Reader
from eelgrass.desktop.words import tr
from eelgrass.reading import ask
from eelgrass.reading.recording import Recording
from eelgrass.reading.state import frames_at

#: So many changes over the run are listed.
_MOST_CHANGES = 500


def summary(answers: list[ask.Answer], steps: int) -> str:
    """What a question's answers over the run come to, in words."""
    true = [answer for answer in answers if answer.is_true]
    if not answers:
        return tr("Its names are never there together in this run.")
    if all(answer.text in ("True", "False") for answer in answers if answer.known):
        if not true:
            return tr("It is never true in this run.")
        return tr("It becomes true {0} times, first at step {1} of {2}.").format(len(true), true[0].step, steps - 1)
    return tr("It takes {0} values one after the other.").format(len(answers))


class AskView(QWidget):
    """Enter asks; the question then stays in view with its answer at each shown step, until Delete takes it away. Of
    the chosen question, every change over the run is listed; a click on one leads there."""

    _answered = pyqtSignal(object, object, object)

    def __init__(self, reader: Reader, colours: Palette) -> None:
        super().__init__()
        self._reader = reader
        self._colours = colours
        self.line = QLineEdit()
        self.line.setFont(code_font(10))
        self.line.setPlaceholderText(tr("an expression, as: len(levels) > 3"))
        self.line.setAccessibleName(tr("Ask: an expression"))
        self.said = QLabel()
        self.said.setFont(ui_font(9))
        self.said.setWordWrap(True)
        self.said.setTextFormat(Qt.TextFormat.PlainText)
        self.kept, self.changes = QListWidget(), QListWidget()
        for its, name in ((self.kept, tr("Questions kept in view")), (self.changes, tr("Every change over the run"))):
            its.setFont(code_font(9.5))
            its.setFrameShape(its.Shape.NoFrame)
            its.setAccessibleName(name)
            its.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
            its.setStyleSheet(f"background: {colours.foam}; color: {colours.ink};")
        layout = QVBoxLayout(self)
        layout.setContentsMargins(8, 6, 8, 4)
        layout.setSpacing(4)
        for widget, stretch in ((self.line, 0), (self.kept, 1), (self.said, 0), (self.changes, 1)):
            layout.addWidget(widget, stretch)
        self.line.returnPressed.connect(self._ask)
        self.kept.currentRowChanged.connect(self._ask_over)
        self.changes.itemClicked.connect(lambda item: reader.go(item.data(Qt.ItemDataRole.UserRole)))
        self._answered.connect(self._show_changes)
        reader.moved.connect(self.refresh)
        reader.opened.connect(self._ask_over)

    def _ask(self) -> None:
        try:
            asked = ask.question(self.line.text())
        except ask.QuestionError as error:
            self.said.setText(str(error))
            self.said.setStyleSheet(f"color: {self._colours.coral};")
            self.line.setCursorPosition(error.column)
            return
        self.line.clear()
        self._reader.questions = [asked, *(other for other in self._reader.questions if other.text != asked.text)]
        self.refresh()
        self.kept.setCurrentRow(0)
        self._ask_over()

    def refresh(self) -> None:
        """Answers every question that is kept, at the shown step."""
        recording, step = self._reader.recording, self._reader.step
        if recording is None or not self.isVisible():
            return
        scopes = frames_at(recording.trace, step)[-1].scopes
        names = sorted({binding.name for scope in scopes for binding in scope.bindings})
        self.line.setCompleter(QCompleter(names, self.line))
        row = self.kept.currentRow()
        self.kept.blockSignals(True)
        self.kept.clear()
        for asked in self._reader.questions:
            answer = ask.at(recording, asked, recording.places.frame_of(step), step)
            word = f"   ({answer.type_word})" if answer.type_word else ""
            item = QListWidgetItem(f"{asked.text}  {'=' if answer.known else '–'}  {answer.text}{word}")
            if not answer.known:
                item.setForeground(QColor(self._colours.ink_soft))
            self.kept.addItem(item)
        self.kept.setCurrentRow(min(max(row, 0), self.kept.count() - 1))
        self.kept.blockSignals(False)

    def showEvent(self, event: object) -> None:
        super().showEvent(event)  # type: ignore[arg-type]
        self.refresh()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Delete takes the chosen question away."""
        row = self.kept.currentRow()
        if event is not None and event.key() == Qt.Key.Key_Delete and 0 <= row < len(self._reader.questions):
            del self._reader.questions[row]
            self.refresh()
            self._ask_over()

    # Over the run

    def _ask_over(self) -> None:
        """Asks the chosen question of the whole run, on a thread of its own."""
        recording, row = self._reader.recording, self.kept.currentRow()
        self.changes.clear()
        self.said.setStyleSheet(f"color: {self._colours.ink_soft};")
        if recording is None or not 0 <= row < len(self._reader.questions):
            self.said.setText("")
            return
        self.said.setText(tr("Looking through the run …"))
        asked = self._reader.questions[row]
        threading.Thread(target=self._look, args=(recording, asked), name="eelgrass-ask", daemon=True).start()

    def _look(self, recording: Recording, asked: ask.Question) -> None:
        self._answered.emit(recording, asked, list(islice(ask.over(recording, asked), _MOST_CHANGES)))

    def _show_changes(self, recording: Recording, asked: ask.Question, answers: list[ask.Answer]) -> None:
        row = self.kept.currentRow()
        chosen = self._reader.questions[row] if 0 <= row < len(self._reader.questions) else None
        if recording is not self._reader.recording or asked is not chosen:
            return  # something else has been asked meanwhile
        self.said.setText(summary(answers, len(recording.trace.steps)))
        self.changes.clear()
        for answer in answers:
            name = recording.trace.function_of_frame(answer.frame).name
            where = "" if name == "<module>" else f" in {name}"
            place = tr("step {0}, line {1}").format(answer.step, recording.trace.line_of(answer.step))
            item = QListWidgetItem(f"{place}{where}:  {answer.text}")
            item.setData(Qt.ItemDataRole.UserRole, answer.step)
            self.changes.addItem(item)
