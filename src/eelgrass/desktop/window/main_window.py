"""The reading window: makes the views, lays them out, and wires them to what they show."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QByteArray, QEvent, Qt
from PyQt6.QtGui import QAction, QCloseEvent, QDragEnterEvent, QDropEvent, QKeyEvent
from PyQt6.QtWidgets import QApplication, QMainWindow, QMessageBox, QWidget

from eelgrass.desktop.beside.beside_line import BesideLine
from eelgrass.desktop.call_stack.stack_view import StackView
from eelgrass.desktop.commands.action_table import ACTIONS, Action
from eelgrass.desktop.commands.availability import Availability
from eelgrass.desktop.commands.commands import Commands
from eelgrass.desktop.commands.panes import View
from eelgrass.desktop.commands.shortcuts import Shortcuts
from eelgrass.desktop.exercise.authoring_view import AuthoringView
from eelgrass.desktop.exercise.prediction_view import PredictionView
from eelgrass.desktop.exercise.route_view import RouteView
from eelgrass.desktop.exercise.solving_view import SolvingView
from eelgrass.desktop.look import icons
from eelgrass.desktop.look.palette import qt_palette, style_sheet, ui_font
from eelgrass.desktop.look.plain_text import visible
from eelgrass.desktop.look.widgets import dropped, take_files
from eelgrass.desktop.models import Models, new_models
from eelgrass.desktop.services.translation import tr
from eelgrass.desktop.session.player import SPEEDS
from eelgrass.desktop.session.wording import RunState, standing
from eelgrass.desktop.source.iterations_view import IterationsView
from eelgrass.desktop.source.source_view import SourceView
from eelgrass.desktop.source.statement_view import StatementView
from eelgrass.desktop.tabs.pictures_view import PicturesView
from eelgrass.desktop.tabs.trace_table.table_view import TableView
from eelgrass.desktop.tabs.watch_view import WatchView
from eelgrass.desktop.timeline.timeline_view import TimelineView
from eelgrass.desktop.window.diagnosing import Diagnosing
from eelgrass.desktop.window.field_keys import FieldKeys
from eelgrass.desktop.window.file_notices import FileNotices
from eelgrass.desktop.window.input_line import InputLine, wire_input
from eelgrass.desktop.window.layout import Layout
from eelgrass.desktop.window.notice_bar import NoticeBar
from eelgrass.desktop.window.tab_pane import TabPane
from eelgrass.desktop.window.top_bar import TopBar
from eelgrass.desktop.window.trail_wiring import wire_trails
from eelgrass.errors import EelgrassError
from eelgrass.lessons.demo_lesson import demo_lesson

_MOST_FORMATS = 200


class MainWindow(QMainWindow):
    """Text, Depths, bench and tide line around one session. It owns nothing of what is shown, only how the views share
    its room."""

    def __init__(self, models: Models | None = None) -> None:
        super().__init__()
        self.models = models or new_models()
        m = self.models
        m.parts.options.formats = dict(its.split("=", 1) for its in m.settings.values.formats if "=" in its)
        self.is_presenting = self.is_tall = self.shows_passes = False
        self.lesson = demo_lesson()
        self.commands = Commands(m, self)
        self.actions_by_id = {action.id: self._make_action(action) for action in ACTIONS}
        self.shortcuts = Shortcuts(self.actions_by_id, m.settings.values.keys)
        m.look.dresses(self._dress)
        self._take_look()
        self.setWindowTitle("Eelgrass")
        self.setAcceptDrops(True)
        self.resize(1280, 800)
        self._make_views()
        self._wire_views()
        self._wire_models()
        self._show_state()
        self._availability = Availability(m, self.actions_by_id, self.shortcuts)
        self.restoreGeometry(QByteArray.fromHex(m.settings.values.geometry.encode("ascii", "ignore")))
        if m.settings.trouble:
            m.messages.say(m.settings.trouble, is_trouble=True)

    # Putting together

    def _make_action(self, action: Action) -> QAction:
        made = QAction(tr(action.title), self)
        if action.is_move:
            made.triggered.connect(lambda: self._move(action.id))
        else:
            made.triggered.connect(lambda: self._told(lambda: getattr(self.commands, action.call)()))
        self.addAction(made)
        return made

    def _move(self, name: str) -> None:
        if not self.models.parts.session.move(name):
            self._show_place(stays=True)

    def _told(self, call: Callable[[], object]) -> None:
        """Calls something, and says why where it could not be done."""
        try:
            call()
        except EelgrassError as error:
            self.models.messages.fail(error)

    def _dress(self) -> None:
        """In the look that everything has now; the views dress themselves."""
        c = self.models.look.colours
        QApplication.setPalette(qt_palette(c))
        QApplication.setFont(ui_font())
        self.setStyleSheet(style_sheet(c, icons.sign_file))
        self.setFont(ui_font())
        for action in ACTIONS:
            if action.sign:
                self.actions_by_id[action.id].setIcon(icons.icon(action.sign, c.deep, c.ink_faded))

    def _take_look(self) -> None:
        its = self.models.settings.values
        self.models.look.take(its.look, its.present_points if self.is_presenting else its.points)

    def _make_views(self) -> None:
        m, parts, look = self.models, self.models.parts, self.models.look
        self.top_bar = TopBar(self.actions_by_id, self.lesson, m.settings, look)
        self.notice_bar = NoticeBar(m.messages, look)
        self.source = SourceView(parts.session, parts.texts, parts.breakpoints, look)
        self.statement = StatementView(parts.session, look)
        self.prediction_view = PredictionView(m.prediction, look)
        self.route_view = RouteView(m.route, look)
        self.stack = StackView(parts.session, parts.options, m.comparison, look)
        self.input_line = InputLine(look)
        self.timeline = TimelineView(parts.session, parts.breakpoints, parts.watches, parts.options, look)
        self.beside_line = BesideLine(parts.session, m.comparison, self.timeline, look)
        self.tabs = TabPane(m)
        self.iterations = IterationsView(parts.session, parts.breakpoints, self.source, look)
        self.layout_ = Layout(
            (self.top_bar, self.notice_bar),
            self.source,
            (self.statement, self.prediction_view, self.route_view),
            self.stack,
            self.tabs,
            self.iterations,
            self.input_line,
            (self.timeline, self.beside_line),
        )
        self.layout_.share_out(m.settings.values.parts, presenting=False)
        self.setCentralWidget(self.layout_)
        self.take_keys: Callable[[], None] = self.layout_.setFocus
        self.take_keys()
        self._field_keys = FieldKeys(self, self.source, self.shortcuts)
        self._choose_below()

    def _wire_views(self) -> None:
        """What the views want done."""
        m, commands = self.models, self.commands
        self.source.takes_line = m.prediction.take_line
        self.source.signs_of = self._signs_of
        self.source.written.connect(m.workspace.edit)
        self.source.editing.connect(self.shortcuts.write)
        watches, solving, authoring = self.view(WatchView), self.view(SolvingView), self.view(AuthoringView)
        watches.claimed.connect(commands.claim)
        watches.stopped.connect(commands.stop_when)
        watches.asked_aside.connect(m.side_runs.ask)
        m.side_runs.said.connect(watches.say)
        solving.mark.clicked.connect(commands.mark_line)
        solving.save.clicked.connect(commands.ask_save_answer)
        authoring.error.mark.clicked.connect(commands.mark_line)
        authoring.hand_out.clicked.connect(commands.ask_hand_out)
        self.view(PicturesView).saving.connect(lambda path: self._told(lambda: commands.ask_save_picture(path)))
        self.view(TableView).saving.connect(lambda: self._told(commands.ask_save_table))
        self.view(TableView).checked.connect(m.solving.keep_desk_check)
        self.stack.watched.connect(commands.look_at)
        self.statement.needs.connect(self.layout_.fit_below_text)
        self.statement.notes_of = self.source.latest_notes
        self.stack.needs.connect(lambda height: self.layout_.fit_stack(height) if self.is_presenting else None)
        wire_trails(m, self, self.statement, commands)
        self.top_bar.chosen.connect(lambda exercise: self._told(lambda: m.workspace.open_exercise(exercise)))
        self.top_bar.picked.connect(m.workspace.open)
        self.top_bar.case_chosen.connect(m.launch.choose_case)
        self._diagnosing = Diagnosing(m, self.source, self.tabs)
        self.diagnose = self._diagnosing.diagnose
        wire_input(m, self.input_line, self.take_keys)

    def _wire_models(self) -> None:
        """What the window shows of its own accord."""
        m, parts = self.models, self.models.parts
        m.settings.changed.connect(self._take_look)
        m.settings.changed.connect(self._choose_below)
        m.run.changed.connect(self._show_state)
        m.workspace.several.connect(self.commands.ask_which)
        m.workspace.text_shown.connect(self.source.show_text)
        for changed in (m.workspace.changed, m.launch.changed, parts.session.opened):
            changed.connect(self._show_state)
        m.workspace.program_opened.connect(lambda _runs: self.take_keys())
        parts.texts.changed.connect(self._show_state)
        for changed in (parts.session.moved, parts.session.revealed, m.player.changed):
            changed.connect(lambda: self._show_place())
        m.launch.leave.asked.connect(self.commands.ask_leave)
        m.launch.leave.changed.connect(self._show_state)
        m.prediction.changed.connect(self._show_way)
        for changed in (m.prediction.changed, m.route.changed):
            changed.connect(self._choose_below)
        m.route.changed.connect(self._show_way)
        for changed in (m.authoring.changed, m.solving.changed, m.route.changed, parts.session.opened):
            changed.connect(self._show_signs)
        m.what_ifs.changed.connect(self._show_state)
        m.navigator.arrived.connect(self.commands.show_place)
        self._file_notices = FileNotices(m.files, m.messages, self)

    # What commands ask of a window

    @property
    def widget(self) -> QWidget:
        """What dialogs belong to."""
        return self

    def walk_parts(self, by: int) -> None:
        """Brings the keys so many parts further: the moves, this line, Depths, the tab in front, the tide line."""
        parts = [self.layout_, self.statement, self.stack, self.tabs.front, self.timeline]
        seen = [its for its in parts if its is not None and its.isVisible()]
        now = QApplication.focusWidget()
        place = next((number for number, its in enumerate(seen) if its is now), 0)
        seen[(place + by) % len(seen)].setFocus(Qt.FocusReason.TabFocusReason)

    def view(self, kind: type[View]) -> View:
        """The view of a tab, by its class."""
        return self.tabs.view(kind)

    def show_view(self, kind: type[View]) -> View:
        """Brings the view of a tab to the front; gives it."""
        return self.tabs.show_view(kind)

    def set_tall(self, on: bool) -> None:
        """Gives the bench all the room on the right; Depths comes back after."""
        self.is_tall = on
        self.layout_.set_tall(on)

    def set_passes(self, on: bool) -> None:
        """Shows passes side by side instead of Depths and bench, or these again."""
        self.shows_passes = on
        self.layout_.set_passes(on)

    def present(self, on: bool) -> None:
        """Large type and only what a class needs to see; and back."""
        if on:
            self.models.settings.change(parts=self.layout_.sizes)
            self.top_bar.set_presenting(True)  # before all gets larger, or the window would have to grow
        self.is_presenting = on
        self._take_look()
        self.top_bar.set_presenting(on)
        self.layout_.share_out(self.models.settings.values.parts, on)
        self.stack.refresh()
        self.statement.refresh()

    # Following

    def _choose_below(self) -> None:
        """Below the text stands how the line works out, what is to be said first, or what is said at a stop."""
        says, walks = self.models.prediction.is_on, self.models.route.is_on
        view = self.prediction_view if says else self.route_view if walks else self.statement
        self.layout_.show_below_text(view, self.models.settings.values.working or says or walks)

    def _show_state(self) -> None:
        m, actions, recording = self.models, self.actions_by_id, self.models.parts.session.recording
        exercise = m.workspace.exercise
        title = m.workspace.title
        self.setWindowTitle(visible(f"{title} – Eelgrass") if title else "Eelgrass")
        self.top_bar.show_title(title or "Eelgrass", exercise.task if exercise else "")
        self.top_bar.show_python(*m.launch.made_by)
        self.top_bar.show_cases(m.launch.all_cases, m.launch.case)
        is_older = m.parts.texts.are_newer_than(recording)
        actions["run"].setText(tr("Run the new text") if is_older else tr("Run again"))
        self._show_way()
        self._show_place()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is not None and not self._availability.say_why(event):
            super().keyPressEvent(event)

    def _show_way(self) -> None:
        m = self.models
        explores = tr("Make") if m.workspace.makes else tr("Explore")
        walks = tr("The route") if m.route.is_on else explores
        is_usual = not (m.workspace.makes or m.route.is_on or m.prediction.is_on)
        self.top_bar.show_way(tr("Say it first") if m.prediction.is_on else walks, is_usual)

    def _signs_of(self, file: str) -> tuple[set[int], dict[int, str]]:
        """Which lines of a text are marked as faulty, and what is planned where."""
        m = self.models
        if m.workspace.makes:
            return m.error.faulty_lines(file), m.plan.planned(file)
        return m.solving.faulty_lines(file), {}

    def _show_signs(self) -> None:
        m = self.models
        self.source.refresh_signs()
        shows_plan = m.workspace.makes or m.route.is_on
        self.timeline.show_planned(m.route.signs(with_questions=m.workspace.makes) if shows_plan else [])

    def _show_place(self, stays: bool = False) -> None:
        m, texts = self.models, self.models.parts.texts
        state = RunState(
            is_running=m.run.is_running,
            is_waiting=m.run.is_waiting,
            lines_per_second=SPEEDS[m.player.speed] if m.player.is_playing else 0.0,
            whose=texts.lent.whose if texts.lent is not None else "",
            is_older=texts.are_newer_than(m.parts.session.recording),
            reads_along=m.workspace.reads_along,
        )
        words = standing(m.parts.session.visible, m.parts.session.step, state)
        self.top_bar.show_place(tr("no further · {0}").format(words) if stays else words)

    # From outside

    def changeEvent(self, event: QEvent | None) -> None:
        """When the window comes back, what others did meanwhile is seen, and what could not be written is tried."""
        super().changeEvent(event)
        if event is not None and event.type() == QEvent.Type.ActivationChange and self.isActiveWindow():
            self.models.files.look_at_all()
            self.models.writer.retry()

    def dragEnterEvent(self, event: QDragEnterEvent | None) -> None:
        take_files(event)

    def dropEvent(self, event: QDropEvent | None) -> None:
        paths = dropped(event)
        if paths and not self.commands.take_dropped(paths):
            self.commands.open(paths[0])

    def closeEvent(self, event: QCloseEvent | None) -> None:
        m = self.models
        m.workspace.store.keep()
        if not m.writer.flush() and not self._may_lose():
            if event is not None:
                event.ignore()
            return
        m.workspace.close()
        m.class_work.stop()
        m.player.stop()
        formats = tuple(f"{name}={how}" for name, how in m.parts.options.formats.items())[-_MOST_FORMATS:]
        parts = m.settings.values.parts if self.is_presenting else self.layout_.sizes
        place = bytes(self.saveGeometry().toHex().data()).decode()
        m.settings.change(starts=0, geometry=place, parts=parts, formats=formats, speed=m.player.speed)
        super().closeEvent(event)

    def _may_lose(self) -> bool:
        """Something could not be written: whether the person closes the window all the same."""
        words = tr("Something could not be written to the disk, and would be lost. Close all the same?")
        asked = QMessageBox.question(self, tr("Not everything is kept"), words)
        return bool(asked == QMessageBox.StandardButton.Yes)
