"""A recording with everything that can be asked of it, each part made when it is first needed."""

from __future__ import annotations

from functools import cached_property

from eelgrass.reading.desk.board_bands import board_bands
from eelgrass.reading.desk.desk_states import DeskStates
from eelgrass.reading.expressions.source_tree import SourceTree
from eelgrass.reading.lines.exception_paths import ExceptionPath, exception_paths
from eelgrass.reading.lines.line_notes import LineNotes
from eelgrass.reading.lines.statement_changes import Changes
from eelgrass.reading.lines.worked_line import WorkedLines
from eelgrass.reading.stack.stack_rows import StackRows
from eelgrass.reading.state.output import Piece, pieces
from eelgrass.reading.state.references import References
from eelgrass.reading.stepping.calls import Calls
from eelgrass.reading.stepping.loops import Loops
from eelgrass.reading.stepping.stepping import Stepping
from eelgrass.reading.stepping.visits import Visits
from eelgrass.reading.threads.bands import Band, bands
from eelgrass.reading.timeline import Timeline
from eelgrass.trace.model import Texts, Trace
from eelgrass.trace.program import Place


class Recording:
    """The questions about one trace, kept together since they share their indexes."""

    def __init__(self, trace: Trace) -> None:
        self.trace = trace
        self.stepping = Stepping(trace)
        self.visits = Visits(trace)
        self.changes = Changes(trace, self.stepping)
        self.loops = Loops(trace, self.stepping, self.visits)
        syntax = SourceTree(trace)
        self.line_notes = LineNotes(trace, self.stepping, self.visits, self.changes, self.loops, syntax)
        self.worked_lines = WorkedLines(trace, self.stepping, self.loops, self.line_notes, syntax)
        self.calls = Calls(trace)
        self.references = References(trace)
        self.timeline = Timeline(trace, self.calls)
        self.thread_steps = self.stepping.threads
        self.stack_rows = StackRows(trace, self.stepping, self.references)

    @cached_property
    def desk(self) -> DeskStates:
        """The simulated desk."""
        return DeskStates(self.trace)

    @cached_property
    def bands(self) -> list[Band]:
        """The life of each thread, and when pins of a board were on."""
        return [*bands(self.thread_steps), *board_bands(self.desk.parts(), len(self.trace.steps) - 1)]

    @cached_property
    def has_threads(self) -> bool:
        """Whether there are threads or coroutines to be told apart."""
        statements = self.trace.program.statements
        return bool(self.trace.frames.thread.any()) or any(its.kind == "asyncfunctiondef" for its in statements)

    @cached_property
    def has_handlers(self) -> bool:
        """Whether something outside called functions of the program."""
        return bool((self.trace.texts.channel == Texts.CAUSE).any())

    @cached_property
    def exceptions(self) -> list[ExceptionPath]:
        """The ways of all exceptions."""
        return exception_paths(self.trace, self.stepping)

    def exception_path_at(self, step: int) -> ExceptionPath | None:
        """The way of the exception that passes at a RAISE step."""
        return self._way_at.get(step)

    @cached_property
    def _way_at(self) -> dict[int, ExceptionPath]:
        return {its.step: way for way in reversed(self.exceptions) for its in way.stations}

    @cached_property
    def output(self) -> list[Piece]:
        """Everything printed and typed, in order."""
        return pieces(self.trace)

    def prepare(self) -> None:
        """Makes the indexes that the first view needs; meant for a thread that nobody waits for."""
        _ = self.trace.histories, self.trace.depths, self.output, self.exceptions, self.bands
        if self.desk.is_there:
            _ = self.desk.drawn
        if len(self.trace.steps):
            self.stack_rows.at(self.stepping.first())
            self.visits.reached(0, 0)

    def place_at(self, step: int) -> Place:
        """The line that a step stands at."""
        return Place(self.trace.program.modules[self.module_at(step)].file, self.trace.line_of(step))

    def module_at(self, step: int) -> int:
        """The module whose text a step stands in."""
        return self.trace.function_of_frame(self.stepping.frame_of(step)).module
