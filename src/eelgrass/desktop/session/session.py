"""The recording on view and the step at which it is shown: the one thing that all views follow."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace

import numpy as np
from PyQt6.QtCore import QObject, pyqtSignal

from eelgrass.desktop.services.background import Seeker
from eelgrass.desktop.workspace.session_file import TableLayout
from eelgrass.reading.breakpoints.breakpoint import Breakpoint, Hits, hits, is_quick
from eelgrass.reading.expressions.batch import Progress
from eelgrass.reading.expressions.expression import Expression, parse_expression
from eelgrass.reading.moves import MOVES
from eelgrass.reading.recording import Recording
from eelgrass.reading.stack.stack_rows import Path
from eelgrass.reading.watches.series import Series, series
from eelgrass.reading.watches.watch import WatchHistory, over
from eelgrass.trace.columns import Ints, distinct, find

#: What is known of a breakpoint while its question is being asked.
PENDING = Hits(why="looking through the run …")
#: In so many parts the course of an answer is drawn beside its question.
_STRETCHES = 120


class Session(QObject):
    """`marks` are bookmarked steps, in order; `hits` what `breakpoints` hit in the recording on view; `unfolded`
    the paths of containers that are open in Depths; `texts`, by file, those that are being edited; `is_lent`,
    whether the recording is of another text than the program's own, which nobody edits: a call alone, or somebody
    else's; `questions`, those that are kept in view, `overs` and `courses` their answers over the run as far as
    they are known, `asked` what was ever asked; `followed`, the one whose changes stand on the tide line; `table`,
    how trace tables are laid out; `pictures`, of which paths pictures are drawn; `horizon`, while the student says
    first, the step beyond which nothing is shown, and `hold`, which says how far a move from one step to another
    may go; `focused`, whether only the names of the line count; `formats`, by name, how a value is shown.

    Signals: `opened` when another recording (or none) comes on view; `moved` when another step is shown; `edited` when
    a text has been; `marked` when bookmarks, breakpoints or questions have changed; `answered` when a question has been
    asked, or answered, over the run.
    """

    opened = pyqtSignal()
    moved = pyqtSignal()
    marked = pyqtSignal()
    edited = pyqtSignal()
    answered = pyqtSignal()

    def __init__(self) -> None:
        super().__init__()
        self.recording: Recording | None = None
        self.step = 0
        self.marks: list[int] = []
        self.horizon: int | None = None
        self.hold: Callable[[int, int], int] | None = None
        self.breakpoints: list[Breakpoint] = []
        self.hits: list[Hits] = []
        self.seeker = Seeker("breakpoints")
        self.seeker.found.connect(self._take_found)
        self._known: dict[Breakpoint, Hits] = {}
        self._known_in: Recording | None = None
        self.unfolded: set[Path] = set()
        self.texts: dict[str, str] = {}
        self.is_lent = False
        self.focused = False
        self.questions: list[Expression] = []
        self.asked: list[str] = []
        self.overs: dict[str, WatchHistory] = {}
        self.courses: dict[str, Series] = {}
        self.followed = ""
        self.pictures: list[str] = []
        self.table_scope = 0
        self.table = TableLayout()
        self.asking = Seeker("ask")
        self.asking.found.connect(self._take_over)
        self.formats: dict[str, str] = {}

    def show(self, recording: Recording | None, step: int | None = None) -> None:
        """Puts a recording on view, at a step or at its first stop."""
        usable = recording is not None and len(recording.stepping.stops) > 0
        self.recording = recording if usable else None
        if self.recording is not None:
            places = self.recording.stepping
            self.step = places.first() if step is None else places.nearest(step)
        self.overs, self.courses = {}, {}
        self.horizon = None if self.horizon is None else self.step
        self.opened.emit()
        self.moved.emit()
        self.set_breakpoints(self.breakpoints)
        self._ask_over()

    def go(self, step: int) -> None:
        """Shows the stop at `step`, or the next one after it."""
        if self.recording is None:
            return
        step = self.recording.stepping.nearest(step)
        if self.hold is not None:
            step = self.hold(self.step, step)
        if step != self.step:
            self.step = step
            if self.horizon is not None:
                self.horizon = max(self.horizon, step)
            self.moved.emit()

    def set_horizon(self, step: int | None) -> None:
        """Sets the step beyond which nothing is shown; None for none."""
        self.horizon = step
        self.moved.emit()
        self.marked.emit()
        self.answered.emit()

    def is_hidden(self, step: int) -> bool:
        """Whether what happens at a step is not to be seen yet."""
        return self.horizon is not None and step > self.horizon

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
        self.is_lent = False
        self.set_marks([])
        self.set_breakpoints([])
        self.set_questions([])
        self.set_pictures([])
        self.table = TableLayout()

    # Texts

    def text_of(self, module: int) -> str:
        """The text of a module of the recording as it is now: recorded, or edited since."""
        assert self.recording is not None
        its = self.recording.trace.program.modules[module]
        return its.source if self.is_lent else self.texts.get(its.file, its.source)

    @property
    def is_stale(self) -> bool:
        """Whether the recording on view is of an older text."""
        modules = self.recording.trace.program.modules if self.recording and not self.is_lent else []
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
        stops = self.stops
        place = find(stops, self.step + 1) if forward else find(stops, self.step) - 1
        if 0 <= place < len(stops):
            self.go(int(stops[place]))

    # Questions

    def ask(self, asked: Expression) -> None:
        """Keeps a question in view, before the others."""
        self.asked = [*(text for text in self.asked if text != asked.text), asked.text]
        self.set_questions([asked, *(other for other in self.questions if other.text != asked.text)])

    def forget_question(self, asked: Expression) -> None:
        """Takes a question out of view."""
        self.set_questions([other for other in self.questions if other.text != asked.text])

    def set_questions(self, questions: list[Expression]) -> None:
        """Sets all questions that are kept in view anew; those over the run are answered one after the other."""
        self.questions = questions
        self._ask_over()
        self.marked.emit()

    def follow(self, text: str) -> None:
        """Shows on the tide line where the answer to a question changes; the same one again, no longer."""
        self.followed = "" if text == self.followed else text
        if self.followed:
            self.ask(parse_expression(text))
        self.marked.emit()

    def set_pictures(self, paths: list[str]) -> None:
        """Sets anew what pictures are drawn of."""
        self.pictures = paths
        self.marked.emit()

    def give_up_questions(self) -> None:
        """Nobody waits any longer for what is being asked of the whole run."""
        self.asking.give_up()
        self.answered.emit()

    def _ask_over(self) -> None:
        recording = self.recording
        asked = next((its for its in self.questions if its.text not in self.overs), None)
        if recording is not None and asked is not None:
            self.asking.seek(lambda going: _asked_over(recording, asked, going))
        else:
            self.asking.give_up()
        self.answered.emit()

    def _take_over(self, found: tuple[Recording, Expression, WatchHistory, Series] | None) -> None:
        if found is not None and found[0] is self.recording:
            _, asked, self.overs[asked.text], self.courses[asked.text] = found
            self._ask_over()

    # Breakpoints

    def set_breakpoints(self, breakpoints: list[Breakpoint]) -> None:
        """Sets all breakpoints anew. The hits of most are known at once; questions are asked on another thread."""
        self.breakpoints = sorted(breakpoints, key=lambda its: (its.file, its.line, its.kind, its.name))
        recording = self.recording
        if recording is not self._known_in:
            self._known, self._known_in = {}, recording
        if recording is not None:
            self._known.update(
                {its: hits(recording, its) for its in self.breakpoints if its not in self._known and is_quick(its)}
            )
        self._take_hits()
        wanted = [its for its in self.breakpoints if its not in self._known]
        if recording is not None and wanted:
            self.seeker.seek(lambda going: {its: hits(recording, its, going) for its in wanted})
        else:
            self.seeker.give_up()  # what is still being looked for was of another recording, or is wanted no longer

    def _take_found(self, found: dict[Breakpoint, Hits] | None) -> None:
        self._known.update(found or {})
        self._take_hits()

    def _take_hits(self) -> None:
        self.hits = [self._known.get(its, PENDING if self.recording else Hits()) for its in self.breakpoints]
        self.marked.emit()

    def toggle_breakpoint(self, file: str, line: int, statement: str) -> None:
        """Sets a breakpoint on a line, or takes those of the line away."""
        others = [its for its in self.breakpoints if (its.file, its.line, its.kind) != (file, line, "line")]
        new = [Breakpoint(file, line, statement=statement)] if len(others) == len(self.breakpoints) else []
        self.set_breakpoints([*others, *new])

    def switch_all(self) -> None:
        """Switches all breakpoints off, or, when they all are, on again."""
        on = not any(its.on for its in self.breakpoints)
        self.set_breakpoints([replace(its, on=on) for its in self.breakpoints])

    @property
    def notes(self) -> list[tuple[int, str]]:
        """What is noted, and where: (step, text), in order of time."""
        pairs = zip(self.breakpoints, self.hits, strict=True)
        rows = [row for its, told in pairs if its.note for row in zip(told.steps.tolist(), told.notes, strict=False)]
        return sorted(rows)

    @property
    def breaches(self) -> Ints:
        """The steps at which a claim is broken."""
        pairs = zip(self.breakpoints, self.hits, strict=True)
        return distinct(np.concatenate([np.zeros(0, np.int64), *(told.steps for its, told in pairs if its.claims)]))

    @property
    def stops(self) -> Ints:
        """The bookmarks, and the hits of all breakpoints that stop: not the notes, and of a claim only its breach."""
        found = [np.array(self.marks, np.int64)]
        for its, told in zip(self.breakpoints, self.hits, strict=True):
            found.append(told.steps[:1] if its.claims else told.steps[:0] if its.note else told.steps)
        return distinct(np.concatenate(found))


def _asked_over(
    recording: Recording, asked: Expression, going: Progress
) -> tuple[Recording, Expression, WatchHistory, Series]:
    """A question over the run, and its course; not on the window's thread."""
    found = over(recording, asked, going)
    return recording, asked, found, series(recording.trace, found, _STRETCHES)
