"""The recording on view and the step at which it is shown: the one thing that all views follow."""

from __future__ import annotations

import numpy as np
from PyQt6.QtCore import QObject, pyqtSignal

from eelgrass.reading.ask import Question
from eelgrass.reading.breakpoints import Breakpoint, Hits, hits
from eelgrass.reading.layers import Path
from eelgrass.reading.moves import MOVES
from eelgrass.reading.recording import Recording
from eelgrass.trace.columns import find


class Reader(QObject):
    """`marks` are bookmarked steps, in order; `hits` what `breakpoints` hit in the recording on view; `unfolded` the
    paths of containers that are open in Depths; `texts`, by file, those that are being edited; `questions`, those that
    are kept in view; `focused`, whether only the names of the line count; `formats`, by name, how a value is shown.

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
        self.breakpoints: list[Breakpoint] = []
        self.hits: list[Hits] = []
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
        self.set_breakpoints(self.breakpoints)

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
        self.set_breakpoints([])

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
        """Goes to the next bookmark or hit of a breakpoint, or to the one before."""
        stops = np.unique(np.concatenate([np.array(self.marks, np.int64), *(hits.steps for hits in self.hits)]))
        place = find(stops, self.step + 1) if forward else find(stops, self.step) - 1
        if 0 <= place < len(stops):
            self.go(int(stops[place]))

    # Breakpoints

    def set_breakpoints(self, breakpoints: list[Breakpoint]) -> None:
        """Sets all breakpoints anew; their hits are known at once."""
        self.breakpoints = sorted(breakpoints, key=lambda its: (its.file, its.line))
        nowhere = Hits(np.zeros(0, np.int32))
        self.hits = [hits(self.recording, its) if self.recording else nowhere for its in self.breakpoints]
        self.marked.emit()

    def toggle_breakpoint(self, file: str, line: int) -> None:
        """Sets a breakpoint on a line, or takes those of the line away."""
        others = [its for its in self.breakpoints if (its.file, its.line) != (file, line)]
        new = [Breakpoint(file, line)] if len(others) == len(self.breakpoints) else []
        self.set_breakpoints([*others, *new])
