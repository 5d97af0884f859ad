"""The text editing component, in our colours: read-only for now, and without margins of its own."""

from __future__ import annotations

from PyQt6.Qsci import QsciLexerPython, QsciScintilla
from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtGui import QColor

from eelgrass.desktop.palette import Palette, code_font

_WATERLINE_MARKER = 1
_TROUBLE_MARKER = 2
_FADED_INDICATOR = 8
_EXTRA_ASCENT_PX = 5
_EXTRA_DESCENT_PX = 5


class Editor(QsciScintilla):
    """Program text with a waterline and faded lines. Lines are counted from 1.

    Signal: `scrolled` when other lines or columns have come into view, whoever scrolled.
    """

    scrolled = pyqtSignal()

    def __init__(self, colours: Palette) -> None:
        super().__init__()
        self._faded: set[int] = set()
        self._marked: dict[int, int] = {}
        self._waterline_colour = colours.waterline
        self.setUtf8(True)
        self.setReadOnly(True)
        self.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self.setFrameShape(self.Shape.NoFrame)
        self.setAccessibleName("Program text")
        self.setLexer(_lexer(self, colours))
        for margin in range(5):
            self.setMarginWidth(margin, 0)
        self.setTabWidth(4)
        self.setExtraAscent(_EXTRA_ASCENT_PX)
        self.setExtraDescent(_EXTRA_DESCENT_PX)
        self.SendScintilla(self.SCI_SETMARGINLEFT, 0, 0)
        self.setCaretWidth(0)
        self.setPaper(QColor(colours.foam))
        self.SendScintilla(self.SCI_SETSCROLLWIDTH, 1)
        self.SendScintilla(self.SCI_SETSCROLLWIDTHTRACKING, 1)
        for marker, colour in ((_WATERLINE_MARKER, colours.waterline), (_TROUBLE_MARKER, colours.coral_pale)):
            self.markerDefine(self.MarkerSymbol.Background, marker)
            self.setMarkerBackgroundColor(QColor(colour), marker)
        self.indicatorDefine(self.IndicatorStyle.TextColorIndicator, _FADED_INDICATOR)
        self.setIndicatorForegroundColor(QColor(colours.ink_faded), _FADED_INDICATOR)

        self.SCN_UPDATEUI.connect(self._say_scrolled)

    def _say_scrolled(self, updated: int) -> None:
        # The scroll bars' own signals are silent when the component itself scrolls.
        if updated & (self.SC_UPDATE_V_SCROLL | self.SC_UPDATE_H_SCROLL):
            self.scrolled.emit()

    def set_program(self, text: str) -> None:
        """Shows another program's text."""
        self.setText(text)
        self._faded = set()
        self._marked = {}
        self.markerDeleteAll()

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
