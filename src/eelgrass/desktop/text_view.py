"""Text: the program with its waterline, visits, and margin notes."""

from __future__ import annotations

from PyQt6.QtCore import QEvent, QObject, QPointF, QRect, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QFontMetricsF, QHelpEvent, QMouseEvent, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QHBoxLayout, QToolTip, QWidget

from eelgrass.desktop import signs
from eelgrass.desktop.editor import Editor
from eelgrass.desktop.palette import Palette, blend, ui_font
from eelgrass.desktop.reader import Reader
from eelgrass.reading.notes import Note
from eelgrass.reading.visits import Count
from eelgrass.trace.model import StepKind
from eelgrass.trace.program import Program

_GUTTER_PX = 96
_NUMBER_RIGHT = 44
_NOTE_MARGIN = 14
_NOTE_GAP = 22
_LEAST_NOTE = 44
_COMPOUND = {"functiondef", "classdef", "if", "for", "while", "with", "try", "trystar", "match"}
_COMPOUND |= {"asyncfunctiondef", "asyncfor", "asyncwith"}


class TextView(QWidget):
    """The program's text in step with the reader. A click on a line's number or note goes to its nearest visit."""

    def __init__(self, reader: Reader, colours: Palette) -> None:
        super().__init__()
        self._reader = reader
        self._colours = colours
        self._module = -1
        self.editor = Editor(colours)
        self.gutter = _Gutter(self, colours)
        self.notes = _NotesOverlay(self, colours)
        layout = QHBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.setSpacing(0)
        layout.addWidget(self.gutter)
        layout.addWidget(self.editor, 1)
        bar = self.editor.verticalScrollBar()
        assert bar is not None
        bar.valueChanged.connect(self._repaint)
        self.editor.SCN_UPDATEUI.connect(self._repaint)
        reader.opened.connect(self._take_recording)
        reader.moved.connect(self.refresh)

    @property
    def step(self) -> int:
        """The shown step."""
        return self._reader.step

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
        """Follows the reader to its step."""
        recording = self._reader.recording
        if recording is None:
            return
        trace, step = recording.trace, self._reader.step
        module = recording.module_at(step)
        if module != self._module:
            self._module = module
            self.editor.set_program(trace.program.modules[module].source)
            self._spans = _spans(trace.program, module)
        line = trace.line_of(step)
        self.gutter.counts = recording.visits.counts(module, step)
        self.gutter.line = line
        before = recording.places.previous_any(step)
        same = before != step and recording.module_at(before) == module
        self.gutter.line_before = trace.line_of(before) if same else 0
        self.gutter.band = self._band(StepKind(int(trace.steps.kind[step])))
        self.editor.mark_waterline(line, self.gutter.band)
        unreached = [at for at, count in self.gutter.counts.items() if count.so_far == 0]
        self.editor.fade({covered for at in unreached for covered in self._spans[at]})
        self.editor.bring_into_view(line)
        self._repaint()

    def _band(self, kind: StepKind) -> str:
        """The waterline's colour: sand before a line runs, water when its frame ends, coral at an exception."""
        c = self._colours
        return {StepKind.RETURN: c.shallow, StepKind.RAISE: c.coral_pale}.get(kind, c.waterline)

    def show_waterline(self) -> None:
        """Scrolls back to the line about to run."""
        if self._reader.recording is not None:
            self.editor.bring_into_view(self._reader.recording.trace.line_of(self._reader.step))

    def _repaint(self, *_: object) -> None:
        self.gutter.update()
        self.notes.update()

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


def _spans(program: Program, module: int) -> dict[int, range]:
    """For each line at which a statement begins, the lines that the statement itself covers (not its body)."""
    spans: dict[int, range] = {}
    for statement in program.statements:
        if program.functions[statement.function].module == module:
            simple = statement.kind in (
                "assign",
                "augassign",
                "annassign",
                "expr",
                "return",
                "raise",
                "assert",
                "delete",
            )
            spans[statement.line] = range(statement.line, (statement.end_line if simple else statement.line) + 1)
    return spans


class _Gutter(QWidget):
    """Line numbers, visits (so far / in all), hatching for lines that never run, and the waterline's tab."""

    clicked = pyqtSignal(int)

    def __init__(self, view: TextView, colours: Palette) -> None:
        super().__init__()
        self._view = view
        self._colours = colours
        self.counts: dict[int, Count] = {}
        self.line = 0
        self.line_before = 0
        self.band = colours.waterline
        self.setFixedWidth(_GUTTER_PX)
        self.setFont(ui_font(8))
        self.setToolTip("Visits so far / in the whole run. Click to go to the nearest one.")
        self.clicked.connect(view.go_to_nearest_visit)

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        editor, c = self._view.editor, self._colours
        painter = QPainter(self)
        painter.setRenderHints(QPainter.RenderHint.Antialiasing | QPainter.RenderHint.TextAntialiasing)
        painter.fillRect(self.rect(), QColor(c.foam))
        height = editor.line_height()
        for line in editor.visible_lines():
            rect = QRectF(0, editor.top_of(line), self.width(), height)
            count = self.counts.get(line)
            if line == self.line:
                painter.fillRect(rect, QColor(self.band))
            if count is not None and count.in_all == 0:
                self._hatch(painter, rect)
            self._paint_numbers(painter, rect, line, count)
            if line == self.line:
                painter.fillPath(signs.wave_tab(QRectF(0, rect.top(), 17, height)), QColor(c.deep))
            elif line == self.line_before:
                painter.setPen(QPen(blend(c.shallow, c.deep, 0.5), 3))
                painter.drawLine(QPointF(0, rect.center().y()), QPointF(12, rect.center().y()))

    def _paint_numbers(self, painter: QPainter, rect: QRectF, line: int, count: Count | None) -> None:
        c = self._colours
        right = Qt.AlignmentFlag.AlignVCenter | Qt.AlignmentFlag.AlignRight
        painter.setPen(QColor(c.ink_soft))
        painter.drawText(QRectF(0, rect.top(), _NUMBER_RIGHT, rect.height()), right, str(line))
        if count is not None:
            painter.setPen(QColor(c.note if count.so_far else c.ink_soft))
            text = f"{_short(count.so_far)}/{_short(count.in_all)}"
            painter.drawText(
                QRectF(_NUMBER_RIGHT, rect.top(), _GUTTER_PX - _NUMBER_RIGHT - 9, rect.height()), right, text
            )

    def _hatch(self, painter: QPainter, rect: QRectF) -> None:
        painter.save()
        painter.setClipRect(rect.adjusted(0, 5, -4, -5))
        painter.setPen(QPen(QColor(self._colours.hatch), 2.5))
        x = -rect.height()
        while x < rect.width():
            painter.drawLine(QPointF(x, rect.bottom()), QPointF(x + rect.height(), rect.top()))
            x += 8
        painter.restore()

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if event is not None:
            self.clicked.emit(self._view.editor.line_at(int(event.position().y())))


def _short(number: int) -> str:
    """A count in at most four characters: 9999, 12k, 3M."""
    if number < 10_000:
        return str(number)
    return f"{number // 1000}k" if number < 1_000_000 else f"{number // 1_000_000}M"


class _NotesOverlay(QWidget):
    """The margin notes, at the right of the text, over the editor's viewport. Lets the pointer through."""

    def __init__(self, view: TextView, colours: Palette) -> None:
        viewport = view.editor.viewport()
        assert viewport is not None
        super().__init__(viewport)
        self._view = view
        self._colours = colours
        self._places: dict[int, tuple[QRect, Note]] = {}
        self.setAttribute(Qt.WidgetAttribute.WA_TransparentForMouseEvents)
        self.setFont(ui_font(9))
        viewport.installEventFilter(self)

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        editor, c = self._view.editor, self._colours
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.TextAntialiasing)
        metrics = QFontMetricsF(self.font())
        self._places = {}
        for line in editor.visible_lines():
            note = self._view.note(line)
            if note is None:
                continue
            left = editor.end_of(line) + _NOTE_GAP
            room = self.width() - _NOTE_MARGIN - left
            text = note.text
            if metrics.horizontalAdvance(text) > room:
                text = metrics.elidedText(text, Qt.TextElideMode.ElideRight, room) if room >= _LEAST_NOTE else "…"
            width = int(metrics.horizontalAdvance(text)) + 2
            rect = QRect(self.width() - _NOTE_MARGIN - width, editor.top_of(line), width, editor.line_height())
            painter.setPen(QColor(c.coral if note.trouble else c.note))
            painter.drawText(rect, Qt.AlignmentFlag.AlignVCenter | Qt.AlignmentFlag.AlignRight, text)
            self._places[line] = (rect, note)

    def eventFilter(self, watched: QObject | None, event: QEvent | None) -> bool:
        """Grows with the viewport; takes clicks on notes and shows long ones whole."""
        if event is None:
            return False
        if event.type() == QEvent.Type.Resize and isinstance(watched, QWidget):
            self.setGeometry(watched.rect())
        elif event.type() == QEvent.Type.MouseButtonPress and isinstance(event, QMouseEvent):
            found = self._at(event.position())
            if found is not None:
                self._view.go_to_nearest_visit(found[0])
                return True
        elif event.type() == QEvent.Type.ToolTip and isinstance(event, QHelpEvent):
            found = self._at(QPointF(event.pos()))
            QToolTip.showText(event.globalPos(), found[1].whole if found else "", self)
            return True
        return False

    def _at(self, point: QPointF) -> tuple[int, Note] | None:
        for line, (rect, note) in self._places.items():
            if rect.adjusted(-6, 0, 6, 0).contains(point.toPoint()):
                return line, note
        return None
