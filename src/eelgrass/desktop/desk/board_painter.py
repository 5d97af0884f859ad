"""Paints the parts of a simulated board, each on a card: lamps, buttons, sliders, strips, displays."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QPainter, QPen

from eelgrass.desktop.look.look import Look
from eelgrass.desktop.look.palette import LEFT, code_font, px, ui_font
from eelgrass.reading.desk.board_parts import BoardPart

_CARD, _WIDE, _HEIGHT, _TALL, _GAP = 128.0, 268.0, 72.0, 156.0, 10.0
_SCALES = (1.0, 0.9, 0.8, 0.7, 0.6, 0.5, 0.4)
_WIDE_KINDS = ("strip", "dots", "letters")


@dataclass(frozen=True)
class PlacedPart:
    """A part on the picture, and where what shows it lies below its name."""

    name: str
    part: BoardPart
    rect: QRectF

    @property
    def inside(self) -> QRectF:
        """The card without its name and how it is in words."""
        return self.rect.adjusted(px(10), px(22), -px(10), -px(20))


def fitting(parts: dict[str, BoardPart], width: float, height: float) -> tuple[list[PlacedPart], float]:
    """Where the cards go, row by row, in units of which each is as large as the number says: 1, or less where they
    would not fit."""
    for scale in _SCALES:
        placed = _placed(parts, width / scale)
        if max((its.rect.bottom() for its in placed), default=0.0) <= height / scale:
            break
    return placed, scale


def _placed(parts: dict[str, BoardPart], width: float) -> list[PlacedPart]:
    placed, x, y, deepest, gap = list[PlacedPart](), px(_GAP), px(_GAP), 0.0, px(_GAP)
    for name, part in parts.items():
        card = px(_WIDE if part.kind in _WIDE_KINDS else _CARD)
        height = px(_TALL if part.kind == "dots" else _HEIGHT)
        if x + card > width and x > gap:
            x, y, deepest = gap, y + deepest + gap, 0.0
        placed.append(PlacedPart(name, part, QRectF(x, y, card, height)))
        x, deepest = x + card + gap, max(deepest, height)
    return placed


class BoardPainter:
    """Paints one board."""

    def __init__(self, look: Look) -> None:
        self._look = look
        self._kinds: dict[str, Callable[[QPainter, BoardPart, QRectF], None]] = {
            **{"pin": self._pin, "analog": self._share, "pulse": self._share, "strip": self._strip},
            **{"dots": self._dots, "letters": self._letters, "sense": self._value, "off": self._value},
        }

    def paint(self, painter: QPainter, placed: list[PlacedPart]) -> None:
        """All of its parts."""
        c = self._look.colours
        for its in placed:
            painter.setPen(QPen(QColor(c.sand_edge), 1))
            painter.setBrush(QColor(c.sand))
            painter.drawRoundedRect(its.rect, 8, 8)
            painter.setPen(QColor(c.ink))
            painter.setFont(ui_font(9, bold=True))
            strip = QRectF(its.rect.left() + px(10), its.rect.top() + px(3), its.rect.width() - px(20), px(18))
            painter.drawText(strip, LEFT, "board" if its.part.kind == "off" else its.name)
            painter.setFont(ui_font(9))
            strip.moveTop(its.rect.bottom() - px(20))
            if its.part.kind not in ("dots", "letters", "sense"):
                painter.drawText(strip, LEFT, its.part.text)
            painter.save()
            self._kinds[its.part.kind](painter, its.part, its.inside)
            painter.restore()

    def _pin(self, painter: QPainter, part: BoardPart, room: QRectF) -> None:
        """A lamp with rays while it is on; a button, which is lower while it is pressed."""
        c, middle = self._look.colours, QPointF(room.left() + px(16), room.center().y())
        size = px(9)
        if part.mode == "in":
            painter.setPen(QPen(QColor(c.deep), 1.6))
            painter.setBrush(QColor(c.middle) if part.is_pressed else QColor(c.foam))
            top = middle.y() - size + (px(4) if part.is_pressed else 0)
            painter.drawRoundedRect(QRectF(middle.x() - size, top, 2 * size, size * 1.4), 4, 4)
            painter.drawLine(QPointF(middle.x() - 1.6 * size, middle.y() + size), middle + QPointF(1.6 * size, size))
            return
        painter.setPen(QPen(QColor(c.deep), 1.6))
        painter.setBrush(QColor(c.tag) if part.level else Qt.BrushStyle.NoBrush)
        painter.drawEllipse(middle, size, size)
        for across, down in ((1, 0), (-1, 0), (0, 1), (0, -1), (0.7, 0.7), (-0.7, 0.7), (0.7, -0.7), (-0.7, -0.7)):
            if part.level:
                ray = QPointF(across, down)
                painter.drawLine(middle + ray * size * 1.3, middle + ray * size * 1.65)

    def _share(self, painter: QPainter, part: BoardPart, room: QRectF) -> None:
        c, middle = self._look.colours, room.center().y()
        painter.setPen(QPen(QColor(c.sand_edge), 3))
        painter.drawLine(QPointF(room.left(), middle), QPointF(room.right(), middle))
        end = room.left() + part.share * room.width()
        painter.setPen(QPen(QColor(c.deep), 3))
        painter.drawLine(QPointF(room.left(), middle), QPointF(end, middle))
        if part.kind == "analog":
            painter.setBrush(QColor(c.deep))
            painter.drawEllipse(QPointF(end, middle), px(4), px(4))

    def _strip(self, painter: QPainter, part: BoardPart, room: QRectF) -> None:
        count = max(len(part.lights), 1)
        side = min(room.width() / count, room.height())
        painter.setPen(QPen(QColor(self._look.colours.sand_edge), 1))
        for place, light in enumerate(part.lights):
            painter.setBrush(QColor(light))
            painter.drawRect(QRectF(room.left() + place * side, room.center().y() - side / 2, side - 1, side - 1))

    def _dots(self, painter: QPainter, part: BoardPart, room: QRectF) -> None:
        width, height = part.size
        room = room.adjusted(0, 0, 0, px(14))
        if not width or not height:
            return
        side = min(room.width() / width, room.height() / height)
        screen = QRectF(room.left(), room.top(), width * side, height * side)
        painter.fillRect(screen, QColor("#10202a"))
        lit = QColor("#d8f3ec")
        painter.setClipRect(screen)
        for y, row in enumerate(part.rows):
            x = 0
            while row and x < width:  # in runs of dots that are lit
                length = 0
                while x + length < width and row >> (width - 1 - x - length) & 1:
                    length += 1
                if length:
                    painter.fillRect(
                        QRectF(screen.left() + x * side, screen.top() + y * side, length * side, side), lit
                    )
                x += length + 1
        font = code_font(9)
        font.setPixelSize(max(int(8 * side), 1))
        painter.setFont(font)
        for x, y, text, is_lit in part.texts:
            painter.setPen(lit if is_lit else QColor("#10202a"))
            for place, letter in enumerate(text):
                at = QPointF(screen.left() + (x + 8 * place) * side, screen.top() + y * side)
                painter.drawText(QRectF(at.x(), at.y(), 8 * side, 8 * side), Qt.AlignmentFlag.AlignCenter, letter)

    def _letters(self, painter: QPainter, part: BoardPart, room: QRectF) -> None:
        painter.setFont(code_font(10))
        height = painter.fontMetrics().height()
        width = painter.fontMetrics().horizontalAdvance("M") * max(map(len, part.lines), default=0) + px(8)
        screen = QRectF(room.left(), room.top(), min(width, room.width()), height * len(part.lines) + px(4))
        painter.fillRect(screen, QColor("#10202a"))
        painter.setPen(QColor("#d8f3ec"))
        painter.drawText(screen.adjusted(px(4), px(2), 0, 0), int(LEFT), "\n".join(part.lines))

    def _value(self, painter: QPainter, part: BoardPart, room: QRectF) -> None:
        if part.kind == "sense":
            painter.setPen(QColor(self._look.colours.ink))
            painter.setFont(code_font(13))
            painter.drawText(room, LEFT, part.text)
