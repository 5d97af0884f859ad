"""Text: the program with its waterline, visits, and margin notes."""

from __future__ import annotations

from PyQt6.QtWidgets import QHBoxLayout, QWidget

from eelgrass.desktop.editor import Editor
from eelgrass.desktop.gutter import Gutter
from eelgrass.desktop.margin_notes import MarginNotes
from eelgrass.desktop.palette import Palette
from eelgrass.desktop.reader import Reader
from eelgrass.reading.notes import Note
from eelgrass.trace.model import StepKind


class TextView(QWidget):
    """The program's text in step with the reader. A click on a line's number or note goes to its nearest visit."""

    def __init__(self, reader: Reader, colours: Palette) -> None:
        super().__init__()
        self._reader = reader
        self._colours = colours
        self._module = -1
        self.editor = Editor(colours)
        self.gutter = Gutter(self.editor, colours)
        self.notes = MarginNotes(self.editor, self.note, colours)
        self._shown: dict[int, object] = {}
        self._origin = (0, 0)
        layout = QHBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.setSpacing(0)
        layout.addWidget(self.gutter)
        layout.addWidget(self.editor, 1)
        self.editor.scrolled.connect(self._repaint_scrolled)
        self.gutter.clicked.connect(self.go_to_nearest_visit)
        self.notes.clicked.connect(self.go_to_nearest_visit)
        reader.opened.connect(self._take_recording)
        reader.moved.connect(self.refresh)

    def _take_recording(self) -> None:
        self._module = -1
        self.gutter.counts = {}
        if self._reader.recording is None:
            self.editor.mark_waterline(0, self._colours.waterline)
            self._repaint()

    def show_text(self, text: str, trouble_line: int) -> None:
        """Shows a text without a recording, with the line at which it cannot be understood."""
        self._module = -1
        self.editor.set_program(text)
        self.editor.mark_trouble(trouble_line)
        self.editor.bring_into_view(max(trouble_line, 1))
        self._repaint()

    def refresh(self) -> None:
        """Follows the reader to its step, and to its recording."""
        recording = self._reader.recording
        if recording is None:
            return
        trace, step = recording.trace, self._reader.step
        module = recording.module_at(step)
        if module != self._module:
            self._module = module
            self.editor.set_program(trace.program.modules[module].source)
        line = trace.line_of(step)
        self.gutter.counts = recording.visits.counts(module, step)
        self.gutter.line = line
        before = recording.places.previous_any(step)
        same = before != step and recording.module_at(before) == module
        self.gutter.line_before = trace.line_of(before) if same else 0
        self.gutter.band = self._band(StepKind(int(trace.steps.kind[step])))
        self.editor.mark_waterline(line, self.gutter.band)
        self.editor.fade(recording.visits.unreached(module, self.gutter.counts))
        self.editor.bring_into_view(line)
        self._repaint_changed()

    def _band(self, kind: StepKind) -> str:
        """The waterline's colour: sand before a line runs, water when its frame ends, coral at an exception."""
        c = self._colours
        return {StepKind.RETURN: c.shallow, StepKind.RAISE: c.coral_pale}.get(kind, c.waterline)

    def show_waterline(self) -> None:
        """Scrolls back to the line about to run."""
        if self._reader.recording is not None:
            self.editor.bring_into_view(self._reader.recording.trace.line_of(self._reader.step))

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

    def note(self, line: int) -> Note | None:
        """The margin note of a line."""
        recording = self._reader.recording
        if recording is None or self._module < 0:
            return None
        return recording.notes.of_line(self._module, line, self._reader.step)

    def go_to_nearest_visit(self, line: int) -> None:
        """Shows the visit of a line that is nearest to the shown step."""
        recording = self._reader.recording
        if recording is None or self._module < 0:
            return
        visit = recording.visits.nearest(self._module, line, self._reader.step)
        if visit >= 0:
            self._reader.go(visit)
