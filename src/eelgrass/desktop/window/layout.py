"""How the views of a window share its room."""

from __future__ import annotations

from collections.abc import Sequence

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QSizePolicy, QSplitter, QStackedWidget, QVBoxLayout, QWidget

from eelgrass.desktop.look.palette import px

#: How wide text and right side are, how high Depths and bench, text and this line.
_USUAL, _PRESENTING = (660, 600, 355, 255, 470, 155), (720, 600, 355, 255, 470, 155)


_LEAST_BENCH = 120


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
        for view in (*below_text, passes):  # of which only one is seen: none makes the window wider
            view.setSizePolicy(QSizePolicy.Policy.Ignored, view.sizePolicy().verticalPolicy())
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
        self._usual_stack, self._most_below = _USUAL[2], _USUAL[5]
        left.splitterMoved.connect(self._take_most_below)
        right.splitterMoved.connect(self._take_usual_stack)
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
        self._usual_stack, self._most_below = sizes[2], sizes[5]

    @property
    def sizes(self) -> tuple[str, ...]:
        """How the room is shared out, to be kept; nothing while a part has none."""
        sizes = [str(size) for splitter in self._splitters for size in splitter.sizes()]
        text, below = self._splitters[2].sizes()
        sizes[2], sizes[4:] = str(self._usual_stack), (str(text + below - self._most_below), str(self._most_below))
        return tuple(sizes) if "0" not in sizes else ()

    def fit_below_text(self, height: int) -> None:
        """Gives what stands below the text the height that it needs, but not more than the person gave it."""
        left = self._splitters[2]
        room = sum(left.sizes())
        if self._below_text.isVisible() and room:
            most = min(height, int(self._most_below * max(px(1), 1)), room // 2)
            most = max(self._below_text.minimumSizeHint().height(), most)
            if left.sizes()[1] != most:
                left.setSizes([room - most, most])

    def _take_most_below(self) -> None:
        self._most_below = self._splitters[2].sizes()[1]

    def _take_usual_stack(self) -> None:
        self._usual_stack = self._splitters[1].sizes()[0]

    def fit_stack(self, height: int) -> None:
        """Gives Depths the height that its innermost layer needs, if that leaves the bench a little."""
        right = self._splitters[1]
        room = sum(right.sizes())
        if room and self._stack.isVisible():
            first = min(max(height, self._usual_stack), room - _LEAST_BENCH)
            right.setSizes([first, room - first])

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
