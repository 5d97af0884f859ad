"""Making an exercise: its parts, what is missing, trying it as a student, handing it out."""

from __future__ import annotations

from PyQt6.QtWidgets import (
    QButtonGroup,
    QCheckBox,
    QHBoxLayout,
    QLabel,
    QListWidget,
    QProgressBar,
    QPushButton,
    QScrollArea,
    QStackedWidget,
    QVBoxLayout,
    QWidget,
)

from eelgrass.desktop.activities.authoring import Authoring
from eelgrass.desktop.exercise.authoring_plan import PlanSection
from eelgrass.desktop.exercise.authoring_sections import CasesSection, ErrorSection, WordsSection
from eelgrass.desktop.look.palette import Palette, px
from eelgrass.desktop.look.widgets import dress
from eelgrass.desktop.services.translation import tr

_PARTS = ("Words", "Cases", "Error", "Plan")
_TALL = 84


class AuthoringView(QWidget):
    """One part of the exercise at a time; below, what is missing in all of it."""

    def __init__(self, making: Authoring, colours: Palette) -> None:
        super().__init__()
        self._making = making
        self.words, self.cases = WordsSection(making, colours), CasesSection(making, colours)
        self.error, self.plan = ErrorSection(making, colours), PlanSection(making, colours)
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
        self.missing = QListWidget()
        dress(self.missing, tr("What is missing"), colours)
        self.missing.setMaximumHeight(int(px(_TALL)))
        self.head = QLabel()
        self.progress = QProgressBar()
        self.progress.setTextVisible(False)
        self.progress.setFixedHeight(8)
        self.walk, self.hand_out = QPushButton(tr("Walk it as a student")), QPushButton(tr("Hand out…"))
        self.with_sealed = QCheckBox(tr("with what is sealed"))
        self.with_sealed.setChecked(True)
        self._lay_out(chips)
        self.walk.clicked.connect(making.walk)
        making.changed.connect(self.refresh)
        making.seeker.progressed.connect(self._tell)
        self.show_part(0)
        self.refresh()

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
        self.progress.setVisible(self._making.seeker.is_seeking)
        found = self._making.faults()
        is_tried = bool(self._making.found.given)
        self.head.setText(
            tr("Still missing:") if found else tr("Nothing is missing.") if is_tried else tr("Now try all cases.")
        )
        if [self._row(row) for row in range(self.missing.count())] != found:
            self.missing.clear()
            self.missing.addItems([f"· {fault}" for fault in found])
        self.missing.setVisible(bool(found))
        self.hand_out.setEnabled(self._making.exercise is not None)

    def _row(self, row: int) -> str:
        item = self.missing.item(row)
        return item.text().removeprefix("· ") if item is not None else ""
