"""Our own drawn signs: the moves, and the small shapes of leaf, ring, broken shell, tag and waterline."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

import platformdirs
from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QBrush, QColor, QIcon, QPainter, QPainterPath, QPen, QPixmap

from eelgrass.colours import Palette
from eelgrass.reading.breakpoints.breakpoint import Breakpoint

#: Draws into a square of 24 units.
Draw = Callable[[QPainter], None]


def _lines(*points: tuple[float, float]) -> QPainterPath:
    path = QPainterPath(QPointF(*points[0]))
    for point in points[1:]:
        path.lineTo(QPointF(*point))
    return path


def _wave(y: float) -> QPainterPath:
    path = QPainterPath(QPointF(3, y))
    path.cubicTo(6, y - 3.5, 9, y - 3.5, 12, y)
    path.cubicTo(15, y + 3.5, 18, y + 3.5, 21, y)
    return path


def _draw_onward(painter: QPainter) -> None:
    painter.drawPath(_lines((8, 5), (17, 12), (8, 19)))


def _draw_back(painter: QPainter) -> None:
    painter.drawPath(_lines((16, 5), (7, 12), (16, 19)))


def _draw_dive(painter: QPainter) -> None:
    painter.drawPath(_wave(7))
    painter.drawPath(_lines((12, 4), (12, 20)))
    painter.drawPath(_lines((7.5, 15.5), (12, 20), (16.5, 15.5)))


def _draw_surface(painter: QPainter) -> None:
    painter.drawPath(_wave(17))
    painter.drawPath(_lines((12, 20), (12, 4)))
    painter.drawPath(_lines((7.5, 8.5), (12, 4), (16.5, 8.5)))


def _draw_start(painter: QPainter) -> None:
    painter.drawPath(_lines((17, 6), (9, 12), (17, 18)))
    painter.drawPath(_lines((6, 5), (6, 19)))


def _draw_end(painter: QPainter) -> None:
    painter.drawPath(_lines((7, 6), (15, 12), (7, 18)))
    painter.drawPath(_lines((18, 5), (18, 19)))


SIGNS: dict[str, Draw] = {
    "onward": _draw_onward,
    "back": _draw_back,
    "dive": _draw_dive,
    "surface": _draw_surface,
    "start": _draw_start,
    "end": _draw_end,
}


def sign_file(name: str, colour: str) -> str:
    """The file of a small sign, "up" or "down", in a colour, for style sheets, which know no other pictures; '' where
    it cannot be written."""
    file = Path(platformdirs.user_cache_dir("eelgrass")) / "signs" / f"{name}-{colour.removeprefix('#')}.png"
    if not file.exists():
        pixmap = QPixmap(18, 18)
        pixmap.fill(Qt.GlobalColor.transparent)
        painter = QPainter(pixmap)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setPen(QPen(QColor(colour), 2.6, cap=Qt.PenCapStyle.RoundCap, join=Qt.PenJoinStyle.RoundJoin))
        tip, foot = (12.0, 6.0) if name == "down" else (6.0, 12.0)
        painter.drawPolyline(QPointF(4, foot), QPointF(9, tip), QPointF(14, foot))
        painter.end()
        try:
            file.parent.mkdir(parents=True, exist_ok=True)
        except OSError:
            return ""
        pixmap.save(str(file))
    return file.as_posix()


def icon(name: str, colour: str, faded: str) -> QIcon:
    """The sign as an icon, with a faded form for when it cannot be used."""
    result = QIcon()
    for mode, ink in ((QIcon.Mode.Normal, colour), (QIcon.Mode.Disabled, faded)):
        for scale in (1, 2):
            pixmap = QPixmap(24 * scale, 24 * scale)
            pixmap.fill(Qt.GlobalColor.transparent)
            painter = QPainter(pixmap)
            painter.setRenderHint(QPainter.RenderHint.Antialiasing)
            painter.scale(scale, scale)
            pen = QPen(QColor(ink), 2.2)
            pen.setCapStyle(Qt.PenCapStyle.RoundCap)
            pen.setJoinStyle(Qt.PenJoinStyle.RoundJoin)
            painter.setPen(pen)
            SIGNS[name](painter)
            painter.end()
            pixmap.setDevicePixelRatio(scale)
            result.addPixmap(pixmap, mode)
    return result


def leaf(painter: QPainter, x: float, y: float, height: float, colour: QColor) -> None:
    """The sign of a change: a blade of eelgrass, its foot at (x, y + height)."""
    path = QPainterPath(QPointF(x + height * 0.25, y + height))
    path.cubicTo(x - height * 0.1, y + height * 0.7, x, y + height * 0.2, x + height * 0.15, y)
    path.cubicTo(
        x + height * 0.55, y + height * 0.35, x + height * 0.6, y + height * 0.75, x + height * 0.25, y + height
    )
    painter.fillPath(path, colour)


def ring(painter: QPainter, centre: QPointF, radius: float, colour: QColor) -> None:
    """The sign of output."""
    painter.setPen(QPen(colour, 1.8))
    painter.setBrush(Qt.BrushStyle.NoBrush)
    painter.drawEllipse(centre, radius, radius)


def pennant(painter: QPainter, foot: QPointF, height: float, colour: QColor) -> None:
    """The sign of a breakpoint: a pennant on its staff."""
    painter.setPen(QPen(colour, 1.6))
    top = foot.y() - height
    painter.drawLine(foot, QPointF(foot.x(), top))
    path = QPainterPath(QPointF(foot.x(), top))
    path.lineTo(foot.x() + height * 0.7, top + height * 0.25)
    path.lineTo(foot.x(), top + height * 0.5)
    path.closeSubpath()
    painter.fillPath(path, colour)


def shell(painter: QPainter, foot: QPointF, height: float, colour: QColor) -> None:
    """The sign of a note: a ribbed shell, its hinge at `foot`."""
    width = height * 0.9
    path = QPainterPath(foot)
    path.cubicTo(foot.x() - width, foot.y() - height * 0.5, foot.x() - width * 0.5, foot.y() - height,
                 foot.x(), foot.y() - height)  # fmt: skip
    path.cubicTo(foot.x() + width * 0.5, foot.y() - height, foot.x() + width, foot.y() - height * 0.5,
                 foot.x(), foot.y())  # fmt: skip
    painter.setPen(QPen(colour, 1.4))
    painter.setBrush(Qt.BrushStyle.NoBrush)
    painter.drawPath(path)
    for share in (-0.3, 0.0, 0.3):
        painter.drawLine(foot, QPointF(foot.x() + width * share, foot.y() - height * 0.86))


def float_(painter: QPainter, foot: QPointF, height: float, colour: QColor) -> None:
    """The sign of a claim: a float on the water, with the band around its middle."""
    centre = QPointF(foot.x(), foot.y() - height * 0.45)
    radius = height * 0.36
    painter.setPen(QPen(colour, 1.5))
    painter.setBrush(Qt.BrushStyle.NoBrush)
    painter.drawEllipse(centre, radius, radius * 1.15)
    painter.drawLine(QPointF(centre.x() - radius, centre.y()), QPointF(centre.x() + radius, centre.y()))
    painter.drawLine(QPointF(centre.x(), centre.y() - radius * 1.15), QPointF(centre.x(), foot.y() - height))
    painter.drawLine(QPointF(centre.x() - radius * 1.5, foot.y()), QPointF(centre.x() + radius * 1.5, foot.y()))


def stake(painter: QPainter, foot: QPointF, height: float, colour: QColor) -> None:
    """The sign of a bookmark: a stake in the flats, with a crosspiece."""
    painter.setPen(QPen(colour, 2.2))
    top = foot.y() - height
    painter.drawLine(foot, QPointF(foot.x(), top))
    painter.drawLine(QPointF(foot.x() - 4, top + 2), QPointF(foot.x() + 4, top + 2))


def broken_shell(painter: QPainter, centre: QPointF, size: float, colour: QColor) -> None:
    """The sign of an exception: a shell in two halves."""
    painter.setPen(Qt.PenStyle.NoPen)
    painter.setBrush(QBrush(colour))
    for side in (-1, 1):
        path = QPainterPath(QPointF(centre.x() + side, centre.y() + size))
        path.lineTo(centre.x() + side * size, centre.y() - size * 0.2)
        path.quadTo(
            centre.x() + side * size * 0.9, centre.y() - size, centre.x() + side * size * 0.4, centre.y() - size
        )
        path.lineTo(centre.x() + side * 2.2, centre.y() - size * 0.3)
        path.lineTo(centre.x() + side * 0.6, centre.y() + size * 0.2)
        path.closeSubpath()
        painter.drawPath(path)


def tag_shape(rect: QRectF, number: int) -> QPainterPath:
    """The outline of a tag. Four shapes take turns, so that tags differ by more than their tint."""
    path = QPainterPath()
    radius = rect.height() / 2
    kind = number % 4
    if kind == 0:
        path.addRoundedRect(rect, radius, radius)
    elif kind == 1:
        path.moveTo(rect.left() + 5, rect.top())
        path.lineTo(rect.right(), rect.top())
        path.lineTo(rect.right() - 5, rect.bottom())
        path.lineTo(rect.left(), rect.bottom())
        path.closeSubpath()
    elif kind == 2:
        path.moveTo(rect.left(), rect.top())
        path.lineTo(rect.right() - 6, rect.top())
        path.lineTo(rect.right(), rect.center().y())
        path.lineTo(rect.right() - 6, rect.bottom())
        path.lineTo(rect.left(), rect.bottom())
        path.closeSubpath()
    else:
        path.addRoundedRect(rect, 3, 3)
    return path


def wave_tab(rect: QRectF) -> QPainterPath:
    """The waterline's tab at the left edge of the text: a block whose right side is a wave."""
    path = QPainterPath(rect.topLeft())
    x, y, width, height = rect.right(), rect.top(), rect.width(), rect.height()
    path.lineTo(x - width * 0.25, y)
    path.cubicTo(
        x + width * 0.15, y + height * 0.2, x - width * 0.6, y + height * 0.3, x - width * 0.25, y + height * 0.5
    )
    path.cubicTo(x + width * 0.15, y + height * 0.7, x - width * 0.6, y + height * 0.8, x - width * 0.25, y + height)
    path.lineTo(rect.bottomLeft())
    path.closeSubpath()
    return path


def breakpoint_sign(painter: QPainter, its: Breakpoint, foot: QPointF, height: float, colours: Palette) -> None:
    """A pennant for a breakpoint, a shell for a note, a float for a claim; pale when it is switched off. They stand
    with their middle above `foot`."""
    if its.claims:
        sign, colour = float_, colours.deep
    elif its.note:
        sign, colour = shell, colours.kelp
    else:
        sign, colour, foot = pennant, colours.coral, QPointF(foot.x() - height * 0.3, foot.y())
    sign(painter, foot, height, QColor(colour if its.on else colours.ink_faded))
