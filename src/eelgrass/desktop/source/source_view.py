"""Text: the program with its waterline, visits, and margin notes."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtGui import QResizeEvent
from PyQt6.QtWidgets import QHBoxLayout, QWidget

from eelgrass.desktop.look.look import Look
from eelgrass.desktop.services.translation import tr
from eelgrass.desktop.session.breakpoint_set import BreakpointSet
from eelgrass.desktop.session.edited_texts import EditedTexts
from eelgrass.desktop.session.session import Session
from eelgrass.desktop.source.editor import Editor
from eelgrass.desktop.source.gutter import Gutter
from eelgrass.desktop.source.margin_notes import MarginNotes
from eelgrass.desktop.source.text_menu import TextMenu
from eelgrass.desktop.source.value_cards import ValueCards
from eelgrass.reading.alignment import matched_lines
from eelgrass.reading.hover import Pointed, name_at, pointed
from eelgrass.reading.lines.line_notes import LineNote
from eelgrass.reading.recording import Recording
from eelgrass.runs.texts.remarks import Diagnostic
from eelgrass.trace.model import StepKind
from eelgrass.trace.program import Place


class SourceView(QWidget):
    """The program's text in step with the session. A click on a line's number or note goes to its nearest visit.
    `signs_of(file)` says which lines of a text are marked as faulty, and what is planned where; `takes_line(line)`,
    whether a click on a line says something.

    Signals: `editing(on)` when the person begins to write or is done; `written(file, text, before)` when they have
    changed a text, which began as `before`; the file is '' for a text of which there is no recording; `shown` when the
    text of another module is on view.
    """

    editing = pyqtSignal(bool)
    written = pyqtSignal(str, str, str)
    shown = pyqtSignal()

    def __init__(self, session: Session, texts: EditedTexts, breakpoints: BreakpointSet, look: Look) -> None:
        super().__init__()
        self._session = session
        self._texts = texts
        self._breakpoints = breakpoints
        self._look = look
        self._module = -1
        #: By line of the recorded text, where it is now (None: all as recorded); and back.
        self._lines: dict[int, int] | None = None
        self._recorded: dict[int, int] = {}
        self._plain = ""  # the text without a recording that is on view
        self.editor = Editor(look)
        self.gutter = Gutter(self.editor, look)
        self.notes = MarginNotes(self.editor, self.note, look)
        self.cards = ValueCards(self.editor, session, self._pointed, self._name_at, look)
        self.menu = TextMenu(self.editor, self.gutter)
        self._diagnostics: dict[int, Diagnostic] = {}
        self._notes: dict[int, LineNote | None] = {}  # of the lines that were asked for, at the shown step
        self._shown: dict[int, object] = {}
        self._faded: tuple[Recording, int, int] | None = None  # what the faded lines were found from
        self._origin = (0, 0)
        self.takes_line: Callable[[int], bool] = lambda _line: False
        self.signs_of: Callable[[str], tuple[set[int], dict[int, str]]] = lambda _file: (set(), {})
        layout = QHBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.setSpacing(0)
        layout.addWidget(self.gutter)
        layout.addWidget(self.editor, 1)
        self.editor.scrolled.connect(self._repaint_scrolled)
        self.gutter.marked.connect(self.toggle_breakpoint)
        breakpoints.changed.connect(self._mark_breakpoints)
        self.gutter.clicked.connect(self.go_to_nearest_visit)
        self.notes.clicked.connect(self.go_to_nearest_visit)
        session.opened.connect(self._take_recording)
        self.editor.edited.connect(self._take_text)
        self.editor.left.connect(lambda: self.set_editing(False))
        session.moved.connect(self.refresh)
        session.revealed.connect(self.refresh)
        texts.changed.connect(self._follow_text)
        look.changed.connect(self._dress)

    def _dress(self) -> None:
        self.editor.mark_waterline(0, self._look.colours.waterline)
        self.editor.fit_bar()
        self.refresh()
        self._repaint()

    def _take_recording(self) -> None:
        self._module = -1
        self._notes = {}
        self.gutter.counts = {}
        if self._session.recording is None:
            self.editor.mark_waterline(0, self._look.colours.waterline)
            self._repaint()

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        super().resizeEvent(event)
        self.editor.fit_bar()

    def latest_notes(self) -> list[str]:
        """The whole notes of the line before and of the line about to run, as far as the margin has no room for
        them."""
        found = []
        for line in (self.gutter.line_before, self.gutter.line):
            note = self.note(line) if line else None
            if note is not None and self.notes.is_cut(line, note):
                found.append(tr("line {0}: {1}").format(line, note.whole))
        return found

    def show_text(self, text: str, trouble_line: int) -> None:
        """Shows a text without a recording, with the line at which it cannot be understood."""
        self._module = -1
        self._plain = text
        self.editor.set_program(text)
        self.editor.mark_trouble(trouble_line)
        self.editor.bring_into_view(max(trouble_line, 1))
        self._repaint()
        self.shown.emit()

    def _follow_text(self, file: str) -> None:
        """A text is another now, by what was written here or elsewhere."""
        edited = self._texts.of(file)
        if self._session.recording is None and edited is not None and edited.text != self.editor.text():
            self.editor.take_text(edited.text)
        self.refresh()

    def refresh(self) -> None:
        """Follows the reader to its step, and to its recording."""
        recording = self._session.recording
        if recording is None:
            return
        self._notes = {}
        trace, step = recording.trace, self._session.step
        module = recording.module_at(step)
        self._show_module(recording, module)
        counts = self._session.visible.counts(module, step)
        moved = {self.line_now(line): count for line, count in counts.items()} if self._lines is not None else counts
        self.gutter.counts = moved
        self.gutter.line = line = self.line_now(trace.line_of(step))
        before = recording.stepping.previous_any(step)
        same = before != step and recording.module_at(before) == module
        self.gutter.line_before = self.line_now(trace.line_of(before)) if same else 0
        self.gutter.band = self._band(StepKind(int(trace.steps.kind[step])))
        self.editor.mark_waterline(line, self.gutter.band)
        # What has been reached only grows along the run, so that its size tells whether it is another.
        faded = recording, module, recording.visits.reached(module, step)
        if self._lines is not None or faded != self._faded:
            self.editor.fade({self.line_now(its) for its in recording.visits.unreached(module, step)} - {0})
            self._faded = faded if self._lines is None else None
        if line and not self.is_editing:
            self.editor.bring_into_view(line)
        self._repaint_changed()

    def _show_module(self, recording: Recording, module: int) -> None:
        """Shows a module's text, as it is now, and finds its recorded lines in it."""
        its = recording.trace.program.modules[module]
        source, text, is_other = its.source, self._texts.now(its), module != self._module
        if is_other:
            self._faded = None
            self.editor.set_program(text)
        elif text != self.editor.text():
            self.editor.take_text(text)
        self._module = module
        self._lines = None if text == source else matched_lines(source, text)
        self._recorded = {new: old for old, new in self._lines.items()} if self._lines is not None else {}
        self._mark_breakpoints()
        if is_other:
            self.refresh_signs()
            self.shown.emit()

    @property
    def file(self) -> str:
        """The file whose text is on view; '' for a text without a recording."""
        recording = self._session.recording
        return recording.trace.program.modules[self._module].file if recording and self._module >= 0 else ""

    @property
    def place(self) -> Place:
        """The line about to run, in the text as it is now."""
        return Place(self.file, self.gutter.line)

    @property
    def module(self) -> int:
        """The number of the recorded module whose text is on view; -1 for none."""
        return self._module

    def line_of_caret(self) -> int:
        """The line of the text in which the caret stands, from 1."""
        line, _ = self.editor.getCursorPosition()
        return int(line) + 1

    def shows(self, module: int) -> bool:
        """Whether the text of a recorded module is on view."""
        return self._module == module

    def line_now(self, line: int) -> int:
        """Where a line of the recorded text is now; 0 when it is gone."""
        return line if self._lines is None else self._lines.get(line, 0)

    def line_then(self, line: int) -> int:
        """The line of the recorded text that a line was; 0 when it is new."""
        return line if self._lines is None else self._recorded.get(line, 0)

    # Breakpoints

    def toggle_breakpoint(self, line: int) -> None:
        """Sets a breakpoint on a line of the text, or takes it away."""
        recording, there = self._session.recording, self.line_then(line)
        if recording is not None and self._module >= 0 and there:
            module = recording.trace.program.modules[self._module]
            self._breakpoints.toggle(Place(module.file, there), module.lines[there - 1].strip())

    def _mark_breakpoints(self) -> None:
        file = self.file
        its = [breakpoint_ for breakpoint_ in self._breakpoints.breakpoints if breakpoint_.file == file]
        self.gutter.breakpoints = {self.line_now(one.line): one for one in its if self.line_now(one.line)}
        self.gutter.update()

    def refresh_signs(self) -> None:
        """Shows in the margin which lines are marked as faulty, and what is planned where."""
        faulty, planned = self.signs_of(self.file)
        if (faulty, planned) != (self.gutter.faulty, self.gutter.planned):
            self.gutter.faulty, self.gutter.planned = faulty, planned
            self.gutter.update()

    # Editing

    @property
    def is_editing(self) -> bool:
        """Whether the person may write."""
        return self.editor.is_editing

    def set_editing(self, on: bool) -> None:
        """Lets the person write in the text, or only read."""
        if on != self.is_editing:
            self.editor.set_editing(on)
            if on and self.gutter.line:
                text = self.editor.text(self.gutter.line - 1)
                self.editor.put_caret(self.gutter.line, len(text) - len(text.lstrip()))
            self.editing.emit(on)
            self.refresh()

    def _take_text(self, text: str) -> None:
        recording = self._session.recording
        if recording is not None and self._module >= 0:
            module = recording.trace.program.modules[self._module]
            self.written.emit(module.file, text, module.source)
        else:
            self.written.emit("", text, self._plain)

    def _band(self, kind: StepKind) -> str:
        """The waterline's colour: sand before a line runs, water when its frame ends, coral at an exception."""
        c = self._look.colours
        return {StepKind.RETURN: c.shallow, StepKind.RAISE: c.coral_pale}.get(kind, c.waterline)

    def show_waterline(self) -> None:
        """Scrolls back to the line about to run."""
        if self._session.recording is not None:
            line = self.line_now(self._session.recording.trace.line_of(self._session.step))
            self.editor.bring_into_view(max(line, 1))

    def _repaint(self) -> None:
        self._shown = {}
        self.gutter.update()
        self.notes.update()

    def _repaint_scrolled(self) -> None:
        """Repaints all when the text lies elsewhere than when all was repainted last."""
        if self.editor.origin() != self._origin:
            self._origin = self.editor.origin()
            self._repaint()

    def _repaint_changed(self) -> None:
        """Repaints only the lines on view that look different now; all when the text has been scrolled."""
        self._repaint_scrolled()
        gutter, height = self.gutter, self.editor.line_height()
        shown: dict[int, object] = {}
        for line in self.editor.visible_lines():
            note = self.note(line)
            band = gutter.band if line == gutter.line else ""
            shown[line] = (note and note.text, gutter.counts.get(line), band, line == gutter.line_before)
            if shown[line] != self._shown.get(line):
                top = self.editor.top_of(line)
                gutter.update(0, top, gutter.width(), height)
                self.notes.update(0, top, self.notes.width(), height)
        self._shown = shown

    def note(self, line: int) -> LineNote | None:
        """The margin note of a line."""
        if line not in self._notes:
            recording, there = self._session.recording, self.line_then(line)
            its = recording is not None and self._module >= 0 and there
            note = self._session.visible.line_note(self._module, there, self._session.step) if its else None
            self._notes[line] = note or self._diagnosed(line)
        return self._notes[line]

    def show_diagnostics(self, diagnostics: list[Diagnostic]) -> None:
        """Underlines what is said of the text; where a line has done nothing yet, it stands in the margin, too."""
        self._diagnostics = {its.line: its for its in reversed(diagnostics)}
        self._notes = {}
        self.editor.underline(diagnostics)
        self.notes.update()

    def _diagnosed(self, line: int) -> LineNote | None:
        its = self._diagnostics.get(line)
        return None if its is None else LineNote(its.sentence, its.sentence, -1, trouble=its.is_error)

    def _name_at(self, line: int, column: int) -> str:
        return name_at(self.editor.text(line - 1), column)

    def _pointed(self, line: int, name: str) -> Pointed | None:
        recording, there = self._session.recording, self.line_then(line)
        if recording is None or self._module < 0 or not there:
            return None
        return pointed(recording, self._module, there, name, self._session.step)

    def go_to_nearest_visit(self, line: int) -> None:
        """Shows the visit of a line that is nearest to the shown step."""
        recording = self._session.recording
        if recording is None or self._module < 0 or self.takes_line(line):
            return
        visit = recording.visits.nearest(self._module, self.line_then(line), self._session.step)
        if visit >= 0:
            self._session.go(visit)
