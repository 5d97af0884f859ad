"""The reading window: puts the views together and forwards."""

from __future__ import annotations

from dataclasses import replace
from pathlib import Path

from PyQt6.QtCore import QByteArray, Qt, QTimer
from PyQt6.QtGui import QAction, QCloseEvent, QDragEnterEvent, QDropEvent
from PyQt6.QtWidgets import (
    QApplication,
    QMainWindow,
    QSplitter,
    QStackedWidget,
    QVBoxLayout,
    QWidget,
)

from eelgrass.desktop.activities.authoring import Authoring
from eelgrass.desktop.activities.navigator import Navigator
from eelgrass.desktop.activities.prediction_mode import PredictionMode, PredictionView
from eelgrass.desktop.activities.route import Route, RouteView
from eelgrass.desktop.activities.solving import Solving
from eelgrass.desktop.call_stack.stack_view import StackView
from eelgrass.desktop.commands.action_table import ACTIONS, Action
from eelgrass.desktop.commands.commands import Commands
from eelgrass.desktop.commands.shortcuts import Shortcuts
from eelgrass.desktop.exercise.authoring_view import AuthoringView
from eelgrass.desktop.exercise.solving_view import SolvingView
from eelgrass.desktop.look import icons
from eelgrass.desktop.look.palette import CODE_POINTS, LIGHT, LOOKS, qt_palette, set_scale, style_sheet, ui_font
from eelgrass.desktop.services import settings
from eelgrass.desktop.services.translation import tr
from eelgrass.desktop.session.player import Player
from eelgrass.desktop.session.session import Session
from eelgrass.desktop.session.side_runs import SideRuns
from eelgrass.desktop.session.standing import standing
from eelgrass.desktop.source.diagnostics_view import DiagnosticsView
from eelgrass.desktop.source.iterations_view import IterationsView
from eelgrass.desktop.source.source_view import SourceView
from eelgrass.desktop.source.statement_view import StatementView
from eelgrass.desktop.tabs.breakpoints_view import BreakpointsView
from eelgrass.desktop.tabs.exceptions_view import ExceptionsView
from eelgrass.desktop.tabs.history_view import HistoryView
from eelgrass.desktop.tabs.log_view import LogView
from eelgrass.desktop.tabs.output_view import OutputView
from eelgrass.desktop.tabs.pictures_view import PicturesView
from eelgrass.desktop.tabs.table_view import TableView
from eelgrass.desktop.tabs.watch_view import WatchView
from eelgrass.desktop.timeline.timeline_view import TimelineView
from eelgrass.desktop.window.input_line import InputLine
from eelgrass.desktop.window.notice_bar import NoticeBar
from eelgrass.desktop.window.tab_pane import TabPane
from eelgrass.desktop.window.top_bar import TopBar
from eelgrass.desktop.workspace.workspace import Workspace
from eelgrass.lessons.demo_lesson import demo_lesson
from eelgrass.runs.source_text import diagnostics

_PAUSE_MS = 250
_MOST_FORMATS = 200


class MainWindow(QMainWindow):
    """Text, Depths, bench and tide line around one reader. Another look or size builds the views anew; what is shown
    and opened is the reader's and stays."""

    def __init__(self) -> None:
        super().__init__()
        self.settings = settings.load()
        self.is_presenting = self.is_tall = self.shows_passes = False
        self.session = Session()
        self.session.formats = dict(told.split("=", 1) for told in self.settings.formats if "=" in told)
        self.workspace = Workspace(self.session)
        self.navigator = Navigator(self.session, self.workspace)
        self.solving = Solving(self.session, self.workspace, self.navigator)
        self.making = Authoring(self.session, self.workspace, self.navigator)
        self.guiding = Route(self.workspace, self.navigator)
        self.prediction_mode = PredictionMode(self.session, self.guiding.points)
        self.prediction_mode.answered.connect(self.solving.keep_said)
        self.side_runs = SideRuns(self.session)
        self.player = Player(self.session, self.settings.speed)
        self.lesson = demo_lesson()
        self.commands = Commands(self)
        self.actions_by_id = {action.id: self._make_action(action) for action in ACTIONS}
        self.shortcuts = Shortcuts(self.actions_by_id, self.settings.keys)
        self.setWindowTitle("Eelgrass")
        self.setAcceptDrops(True)
        self.resize(1280, 800)
        self._remarking = QTimer(self)  # a text is not judged while it is being typed
        self._remarking.setSingleShot(True)
        self._remarking.setInterval(_PAUSE_MS)
        self._remarking.timeout.connect(self.remark)
        self._build()
        self._connect()
        self.restoreGeometry(QByteArray.fromHex(self.settings.geometry.encode()))

    # Putting together

    def _make_action(self, action: Action) -> QAction:
        made = QAction(tr(action.title), self)
        if action.is_move:
            made.triggered.connect(lambda: self.session.move(action.id))
        else:
            made.triggered.connect(lambda: getattr(self.commands, action.call)())
        self.addAction(made)
        return made

    def _build(self) -> None:
        """Makes all views, in the look and size of the settings."""
        colours = LOOKS.get(self.settings.look, LIGHT)
        set_scale((self.settings.present_points if self.is_presenting else self.settings.points) / CODE_POINTS)
        QApplication.setPalette(qt_palette(colours))
        QApplication.setFont(ui_font())
        self.colours = colours
        self.setStyleSheet(style_sheet(colours))
        self.setFont(ui_font())
        for action in ACTIONS:
            if action.sign:
                self.actions_by_id[action.id].setIcon(icons.icon(action.sign, colours.deep, colours.ink_faded))
        self.strip = TopBar(self.actions_by_id, self.lesson, colours, self.is_presenting)
        self.notice = NoticeBar(colours)
        self.text = SourceView(self.session, colours)
        self.text.gutter.hides_rest = self.prediction_mode.is_on
        self.text.takes_line = self.prediction_mode.take_line
        self.line = StatementView(self.session, colours)
        self.depths = StackView(self.session, colours)
        self.depths.setVisible(not self.is_tall)
        self.output = OutputView(self.session, colours)
        self.ask = WatchView(self.session, colours)
        self.breakpoints = BreakpointsView(self.session, colours)
        self.notes = LogView(self.session, colours)
        self.exceptions = ExceptionsView(self.session, colours)
        self.diagnostics = DiagnosticsView(colours)
        self.input_place = InputLine(colours)
        self.timeline = TimelineView(self.session, colours)
        self.table = TableView(self.session, colours, lambda: self.timeline.stretch)
        self.exercise = SolvingView(self.solving, self.workspace, colours)
        self.authoring_view = AuthoringView(self.making, colours)
        self.pictures = PicturesView(self.session, colours)
        self.history = HistoryView(self.session, colours, lambda: self.timeline.stretch)
        self.passes = IterationsView(self.session, self.text, colours)
        self._lay_out()
        self.ask.claimed.connect(self.commands.claim)
        self.ask.stopped.connect(self.commands.stop_when)
        self.ask.asked_aside.connect(self.side_runs.ask)
        self.side_runs.said.connect(self.ask.say)
        self.exercise.mark.clicked.connect(self.commands.mark_line)
        self.exercise.save.clicked.connect(self.commands.ask_save_answer)
        self.authoring_view.error.mark.clicked.connect(self.commands.mark_line)
        self.authoring_view.hand_out.clicked.connect(self.commands.ask_hand_out)
        self.pictures.saving.connect(self.commands.ask_save_picture)
        self.table.checked.connect(self.solving.keep_desk_check)
        self.table.saving.connect(self.commands.ask_save_table)
        self.timeline.looked.connect(self.table.refresh)
        self.timeline.looked.connect(self.history.refresh)
        self.depths.watched.connect(self.commands.look_at)
        self.diagnostics.chosen.connect(self.text.editor.put_caret)
        self.text.written.connect(self.workspace.write)
        self.text.editing.connect(self.shortcuts.write)
        self.strip.chosen.connect(self.workspace.open_exercise)
        self.strip.picked.connect(self.workspace.open)
        self.strip.case_chosen.connect(self.workspace.choose_case)
        self.input_place.given.connect(self.workspace.answer)
        self.input_place.ended.connect(self.workspace.end_input)
        self._show_state()

    def _lay_out(self) -> None:
        self.bench = bench = TabPane(
            {
                "Make": self.authoring_view,
                "Exercise": self.exercise,
                "Output": self.output,
                "Trace table": self.table,
                "Ask": self.ask,
                "History": self.history,
                "Pictures": self.pictures,
                "Breakpoints": self.breakpoints,
                "Notes": self.notes,
                "Exceptions": self.exceptions,
                "Text": self.diagnostics,
            },
            first="Output",
        )
        bench.offer(self.diagnostics, False)
        below = QWidget()
        under_depths = QVBoxLayout(below)
        under_depths.setContentsMargins(0, 4, 0, 0)
        under_depths.setSpacing(0)
        under_depths.addWidget(bench, 1)
        under_depths.addWidget(self.input_place)
        right = _splitter(Qt.Orientation.Vertical, self.depths, below)
        self.predict = PredictionView(self.prediction_mode, self.colours)
        self.route = RouteView(self.guiding, self.colours)
        self.below_text = below_text = QStackedWidget()
        for view in (self.line, self.predict, self.route):
            below_text.addWidget(view)
        self._choose_below()
        left = _splitter(Qt.Orientation.Vertical, self.text, below_text)
        left.setStretchFactor(0, 1)
        self.side = QStackedWidget()  # the passes stand in the place of Depths and bench, level with the text
        self.side.addWidget(right)
        self.side.addWidget(self.passes)
        self.side.setCurrentIndex(int(self.shows_passes))
        middle = _splitter(Qt.Orientation.Horizontal, left, self.side)
        for splitter, sizes in zip((middle, right, left), self._sizes(), strict=True):
            splitter.setSizes(sizes)
        self._splitters = (middle, right, left)
        whole = QWidget()
        layout = QVBoxLayout(whole)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.setSpacing(0)
        layout.addWidget(self.strip)
        layout.addWidget(self.notice)
        layout.addWidget(middle, 1)
        layout.addWidget(self.timeline)
        self.setCentralWidget(whole)  # which takes the one before away

    def _choose_below(self) -> None:
        """Below the text stands how the line works out, what is to be said first, or what is said at a stop."""
        on, guided = self.prediction_mode.is_on, self.guiding.is_on
        self.below_text.setCurrentWidget(self.predict if on else self.route if guided else self.line)
        self.below_text.setVisible(self.settings.working or on or guided)

    def _sizes(self) -> tuple[list[int], list[int], list[int]]:
        """How the room is shared out between text and the right side, Depths and bench, text and this line."""
        try:
            kept = [int(size) for size in self.settings.parts]
        except ValueError:
            kept = []
        if self.is_presenting or len(kept) != 6:
            kept = [720 if self.is_presenting else 660, 600, 355, 255, 470, 155]
        return kept[:2], kept[2:4], kept[4:]

    def _connect(self) -> None:
        self.workspace.notice.connect(self.show_notice)
        self.workspace.changed.connect(self._show_state)
        self.workspace.asked.connect(self._ask)
        self.workspace.text_broken.connect(lambda text, line: self.text.show_text(text, line))
        self.workspace.changed.connect(self.remark)
        self.session.edited.connect(self._remarking.start)
        self.session.edited.connect(self._show_state)
        self.session.opened.connect(self._show_state)
        self.session.moved.connect(self._show_place)
        self.session.marked.connect(self._show_tabs)
        self.prediction_mode.changed.connect(self._show_tabs)
        self.guiding.changed.connect(self._choose_below)
        self.guiding.changed.connect(self._show_way)
        self.navigator.arrived.connect(self.commands.show_spot)
        for changed in (self.making.changed, self.solving.changed, self.guiding.changed, self.session.opened):
            changed.connect(self._show_signs)
        self.player.changed.connect(self._show_place)

    def keep_keys(self) -> None:
        """Keeps the keys as they were chosen."""
        self.settings = replace(self.settings, keys=self.shortcuts.kept)
        settings.save(replace(self.settings, recent=settings.load().recent))

    # Looks and sizes

    def change_settings(self, changed: settings.Settings) -> None:
        """Takes other settings, and keeps them."""
        self.settings = changed
        settings.save(replace(changed, recent=settings.load().recent))
        self._rebuild()

    def set_tall(self, on: bool) -> None:
        """Gives the bench all the room on the right; Depths comes back after."""
        self.is_tall = on
        self.depths.setVisible(not on)

    def set_passes(self, on: bool) -> None:
        """Shows passes side by side instead of Depths and bench, or these again."""
        self.shows_passes = on
        self.side.setCurrentIndex(int(on))

    def predict_first(self, on: bool) -> None:
        """Lets the student say first what comes next, and hides it until then; and back."""
        self.prediction_mode.set_on(on)
        self.show_notice("", False)
        self._rebuild()

    def present(self, on: bool) -> None:
        """Large type and only what a class needs to see; and back."""
        self.is_presenting = on
        self._rebuild()

    def _rebuild(self) -> None:
        """Builds the views anew, and shows in them what was shown before."""
        told = self.notice.told
        tab = self.bench.currentIndex()
        self._build()
        self.bench.setCurrentIndex(tab)
        self.shortcuts.write(False)  # writing ends with the view in which it was done
        self.show_notice(*told)
        for view in (self.text, self.timeline, self.depths, self.output, self.line, self.exceptions, self.breakpoints):
            view.refresh()
        self.remark()
        self._show_signs()
        if self.workspace.is_waiting:
            self._ask(self.workspace.prompt)

    # Following

    def remark(self) -> None:
        """Says what is wrong, or looks wrong, with the program's text."""
        recording, file = self.session.recording, self.workspace.text_file
        modules = recording.trace.program.modules if recording else []
        recorded = next((module.source for module in modules if module.file == file), None)
        text = self.session.texts.get(file, recorded if recorded is not None else self.text.editor.text())
        found = diagnostics(text) if self.workspace.program is not None else []
        self.diagnostics.show_remarks(found)
        self.text.show_remarks(found if text == self.text.editor.text() else [])
        self.bench.offer(self.diagnostics, bool(found))
        if any(remark.is_error for remark in found):
            self.bench.setCurrentWidget(self.diagnostics)

    def show_notice(self, sentence: str, is_trouble: bool) -> None:
        """Shows a sentence for the person, or takes it away when it is ''."""
        self.notice.tell(sentence, is_trouble)

    def _show_state(self) -> None:
        exercise = self.workspace.exercise
        self.strip.show_title(self.workspace.title or "Eelgrass", exercise.task if exercise else "")
        self.strip.show_cases(self.workspace.all_cases, self.workspace.case)
        running = self.workspace.runner.is_running
        self.actions_by_id["drop_case"].setEnabled(self.workspace.case in self.workspace.cases)
        for name in ("run", "run_new", "run_draw", "case", "call", "keep_case", "library"):
            self.actions_by_id[name].setEnabled(self.workspace.program is not None and not running)
        for action in ACTIONS:
            if action.is_move:
                self.actions_by_id[action.id].setEnabled(self.session.recording is not None)
        self._show_tabs()
        self._show_way()
        self.actions_by_id["run"].setText(tr("Run the new text") if self.session.is_stale else tr("Run again"))
        self.actions_by_id["edit"].setEnabled(self.workspace.program is not None and self.workspace.is_whole)
        self.bench.offer(self.exercise, exercise is not None and not self.workspace.makes)
        self.bench.offer(self.authoring_view, self.workspace.makes)
        self.actions_by_id["stop"].setEnabled(running)
        self.actions_by_id["save"].setEnabled(self.session.recording is not None and not running)
        if not self.workspace.is_waiting:
            self.input_place.hide()
        self._show_place()

    def _show_way(self) -> None:
        making = tr("Make") if self.workspace.makes else tr("Explore")
        guided = tr("The route") if self.guiding.is_on else making
        self.strip.show_way(tr("Say it first") if self.prediction_mode.is_on else guided)

    def _show_signs(self) -> None:
        """Shows in the margin what is marked as faulty, and what is planned."""
        its = self.making if self.workspace.makes else self.solving
        self.text.show_signs(its.faulty_lines, its.planned)
        shows_plan = self.workspace.makes or self.guiding.is_on
        self.timeline.show_planned(self.guiding.signs(with_points=self.workspace.makes) if shows_plan else [])

    def _show_tabs(self) -> None:
        """Shows the tabs that there is something to see in."""
        has_notes = any(its.note for its in self.session.breakpoints)
        self.bench.offer(self.notes, has_notes)
        ways = self.session.recording.exceptions if self.session.recording else []
        has_ways = any(not self.session.is_hidden(way.stations[-1].step) for way in ways)
        self.bench.offer(self.exceptions, has_ways)

    def _show_place(self) -> None:
        self.strip.show_place(standing(self.session, self.workspace, self.player))

    def _ask(self, prompt: str) -> None:
        self.input_place.ask(prompt, self.workspace.title, len(self.workspace.runner.typed))

    # From outside

    def dragEnterEvent(self, event: QDragEnterEvent | None) -> None:
        data = event.mimeData() if event else None
        if event is not None and data is not None and data.hasUrls():
            event.acceptProposedAction()

    def dropEvent(self, event: QDropEvent | None) -> None:
        data = event.mimeData() if event else None
        paths = [Path(url.toLocalFile()) for url in data.urls() if url.isLocalFile()] if data else []
        if paths:
            self.commands.open(paths[0])

    def closeEvent(self, event: QCloseEvent | None) -> None:
        self.workspace.store.keep()
        self.workspace.writer.flush()
        self.workspace.runner.stop()
        self.player.stop()
        place = bytes(self.saveGeometry().toHex().data()).decode()
        if not self.is_presenting:
            sizes = [str(size) for splitter in self._splitters for size in splitter.sizes()]
            self.settings = replace(self.settings, parts=tuple(sizes) if "0" not in sizes else ())
        formats = tuple(f"{name}={how}" for name, how in self.session.formats.items())[-_MOST_FORMATS:]
        self.settings = replace(self.settings, formats=formats)
        kept = replace(self.settings, geometry=place, speed=self.player.speed, recent=settings.load().recent)
        settings.save(kept)
        super().closeEvent(event)


def _splitter(orientation: Qt.Orientation, *parts: QWidget) -> QSplitter:
    splitter = QSplitter(orientation)
    splitter.setHandleWidth(1)
    splitter.setChildrenCollapsible(False)
    for part in parts:
        splitter.addWidget(part)
    return splitter
