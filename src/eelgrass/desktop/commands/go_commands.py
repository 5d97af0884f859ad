"""What the actions do that lead somewhere: steps, marks, breakpoints, and what is looked at there."""

from __future__ import annotations

from typing import cast, get_args

from PyQt6.QtWidgets import QInputDialog

from eelgrass.desktop.commands.base import CommandGroup
from eelgrass.desktop.services.translation import tr
from eelgrass.desktop.tabs.breakpoints.breakpoints_view import BreakpointsView
from eelgrass.desktop.tabs.clues_view import CluesView
from eelgrass.desktop.tabs.history_view import HistoryView
from eelgrass.desktop.tabs.pictures_view import PicturesView
from eelgrass.desktop.tabs.trace_table.table_view import TableView
from eelgrass.desktop.tabs.trail_view import TrailView
from eelgrass.desktop.tabs.watch_view import WatchView
from eelgrass.reading.breakpoints.breakpoint import Breakpoint
from eelgrass.reading.breakpoints.locations import Kind, qualified_name
from eelgrass.reading.expressions.expression import is_expression, parse_expression
from eelgrass.trace.columns import find


class GoCommands(CommandGroup):
    """The group “Go”."""

    def ask_step(self) -> None:
        """Asks for the number of the step to show."""
        if self._session.recording is not None:
            last = len(self._session.recording.trace.steps) - 1
            words = tr("Step, 0 to {0}:").format(last)
            step, given = QInputDialog.getInt(self._panes.widget, tr("Go to step"), words, self._session.step, 0, last)
            if given:
                self._session.go(step)

    def ask_pass(self) -> None:
        """Asks for the number of the pass to show, of the loop around the waterline."""
        recording, step = self._session.recording, self._session.step
        loop = next(iter(recording.loops.around(step)), None) if recording else None
        if recording is None or loop is None:
            self._say(tr("The line about to run is in no loop."))
            return
        most = len(recording.loops.starts(step, loop))
        words = tr("Pass, 1 to {0}:").format(most)
        number, given = QInputDialog.getInt(self._panes.widget, tr("Go to pass"), words, 1, 1, max(most, 1))
        if given:
            self._session.go(recording.loops.to_pass(step, loop, number))

    def show_waterline(self) -> None:
        """Scrolls the text back to the line about to run."""
        self._panes.source.show_waterline()

    def toggle_play(self) -> None:
        """Walks on by itself, or stops."""
        self._models.player.toggle()

    def play_faster(self) -> None:
        """Walks faster."""
        self._models.player.change_speed(1)

    def play_slower(self) -> None:
        """Walks more slowly."""
        self._models.player.change_speed(-1)

    # Bookmarks and breakpoints

    def toggle_bookmark(self) -> None:
        """Sets a bookmark at the shown step, or takes it away."""
        self._models.parts.breakpoints.toggle_bookmark()

    def toggle_breakpoint(self) -> None:
        """Sets a breakpoint on the line about to run, or takes it away."""
        self._panes.source.toggle_breakpoint(self._panes.source.place.line)

    def new_breakpoint(self) -> None:
        """Asks for a breakpoint, note or claim of any kind."""
        self._ask_breakpoint(Breakpoint(""))

    def back_to_moves(self) -> None:
        """Leaves the field that has the keys."""
        self._panes.take_keys()

    def next_part(self) -> None:
        """Brings the keys to the next part of the window that can be walked by them."""
        self._panes.walk_parts(1)

    def part_before(self) -> None:
        """Brings the keys to the part before."""
        self._panes.walk_parts(-1)

    def note(self) -> None:
        """Asks for a note at this step."""
        recording, step = self._session.recording, self._session.step
        if recording is not None:
            visits = recording.visits.of_line(recording.module_at(step), recording.trace.line_of(step))
            self._ask_breakpoint(Breakpoint("", note=" ", nth=find(visits, step + 1)))

    def claim(self, text: str = "") -> None:
        """Asks for a claim, about a question of which this is the text."""
        self._ask_breakpoint(Breakpoint("", kind="everywhere", claims=True, condition=text))

    def stop_when(self, text: str) -> None:
        """Sets a breakpoint where a question becomes true."""
        self._ask_breakpoint(Breakpoint("", kind="everywhere", condition=text))

    def look_at(self, how: str, path: str, frame: int) -> None:
        """Shows the picture or the history of a value that `path` names in a frame, or asks for a breakpoint on it."""
        if how == "picture":
            self._panes.show_view(PicturesView)
            self._models.parts.options.keep_picture(path)
        elif how == "history" and is_expression(path):
            self._models.parts.watches.ask(parse_expression(path))
            self._panes.show_view(HistoryView)
        elif how == "trail":
            self.where_from(path, frame)
        elif how == "what if":
            self.what_if(path, frame)
        elif how in get_args(Kind):
            self._ask_breakpoint_on(cast("Kind", how), path, frame)

    def what_if(self, target: str, frame: int) -> None:
        """Asks which value something is to get, in a frame on the stack."""
        raise NotImplementedError

    def _ask_breakpoint_on(self, kind: Kind, path: str, frame: int) -> None:
        recording = self._session.recording
        if recording is not None:
            function = int(recording.trace.frames.function[frame])
            name = qualified_name(recording.trace.program, function)
            file = recording.trace.program.module_of(function).file
            self._ask_breakpoint(Breakpoint(file, kind=kind, name=path, function=name))

    def _ask_breakpoint(self, its: Breakpoint) -> None:
        self._panes.show_view(BreakpointsView).make_new(its)

    def switch_breakpoints(self) -> None:
        """All breakpoints off, or on again."""
        self._models.parts.breakpoints.switch_all()

    def next_bookmark(self) -> None:
        """Goes to the next stop of the route, or, where none is walked, to the next bookmark or breakpoint."""
        self._move_on(forward=True)

    def previous_bookmark(self) -> None:
        """Goes to the one before."""
        self._move_on(forward=False)

    def _move_on(self, forward: bool) -> None:
        if self._models.route.is_on:
            self._models.route.move(forward)
        else:
            self._models.parts.breakpoints.go_on(forward)

    # Tabs

    def ask(self) -> None:
        """Brings the place to ask into view."""
        self._panes.show_view(WatchView).line.setFocus()

    def show_table(self) -> None:
        """Brings the trace table into view."""
        self._panes.show_view(TableView)

    def ask_where_from(self) -> None:
        """Asks for the value whose trail is wanted, beginning with a name of the line about to run."""
        view = self._panes.show_view(TrailView)
        recording = self._session.recording
        if recording is not None and not view.question.text():
            names = sorted(recording.worked_lines.names_at(self._session.step))
            view.question.setText(names[0] if names else "")
        view.question.setFocus()
        view.question.selectAll()

    def ask_kept_out(self) -> None:
        """Asks what kept a line out: that of the caret, unless another is named."""
        view = self._panes.source
        line, chosen = QInputDialog.getInt(
            self._panes.widget, tr("What kept it out?"), tr("Line that did not run:"), view.line_of_caret(), 1
        )
        if chosen:
            self.kept_out(line)

    def kept_out(self, line: int) -> None:
        """Shows what kept a line of the text on view out."""
        self._panes.show_view(TrailView)
        source = self._panes.source
        self._models.trails.ask_kept_out(source.module, source.line_then(line))

    def where_from(self, text: str, frame: int | None = None) -> None:
        """Shows where a value came from, seen from the innermost frame or another."""
        self._panes.show_view(TrailView)
        self._models.trails.ask_expression(text, frame=frame)

    def where_did(self, line: int) -> None:
        """Shows where what a line of the text on view did last came from."""
        note = self._panes.source.note(line)
        if note is None or note.visit < 0:
            self._say(tr("This line has not done anything yet."))
            return
        self._panes.show_view(TrailView)
        self._models.trails.ask_visit(note.visit)

    def where_at(self, text: str, step: int | None = None) -> None:
        """Shows where the value of an expression came from, at the shown step or at another."""
        self._panes.show_view(TrailView)
        self._models.trails.ask_expression(text, step)

    def where_printed(self, step: int, text: str) -> None:
        """Shows where what was printed during a step came from."""
        self._panes.show_view(TrailView)
        self._models.trails.ask_output(step, text)

    def where_exception(self, step: int) -> None:
        """Shows where the exception that passes at a step came from."""
        self._panes.show_view(TrailView)
        self._models.trails.ask_exception(step)

    def ask_no_end(self) -> None:
        """Shows what kept a run that was stopped from ending."""
        self._panes.show_view(TrailView)
        self._models.trails.ask_end()

    def walk_trail(self) -> None:
        """Goes on to the next link of the trail."""
        self._models.trails.walk()

    def walk_trail_back(self) -> None:
        """Goes back to the link before."""
        self._models.trails.walk_back()

    def show_clues(self) -> None:
        """Brings the clues into view."""
        self._panes.show_view(CluesView)

    def show_pictures(self) -> None:
        """Brings the pictures into view."""
        self._panes.show_view(PicturesView)
