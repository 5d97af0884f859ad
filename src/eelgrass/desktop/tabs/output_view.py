"""Output in step with the reading line; each piece leads to the step that printed it."""

from __future__ import annotations

from PyQt6.QtCore import QSize, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QContextMenuEvent, QImage, QMouseEvent, QTextCharFormat, QTextCursor
from PyQt6.QtWidgets import QTextEdit

from eelgrass.desktop.look.look import Look
from eelgrass.desktop.look.palette import code_font
from eelgrass.desktop.services.translation import tr
from eelgrass.desktop.session.session import Session
from eelgrass.reading.state.output import Piece, png_of
from eelgrass.trace.model import Texts

#: Pixels left free beside a picture, and the width or height that it has at least.
_MARGIN, _LEAST = 16, 160
#: A longer output shows only so many of its latest pieces.
_MOST_PIECES = 2000


class OutputView(QTextEdit):
    """What the program has printed and been given when the shown step is about to run. What is still to come is
    faded. A double click on a piece shows the step that printed it. Signal: `asked(step, text)` for a piece whose trail
    is wanted."""

    asked = pyqtSignal(int, str)

    def __init__(self, session: Session, look: Look) -> None:
        super().__init__()
        self._session = session
        self._look = look
        self._formats: dict[tuple[int, bool], QTextCharFormat] = {}
        self._starts: list[tuple[int, Piece]] = []
        self._shown: tuple[object, ...] = ()
        self.setReadOnly(True)
        self.setUndoRedoEnabled(False)
        self.setFrameShape(self.Shape.NoFrame)
        self.setAccessibleName(tr("Output of the program"))
        self.setFocusPolicy(Qt.FocusPolicy.ClickFocus)
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
        self._shown = (self._session.recording, past, len(pieces))
        self.clear()
        self._starts = []
        cursor = self.textCursor()
        for number, piece in enumerate(pieces[-_MOST_PIECES:], max(0, len(pieces) - _MOST_PIECES)):
            self._starts.append((cursor.position(), piece))
            if piece.channel == Texts.PICTURE:
                self._insert_picture(cursor, piece, number < past)
            else:
                cursor.insertText(piece.text, self._formats[piece.channel, number < past])
            if number == past - 1:
                self.setTextCursor(cursor)
        self.ensureCursorVisible()

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

    def mouseDoubleClickEvent(self, event: QMouseEvent | None) -> None:
        if event is not None:
            self.go_to_piece(self.cursorForPosition(event.position().toPoint()))

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

    def _piece_at(self, cursor: QTextCursor) -> Piece | None:
        found = [piece for start, piece in self._starts if start <= cursor.position()]
        return found[-1] if found else None

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
