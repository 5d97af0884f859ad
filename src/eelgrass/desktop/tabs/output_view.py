"""Output in step with the reading line; each piece leads to the step that printed it."""

from __future__ import annotations

from bisect import bisect_right

from PyQt6.QtCore import QEvent, QSize, Qt, pyqtSignal
from PyQt6.QtGui import (
    QColor,
    QContextMenuEvent,
    QFocusEvent,
    QImage,
    QKeyEvent,
    QMouseEvent,
    QTextCharFormat,
    QTextCursor,
)
from PyQt6.QtWidgets import QTextEdit

from eelgrass.desktop.look.look import Look
from eelgrass.desktop.look.palette import code_font
from eelgrass.desktop.look.plain_text import as_rich
from eelgrass.desktop.look.widgets import ROW_STEPS, WALKS, take_keys_home
from eelgrass.desktop.services.translation import tr
from eelgrass.desktop.session.session import Session
from eelgrass.reading.state.output import Piece, piece_words, png_of
from eelgrass.trace.model import Texts

#: Pixels left free beside a picture, and the width or height that it has at least.
_MARGIN, _LEAST = 16, 160
#: Of a longer output so many pieces around the shown step are on view, and others when it comes so near to their end.
_MOST_PIECES, _NEAR = 2_000, 200


class OutputView(QTextEdit):
    """What the program has printed and been given when the shown step is about to run. What is still to come is
    faded. A click on a piece, or Enter, shows the step that printed it. Signal: `asked(step, text)` for a piece whose
    trail is wanted."""

    asked = pyqtSignal(int, str)

    def __init__(self, session: Session, look: Look) -> None:
        super().__init__()
        self._session = session
        self._look = look
        self._formats: dict[tuple[int, bool], QTextCharFormat] = {}
        self._starts: list[tuple[int, Piece]] = []
        self._shown: tuple[object, ...] = ()
        self._past = 0
        self.setReadOnly(True)
        self.setUndoRedoEnabled(False)
        self.setFrameShape(self.Shape.NoFrame)
        self.setAccessibleName(tr("Output of the program"))
        self.setFocusPolicy(Qt.FocusPolicy.TabFocus)
        self.setProperty(WALKS, True)
        self._first = 0  # of the run's pieces, the first one on view
        self._walked = -1  # of those on view, the one that the keys or the pointer are at; -1 for none
        viewport = self.viewport()
        if viewport is not None:
            viewport.setMouseTracking(True)
        look.dresses(self._dress)
        session.moved.connect(self.refresh)

    def _dress(self) -> None:
        c = self._look.colours
        self.setFont(code_font(10))
        self.setStyleSheet(f"background: {c.foam}; padding: 6px 10px;")
        self._formats = {
            (0, True): _format(c.kelp, underline=True),
            (1, True): _format(c.ink),
            (2, True): _format(c.coral),
            (0, False): _format(c.ink_faded, underline=True),
            (1, False): _format(c.ink_faded),
            (2, False): _format(c.ink_faded),
        }
        self._shown = ()
        self.refresh()

    def refresh(self) -> None:
        """Follows the reader to its step; nothing is done while no piece comes or goes."""
        pieces, past = self._session.visible.output(self._session.step)
        if self._shown == (self._session.recording, past, len(pieces)):
            return
        if self._is_same_text(len(pieces), past):
            self._shown = (self._session.recording, past, len(pieces))
            self._colour_anew(past)
            return
        self._shown = (self._session.recording, past, len(pieces))
        self.clear()
        self._starts, self._walked = [], -1
        self._first = min(max(past - _MOST_PIECES // 2, 0), max(len(pieces) - _MOST_PIECES, 0))
        self._past = past
        cursor = self.textCursor()
        for number, piece in enumerate(pieces[self._first : self._first + _MOST_PIECES], self._first):
            self._starts.append((cursor.position(), piece))
            if piece.channel == Texts.PICTURE:
                self._insert_picture(cursor, piece, number < past)
            else:
                cursor.insertText(piece.text, self._formats[piece.channel, number < past])
            if number == past - 1:
                self.setTextCursor(cursor)
        self._say_how_much(len(pieces))
        self.ensureCursorVisible()

    def _is_same_text(self, count: int, past: int) -> bool:
        """Whether the pieces on view stay, and only others of them have passed: no picture comes or goes."""
        if not self._shown or self._shown[0] is not self._session.recording or self._shown[2] != count:
            return False
        end = self._first + len(self._starts)
        fits = (self._first == 0 or past >= self._first + _NEAR) and (end == count or past <= end - _NEAR)
        low, high = sorted((past, self._past))
        between = self._starts[max(low - self._first, 0) : max(high - self._first, 0)]
        return fits and all(piece.channel != Texts.PICTURE for _, piece in between)

    def _colour_anew(self, past: int) -> None:
        """Pieces that have passed now, or are to come again."""
        low, high = sorted((past, self._past))
        self._past = past
        cursor = self.textCursor()
        for number in range(max(low - self._first, 0), min(high - self._first, len(self._starts))):
            piece = self._starts[number][1]
            self._choose(cursor, number)
            cursor.setCharFormat(self._formats[piece.channel, number + self._first < past])
        cursor.setPosition(self._start_of(min(max(past - self._first, 0), len(self._starts))))
        self.setTextCursor(cursor)
        self.ensureCursorVisible()

    def _start_of(self, number: int) -> int:
        """Where a piece on view begins; the end of the text for the one after the last."""
        document = self.document()
        end = document.characterCount() - 1 if document is not None else 0
        return self._starts[number][0] if number < len(self._starts) else end

    def _choose(self, cursor: QTextCursor, number: int) -> None:
        """Puts a cursor around a piece on view."""
        cursor.setPosition(self._start_of(number))
        cursor.setPosition(self._start_of(number + 1), QTextCursor.MoveMode.KeepAnchor)

    def _say_how_much(self, count: int) -> None:
        shown = len(self._starts)
        told = tr("Pieces {0:,} to {1:,} of {2:,} are on view").format(self._first + 1, self._first + shown, count)
        self.setAccessibleDescription(told if shown < count else "")

    def _insert_picture(self, cursor: QTextCursor, piece: Piece, has_passed: bool) -> None:
        """A picture that has been shown, at most as large as the view; of one still to come, only that it comes."""
        picture = QImage()
        if not has_passed or not picture.loadFromData(png_of(piece), "PNG"):
            cursor.insertText(tr("(a picture)") + "\n", self._formats[1, has_passed])
            return
        viewport = self.viewport()
        size = viewport.size() if viewport else QSize()
        room = QSize(size.width() - 2 * _MARGIN, size.height() * 3 // 4)
        least = QSize(_LEAST, _LEAST)
        if room.boundedTo(picture.size()) != picture.size():
            scaling = Qt.TransformationMode.SmoothTransformation
            picture = picture.scaled(room.expandedTo(least), Qt.AspectRatioMode.KeepAspectRatio, scaling)
        cursor.insertImage(picture)
        cursor.insertText("\n", self._formats[1, True])

    # The pointer and the keys

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        super().mouseReleaseEvent(event)
        cursor = self.textCursor()
        if event is None or event.button() != Qt.MouseButton.LeftButton or cursor.hasSelection():
            return  # a text was chosen, to be copied
        take_keys_home(self)
        self.go_to_piece(self.cursorForPosition(event.position().toPoint()))

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        super().mouseMoveEvent(event)
        if event is not None and not event.buttons():
            self._light(self._number_at(self.cursorForPosition(event.position().toPoint())))

    def leaveEvent(self, event: QEvent | None) -> None:
        super().leaveEvent(event)
        if not self.hasFocus():
            self._light(-1)

    def focusInEvent(self, event: QFocusEvent | None) -> None:
        super().focusInEvent(event)
        if event is not None and event.reason() in (Qt.FocusReason.TabFocusReason, Qt.FocusReason.BacktabFocusReason):
            self._light(min(max(self._past - self._first - 1, 0), len(self._starts) - 1))

    def focusOutEvent(self, event: QFocusEvent | None) -> None:
        super().focusOutEvent(event)
        self._light(-1)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Up and Down walk the pieces, Enter shows the step of one."""
        key = event.key() if event is not None else None
        if key in ROW_STEPS and self._starts:
            self._light(min(max(self._walked + ROW_STEPS[key], 0), len(self._starts) - 1))
            cursor = self.textCursor()
            cursor.setPosition(self._starts[self._walked][0])
            self.setTextCursor(cursor)
        elif key in (Qt.Key.Key_Return, Qt.Key.Key_Enter) and 0 <= self._walked < len(self._starts):
            self._session.go(self._starts[self._walked][1].step)
        elif event is not None:
            super().keyPressEvent(event)

    def _light(self, number: int) -> None:
        """Shows which piece a click or Enter would lead from, and where to."""
        if number == self._walked:
            return
        self._walked = number
        chosen = []
        if 0 <= number < len(self._starts):
            piece = self._starts[number][1]
            lit = QTextEdit.ExtraSelection()
            lit.cursor = self.textCursor()
            self._choose(lit.cursor, number)
            lit.format.setBackground(QColor(self._look.colours.waterline))
            chosen.append(lit)
            recording = self._session.recording
            words = piece_words(recording.trace, piece) if recording is not None else ""
            self.setToolTip(as_rich(words))
            self.setAccessibleDescription(f"{piece.text.strip()}: {words}")
        self.setExtraSelections(chosen)

    def contextMenuEvent(self, event: QContextMenuEvent | None) -> None:
        piece = self._piece_at(self.cursorForPosition(event.pos())) if event is not None else None
        menu = self.createStandardContextMenu()
        if event is None or menu is None:
            return
        if piece is not None and piece.channel:
            ask = menu.addAction(tr("Where from?"))
            assert ask is not None
            ask.triggered.connect(lambda: self.asked.emit(piece.step, piece.text))
        menu.exec(event.globalPos())

    def _number_at(self, cursor: QTextCursor) -> int:
        return bisect_right(self._starts, cursor.position(), key=lambda its: its[0]) - 1

    def _piece_at(self, cursor: QTextCursor) -> Piece | None:
        number = self._number_at(cursor)
        return self._starts[number][1] if number >= 0 else None

    def go_to_piece(self, cursor: QTextCursor) -> None:
        """Shows the step that printed the piece at a cursor."""
        piece = self._piece_at(cursor)
        if piece is not None:
            self._session.go(piece.step)


def _format(colour: str, underline: bool = False) -> QTextCharFormat:
    form = QTextCharFormat()
    form.setForeground(QColor(colour))
    form.setFontUnderline(underline)
    return form
