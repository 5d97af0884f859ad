"""The clues of the run on view: a sentence each, and below it the moments that show it."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QSize, Qt
from PyQt6.QtGui import QColor, QContextMenuEvent
from PyQt6.QtWidgets import QListView, QListWidgetItem, QMenu

from eelgrass.desktop.activities.authoring import Authoring
from eelgrass.desktop.look.look import Look
from eelgrass.desktop.look.palette import px, ui_font
from eelgrass.desktop.look.plain_text import visible
from eelgrass.desktop.look.widgets import PlainList
from eelgrass.desktop.services.translation import tr
from eelgrass.desktop.session.questions.clue_list import ClueList
from eelgrass.desktop.session.session import Session
from eelgrass.reading.clues.catalogue import kind_of
from eelgrass.reading.clues.clue import LIKELY, Clue

#: What a row stands for: a clue, one of its moments (a step), or something that is done when it is clicked.
_CLUE, _STEP, _DOES = (Qt.ItemDataRole.UserRole + place for place in range(3))
_STRONG = 0.8
_INDENT = "      "
_ABOVE = 12


def strength_words(strength: float) -> str:
    """How strong the evidence is."""
    return tr("strong") if strength >= _STRONG else tr("likely") if strength >= LIKELY else tr("weak")


class CluesView(PlainList):
    """A click on a clue leads to its first moment, the next click to the next one; a click on a moment leads there.
    Weak clues are folded away. What the text states itself can be claimed. A menu switches a kind off, or makes a
    clue a hint of the exercise that is made."""

    def __init__(self, session: Session, clues: ClueList, authoring: Authoring, look: Look) -> None:
        super().__init__(tr("Clues"), look)
        self._session, self._clues, self._authoring = session, clues, authoring
        self._shows_weak = False
        self.setResizeMode(QListView.ResizeMode.Adjust)
        self.itemClicked.connect(self._follow)
        self.itemActivated.connect(self._follow)
        clues.changed.connect(self.refresh)
        session.moved.connect(self._mark)
        session.opened.connect(self._fold)
        look.changed.connect(self.refresh)

    def _fold(self) -> None:
        self._shows_weak = False

    def refresh(self) -> None:
        """Shows the clues that there are."""
        row = self.currentRow()
        self.clear()
        if self._clues.words:
            self._add(self._clues.words, soft=True)
        weak = [its for its in self._clues.shown if its.strength < LIKELY]
        for clue in self._clues.likely:
            self._add_clue(clue)
        if weak:
            title = tr("▾ Weak evidence: {0}") if self._shows_weak else tr("▸ Weak evidence: {0}")
            self._add_doing(title.format(len(weak)), self._unfold)
        for clue in weak if self._shows_weak else ():
            self._add_clue(clue)
        if self._clues.stated:
            self._add_heading(tr("The text says this itself; a click claims it"))
        for its in self._clues.stated:
            said = tr("line {0}: “{1}” – claim {2}").format(its.line, its.said, its.claim.condition)
            self._add_doing(_INDENT + said, lambda its=its: self._clues.claim(its))  # type: ignore[misc]
        if self._clues.off:
            names = ", ".join(f"“{kind.title}”" for kind in self._clues.off)
            self._add_doing(tr("Switched off: {0}. Switch on again").format(names), self._clues.switch_on)
        self.setCurrentRow(min(row, self.count() - 1))
        self._mark()

    def _unfold(self) -> None:
        self._shows_weak = not self._shows_weak
        self.refresh()

    def _add_clue(self, clue: Clue) -> None:
        kind = kind_of(clue.kind)
        title = kind.title if kind is not None else clue.kind
        about = tr("{0} · line {1} · {2}").format(title, clue.line, strength_words(clue.strength))
        for item in (self._add_heading(about), self._add(clue.text)):
            item.setData(_CLUE, clue)
        recording = self._session.recording
        for its in clue.evidence if recording is not None else ():
            line = recording.trace.line_of(its.step) if recording is not None else 0
            moment = self._add(
                _INDENT + tr("line {0}, step {1}: {2}").format(line, f"{its.step:,}", its.text), soft=True
            )
            moment.setData(_STEP, its.step)

    def _add_heading(self, text: str) -> QListWidgetItem:
        item = self._add(text)
        item.setFont(ui_font(10, bold=True))
        item.setTextAlignment(Qt.AlignmentFlag.AlignBottom)
        item.setSizeHint(QSize(0, round(self.fontMetrics().height() + px(_ABOVE))))
        return item

    def _add_doing(self, text: str, does: Callable[[], None]) -> None:
        self._add(text, soft=True).setData(_DOES, does)

    def _add(self, text: str, soft: bool = False) -> QListWidgetItem:
        item = QListWidgetItem(visible(text))
        c = self._look.colours
        item.setForeground(QColor(c.ink_soft if soft else c.ink))
        self.addItem(item)
        return item

    def _mark(self) -> None:
        """The moment that is on view stands out."""
        c = self._look.colours
        for row in range(self.count()):
            item = self.item(row)
            if item is not None and item.data(_STEP) is not None:
                is_here = self._session.recording is not None and item.data(_STEP) == self._session.step
                item.setBackground(QColor(c.waterline if is_here else c.foam))
                item.setForeground(QColor(c.ink if is_here else c.ink_soft))

    # Following

    def _follow(self, item: QListWidgetItem) -> None:
        if (does := item.data(_DOES)) is not None:
            does()
        elif (clue := item.data(_CLUE)) is not None:
            steps = [its.step for its in clue.evidence]
            place = steps.index(self._session.step) + 1 if self._session.step in steps else 0
            self._session.go(steps[place % len(steps)])
        elif (step := item.data(_STEP)) is not None:
            self._session.go(step)

    def contextMenuEvent(self, event: QContextMenuEvent | None) -> None:
        item = self.itemAt(event.pos()) if event is not None else None
        clue = item.data(_CLUE) if item is not None else None
        if event is not None and clue is not None:
            self.menu_of(clue).exec(event.globalPos())

    def menu_of(self, clue: Clue) -> QMenu:
        """What can be done with a clue."""
        menu = QMenu(self)
        kind = kind_of(clue.kind)
        title = kind.title if kind is not None else clue.kind
        off = menu.addAction(tr("No more clues “{0}”").format(title))
        if off is not None:
            off.triggered.connect(lambda: self._clues.switch_off(clue.kind))
        exercise = self._authoring.exercise
        if exercise is not None:
            hint = menu.addAction(tr("Make it a hint of the exercise"))
            if hint is not None:
                hint.triggered.connect(lambda: self._authoring.put(hints=(*exercise.hints, clue.text)))
        return menu
