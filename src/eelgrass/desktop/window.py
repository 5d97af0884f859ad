"""The reading window: puts the views together and forwards."""

from __future__ import annotations

from pathlib import Path

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QAction, QCloseEvent, QDragEnterEvent, QDropEvent, QKeySequence
from PyQt6.QtWidgets import (
    QFileDialog,
    QInputDialog,
    QLabel,
    QMainWindow,
    QMessageBox,
    QSplitter,
    QTabWidget,
    QVBoxLayout,
    QWidget,
)

from eelgrass.desktop import signs
from eelgrass.desktop.actions import ACTIONS, Action
from eelgrass.desktop.depths_view import DepthsView
from eelgrass.desktop.desk import Desk
from eelgrass.desktop.input_place import InputPlace
from eelgrass.desktop.line_view import LineView
from eelgrass.desktop.output_view import OutputView
from eelgrass.desktop.palette import LIGHT, Palette, style_sheet, ui_font
from eelgrass.desktop.reader import Reader
from eelgrass.desktop.strip import TopStrip
from eelgrass.desktop.text_view import TextView
from eelgrass.desktop.tide_view import TideView
from eelgrass.lessons.lesson import demo_lesson
from eelgrass.trace import files


class Window(QMainWindow):
    """Text, Depths, bench and tide line around one reader."""

    def __init__(self, colours: Palette = LIGHT) -> None:
        super().__init__()
        self._colours = colours
        self.reader = Reader()
        self.desk = Desk(self.reader)
        self.lesson = demo_lesson()
        self.actions_by_id = {action.id: self._make_action(action) for action in ACTIONS}
        self.strip = TopStrip(self.actions_by_id, self.lesson, colours)
        self.notice = self._make_notice()
        self.text = TextView(self.reader, colours)
        self.line = LineView(self.reader, colours)
        self.depths = DepthsView(self.reader, colours)
        self.output = OutputView(self.reader, colours)
        self.input_place = InputPlace(colours)
        self.tide = TideView(self.reader, colours)
        self.setWindowTitle("Eelgrass")
        self.setAcceptDrops(True)
        self.setStyleSheet(style_sheet(colours))
        self.setFont(ui_font())
        self._lay_out()
        self._connect()
        self.resize(1280, 800)
        self._show_state()

    # Putting together

    def _make_action(self, action: Action) -> QAction:
        made = QAction(action.title, self)
        made.setToolTip(f"{action.tip} ({', '.join(action.keys)})")
        made.setShortcuts([QKeySequence(key) for key in action.keys])
        if action.sign:
            made.setIcon(signs.icon(action.sign, self._colours.deep, self._colours.ink_faded))
        if action.is_move:
            made.triggered.connect(lambda: self.reader.move(action.call))
        else:
            made.triggered.connect(lambda: getattr(self, action.call)())
        self.addAction(made)
        return made

    def _make_notice(self) -> QLabel:
        notice = QLabel()
        notice.setWordWrap(True)
        notice.setTextInteractionFlags(Qt.TextInteractionFlag.TextSelectableByMouse)
        notice.setContentsMargins(16, 7, 16, 7)
        notice.setTextFormat(Qt.TextFormat.PlainText)
        notice.hide()
        return notice

    def _lay_out(self) -> None:
        bench = QTabWidget()
        bench.addTab(self.output, "Output")
        bench.setDocumentMode(True)
        below = QWidget()
        under_depths = QVBoxLayout(below)
        under_depths.setContentsMargins(0, 4, 0, 0)
        under_depths.setSpacing(0)
        under_depths.addWidget(bench, 1)
        under_depths.addWidget(self.input_place)
        right = _splitter(Qt.Orientation.Vertical, self.depths, below)
        right.setSizes([400, 210])
        left = _splitter(Qt.Orientation.Vertical, self.text, self.line)
        left.setSizes([470, 155])
        left.setStretchFactor(0, 1)
        middle = _splitter(Qt.Orientation.Horizontal, left, right)
        middle.setSizes([660, 620])
        whole = QWidget()
        layout = QVBoxLayout(whole)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.setSpacing(0)
        layout.addWidget(self.strip)
        layout.addWidget(self.notice)
        layout.addWidget(middle, 1)
        layout.addWidget(self.tide)
        self.setCentralWidget(whole)

    def _connect(self) -> None:
        self.strip.chosen.connect(self.desk.open_exercise)
        self.input_place.given.connect(self.desk.answer)
        self.input_place.ended.connect(self.desk.end_input)
        self.desk.notice.connect(self._show_notice)
        self.desk.changed.connect(self._show_state)
        self.desk.asked.connect(self._ask)
        self.desk.text_broken.connect(self.text.show_text)
        self.reader.moved.connect(self._show_place)

    # Following

    def _show_notice(self, sentence: str, is_trouble: bool) -> None:
        c = self._colours
        fill, edge = (c.coral_pale, c.coral) if is_trouble else (c.shallow, c.deep)
        self.notice.setStyleSheet(f"background: {fill}; color: {c.ink}; border-left: 5px solid {edge};")
        self.notice.setText(sentence)
        self.notice.setVisible(bool(sentence))

    def _show_state(self) -> None:
        exercise = self.desk.exercise
        self.strip.show_title(self.desk.title or "Eelgrass", exercise.task if exercise else "")
        running = self.desk.runner.is_running
        for name, usable in (
            ("run", self.desk.program is not None and not running),
            ("run_new", self.desk.program is not None and not running),
            ("run_draw", self.desk.program is not None and not running),
            ("stop", running),
            ("save", self.reader.recording is not None and not running),
        ):
            self.actions_by_id[name].setEnabled(usable)
        if not self.desk.is_waiting:
            self.input_place.hide()
        self._show_place()

    def _show_place(self) -> None:
        recording = self.reader.recording
        places = recording.places if recording else None
        for action in ACTIONS:
            if action.is_move:
                self.actions_by_id[action.id].setEnabled(places is not None)
        if recording is None:
            self.strip.show_place("running …" if self.desk.runner.is_running else "")
            return
        state = " · waiting" if self.desk.is_waiting else " · running" if self.desk.runner.is_running else ""
        self.strip.show_place(f"step {self.reader.step} of {len(recording.trace.steps) - 1}{state}")

    def _ask(self, prompt: str) -> None:
        self.input_place.ask(prompt, self.desk.title, len(self.desk.runner.typed))

    # Actions

    def show_waterline(self) -> None:
        """Scrolls the text back to the line about to run."""
        self.text.show_waterline()

    def show_working(self) -> None:
        """Shows or hides how the line works out."""
        self.line.setVisible(not self.line.isVisible())

    def ask_open(self) -> None:
        """Asks which program or recording to open."""
        kinds = "Programs and recordings (*.py *.eelrec);;All files (*)"
        name, _ = QFileDialog.getOpenFileName(self, "Open", "", kinds)
        if name:
            self.desk.open(Path(name))

    def ask_save(self) -> None:
        """Asks where to save the recording on view."""
        if self.reader.recording is None:
            return
        suggestion = Path(self.desk.title).with_suffix(".eelrec").name
        name, _ = QFileDialog.getSaveFileName(self, "Save the recording", suggestion, "Recordings (*.eelrec)")
        if name:
            self.save(Path(name))

    def save(self, path: Path) -> None:
        """Saves the recording on view; what went wrong is said in a notice."""
        assert self.reader.recording is not None
        try:
            files.save(self.reader.recording.trace, path)
            self._show_notice(f"The recording is saved as {path.name}.", False)
        except OSError as error:
            self._show_notice(f"The recording could not be saved as “{path}”: {error.strerror}.", True)

    def ask_step(self) -> None:
        """Asks for the number of the step to show."""
        if self.reader.recording is not None:
            last = len(self.reader.recording.trace.steps) - 1
            step, given = QInputDialog.getInt(self, "Go to step", f"Step, 0 to {last}:", self.reader.step, 0, last)
            if given:
                self.reader.go(step)

    def run_again(self) -> None:
        """Runs the program again, typing for the person what was typed before."""
        self.desk.run(list(self.desk.runner.typed))

    def run_anew(self) -> None:
        """Runs the program again, with input typed anew."""
        self.desk.run([])

    def run_draw(self) -> None:
        """Runs the program again with other random numbers."""
        self.desk.draw += 1
        self.run_again()

    def stop_run(self) -> None:
        """Stops the running program."""
        self.desk.runner.stop()

    def show_keys(self) -> None:
        """Shows every action with its keys."""
        rows = "".join(f"<tr><td>{', '.join(a.keys)}&nbsp;&nbsp;</td><td>{a.tip}</td></tr>" for a in ACTIONS)
        QMessageBox.information(self, "Keys", f"<table>{rows}</table>")

    # From outside

    def dragEnterEvent(self, event: QDragEnterEvent | None) -> None:
        data = event.mimeData() if event else None
        if event is not None and data is not None and data.hasUrls():
            event.acceptProposedAction()

    def dropEvent(self, event: QDropEvent | None) -> None:
        data = event.mimeData() if event else None
        paths = [Path(url.toLocalFile()) for url in data.urls() if url.isLocalFile()] if data else []
        if paths:
            self.desk.open(paths[0])

    def closeEvent(self, event: QCloseEvent | None) -> None:
        self.desk.runner.stop()
        super().closeEvent(event)


def _splitter(orientation: Qt.Orientation, *parts: QWidget) -> QSplitter:
    splitter = QSplitter(orientation)
    splitter.setHandleWidth(1)
    splitter.setChildrenCollapsible(False)
    for part in parts:
        splitter.addWidget(part)
    return splitter
