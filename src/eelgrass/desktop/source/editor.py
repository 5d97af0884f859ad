"""The text editing component, in our colours, and without margins of its own."""

from __future__ import annotations

from PyQt6.Qsci import QsciLexerPython, QsciScintilla
from PyQt6.QtCore import QEvent, QPoint, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QKeyEvent, QKeySequence

from eelgrass.colours import Palette
from eelgrass.desktop.look.look import Look
from eelgrass.desktop.look.palette import code_font
from eelgrass.desktop.services.translation import tr
from eelgrass.runs.texts.remarks import Diagnostic

_WATERLINE_MARKER = 1
_TROUBLE_MARKER = 2
_FADED_INDICATOR = 8
_ERROR_INDICATOR = 9
_WARNING_INDICATOR = 10
_EXTRA_ASCENT_PX = 5
_EXTRA_DESCENT_PX = 5

_KEYS = QKeySequence.StandardKey
#: What every text is written with, and keys that move in it.
_WRITING = (_KEYS.Copy, _KEYS.Cut, _KEYS.Paste, _KEYS.Undo, _KEYS.Redo, _KEYS.SelectAll)
_MOVING = frozenset(
    (Qt.Key.Key_Left, Qt.Key.Key_Right, Qt.Key.Key_Home, Qt.Key.Key_End, Qt.Key.Key_Backspace, Qt.Key.Key_Delete)
)
#: A tab's width, and how many characters may be out of view without a bar.
_TAB, _FEW = 8, 6


class Editor(QsciScintilla):
    """Program text with a waterline and faded lines. Lines are counted from 1.

    Signals: `scrolled` when other lines or columns have come into view, whoever scrolled; `edited(text)` when the
    person has changed the text; `left` when they are done with it.
    """

    scrolled = pyqtSignal()
    edited = pyqtSignal(str)
    left = pyqtSignal()

    def __init__(self, look: Look) -> None:
        super().__init__()
        self._editing = self._loading = False
        self._faded: set[int] = set()
        self._marked: dict[int, int] = {}
        self._look = look
        self._waterline_colour = look.colours.waterline
        self.setUtf8(True)
        self.setReadOnly(True)
        self.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self.setFrameShape(self.Shape.NoFrame)
        self.setAccessibleName(tr("Program text"))
        for margin in range(5):
            self.setMarginWidth(margin, 0)
        self.setTabWidth(4)
        self.setExtraAscent(_EXTRA_ASCENT_PX)
        self.setExtraDescent(_EXTRA_DESCENT_PX)
        self.SendScintilla(self.SCI_SETMARGINLEFT, 0, 0)
        self.setCaretWidth(0)
        self.SendScintilla(self.SCI_SETSCROLLWIDTH, 1)
        self.SendScintilla(self.SCI_SETSCROLLWIDTHTRACKING, 1)
        for marker in (_WATERLINE_MARKER, _TROUBLE_MARKER):
            self.markerDefine(self.MarkerSymbol.Background, marker)
        self.indicatorDefine(self.IndicatorStyle.TextColorIndicator, _FADED_INDICATOR)
        for indicator in (_ERROR_INDICATOR, _WARNING_INDICATOR):
            self.indicatorDefine(self.IndicatorStyle.DashesIndicator, indicator)
        look.dresses(self._dress)
        self.setIndentationsUseTabs(False)
        self.setAutoIndent(True)
        self.setBackspaceUnindents(True)
        self.SCN_UPDATEUI.connect(self._say_scrolled)
        self.textChanged.connect(self._say_edited)

    def _dress(self) -> None:
        c = self._look.colours
        self.setLexer(_lexer(self, c))
        self.setPaper(QColor(c.foam))
        self._waterline_colour = c.waterline
        for marker, colour in ((_WATERLINE_MARKER, c.waterline), (_TROUBLE_MARKER, c.coral_pale)):
            self.setMarkerBackgroundColor(QColor(colour), marker)
        for indicator, colour in (
            (_FADED_INDICATOR, c.ink_faded),
            (_ERROR_INDICATOR, c.coral),
            (_WARNING_INDICATOR, c.kelp),
        ):
            self.setIndicatorForegroundColor(QColor(colour), indicator)
        self.setCaretForegroundColor(QColor(c.ink))
        self.setSelectionBackgroundColor(QColor(c.shallow))
        self.setSelectionForegroundColor(QColor(c.ink))

    @property
    def is_editing(self) -> bool:
        """Whether the person may write."""
        return self._editing

    def _say_edited(self) -> None:
        if self._editing and not self._loading:  # the component makes itself writable for a moment to take a text
            self.edited.emit(self.text())

    def set_editing(self, on: bool) -> None:
        """Lets the person write, or only read."""
        self._editing = on
        self.setReadOnly(not on)
        self.setCaretWidth(2 if on else 0)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus if on else Qt.FocusPolicy.NoFocus)
        if on:
            self.setFocus()
        else:
            self.clearFocus()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is not None and event.key() == Qt.Key.Key_Escape:
            self.left.emit()
        elif event is not None:
            super().keyPressEvent(event)

    def event(self, event: QEvent | None) -> bool:
        """Keys with Ctrl are the window's, but for those with which every text is written."""
        if isinstance(event, QKeyEvent) and event.type() == QEvent.Type.ShortcutOverride:
            with_ctrl = event.modifiers() & Qt.KeyboardModifier.ControlModifier
            if with_ctrl and event.key() not in _MOVING and not any(map(event.matches, _WRITING)):
                event.ignore()
                return True
        return super().event(event) if event is not None else False

    def underline(self, diagnostics: list[Diagnostic]) -> None:
        """Underlines what is wrong, or looks wrong, with the text."""
        last = max(self.lines() - 1, 0)
        for indicator in (_ERROR_INDICATOR, _WARNING_INDICATOR):
            self.clearIndicatorRange(0, 0, last, len(self.text(last)), indicator)
        for its in diagnostics:
            indicator = _ERROR_INDICATOR if its.is_error else _WARNING_INDICATOR
            line = min(its.line - 1, last)
            room = max(len(self.text(line).rstrip("\n")), 1)
            start = min(its.column, room - 1)
            self.fillIndicatorRange(line, start, line, min(max(its.end_column, start + 1), room), indicator)

    def put_caret(self, line: int, column: int) -> None:
        """Brings a place into view, and the caret there."""
        self.setCursorPosition(max(line - 1, 0), column)
        self.bring_into_view(line)

    def _say_scrolled(self, updated: int) -> None:
        # The scroll bars' own signals are silent when the component itself scrolls.
        if updated & (self.SC_UPDATE_V_SCROLL | self.SC_UPDATE_H_SCROLL):
            self.scrolled.emit()

    def fit_bar(self) -> None:
        """Shows the bar at the bottom where it is worth its room: not for a few characters."""
        longest = max((len(line.expandtabs(_TAB)) for line in self.text().split("\n")), default=0)
        viewport = self.viewport()
        room = viewport.width() / max(self._character(), 1.0) if viewport is not None else 0
        self.SendScintilla(self.SCI_SETHSCROLLBAR, int(longest > room + _FEW))

    def _character(self) -> float:
        return float(self.SendScintilla(self.SCI_TEXTWIDTH, self.STYLE_DEFAULT, b"0000000000")) / 10

    def set_program(self, text: str) -> None:
        """Shows another program's text."""
        self._loading = True
        self.setText(text)
        self._loading = False
        self._faded = set()
        self._marked = {}
        self.markerDeleteAll()
        indented = [line[0] for line in text.split("\n") if line[:1] in ("\t", " ")]
        self.setIndentationsUseTabs(indented.count("\t") > indented.count(" "))
        self.fit_bar()

    def take_text(self, text: str) -> None:
        """Takes the same program's text as it is now; the caret stays where it was."""
        line, column = self.getCursorPosition()
        self._loading = True
        self.setText(text)
        self._loading = False
        self._faded, self._marked = set(), {}
        self.markerDeleteAll()
        self.setCursorPosition(min(line, max(self.lines() - 1, 0)), column)

    def mark_waterline(self, line: int, colour: str) -> None:
        """Lays the waterline at a line (0: nowhere)."""
        if colour != self._waterline_colour:
            self._waterline_colour = colour
            self.setMarkerBackgroundColor(QColor(colour), _WATERLINE_MARKER)
        self._mark(_WATERLINE_MARKER, line)

    def mark_trouble(self, line: int) -> None:
        """Marks the line at which the text cannot be understood (0: nowhere)."""
        self._mark(_TROUBLE_MARKER, line)

    def _mark(self, marker: int, line: int) -> None:
        before = self._marked.get(marker, 0)
        if before == line:
            return
        if before > 0:
            self.markerDelete(before - 1, marker)
        if line > 0:
            self.markerAdd(line - 1, marker)
        self._marked[marker] = line

    def fade(self, lines: set[int]) -> None:
        """Shows exactly these lines faded."""
        for line in lines - self._faded:
            self.fillIndicatorRange(line - 1, 0, line - 1, len(self.text(line - 1)), _FADED_INDICATOR)
        for line in self._faded - lines:
            self.clearIndicatorRange(line - 1, 0, line - 1, len(self.text(line - 1)), _FADED_INDICATOR)
        self._faded = set(lines)

    # Geometry, in pixels of the viewport

    def origin(self) -> tuple[int, int]:
        """(first line on view from 0, pixels scrolled to the right)."""
        return self.firstVisibleLine(), self.SendScintilla(self.SCI_GETXOFFSET)

    def line_height(self) -> int:
        """Height of every line."""
        return self.SendScintilla(self.SCI_TEXTHEIGHT, 0)

    def visible_lines(self) -> range:
        """The lines on view, also partly."""
        first = self.firstVisibleLine()
        shown = self.SendScintilla(self.SCI_LINESONSCREEN) + 1
        return range(first + 1, min(first + shown, self.lines()) + 1)

    def top_of(self, line: int) -> int:
        """Where a line begins, from the top."""
        return (line - 1 - self.firstVisibleLine()) * self.line_height()

    def end_of(self, line: int) -> int:
        """Where a line's text ends, from the left."""
        position = self.SendScintilla(self.SCI_GETLINEENDPOSITION, line - 1)
        return self.SendScintilla(self.SCI_POINTXFROMPOSITION, 0, position)

    def line_at(self, y: int) -> int:
        """The line at a height; 0 below the text."""
        line = self.firstVisibleLine() + y // max(self.line_height(), 1) + 1
        return line if line <= self.lines() else 0

    def place_at(self, position: QPoint) -> tuple[int, int]:
        """(line, column in characters from 0) of a place of the viewport; line 0 where no character is."""
        place = self.SendScintilla(self.SCI_CHARPOSITIONFROMPOINTCLOSE, position.x(), position.y())
        if place < 0:
            return 0, 0
        line = self.SendScintilla(self.SCI_LINEFROMPOSITION, place)
        before = place - self.SendScintilla(self.SCI_POSITIONFROMLINE, line)
        return line + 1, len(self.text(line).encode()[:before].decode(errors="replace"))

    def scroll_lines(self, lines: int) -> None:
        """Scrolls down by so many lines, up by as many below 0."""
        bar = self.verticalScrollBar()
        if bar is not None:
            bar.setValue(bar.value() + lines)

    def bring_into_view(self, line: int) -> None:
        """Scrolls, as little as is good to read, so that a line and some around it show."""
        shown = max(self.SendScintilla(self.SCI_LINESONSCREEN), 1)
        first = self.firstVisibleLine()
        margin = min(3, shown // 4)
        if not first + margin < line <= first + shown - margin:
            self.setFirstVisibleLine(max(0, line - 1 - shown // 3))


def _lexer(editor: QsciScintilla, colours: Palette) -> QsciLexerPython:
    lexer = QsciLexerPython(editor)
    lexer.setDefaultFont(code_font())
    lexer.setFont(code_font())
    lexer.setDefaultPaper(QColor(colours.foam))
    lexer.setPaper(QColor(colours.foam))
    lexer.setColor(QColor(colours.ink))
    styles = {
        colours.kelp: (lexer.Keyword,),
        colours.number: (lexer.Number,),
        colours.comment: (lexer.Comment, lexer.CommentBlock),
        colours.text_literal: (
            lexer.SingleQuotedString,
            lexer.DoubleQuotedString,
            lexer.TripleSingleQuotedString,
            lexer.TripleDoubleQuotedString,
            lexer.SingleQuotedFString,
            lexer.DoubleQuotedFString,
            lexer.TripleSingleQuotedFString,
            lexer.TripleDoubleQuotedFString,
            lexer.UnclosedString,
        ),
    }
    for colour, its in styles.items():
        for style in its:
            lexer.setColor(QColor(colour), style)
            lexer.setPaper(QColor(colours.foam), style)
    return lexer
