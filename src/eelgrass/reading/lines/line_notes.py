"""Margin notes: what each line did at its latest visit."""

from __future__ import annotations

import ast
from dataclasses import dataclass, replace

from eelgrass.parsing import literal
from eelgrass.reading.expressions.source_tree import SourceTree
from eelgrass.reading.lines.filled_in import filled_in
from eelgrass.reading.lines.statement_changes import Change, Changes
from eelgrass.reading.lines.written_as import written_as
from eelgrass.reading.state import insides, value_text
from eelgrass.reading.state.call_stack import handed_back
from eelgrass.reading.state.slot_text import after_owner, owner_text
from eelgrass.reading.state.value_text import brief
from eelgrass.reading.stepping.loops import LOOPS, Loops, Pass, inside
from eelgrass.reading.stepping.stepping import Stepping
from eelgrass.reading.stepping.visits import Visits
from eelgrass.trace.histories import Part
from eelgrass.trace.model import StepKind, Trace
from eelgrass.trace.values import NOT_SET

_SHORT = 28
_LONG = 400


@dataclass(frozen=True)
class LineNote:
    """What a line did: in short, for the margin, and whole; the visit that it speaks of (a step), and whether it tells
    of trouble. At the header of a loop, the pass that began there, with how many there are only if it `tells_rest`.
    `is_earlier` when the line is about to run again."""

    did: str
    did_whole: str
    visit: int
    trouble: bool = False
    in_pass: Pass | None = None
    tells_rest: bool = True
    is_earlier: bool = False

    @property
    def text(self) -> str:
        """The note for the margin."""
        return self._dressed(self.did)

    @property
    def whole(self) -> str:
        """All of it."""
        return self._dressed(self.did_whole)

    def _dressed(self, did: str) -> str:
        rest = f" of {self.in_pass.in_all}" if self.in_pass is not None and self.tells_rest else ""
        which = f"  (pass {self.in_pass.number}{rest})" if self.in_pass is not None else ""
        return f"{'last time: ' if self.is_earlier else ''}{did}{which}"


class LineNotes:
    """The margin notes of one recording."""

    def __init__(
        self,
        trace: Trace,
        stepping: Stepping,
        visits: Visits,
        changes: Changes,
        loops: Loops,
        syntax: SourceTree,
    ) -> None:
        self.trace = trace
        self.loops = loops
        self.stepping = stepping
        self.visits = visits
        self.changes = changes
        self.syntax = syntax
        self._finished: dict[int, LineNote | None] = {}
        self._librarys: dict[str, bool] = {}

    def of_line(self, module: int, line: int, step: int) -> LineNote | None:
        """The note of a line as it stands when `step` is shown; None when it has nothing to tell yet."""
        visit = self.visits.latest(module, line, step)
        if visit < 0:
            return None
        note = self.of_visit(visit, step)
        here = line == self.trace.line_of(step) and self.trace.function_of_frame(self.stepping.frame_of(step))
        if note is None or not here or self.trace.steps.kind[step] != StepKind.LINE or here.module != module:
            return note
        return replace(note, is_earlier=True)

    def of_visit(self, visit: int, step: int) -> LineNote | None:
        """What the statement visited at `visit` has done by the time when `step` is shown."""
        after = self.stepping.next_in_frame(visit)
        if after < 0 or after > step:
            calling = any(call.first <= step for call in self.stepping.calls_made(visit))
            return LineNote("in this call", "in this call", visit) if calling else None
        if self.stepping.waits_at(after):
            goes_on = self.stepping.next_in_frame(after)
            if not 0 <= goes_on <= step:
                value = handed_back(self.trace, self.stepping.frame_of(after), after)
                if value == NOT_SET:
                    return LineNote("waits", "waits", visit)
                short, long = (
                    f"hands out {brief(self.trace, value, after, length)}, waits" for length in (_SHORT, _LONG)
                )
                return LineNote(short, long, visit)
            after = goes_on
        if visit not in self._finished:
            self._finished[visit] = self._finished_visit(visit, after)
        return self._finished[visit]

    def _finished_visit(self, visit: int, after: int) -> LineNote | None:
        whole = self._told(visit, after, _LONG)
        if whole is None:
            return None
        trouble = bool(self.trace.steps.kind[after] == StepKind.RAISE)
        note = LineNote(whole, whole, visit, trouble, None if trouble else self._pass_of(visit))
        return note if len(note.text) <= _SHORT else replace(note, did=self._told(visit, after, _SHORT) or whole)

    def _told(self, visit: int, after: int, length: int) -> str | None:
        trace = self.trace
        statement = trace.program.statements[int(trace.steps.statement[visit])]
        if trace.steps.kind[after] == StepKind.RAISE:
            return f"raises {self._error_name(after)}"
        if statement.kind in ("functiondef", "classdef", "import", "importfrom", "asyncfunctiondef"):
            return None
        if statement.kind == "return":
            value = int(trace.frames.value[self.stepping.frame_of(visit)])
            return None if value == NOT_SET else f"gives back {brief(trace, value, after, length)}"
        if statement.kind in ("if", "while"):
            return self._decision(visit, after, length)
        parts = [self._written(change, visit, after, length) for change in self.changes.of_statement(visit)]
        told = ", ".join(part for part in parts if part)
        if statement.kind in LOOPS:
            return self._loop(visit, told)
        return told or self._passed_through(visit, length)

    def _is_a_librarys(self, name: str) -> bool:
        """Whether a field is none that the program itself speaks of, as `_ident` of a thread."""
        if name[:1] != "_":
            return False
        if name not in self._librarys:
            self._librarys[name] = not any(name in module.source for module in self.trace.program.modules)
        return self._librarys[name]

    def _error_name(self, step: int) -> str:
        raises = self.trace.raises
        for row in (raises.step == step).nonzero()[0].tolist():
            return value_text.type_name(self.trace, int(raises.value[row]))
        return "an exception"

    def _loop(self, visit: int, told: str) -> str:
        its_pass = self.loops.pass_at(visit)
        if its_pass is not None and its_pass.number == 0:
            return f"ends after {its_pass.in_all} {'pass' if its_pass.in_all == 1 else 'passes'}"
        return told

    def _pass_of(self, visit: int) -> Pass | None:
        """The pass that begins at a visit of a loop's header."""
        statement = self.trace.program.statements[int(self.trace.steps.statement[visit])]
        its_pass = self.loops.pass_at(visit) if statement.kind in LOOPS else None
        return its_pass if its_pass is not None and its_pass.number > 0 else None

    def _decision(self, visit: int, after: int, length: int) -> str:
        taken = inside(self.trace, int(self.trace.steps.statement[after]), int(self.trace.steps.statement[visit]))
        word = "is true" if taken else "is false"
        condition = self._condition(visit)
        if _is_value(condition):
            joined = f" counts as {taken}".lower()
        else:
            joined = ": " + word.removeprefix("is ") if " is " in condition else f" {word}"
        return condition + joined if condition and len(condition) <= length else word

    def _condition(self, visit: int) -> str:
        """The condition's text with the values of its names in their place; '' when that would not help."""
        node = self.syntax.at(visit)
        if not isinstance(node, (ast.If, ast.While)):
            return ""
        text = filled_in(self.trace, self.stepping.frame_of(visit), node.test, visit)
        return "" if text in ("True", "False") else text  # of which the word says all

    def _written(self, change: Change, visit: int, after: int, length: int) -> str:
        trace = self.trace
        slots = trace.slots
        key = int(slots.key[change.slot])
        part = slots.part[change.slot]
        number = int(slots.owner[change.slot])
        if part == Part.SIZE or (part == Part.FIELD and trace.objects.shape_of(number) in insides.ARRAYS):
            return ""
        if part == Part.FIELD and self._is_a_librarys(str(trace.values.get(key))):
            return ""
        if part == Part.ITEM and trace.objects.shape_of(number) == "set":
            held = brief(trace, key, after, length)
            return f"{self.owner(number, visit, after)} {'loses' if change.value == NOT_SET else 'gains'} {held}"
        if part == Part.CELL and change.value == NOT_SET:
            held = brief(trace, trace.histories.value_at(change.slot, visit), after, length)
            return f"{self.owner(number, visit, after)} loses {held}"
        owner = "" if part == Part.NAME else self.owner(number, visit, after)
        place = owner + after_owner(trace, change.slot, after)
        if change.value == NOT_SET:
            kind = trace.program.statements[int(trace.steps.statement[visit])].kind
            # Python itself takes away the name of a handler's exception at the end of the handler.
            return f"{place} deleted" if kind == "delete" or part != Part.NAME else ""
        return f"{place} ← {brief(trace, change.value, after, length)}"

    def owner(self, number: int, visit: int, after: int) -> str:
        """What an object that a statement changed is called: as it is written there, else by a name of the frame."""
        frame, node = self.stepping.frame_of(visit), self.syntax.at(visit)
        for step in (visit, after):
            if node is not None and (text := written_as(self.trace, node, frame, step, number)):
                return text
        return owner_text(self.trace, number, frame, after)

    def _passed_through(self, visit: int, length: int) -> str | None:
        printed = self.changes.printed(visit)
        if not printed:
            shown = self.changes.pictures(visit)
            return f"showed {'a picture' if shown == 1 else f'{shown} pictures'}" if shown else None
        text = repr(printed.rstrip("\n"))
        return f"printed {text}" if len(text) <= length else f"printed {len(printed)} characters"


def _is_value(condition: str) -> bool:
    """Whether a condition, filled in, is a value alone, as `[]`."""
    try:
        literal(condition)
    except (ValueError, SyntaxError, RecursionError, MemoryError):
        return False
    return True
