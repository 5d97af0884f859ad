"""Ask: any expression at the shown moment, over the whole run, and kept in view."""

from __future__ import annotations

from PyQt6.QtCore import QEvent, QObject, QPoint, QStringListModel, Qt, QTimer, pyqtSignal
from PyQt6.QtGui import QColor, QKeyEvent
from PyQt6.QtWidgets import (
    QComboBox,
    QCompleter,
    QHBoxLayout,
    QListWidgetItem,
    QPushButton,
    QVBoxLayout,
    QWidget,
)

from eelgrass.desktop.look.look import Look
from eelgrass.desktop.look.widgets import CodeLine, PlainList, SoftLabel, offer_trail, thin_progress
from eelgrass.desktop.services.background import PATIENCE_MS
from eelgrass.desktop.services.translation import tr
from eelgrass.desktop.session.questions.watch_list import WatchList
from eelgrass.desktop.session.session import Session
from eelgrass.desktop.tabs.watch_delegate import COURSE, PLACE, WatchDelegate
from eelgrass.reading.expressions import safe_builtins
from eelgrass.reading.expressions.expression import Expression, ExpressionError, parse_expression
from eelgrass.reading.recording import Recording
from eelgrass.reading.state.call_stack import scopes_at, stack_at
from eelgrass.reading.state.function_words import function_words
from eelgrass.reading.watches import watch
from eelgrass.reading.watches.identity import asks_of_identity, identity

#: So many changes over the run are listed.
_MOST_CHANGES = 500
#: So many of the innermost calls can be asked from.
_MOST_FRAMES = 30


def summary(over: watch.WatchHistory, asked: Expression, recording: Recording) -> str:
    """What a question's answers over the run come to, in words."""
    steps = len(recording.trace.steps)
    true = over.true
    cut = "" if over.is_whole else tr(" Only the first {0:,} moments were looked at.").format(over.moments)
    if not len(over):
        known = {name for function in recording.trace.program.functions for name in function.local}
        strange = [name for name in asked.names if name not in known and name not in safe_builtins.FUNCTIONS]
        if strange:
            return tr("Nothing is called {0} in this program.").format(f"“{strange[0]}”") + cut
        return tr("In this run it has no value at any step: its names are not there, or not at the same time.") + cut
    if over.is_yes_or_no:
        if not len(true):
            return tr("It is never true in this run.") + cut
        first, last = int(over.steps[true[0]]), int(over.steps[true[-1]])
        if len(true) == 1:
            return tr("It becomes true once, at step {0} of {1}.").format(first, steps - 1) + cut
        told = tr("It becomes true {0} times, first at step {1}, last at step {2} of {3}.")
        return told.format(len(true), first, last, steps - 1) + cut
    distinct = len(set(over.which.tolist()))
    if distinct == 1:
        return tr("It has one value throughout.") + cut
    return tr("It changes {0:,} times and has {1:,} different values.").format(len(over), distinct) + cut


def scopes_of(over: watch.WatchHistory, recording: Recording) -> dict[int, str]:
    """Where a question was asked over the run, by the function's number, in words."""
    numbers = dict.fromkeys(recording.trace.frames.function[over.frames].tolist())
    names = {number: recording.trace.program.functions[number].name for number in numbers}
    return {number: tr("the module") if name == "<module>" else function_words(name) for number, name in names.items()}


class WatchView(QWidget):
    """Enter asks; the question then stays in view with its answer at each shown step, until Delete takes it away. Of
    the chosen question, every change over the run is listed; a click on one leads there.

    Signals: `claimed` and `stopped` with a question that is to become a claim or a breakpoint; `asked_aside` with one
    that is to be answered by a side run, and the frame that it is asked from; `traced` with one whose trail is
    wanted."""

    claimed = pyqtSignal(str)
    stopped = pyqtSignal(str)
    asked_aside = pyqtSignal(str, int)
    traced = pyqtSignal(str)

    def __init__(self, session: Session, watches: WatchList, look: Look) -> None:
        super().__init__()
        self._session = session
        self._watches = watches
        self._look = look
        self.line = CodeLine(look)
        self.line.setPlaceholderText(tr("an expression, as: len(levels) > 3"))
        self.line.setAccessibleName(tr("Ask: an expression"))
        self.line.installEventFilter(self)
        self.frames = QComboBox()
        self.frames.setAccessibleName(tr("The call that is asked from"))
        self.scope = QComboBox()
        self.scope.setAccessibleName(tr("The scope whose answers over the run are listed"))
        self._names = QStringListModel()
        self.line.setCompleter(QCompleter(self._names, self.line))
        self._back = 0  # how far back in what was asked before the line is
        self.said = SoftLabel(look, 9)
        self.said.setWordWrap(True)
        self.progress = thin_progress()
        self.claim, self.stop, self.aside, self.enough = (
            QPushButton(tr(text)) for text in ("Claim it", "Stop when true", "Side run", "Enough")
        )
        self.aside.setToolTip(tr("Runs the program again to this step, apart from the recording, and asks there"))
        self.kept = PlainList(tr("Questions kept in view"), look, is_code=True)
        self.changes = PlainList(tr("Every change over the run"), look, is_code=True)
        self._delegate = WatchDelegate(look)
        self.kept.setItemDelegate(self._delegate)
        self._patience = QTimer(self)  # how far a question is, is worth telling only when it takes a while
        self._patience.setSingleShot(True)
        self._patience.setInterval(PATIENCE_MS)
        self._patience.timeout.connect(lambda: self._show_seeking(True))
        self._lay_out()
        self._connect()
        self._show_chosen()

    def _lay_out(self) -> None:
        above = QHBoxLayout()
        above.addWidget(self.frames)
        above.addWidget(self.line, 1)
        for button in (self.stop, self.claim, self.aside):
            above.addWidget(button)
        between = QHBoxLayout()
        between.addWidget(self.said, 1)
        between.addWidget(self.scope)
        between.addWidget(self.progress)
        between.addWidget(self.enough)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(8, 6, 8, 4)
        layout.setSpacing(4)
        layout.addLayout(above)
        layout.addWidget(self.kept, 3)
        layout.addLayout(between)
        layout.addWidget(self.changes, 2)
        self._show_seeking(False)

    def _connect(self) -> None:
        session, watches = self._session, self._watches
        self.line.returnPressed.connect(self._ask)
        self.kept.currentRowChanged.connect(lambda _row: self._show_chosen())
        self.changes.itemClicked.connect(lambda item: session.go(item.data(Qt.ItemDataRole.UserRole)))
        self.aside.clicked.connect(self._ask_aside)
        for button, signal in ((self.claim, self.claimed), (self.stop, self.stopped)):
            button.clicked.connect(lambda _checked, signal=signal: self._chosen and signal.emit(self._chosen.text))
        self.frames.currentIndexChanged.connect(lambda _row: self._take_answers())
        self.scope.currentIndexChanged.connect(lambda _row: self._show_chosen())
        self.enough.clicked.connect(watches.give_up)
        self.kept.setContextMenuPolicy(Qt.ContextMenuPolicy.CustomContextMenu)
        self.kept.customContextMenuRequested.connect(self._offer_trail)
        watches.lane.progressed.connect(self._tell)
        session.moved.connect(self.refresh)
        watches.answered.connect(self._take_answers)
        self._look.changed.connect(self.refresh)

    def _offer_trail(self, at: QPoint) -> None:
        row = self.kept.row(self.kept.itemAt(at))
        if 0 <= row < len(self._watches.expressions):
            text = self._watches.expressions[row].text
            offer_trail(self, self.kept.mapToGlobal(at), lambda: self.traced.emit(text))

    @property
    def _chosen(self) -> Expression | None:
        row = self.kept.currentRow()
        return self._watches.expressions[row] if 0 <= row < len(self._watches.expressions) else None

    def _ask(self) -> None:
        try:
            asked = parse_expression(self.line.text())
        except ExpressionError as error:
            self.say(str(error), is_trouble=True)
            self.line.setCursorPosition(error.column)
            return
        self.line.clear()
        self._back = 0
        self.kept.setCurrentRow(0)
        self._watches.ask(asked)

    def _ask_aside(self) -> None:
        if self._chosen is not None:
            self.asked_aside.emit(self._chosen.text, self.frame)

    def eventFilter(self, watched: QObject | None, event: QEvent | None) -> bool:
        """Up and Down in the line bring back what was asked before."""
        if watched is self.line and isinstance(event, QKeyEvent) and event.type() == QEvent.Type.KeyPress:
            by = {Qt.Key.Key_Up: 1, Qt.Key.Key_Down: -1}.get(Qt.Key(event.key()), 0)
            asked = self._watches.asked
            if by and asked and not self._is_completing():
                self._back = min(max(self._back + by, 0), len(asked))
                self.line.setText(asked[-self._back] if self._back else "")
                return True
        return super().eventFilter(watched, event)

    @property
    def frame(self) -> int:
        """The call frame that questions are asked from: the innermost one, or another that was chosen."""
        recording = self._session.recording
        chosen = self.frames.currentData()
        return chosen if chosen is not None or recording is None else recording.stepping.frame_of(self._session.step)

    def _show_frames(self) -> None:
        """Offers the calls on the stack, the innermost first; the one that was chosen stays so while it is there."""
        recording, step = self._session.recording, self._session.step
        assert recording is not None
        stack = [frame for frame, _ in reversed(stack_at(recording.trace, step))]
        shown = stack[:_MOST_FRAMES] + stack[-1:] * (len(stack) > _MOST_FRAMES)
        chosen = self.frames.currentData() if self.frames.currentIndex() > 0 else None
        self.frames.blockSignals(True)
        self.frames.clear()
        for frame in shown:
            name = function_words(recording.trace.function_of_frame(frame).name)
            self.frames.addItem(tr("in {0}").format(name), frame)
        self.frames.setCurrentIndex(max(self.frames.findData(chosen), 0) if chosen is not None else 0)
        self.frames.blockSignals(False)

    def _is_completing(self) -> bool:
        completer = self.line.completer()
        popup = completer.popup() if completer else None
        return popup is not None and popup.isVisible()

    def say(self, sentence: str, is_trouble: bool = False) -> None:
        """Says something about the chosen question."""
        colour = self._look.colours.coral if is_trouble else self._look.colours.ink_soft
        self.said.setStyleSheet(f"color: {colour};")
        self.said.setText(sentence)

    def refresh(self) -> None:
        """Answers every question that is kept, at the shown step."""
        recording, step = self._session.recording, self._session.step
        if recording is None or not self.isVisible():
            return
        self._show_frames()
        frame = self.frame
        scopes = scopes_at(recording.trace, frame, step)
        self._names.setStringList(sorted({binding.name for scope in scopes for binding in scope.bindings}))
        row = self.kept.currentRow()
        self.kept.blockSignals(True)
        self.kept.clear()
        for asked in self._watches.expressions:
            answer = watch.at(recording, asked, frame, step)
            word = f"   ({answer.type_word})" if answer.type_word else ""
            item = QListWidgetItem(f"{asked.text}  {'=' if answer.known else '–'}  {answer.text}{word}")
            if not answer.known:
                item.setForeground(QColor(self._look.colours.ink_soft))
            series = self._session.visible.series(self._watches.series.get(asked.text))
            if series is not None:
                item.setData(COURSE, series)
                item.setData(PLACE, step / max(len(recording.trace.steps), 1))
            self.kept.addItem(item)
        self.kept.setCurrentRow(min(max(row, 0), self.kept.count() - 1))
        self.kept.blockSignals(False)

    def showEvent(self, event: object) -> None:
        super().showEvent(event)  # type: ignore[arg-type]
        self._take_answers()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Delete takes the chosen question away."""
        chosen = self._chosen
        if event is not None and event.key() == Qt.Key.Key_Delete and chosen is not None:
            self._watches.forget(chosen)

    # Over the run

    def _take_answers(self) -> None:
        self.refresh()
        self._show_chosen()

    def _tell(self, share: float) -> None:
        self.progress.setValue(int(share * 100))

    def _sameness(self, asked: Expression) -> str:
        """For a question whether two names hold the same: what is to be said of that."""
        recording, names = self._session.recording, asks_of_identity(asked)
        if recording is None or names is None:
            return ""
        step = self._session.step
        return identity(recording, self.frame, *names, step)

    def _show_seeking(self, is_seeking: bool) -> None:
        self.progress.setVisible(is_seeking)
        self.enough.setVisible(is_seeking)

    def _offer_scopes(self, scopes: dict[int, str]) -> None:
        """Lets one choose among the scopes whose names the question can mean, where there are several."""
        chosen = self.scope.currentData()
        self.scope.blockSignals(True)
        self.scope.clear()
        self.scope.addItem(tr("everywhere: {0}").format(", ".join(scopes.values())))
        for number, name in scopes.items():
            self.scope.addItem(tr("only in {0}").format(name), number)
        self.scope.setCurrentIndex(max(self.scope.findData(chosen), 0) if chosen is not None else 0)
        self.scope.blockSignals(False)
        self.scope.setVisible(len(scopes) > 1)

    def _show_chosen(self) -> None:
        """Lists every change of the chosen question, as far as they are known."""
        chosen, recording = self._chosen, self._session.recording
        for button in (self.claim, self.stop, self.aside):
            button.setEnabled(chosen is not None and recording is not None)
        self.changes.clear()
        history = self._watches.histories.get(chosen.text) if chosen else None
        if self._watches.lane.is_busy and history is None:
            self._patience.start()
        else:
            self._patience.stop()
            self._show_seeking(False)
        if chosen is None or recording is None or history is None:
            self._offer_scopes({})
            self.say(tr("Looking through the run …") if chosen and self._watches.lane.is_busy else "")
            return
        scopes = scopes_of(history, recording)
        self._offer_scopes(scopes)
        if self.scope.currentData() is not None:
            history = history.narrowed(recording.trace.frames.function, self.scope.currentData())
        whole = summary(history, chosen, recording) if self._session.visible.is_whole else ""
        self.say(f"{self._sameness(chosen)} {whole}".strip())
        in_module = tr(" in the module") if len(scopes) > 1 else ""
        for answer in self._session.visible.changes(history, _MOST_CHANGES):
            name = recording.trace.function_of_frame(answer.frame).name
            where = in_module if name == "<module>" else tr(" in {0}").format(function_words(name))
            told = tr("step {0}, line {1}").format(answer.step, recording.trace.line_of(answer.step))
            item = QListWidgetItem(f"{told}{where}:  {answer.text}")
            item.setData(Qt.ItemDataRole.UserRole, answer.step)
            self.changes.addItem(item)
