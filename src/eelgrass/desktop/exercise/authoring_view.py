"""Making an exercise: its parts, what is missing, trying it as a student, handing it out."""

from __future__ import annotations

from PyQt6.QtWidgets import (
    QButtonGroup,
    QCheckBox,
    QHBoxLayout,
    QPushButton,
    QScrollArea,
    QStackedWidget,
    QVBoxLayout,
    QWidget,
)

from eelgrass.desktop.activities.authoring import Authoring
from eelgrass.desktop.activities.error_authoring import ErrorAuthoring
from eelgrass.desktop.activities.plan_authoring import PlanAuthoring
from eelgrass.desktop.exercise.authoring_plan import PlanSection
from eelgrass.desktop.exercise.authoring_sections import CasesSection, ErrorSection, WordsSection
from eelgrass.desktop.look.look import Look
from eelgrass.desktop.look.palette import px
from eelgrass.desktop.look.plain_text import PlainLabel
from eelgrass.desktop.look.widgets import PlainList, thin_progress
from eelgrass.desktop.services.translation import tr

_PARTS = ("Words", "Cases", "Error", "Plan")
_TALL = 84


class AuthoringView(QWidget):
    """One part of the exercise at a time; below, what is missing in all of it."""

    def __init__(self, authoring: Authoring, error: ErrorAuthoring, plan: PlanAuthoring, look: Look) -> None:
        super().__init__()
        self._authoring = authoring
        self.words, self.cases = WordsSection(authoring, look), CasesSection(authoring, look)
        self.error, self.plan = ErrorSection(authoring, error, look), PlanSection(authoring, plan, look)
        self._parts = (self.words, self.cases, self.error, self.plan)
        self.stack = QStackedWidget()
        self.chips = QButtonGroup(self)
        chips = QHBoxLayout()
        for number, (part, title) in enumerate(zip(self._parts, _PARTS, strict=True)):
            self.stack.addWidget(part)
            chip = QPushButton(tr(title))
            chip.setCheckable(True)
            self.chips.addButton(chip, number)
            chips.addWidget(chip)
        chips.addStretch(1)
        self.chips.idClicked.connect(self.show_part)
        self.missing = PlainList(tr("What is missing"), look)
        self.head = PlainLabel()
        self.progress = thin_progress()
        self.walk, self.hand_out = QPushButton(tr("Walk it as a student")), QPushButton(tr("Hand out…"))
        self.with_sealed = QCheckBox(tr("with what is sealed"))
        self.with_sealed.setChecked(True)
        self._lay_out(chips)
        self.walk.clicked.connect(authoring.walk)
        authoring.changed.connect(self.refresh)
        authoring.lane.progressed.connect(self._tell)
        look.dresses(self._dress)
        self.show_part(0)
        self.refresh()

    def _dress(self) -> None:
        self.missing.setMaximumHeight(int(px(_TALL)))

    def _lay_out(self, chips: QHBoxLayout) -> None:
        below = QHBoxLayout()
        below.addWidget(self.walk)
        below.addStretch(1)
        below.addWidget(self.with_sealed)
        below.addWidget(self.hand_out)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(8, 6, 8, 4)
        layout.setSpacing(4)
        layout.addLayout(chips)
        scroll = QScrollArea()  # where the bench is low, a part is scrolled and not squeezed
        scroll.setAccessibleName(tr("The exercise that is made"))
        scroll.setWidget(self.stack)
        scroll.setWidgetResizable(True)
        scroll.setFrameShape(scroll.Shape.NoFrame)
        layout.addWidget(scroll, 1)
        layout.addWidget(self.progress)
        layout.addWidget(self.head)
        layout.addWidget(self.missing)
        layout.addLayout(below)

    def show_part(self, number: int) -> None:
        """Shows one of the parts."""
        button = self.chips.button(number)
        assert button is not None
        button.setChecked(True)
        self.stack.setCurrentIndex(number)

    def _tell(self, share: float) -> None:
        self.progress.setValue(int(share * 100))

    def refresh(self) -> None:
        """Shows what there is, and what is missing."""
        for part in self._parts:
            part.refresh()
        self.progress.setVisible(self._authoring.lane.is_busy)
        found = self._authoring.faults()
        is_tried = bool(self._authoring.found.given)
        self.head.setText(
            tr("Still missing:") if found else tr("Nothing is missing.") if is_tried else tr("Now try all cases.")
        )
        rows = [f"· {fault}" for fault in found]
        if [self._row(row) for row in range(self.missing.count())] != rows:
            self.missing.clear()
            self.missing.addItems(rows)
        self.missing.setVisible(bool(found))
        self.hand_out.setEnabled(self._authoring.exercise is not None)

    def _row(self, row: int) -> str:
        item = self.missing.item(row)
        return item.text() if item is not None else ""
