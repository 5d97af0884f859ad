"""Paints the items of a program's canvases, and gives the fonts it asks for."""

from __future__ import annotations

import math

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QBrush, QColor, QFont, QFontMetricsF, QPainter, QPainterPath, QPen, QPolygonF

from eelgrass.desktop.look.palette import code_font, px, ui_font
from eelgrass.reading.desk.desk_states import Item

_ANCHORS = {"n": (0.5, 0.0), "s": (0.5, 1.0), "w": (0.0, 0.5), "e": (1.0, 0.5)}
_ANCHORS |= {"nw": (0.0, 0.0), "ne": (1.0, 0.0), "sw": (0.0, 1.0), "se": (1.0, 1.0)}


def font_of(words: str) -> QFont:
    """A font as large as the program's, in one of our faces."""
    parts = words.replace("{", "").replace("}", "").split()
    sizes = [abs(int(part)) for part in parts if part.lstrip("-").isdecimal()]
    is_fixed = any(part.lower().startswith(("courier", "tkfixed", "mono", "consolas")) for part in parts)
    size = min(max(sizes[0] if sizes else 10, 4), 200) * 0.95 / px(1)
    return code_font(size) if is_fixed else ui_font(size, bold="bold" in parts)


def paint_item(painter: QPainter, item: Item) -> None:
    """Paints one item, in the coordinates of its canvas."""
    fill, outline = item.options.get("fill", ""), item.options.get("outline", "")
    points = [QPointF(x, y) for x, y in zip(item.coords[::2], item.coords[1::2], strict=True)]
    width = _number(item.options.get("width", "1"), 1.0)
    if not points:
        return
    if item.kind == "text":
        _paint_text(painter, item, points[0], fill or "#000000")
    elif item.kind == "line":
        colour = fill or ("" if "fill" in item.options else "#000000")
        if colour and len(points) > 1:
            painter.setPen(_pen(item, colour, width))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawPath(_path(points, _is_smooth(item), False))
            _paint_arrows(painter, item, points, colour, width)
    else:
        painter.setPen(_pen(item, outline, width) if outline and width else Qt.PenStyle.NoPen)
        painter.setBrush(QColor(fill) if fill else QBrush(Qt.BrushStyle.NoBrush))
        _paint_shape(painter, item, points)


def _pen(item: Item, colour: str, width: float) -> QPen:
    pen = QPen(QColor(colour), width)
    pen.setCapStyle(Qt.PenCapStyle.RoundCap)
    lengths = [_number(its, 0.0) for its in item.options.get("dash", "").split()]
    if lengths and all(its > 0 for its in lengths):
        pen.setCapStyle(Qt.PenCapStyle.FlatCap)
        pen.setDashPattern([its / max(width, 1.0) for its in (lengths if len(lengths) % 2 == 0 else lengths * 2)])
    elif item.options.get("dash"):
        pen.setStyle(Qt.PenStyle.DashLine)
    return pen


def _is_smooth(item: Item) -> bool:
    return item.options.get("smooth", "0").lower() not in ("", "0", "false", "no")


def _path(points: list[QPointF], is_smooth: bool, is_closed: bool) -> QPainterPath:
    """Through the points; a smooth one bends towards them, from the middle between two to the next middle."""
    path = QPainterPath(points[0])
    if is_smooth and len(points) > 2:
        if is_closed:
            path = QPainterPath((points[-1] + points[0]) / 2)
            points = [*points, points[0]]
        for point, following in zip(points[(not is_closed) : -1], points[(not is_closed) + 1 :], strict=True):
            is_last = not is_closed and following is points[-1]
            path.quadTo(point, following if is_last else (point + following) / 2)
        return path
    for point in points[1:]:
        path.lineTo(point)
    if is_closed:
        path.closeSubpath()
    return path


def _paint_arrows(painter: QPainter, item: Item, points: list[QPointF], colour: str, width: float) -> None:
    where = item.options.get("arrow", "none")
    ends = [(points[1], points[0])] if where in ("first", "both") else []
    ends += [(points[-2], points[-1])] if where in ("last", "both") else []
    painter.setPen(Qt.PenStyle.NoPen)
    painter.setBrush(QColor(colour))
    for start, tip in ends:
        along = tip - start
        length = math.hypot(along.x(), along.y()) or 1.0
        along /= length
        across, long, half = QPointF(-along.y(), along.x()), 8 + width, 3 + width
        painter.drawPolygon(QPolygonF([tip, tip - along * long + across * half, tip - along * long - across * half]))


def _paint_shape(painter: QPainter, item: Item, points: list[QPointF]) -> None:
    if item.kind == "polygon":
        painter.drawPath(_path(points, _is_smooth(item), True))
        return
    if len(points) < 2:
        return
    rect = QRectF(points[0], points[1]).normalized()
    if item.kind == "rectangle":
        painter.drawRect(rect)
    elif item.kind == "oval":
        painter.drawEllipse(rect)
    elif item.kind == "arc":
        start, extent = (
            _number(item.options.get(name, ""), usual) for name, usual in (("start", 0.0), ("extent", 90.0))
        )
        style = item.options.get("style", "pieslice")
        path = QPainterPath()
        path.arcMoveTo(rect, start)
        if style == "pieslice":
            path.moveTo(rect.center())
        path.arcTo(rect, start, extent)
        if style != "arc":
            path.closeSubpath()
        painter.drawPath(path)


def _paint_text(painter: QPainter, item: Item, at: QPointF, colour: str) -> None:
    font = font_of(item.options.get("font", ""))
    painter.setFont(font)
    painter.setPen(QColor(colour))
    metrics, lines = QFontMetricsF(font), item.options.get("text", "").split("\n")
    width, height = max(metrics.horizontalAdvance(line) for line in lines), metrics.height() * len(lines)
    across, down = _ANCHORS.get(item.options.get("anchor", "center"), (0.5, 0.5))
    room = QRectF(at.x() - across * width, at.y() - down * height, width + 2, height)
    painter.drawText(room, int(Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignTop), "\n".join(lines))


def _number(text: str, otherwise: float) -> float:
    try:
        found = float(text)
    except ValueError:
        return otherwise
    return found if math.isfinite(found) and abs(found) < 1e5 else otherwise
