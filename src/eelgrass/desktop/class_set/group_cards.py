"""The groups of a class set as cards: how many, what they do, where that first goes wrong."""

from __future__ import annotations

from PyQt6.QtCore import QItemSelectionModel, QModelIndex, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QFontMetricsF, QPainter
from PyQt6.QtWidgets import QAbstractItemView, QListWidgetItem, QStyle, QStyledItemDelegate, QStyleOptionViewItem

from eelgrass.desktop.activities.classes.class_work import ClassWork
from eelgrass.desktop.look.look import Look
from eelgrass.desktop.look.palette import code_font, px, ui_font
from eelgrass.desktop.look.plain_text import visible
from eelgrass.desktop.look.widgets import PlainList
from eelgrass.desktop.services.translation import tr
from eelgrass.lessons.class_sets.grouping import Group

_GROUP = Qt.ItemDataRole.UserRole
_DIFFERENCE = Qt.ItemDataRole.UserRole + 1
_HEIGHT, _COUNT_PX, _GAP = 104, 58, 8


class GroupCards(PlainList):
    """Several can be chosen. Signal: `opened(key)` when another one is in front."""

    opened = pyqtSignal(str)

    def __init__(self, work: ClassWork, look: Look) -> None:
        super().__init__(tr("Groups"), look)
        self._work = work
        self._delegate = _CardDelegate(look)
        self.setItemDelegate(self._delegate)
        self.setSelectionMode(QAbstractItemView.SelectionMode.ExtendedSelection)
        self.setVerticalScrollMode(QAbstractItemView.ScrollMode.ScrollPerPixel)
        self.currentItemChanged.connect(self._open)
        work.changed.connect(self.refresh)
        look.changed.connect(self.refresh)

    def refresh(self) -> None:
        """Shows the groups as they are now; the one in front stays there."""
        key = self.key
        self.blockSignals(True)
        for row, group in enumerate(self._work.groups):
            item = self.item(row)
            if item is None:
                item = QListWidgetItem()
                self.addItem(item)
            item.setData(_GROUP, group)
            item.setData(_DIFFERENCE, self._work.differences.get(group.key, ""))
            words = tr("{0} hand-ins: {1}").format(len(group.members), visible(group.name))
            item.setData(Qt.ItemDataRole.AccessibleTextRole, words)
            item.setToolTip(visible(f"{group.name} {self._work.differences.get(group.key, '')}".strip()))
        for _ in range(self.count() - len(self._work.groups)):
            self.takeItem(self.count() - 1)
        rows = [row for row, group in enumerate(self._work.groups) if group.key == key]
        row = rows[0] if rows else min(0, self.count() - 1)
        if row != self.currentRow() or not self.selectedItems():
            self.setCurrentRow(row, QItemSelectionModel.SelectionFlag.ClearAndSelect)
        self.blockSignals(False)
        self.viewport().update()  # type: ignore[union-attr]
        self.opened.emit(self.key)

    @property
    def key(self) -> str:
        """The group in front; '' for none."""
        group = self._group(self.currentItem())
        return group.key if group is not None else ""

    @property
    def keys(self) -> list[str]:
        """All that are chosen, from above."""
        rows = sorted(self.row(item) for item in self.selectedItems())
        groups = (self._group(self.item(row)) for row in rows)
        return [group.key for group in groups if group is not None]

    def _group(self, item: QListWidgetItem | None) -> Group | None:
        held = item.data(_GROUP) if item is not None else None
        return held if isinstance(held, Group) else None

    def _open(self) -> None:
        self.opened.emit(self.key)


class _CardDelegate(QStyledItemDelegate):
    def __init__(self, look: Look) -> None:
        super().__init__()
        self._look = look

    def sizeHint(self, option: QStyleOptionViewItem, index: QModelIndex) -> QSize:
        return QSize(200, int(px(_HEIGHT)))

    def paint(self, painter: QPainter | None, option: QStyleOptionViewItem, index: QModelIndex) -> None:
        group = index.data(_GROUP)
        if painter is None or not isinstance(group, Group):
            return
        c = self._look.colours
        card = QRectF(option.rect).adjusted(4, 3, -4, -3)
        is_chosen = bool(option.state & QStyle.StateFlag.State_Selected)
        painter.save()
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setPen(QColor(c.deep if is_chosen else c.sand_edge))
        painter.setBrush(QColor(c.waterline if is_chosen else c.shallow if group.passes else c.beach))
        painter.drawRoundedRect(card, 10, 10)
        self._paint_count(painter, card, group)
        words = card.adjusted(px(_COUNT_PX), 6, -8, -6)
        painter.setPen(QColor(c.ink))
        self._paint_words(painter, words, visible(group.name), 10, True, 2)
        below = words.adjusted(0, px(42), 0, 0)
        painter.setPen(QColor(c.ink_soft if not is_chosen else c.ink))
        self._paint_words(painter, below, visible(str(index.data(_DIFFERENCE) or "")), 9, False, 2)
        painter.restore()

    def _paint_count(self, painter: QPainter, card: QRectF, group: Group) -> None:
        c = self._look.colours
        painter.setPen(QColor(c.deep if group.passes else c.kelp))
        painter.setFont(ui_font(17, bold=True))
        painter.drawText(
            QRectF(card.left(), card.top() + 4, px(_COUNT_PX), px(34)),
            Qt.AlignmentFlag.AlignCenter,
            str(len(group.members)),
        )
        painter.setFont(code_font(9))
        passed = sum(its == "passed" for its in group.results.values())
        place = QRectF(card.left(), card.top() + px(36), px(_COUNT_PX), px(18))
        painter.drawText(place, Qt.AlignmentFlag.AlignCenter, f"{passed}/{len(group.results)}")

    def _paint_words(self, painter: QPainter, room: QRectF, words: str, points: float, bold: bool, lines: int) -> None:
        """Words in so many lines, the last one shortened."""
        font = ui_font(points, bold)
        painter.setFont(font)
        metrics = QFontMetricsF(font)
        left = words.split()
        for line in range(lines):
            shown = ""
            while left and (not shown or metrics.horizontalAdvance(f"{shown} {left[0]}") <= room.width()):
                shown = f"{shown} {left.pop(0)}".strip()
            if line == lines - 1 and left:
                shown = f"{shown} {' '.join(left)}"
            shown = metrics.elidedText(shown, Qt.TextElideMode.ElideRight, room.width())
            place = QRectF(room.left(), room.top() + line * metrics.height(), room.width(), metrics.height())
            painter.drawText(place, Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter, shown)
