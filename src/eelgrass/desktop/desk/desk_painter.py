"""Paints the windows of a program as they were: flat, in the colours that it chose."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QPainter, QPen

from eelgrass.desktop.desk.item_painter import font_of, paint_item
from eelgrass.desktop.look.look import Look
from eelgrass.desktop.look.palette import LEFT, RIGHT, px, ui_font
from eelgrass.reading.desk.desk_states import DeskState
from eelgrass.reading.desk.doable import bare_kind, column_edges, row_height, tab_width

_TITLE, _GAP = 22.0, 12.0
_LARGEST_SCALE = 1.6


#: By the path of a canvas, the rectangle around all that is ever drawn there: left, top, right, bottom.
Drawn = Mapping[str, tuple[float, float, float, float]]


@dataclass(frozen=True)
class PlacedWindow:
    """A window on the canvas: its path, which part of it shows, where that lies, and how much smaller it is drawn."""

    path: str
    part: QRectF
    rect: QRectF
    scale: float

    @property
    def frame(self) -> QRectF:
        """The same with its title."""
        return self.rect.adjusted(-1, -px(_TITLE), 1, 1)


def _part(desk: DeskState, path: str, drawn: Drawn) -> QRectF:
    """What shows of a window: all, or what is ever drawn on its one canvas."""
    whole = QRectF(0, 0, *desk.widgets[path]["at"][2:])
    canvas = next((one for one in desk.within(path) if one in drawn), None)
    if canvas is None:
        return whole
    left, top, width, height = desk.at(canvas)
    origin, box = desk.widgets[canvas].get("origin", [0, 0]), drawn[canvas]
    its = QRectF(
        QPointF(box[0] - origin[0] + left, box[1] - origin[1] + top),
        QPointF(box[2] - origin[0] + left, box[3] - origin[1] + top),
    )
    return its.intersected(QRectF(left, top, width, height)) or whole


def place(desk: DeskState, width: float, height: float, drawn: Drawn) -> list[PlacedWindow]:
    """Where the windows go on a canvas of that size: beside each other, all at the same scale."""
    parts = [_part(desk, path, drawn) for path in desk.windows]
    sizes = [(part.width(), part.height()) for part in parts]
    if not sizes:
        return []
    title, gap = px(_TITLE), px(_GAP)
    across = (width - gap * (len(sizes) + 1)) / max(sum(size[0] for size in sizes), 1)
    down = (height - title - 2 * gap) / max(max(size[1] for size in sizes), 1)
    scale = max(min(across, down, _LARGEST_SCALE), 0.05)
    placed, x = [], gap
    for path, part, size in zip(desk.windows, parts, sizes, strict=True):
        placed.append(PlacedWindow(path, part, QRectF(x, gap + title, size[0] * scale, size[1] * scale), scale))
        x += size[0] * scale + gap
    return placed


class DeskPainter:
    """Paints one desk."""

    def __init__(self, look: Look) -> None:
        self._look = look

    def paint(self, painter: QPainter, desk: DeskState, placed: list[PlacedWindow]) -> None:
        """All windows, with what is in them."""
        c = self._look.colours
        for window in placed:
            its, rect = desk.widgets[window.path], window.rect
            frame = window.frame
            painter.setPen(QPen(QColor(c.sand_edge), 1))
            painter.setBrush(QColor(c.sand))
            painter.drawRoundedRect(frame, 5, 5)
            painter.setPen(QColor(c.ink))
            self._paint_title(painter, its, QRectF(rect.left() + 8, frame.top(), rect.width() - 16, px(_TITLE)))
            painter.save()
            painter.setClipRect(rect)
            painter.fillRect(rect, _colour(its, "background", "#d9d9d9"))
            painter.translate(rect.topLeft())
            painter.scale(window.scale, window.scale)
            painter.translate(-window.part.topLeft())
            for path in desk.within(window.path):
                if not desk.is_hidden(path):
                    self._paint_widget(painter, desk, path)
            painter.restore()

    def _paint_title(self, painter: QPainter, its: dict[str, Any], strip: QRectF) -> None:
        """A window's title, and on the right its menus."""
        painter.setFont(ui_font(9))
        menus = "   ".join(title for title, _ in its.get("menus", ()))
        room = strip.width() - painter.fontMetrics().horizontalAdvance(menus) - (10 if menus else 0)
        painter.drawText(strip, RIGHT, menus)
        painter.setFont(ui_font(9, bold=True))
        title = str(its.get("title", ""))
        painter.drawText(strip, LEFT, painter.fontMetrics().elidedText(title, Qt.TextElideMode.ElideRight, int(room)))

    def _paint_widget(self, painter: QPainter, desk: DeskState, path: str) -> None:
        its, rect = desk.widgets[path], QRectF(*desk.at(path))
        kind = bare_kind(its)
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(_colour(its, "background", "#d9d9d9"))
        painter.drawRect(rect)
        if kind in ("Button", "Menubutton", "Entry", "Text", "Listbox", "Spinbox", "Combobox", "Labelframe", "Scale"):
            painter.setPen(QPen(QColor("#2c6e63" if its.get("focus") else "#8a8a80"), 1.6 if its.get("focus") else 1))
            painter.setBrush(
                QColor("#f3f1ea")
                if kind in ("Button", "Menubutton") and "background" not in its
                else Qt.BrushStyle.NoBrush
            )
            inner = rect.adjusted(2, 9 if kind == "Labelframe" else 2, -2, -2)
            painter.drawRoundedRect(inner, 5 if kind == "Button" else 2, 5 if kind == "Button" else 2)
        if kind == "Canvas":
            self._paint_canvas(painter, desk, path, rect)
        elif kind == "Listbox":
            self._paint_lines(painter, its, rect)
        elif kind == "Treeview":
            painter.save()
            self._paint_table(painter, its, rect)
            painter.restore()
        elif kind == "Notebook":
            self._paint_tabs(painter, its, rect)
        elif kind in ("Scale", "Progressbar"):
            self._paint_scale(painter, its, rect)
        elif kind not in ("Frame", "Scrollbar", "Separator", "Notebook", "Panedwindow"):
            self._paint_words(painter, its, rect, kind)

    def _paint_words(self, painter: QPainter, its: dict[str, Any], rect: QRectF, kind: str) -> None:
        font = font_of(str(its.get("font", "")))
        painter.setFont(font)
        painter.setPen(QColor("#9a9a92") if its.get("state") == "disabled" else _colour(its, "foreground", "#000000"))
        if kind in ("Checkbutton", "Radiobutton"):
            box = QRectF(rect.left() + 4, rect.center().y() - 6, 12, 12)
            painter.setBrush(QColor("#2c6e63") if its.get("on") else QColor("#ffffff"))
            painter.drawEllipse(box) if kind == "Radiobutton" else painter.drawRect(box)
            rect = rect.adjusted(20, 0, 0, 0)
        words = str(its.get("words", ""))
        if kind == "Labelframe":
            painter.drawText(QPointF(rect.left() + 10, rect.top() + 12), words)
            return
        align = (
            LEFT
            if kind in ("Entry", "Spinbox", "Combobox", "Text", "Checkbutton", "Radiobutton")
            else Qt.AlignmentFlag.AlignCenter
        )
        if kind in ("Label", "Message") and "w" in str(its.get("anchor", "")):
            align = LEFT
        if kind == "Text":
            align = Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignTop
        painter.drawText(rect.adjusted(5, 2, -4, -2), int(align), words)

    def _paint_lines(self, painter: QPainter, its: dict[str, Any], rect: QRectF) -> None:
        painter.setFont(font_of(str(its.get("font", ""))))
        chosen = its.get("chosen", [])
        for place_, line in enumerate(its.get("lines", [])[:60]):
            height = row_height(its)
            row = QRectF(rect.left() + 4, rect.top() + 3 + height * place_, rect.width() - 8, height)
            if place_ in chosen:
                painter.fillRect(row, QColor("#cfe3dc"))
            painter.setPen(_colour(its, "foreground", "#000000"))
            painter.drawText(row, LEFT, str(line))

    def _paint_table(self, painter: QPainter, its: dict[str, Any], rect: QRectF) -> None:
        """Titles, then rows; those that are chosen stand out."""
        edges, titles, height = column_edges(its), its.get("titles", []), row_height(its)
        painter.setPen(QPen(QColor("#8a8a80"), 1))
        painter.setBrush(QColor("#ffffff"))
        painter.drawRect(rect)
        painter.setClipRect(rect, Qt.ClipOperation.IntersectClip)
        for row, cells in enumerate([titles, *its.get("cells", [])] if titles else its.get("cells", [])):
            top, is_title = rect.top() + height * row, bool(titles) and row == 0
            if is_title or row - bool(titles) in its.get("chosen", ()):
                painter.fillRect(
                    QRectF(rect.left(), top, rect.width(), height), QColor("#f3f1ea" if is_title else "#cfe3dc")
                )
            painter.setFont(ui_font(9, bold=is_title))
            painter.setPen(QColor("#000000"))
            for left, right, cell in zip(edges, edges[1:], cells, strict=False):
                painter.drawText(QRectF(rect.left() + left + 4, top, right - left - 6, height), LEFT, cell)

    def _paint_tabs(self, painter: QPainter, its: dict[str, Any], rect: QRectF) -> None:
        painter.setFont(ui_font(9))
        painter.setPen(QPen(QColor("#8a8a80"), 1))
        for place_, title in enumerate(its.get("tabs", ())):
            is_shown = place_ in its.get("chosen", ())
            tab = QRectF(rect.left() + tab_width(its) * place_, rect.top() + 2, tab_width(its) - 2, 22)
            painter.setBrush(QColor("#f3f1ea") if is_shown else Qt.BrushStyle.NoBrush)
            painter.drawRect(tab)
            painter.drawText(tab.adjusted(4, 0, -2, 0), LEFT, title)

    def _paint_scale(self, painter: QPainter, its: dict[str, Any], rect: QRectF) -> None:
        share = its.get("share", 0.0)
        is_across = rect.width() >= rect.height()
        knob = 14.0
        at = (
            (rect.left() + share * (rect.width() - knob))
            if is_across
            else (rect.top() + share * (rect.height() - knob))
        )
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(QColor("#2c6e63"))
        painter.drawRoundedRect(
            QRectF(at, rect.bottom() - 16, knob, 12) if is_across else QRectF(rect.right() - 16, at, 12, knob), 4, 4
        )
        painter.setPen(QColor("#000000"))
        painter.setFont(ui_font(8))
        painter.drawText(
            rect.adjusted(4, 0, -4, 0),
            int(Qt.AlignmentFlag.AlignTop | Qt.AlignmentFlag.AlignHCenter),
            str(its.get("words", "")),
        )

    # Canvases

    def _paint_canvas(self, painter: QPainter, desk: DeskState, path: str, rect: QRectF) -> None:
        origin = desk.widgets[path].get("origin", [0, 0])
        painter.save()
        painter.setClipRect(rect, Qt.ClipOperation.IntersectClip)
        painter.translate(rect.left() - float(origin[0]), rect.top() - float(origin[1]))
        for item in desk.items.get(path, []):
            if item.options.get("state") != "hidden":
                paint_item(painter, item)
        painter.restore()


def _colour(its: dict[str, Any], name: str, otherwise: str) -> QColor:
    return QColor(str(its.get(name, otherwise)) or otherwise)
