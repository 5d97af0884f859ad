"""What decided that a statement ran: the conditions, loops, handlers and calls around it, and what before it might have
left, and did not. (Control dependences of a structured text, by frame.)"""

from __future__ import annotations

from functools import lru_cache

import numpy as np
import numpy.typing as npt

from eelgrass.reading.recording import Recording
from eelgrass.reading.stepping.loops import LOOPS
from eelgrass.trace.columns import find
from eelgrass.trace.program import EXPRESSION

DECIDING = ("if", "while", "for", "asyncfor", "match", "try", "trystar")
#: So many visits are looked at at first.
_NEAR = 16
_LEAVING = ("break", "continue", "return", "raise", "assert")


class Decisions:
    """The decisions of one recording."""

    def __init__(self, recording: Recording) -> None:
        self.recording = recording
        self.trace = recording.trace
        self.leaving_before = lru_cache(512)(self._leaving_before)
        self.table_in = lru_cache(512)(self._table_in)

    def around(self, statement: int) -> list[int]:
        """The compound statements that a statement stands in, in its own frame, the innermost first."""
        found, statements = [], self.trace.program.statements
        while statements[statement].arm != EXPRESSION and statements[statement].parent >= 0:
            statement = statements[statement].parent
            found.append(statement)
        return found

    def of_visit(self, visit: int) -> list[int]:
        """The visits that decided that the statement at a visit ran, the latest first. None of them is in another
        frame: what called the frame is its own question."""
        statement, statements = int(self.trace.steps.statement[visit]), self.trace.program.statements
        if statement < 0:
            return []
        frame, found, since = self.recording.stepping.frame_of(visit), list[int](), -1
        around = self.around(statement)
        deciding = next((its for its in around if statements[its].kind in DECIDING), None)
        if deciding is not None:
            since = self.latest(deciding, frame, visit)
            if since >= 0:
                found.append(since)
        if statements[statement].kind in LOOPS:
            again = self._pass_before(statement, frame, visit)
            if again >= 0:
                found.append(again)
        for other in self.leaving_before(statement):
            at = self.latest(other, frame, visit)
            if at > since:
                found.append(at)
        return sorted(set(found), reverse=True)

    def latest(self, statement: int, frame: int, step: int) -> int:
        """The latest visit of a statement in a frame before a step; -1 for none."""
        visits = self.recording.visits.of_statement(statement)
        end, size = find(visits, step), _NEAR
        while end > 0:  # further and further back: other frames may have visited it many times since
            begin = max(end - size, 0)
            own = np.flatnonzero(self.trace.steps.frame[visits[begin:end]] == frame)
            if len(own):
                return int(visits[begin + int(own[-1])])
            end, size = begin, size * 8
        return -1

    def _pass_before(self, loop: int, frame: int, step: int) -> int:
        """The header's visit that began the pass before; -1 where the loop only begins."""
        before = self.recording.stepping.previous_in_frame(step)
        if before < 0 or (
            self.trace.steps.statement[before] != loop and not self.is_in(int(self.trace.steps.statement[before]), loop)
        ):
            return -1
        return self.latest(loop, frame, step)

    def is_in(self, statement: int, other: int) -> bool:
        """Whether a statement stands in another, in the same frame."""
        return statement >= 0 and other in self.around(statement)

    def _table_in(self, other: int) -> npt.NDArray[np.bool_]:
        """By statement: whether it stands in another; False, last, for none."""
        inside = [self.is_in(number, other) for number in range(len(self.trace.program.statements))]
        return np.array([*inside, False], np.bool_)

    def _leaving_before(self, statement: int) -> list[int]:
        """The decisions of the text that a statement depends on although it does not stand in them: they stand before
        it, and may leave what both are in; of a loop, also those in its body that may end it."""
        statements = self.trace.program.statements
        function, around = statements[statement].function, self.around(statement)
        loops = [its for its in [statement, *around] if statements[its].kind in LOOPS]
        found = []
        for number, its in enumerate(statements):
            if its.function != function or its.kind not in _LEAVING or its.arm == EXPRESSION:
                continue
            out_of = self.around(number)
            deciding = next((one for one in out_of if statements[one].kind in DECIDING), None)
            if its.kind == "assert":
                deciding = number
            if deciding is None or deciding in around or deciding == statement:
                continue
            loop = next((one for one in out_of if statements[one].kind in LOOPS), None)
            if its.kind in ("break", "continue"):
                is_before = number < statement or (its.kind == "break" and loop == statement)
                concerns = loop in loops or (its.kind == "break" and loop in around)
                if not (is_before and concerns):
                    continue
            elif not (number < statement or any(loop in loops for loop in out_of)):
                continue
            inner = [one for one in out_of if one not in around and one != statement]
            found += [one for one in inner if statements[one].kind in DECIDING]
            found += [number] if its.kind == "assert" else []
        return list(dict.fromkeys(found))
