"""The trail: where a value came from, link by link, as a tree that is worked out when it is opened."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial

from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtGui import QColor
from PyQt6.QtWidgets import QComboBox, QLineEdit, QMenu, QPushButton, QSizePolicy, QTreeWidget, QTreeWidgetItem, QWidget

from eelgrass.desktop.activities.kept_trails import KeptTrails
from eelgrass.desktop.look.look import Look
from eelgrass.desktop.look.palette import ui_font
from eelgrass.desktop.look.plain_text import as_rich
from eelgrass.desktop.look.widgets import CodeLine, SoftLabel, lay_out, row_of
from eelgrass.desktop.services.translation import tr
from eelgrass.desktop.session.questions.trails import Link, Trails
from eelgrass.desktop.session.session import Session
from eelgrass.reading.trails.moments import Kind

_LINK = Qt.ItemDataRole.UserRole
_DECISIONS = frozenset((Kind.DECIDED, Kind.NOT_RUN, Kind.RAISED))
#: What the trail can be narrowed to, and the kinds of links that are left out then.
_NARROWED = {
    "all links": frozenset[Kind](),
    "only values": _DECISIONS,
    "only what decided": frozenset(Kind) - _DECISIONS,
}


class TrailView(QWidget):
    """A question above, and its links below. A click on a link shows its moment; opening it shows what lies behind."""

    def __init__(self, session: Session, trails: Trails, kept: KeptTrails, look: Look) -> None:
        super().__init__()
        self._session = session
        self._trails = trails
        self._kept = kept
        self._look = look
        self.question = CodeLine(look, 9.5)
        self.question.setPlaceholderText(tr("a name, element or field, as: stock[2]"))
        self.question.setAccessibleName(tr("The value to follow"))
        self.ask = QPushButton(tr("Where from?"))
        self.narrow = QComboBox()
        self.narrow.addItems([tr(words) for words in _NARROWED])
        self.narrow.setAccessibleName(tr("Which links are shown"))
        self.narrow.setSizePolicy(QSizePolicy.Policy.Maximum, QSizePolicy.Policy.Preferred)
        self.title = SoftLabel(look)
        self.title.setWordWrap(True)
        self.tree = QTreeWidget()
        self.tree.setHeaderHidden(True)
        header = self.tree.header()
        assert header is not None
        header.setStretchLastSection(False)  # a long sentence can be reached, not cut
        header.setSectionResizeMode(header.ResizeMode.ResizeToContents)
        self.tree.setFrameShape(self.tree.Shape.NoFrame)
        self.tree.setAccessibleName(tr("Links of the trail"))
        self.note = QLineEdit()
        self.note.setPlaceholderText(tr("a note on this trail"))
        self.note.setAccessibleName(tr("A note on this trail"))
        self.keep, self.attach, self.kept = QPushButton(tr("Keep")), QPushButton(tr("Attach")), QPushButton()
        self.keep.setToolTip(tr("Keeps the moments that were walked to, for this program"))
        self.attach.setToolTip(tr("Puts the moments that were walked to into the answer"))
        upper = row_of(self.question, self.ask, self.narrow)
        lower = row_of(self.note, self.keep, self.attach, self.kept)
        lay_out(self, upper, self.title, self.tree, lower, grows=[self.tree])
        layout = self.layout()
        if layout is not None:
            layout.setContentsMargins(8, 6, 8, 4)
        self.question.returnPressed.connect(self._ask)
        self.ask.clicked.connect(self._ask)
        self.narrow.currentIndexChanged.connect(self.refresh)
        self.tree.itemExpanded.connect(self._open)
        self.tree.itemClicked.connect(self._stand)
        self.tree.itemActivated.connect(self._stand)
        self.tree.setContextMenuPolicy(Qt.ContextMenuPolicy.CustomContextMenu)
        self.tree.customContextMenuRequested.connect(self._offer)
        self.keep.clicked.connect(lambda: self._put_by(kept.keep))
        self.attach.clicked.connect(lambda: self._put_by(kept.attach))
        self.kept.clicked.connect(self._offer_kept)
        kept.changed.connect(self._show_kept)
        trails.asked.connect(self.refresh)
        trails.opened.connect(self._fill)
        trails.stood.connect(self._mark)
        trails.said.connect(self._say)
        look.dresses(self._dress)

    def _dress(self) -> None:
        c = self._look.colours
        self.tree.setFont(ui_font(10))
        self.tree.setStyleSheet(
            f"QTreeWidget {{ background: {c.foam}; color: {c.ink}; }}"
            f"QTreeWidget::item:selected {{ background: {c.waterline}; color: {c.ink}; }}"
        )
        self.refresh()

    def _ask(self) -> None:
        if self.question.text().strip():
            self._trails.ask_expression(self.question.text().strip())

    def _say(self, sentence: str) -> None:
        self.title.setText(sentence)

    def refresh(self) -> None:
        """Shows the trail from its beginning, with what is known of it."""
        self.tree.clear()
        self.title.setText(
            self._trails.title or tr("Ask where a value came from: here, or with the menu of any value.")
        )
        for link in self._chosen(self._trails.beginning):
            self.tree.addTopLevelItem(self._item(link))
        self._open_again()
        self._mark()
        self._show_kept()

    # Trails that are kept

    def _show_kept(self) -> None:
        for widget in (self.note, self.keep):
            widget.setVisible(bool(self._trails.walked))
        self.attach.setVisible(bool(self._trails.walked) and self._kept.may_attach)
        self.kept.setVisible(bool(self._kept.kept))
        self.kept.setText(tr("Kept: {0} ▾").format(len(self._kept.kept)))

    def _put_by(self, put: Callable[[str], None]) -> None:
        put(self.note.text())
        self.note.clear()

    def _offer_kept(self) -> None:
        menu = self.kept_menu()
        menu.exec(self.kept.mapToGlobal(self.kept.rect().topLeft()))

    def kept_menu(self) -> QMenu:
        """The kept trails, each with its moments, and with a way to keep it no longer."""
        menu = QMenu(self)
        for its in self._kept.kept:
            below = menu.addMenu(f"{its.told} – {its.note}" if its.note else its.told)
            assert below is not None
            for moment in its.moments:
                below.addAction(moment.told, partial(self._kept.go, moment))
            below.addSeparator()
            below.addAction(tr("Keep it no longer"), partial(self._kept.forget, its))
        return menu

    def _open_again(self) -> None:
        """Opens the links that were walked through, each where it comes first."""
        wanted = {link.number for link in (*self._trails.way, *self._trails.beginning[:1])} & set(self._trails.behind)
        waiting = [
            its for its in (self.tree.topLevelItem(place) for place in range(self.tree.topLevelItemCount())) if its
        ]
        for item in waiting:  # which grows meanwhile
            number = item.data(0, _LINK).number
            if number in wanted:
                wanted.discard(number)
                self._add(item)
                item.setExpanded(True)
                waiting += [its for its in (item.child(place) for place in range(item.childCount())) if its]

    def _chosen(self, links: list[Link]) -> list[Link]:
        left_out = list(_NARROWED.values())[max(self.narrow.currentIndex(), 0)]
        return [link for link in links if link.kind not in left_out]

    def _item(self, link: Link) -> QTreeWidgetItem:
        item = QTreeWidgetItem([link.text])
        item.setData(0, _LINK, link)
        item.setToolTip(0, as_rich(link.text))
        if not link.is_end:
            item.setChildIndicatorPolicy(QTreeWidgetItem.ChildIndicatorPolicy.ShowIndicator)
        c = self._look.colours
        colours = {Kind.NOT_RUN: c.coral, Kind.RAISED: c.coral, Kind.DECIDED: c.ink_soft}
        item.setForeground(0, QColor(c.kelp if link.is_end else colours.get(link.kind, c.ink)))
        return item

    def _open(self, item: QTreeWidgetItem) -> None:
        link: Link = item.data(0, _LINK)
        if link.number in self._trails.behind:
            self._add(item)
        else:
            self._trails.open(link.number)

    def _add(self, item: QTreeWidgetItem) -> None:
        link: Link = item.data(0, _LINK)
        if item.childCount() == 0:
            behind = self._chosen(self._trails.behind[link.number])
            item.addChildren([self._item(its) for its in behind])
            if not behind:
                item.setChildIndicatorPolicy(QTreeWidgetItem.ChildIndicatorPolicy.DontShowIndicator)

    def _items(self) -> list[QTreeWidgetItem]:
        """All items, each before those behind it."""
        found = [self.tree.topLevelItem(place) for place in range(self.tree.topLevelItemCount())]
        items = [its for its in found if its is not None]
        for item in items:  # which grows meanwhile
            items += [its for its in (item.child(place) for place in range(item.childCount())) if its is not None]
        return items

    def _fill(self, number: int) -> None:
        """What lies behind a link has been found."""
        wanted = {its.number for its in (self._trails.place, *self._trails.beginning[:1]) if its is not None}
        for item in self._items():
            if item.data(0, _LINK).number == number and (item.isExpanded() or number in wanted):
                self._add(item)
                item.setExpanded(True)

    def _stand(self, item: QTreeWidgetItem) -> None:
        self._trails.stand_at(item.data(0, _LINK))

    def _offer(self, at: QPoint) -> None:
        item, viewport = self.tree.itemAt(at), self.tree.viewport()
        if item is None or viewport is None:
            return
        menu = QMenu(self)
        action = menu.addAction(tr("Not inside this link's function"))
        assert action is not None
        action.triggered.connect(lambda: self._trails.leave_out(item.data(0, _LINK)))
        menu.exec(viewport.mapToGlobal(at))

    def _mark(self) -> None:
        """Marks the link stood at, and dims those looked at."""
        place = self._trails.place
        for item in self._items():
            link: Link = item.data(0, _LINK)
            if link.number in self._trails.seen and link != place:
                item.setForeground(0, QColor(self._look.colours.ink_faded))
        current = [its for its in self._items() if place is not None and its.data(0, _LINK) == place]
        if current:
            self.tree.setCurrentItem(current[-1])
            self.tree.scrollToItem(current[-1])
