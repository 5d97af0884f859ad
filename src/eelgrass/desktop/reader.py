"""The recording on view and the step at which it is shown: the one thing that all views follow."""

from __future__ import annotations

from bisect import bisect_left, bisect_right

from PyQt6.QtCore import QObject, pyqtSignal

from eelgrass.reading.ask import Question
from eelgrass.reading.layers import Path
from eelgrass.reading.moves import MOVES
from eelgrass.reading.recording import Recording


class Reader(QObject):
    """`marks` are the bookmarked steps, in order; `unfolded` the paths of containers that are open in Depths;
    `texts`, by file, those that are being edited; `questions`, those that are kept in view;
    `focused`, whether only the names of the line count;
    `formats`, by name, how a value is shown.

    Signals: `opened` when another recording (or none) comes on view; `moved` when another step is shown; `edited` when
    a text has been; `marked` when the bookmarks have changed.
    """

    opened = pyqtSignal()
    moved = pyqtSignal()
    marked = pyqtSignal()
    edited = pyqtSignal()

    def __init__(self) -> None:
        super().__init__()
        self.recording: Recording | None = None
        self.step = 0
        self.marks: list[int] = []
        self.unfolded: set[Path] = set()
        self.texts: dict[str, str] = {}
        self.focused = False
        self.questions: list[Question] = []
        self.formats: dict[str, str] = {}

    def show(self, recording: Recording | None, step: int | None = None) -> None:
        """Puts a recording on view, at a step or at its first stop."""
        usable = recording is not None and len(recording.places.stops) > 0
        self.recording = recording if usable else None
        if self.recording is not None:
            places = self.recording.places
            self.step = places.first() if step is None else places.nearest(step)
        self.opened.emit()
        self.moved.emit()

    def go(self, step: int) -> None:
        """Shows the stop at `step`, or the next one after it."""
        if self.recording is None:
            return
        step = self.recording.places.nearest(step)
        if step != self.step:
            self.step = step
            self.moved.emit()

    def move(self, name: str) -> None:
        """Makes one of the moves of `reading.moves`, by its name."""
        if self.recording is not None:
            step = MOVES[name](self.recording, self.step)
            if step >= 0:
                self.go(step)

    def forget(self) -> None:
        """Another program is being opened: what was marked and unfolded belonged to the one before."""
        self.unfolded.clear()
        self.texts.clear()
        self.set_marks([])

    # Texts

    def text_of(self, module: int) -> str:
        """The text of a module of the recording as it is now: recorded, or edited since."""
        assert self.recording is not None
        its = self.recording.trace.program.modules[module]
        return self.texts.get(its.file, its.source)

    @property
    def is_stale(self) -> bool:
        """Whether the recording on view is of an older text."""
        modules = self.recording.trace.program.modules if self.recording else []
        return any(self.texts.get(module.file, module.source) != module.source for module in modules)

    def set_text(self, file: str, text: str) -> None:
        """A text has been edited."""
        if self.texts.get(file) != text:
            self.texts[file] = text
            self.edited.emit()

    # Bookmarks

    def set_marks(self, steps: list[int]) -> None:
        """Sets all bookmarks anew."""
        self.marks = sorted(steps)
        self.marked.emit()

    def toggle_mark(self) -> None:
        """Sets a bookmark at the shown step, or takes it away."""
        if self.recording is not None:
            self.set_marks(sorted({*self.marks} ^ {self.step}))

    def to_mark(self, forward: bool) -> None:
        """Goes to the next bookmark, or to the one before."""
        place = bisect_right(self.marks, self.step) if forward else bisect_left(self.marks, self.step) - 1
        if 0 <= place < len(self.marks):
            self.go(self.marks[place])
