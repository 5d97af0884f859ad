"""A recording as far as one may see it: while a student says first what comes next, what is to come stays unseen.

This is the one place that decides it. Views ask a recording itself only about the shown step and what is before it;
whatever tells of the whole run they ask here.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace

from eelgrass.reading.lines.exception_paths import ExceptionPath
from eelgrass.reading.lines.line_notes import LineNote
from eelgrass.reading.recording import Recording
from eelgrass.reading.state.output import Piece, number_past
from eelgrass.reading.stepping.visits import Count
from eelgrass.reading.tables.iterations import Iterations, Odd
from eelgrass.reading.tables.trace_table import Table
from eelgrass.reading.watches.series import Series
from eelgrass.reading.watches.watch import WatchHistory, WatchValue
from eelgrass.trace.columns import Ints, find


@dataclass(frozen=True)
class SeenPass:
    """Pass `number`, from 1, of `in_all` (None: not to be known yet)."""

    number: int
    in_all: int | None


@dataclass(frozen=True)
class VisibleRun:
    """What one may see of the run of `recording`: the steps up to `end`, or, with None, all of them."""

    recording: Recording | None
    end: int | None = None

    @property
    def is_whole(self) -> bool:
        """Whether nothing is hidden, so that what the whole run comes to may be said."""
        return self.end is None

    def hides(self, step: int) -> bool:
        """Whether a step is not to be seen yet."""
        return self.end is not None and step > self.end

    def hides_outcome(self, step: int) -> bool:
        """Whether what a step did is not to be seen yet: that of the last step to be seen is still to come."""
        return self.end is not None and step >= self.end

    def cut(self, steps: Ints) -> Ints:
        """Of steps in their order, those that may be seen."""
        return steps if self.end is None else steps[: find(steps, self.end + 1)]

    @property
    def last_step(self) -> int | None:
        """The run's last step; None while that is not to be known."""
        return len(self.recording.trace.steps) - 1 if self.recording is not None and self.end is None else None

    @property
    def first_hidden(self) -> int:
        """The first step that is not to be seen; the one after the last where all may be."""
        if self.end is not None:
            return self.end + 1
        return len(self.recording.trace.steps) if self.recording is not None else 0

    # Lines

    def counts(self, module: int, step: int) -> Mapping[int, Count]:
        """How often each line of a module has run by a step; in all only where that may be known."""
        assert self.recording is not None
        return self.recording.visits.counts(module, step, self.is_whole)

    def line_note(self, module: int, line: int, step: int) -> LineNote | None:
        """What a line did at its latest visit."""
        assert self.recording is not None
        note = self.recording.line_notes.of_line(module, line, step)
        return replace(note, tells_rest=False) if note is not None and not self.is_whole else note

    def pass_at(self, step: int) -> SeenPass | None:
        """The pass of the innermost loop that a step belongs to; of how many only where that may be known."""
        its = self.recording.loops.pass_at(step) if self.recording is not None else None
        return None if its is None else SeenPass(its.number, its.in_all if self.is_whole else None)

    # The whole run

    def output(self, step: int) -> tuple[list[Piece], int]:
        """(the pieces of output and input that may be seen, how many of them have passed at a step)."""
        if self.recording is None:
            return [], 0
        pieces = self.recording.output
        past = number_past(self.recording.trace, pieces, step)
        return (pieces if self.end is None else pieces[:past]), past

    @property
    def exceptions(self) -> list[ExceptionPath]:
        """The ways of the exceptions that came to their ends."""
        paths = self.recording.exceptions if self.recording is not None else []
        return [path for path in paths if not self.hides(path.stations[-1].step)]

    def words_at(self, step: int) -> str:
        """What is at a step, in words; '' where that is not to be seen."""
        if self.recording is None or self.hides(step):
            return ""
        return self.recording.timeline.words(step, tells_length=self.is_whole)

    # Answers, tables, passes

    def changes(self, history: WatchHistory, most: int) -> list[WatchValue]:
        """The changes of an answer, at most so many."""
        return [history[place] for place in range(min(len(self.cut(history.steps)), most))]

    def series(self, series: Series | None) -> Series | None:
        """The course of an answer over the whole run, where that may be seen."""
        return series if self.end is None else None

    def rows_of(self, table: Table, here: int, hides_rest: bool) -> int:
        """How many rows of a table to show, whose row of the shown moment is `here`; `hides_rest` asks for those up to
        it only. What a pass came to is to come until the pass is over."""
        return here + (not table.of_passes) if hides_rest or self.end is not None else len(table.rows)

    def odd(self, passes: Iterations, breaches: Ints) -> list[Odd]:
        """The passes that stand out."""
        return passes.odd(breaches) if self.end is None else []
