"""How the views of a window share its room."""

from __future__ import annotations

from collections.abc import Sequence

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QSplitter, QStackedWidget, QVBoxLayout, QWidget

#: How wide text and right side are, how high Depths and bench, text and this line.
_USUAL, _PRESENTING = (660, 600, 355, 255, 470, 155), (720, 600, 355, 255, 470, 155)


class Layout(QWidget):
    """Text and what stands below it on the left, Depths above the bench on the right, the strips above and the timeline
    below. Passes stand in the place of Depths and bench, level with the text; the place for input is below them."""

    def __init__(
        self,
        above: Sequence[QWidget],
        text: QWidget,
        below_text: Sequence[QWidget],
        stack: QWidget,
        bench: QWidget,
        passes: QWidget,
        input_line: QWidget,
        timelines: Sequence[QWidget],
    ) -> None:
        super().__init__()
        self.setFocusPolicy(Qt.FocusPolicy.ClickFocus)  # where the keys of the moves are at home
        self._below_text = QStackedWidget()
        for view in below_text:
            self._below_text.addWidget(view)
        under = QWidget()
        under_stack = QVBoxLayout(under)
        under_stack.setContentsMargins(0, 4, 0, 0)
        under_stack.addWidget(bench)
        self._stack = stack
        right = _splitter(Qt.Orientation.Vertical, stack, under)
        left = _splitter(Qt.Orientation.Vertical, text, self._below_text)
        left.setStretchFactor(0, 1)
        self._side = QStackedWidget()
        self._side.addWidget(right)
        self._side.addWidget(passes)
        side = QWidget()
        beside_text = QVBoxLayout(side)
        beside_text.setContentsMargins(0, 0, 0, 0)
        beside_text.setSpacing(0)
        beside_text.addWidget(self._side, 1)
        beside_text.addWidget(input_line)
        middle = _splitter(Qt.Orientation.Horizontal, left, side)
        self._splitters = (middle, right, left)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.setSpacing(0)
        for strip in above:
            layout.addWidget(strip)
        layout.addWidget(middle, 1)
        for timeline in timelines:
            layout.addWidget(timeline)

    def share_out(self, kept: Sequence[str], presenting: bool) -> None:
        """Shares the room out as it was, or as usual."""
        usual = _PRESENTING if presenting else _USUAL
        sizes = [int(size) for size in kept] if all(size.isdecimal() for size in kept) else []
        if presenting or len(sizes) != len(usual):
            sizes = [*usual]
        for place, splitter in enumerate(self._splitters):
            splitter.setSizes(sizes[2 * place : 2 * place + 2])

    @property
    def sizes(self) -> tuple[str, ...]:
        """How the room is shared out, to be kept; nothing while a part has none."""
        sizes = [str(size) for splitter in self._splitters for size in splitter.sizes()]
        return tuple(sizes) if "0" not in sizes else ()

    def show_below_text(self, view: QWidget, visible: bool) -> None:
        """Shows one of the views below the text, or none."""
        self._below_text.setCurrentWidget(view)
        self._below_text.setVisible(visible)

    def set_tall(self, on: bool) -> None:
        """Gives the bench all the room on the right."""
        self._stack.setVisible(not on)

    def set_passes(self, on: bool) -> None:
        """Shows the passes, or Depths and bench."""
        self._side.setCurrentIndex(int(on))


def _splitter(orientation: Qt.Orientation, *parts: QWidget) -> QSplitter:
    splitter = QSplitter(orientation)
    splitter.setHandleWidth(1)
    splitter.setChildrenCollapsible(False)
    for part in parts:
        splitter.addWidget(part)
    return splitter
