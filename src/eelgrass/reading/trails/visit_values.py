"""Values of the expressions of one visit of a statement: names, elements, fields, and what calls gave."""

from __future__ import annotations

import ast

from eelgrass.reading.recording import Recording
from eelgrass.reading.state import insides
from eelgrass.reading.state.call_stack import value_of_name
from eelgrass.reading.state.name_lookup import NO_SLOT
from eelgrass.reading.stepping.stepping import Call
from eelgrass.trace.columns import between
from eelgrass.trace.histories import Part
from eelgrass.trace.values import NOT_SET, Ref


class VisitValues:
    """What the parts of one visit's statement were worth, as far as that is recorded; seen from the visiting frame, or
    from another."""

    def __init__(self, recording: Recording, visit: int, frame: int | None = None) -> None:
        self.recording = recording
        self.trace = recording.trace
        self.visit = visit
        self.frame = recording.stepping.frame_of(visit) if frame is None else frame
        self.calls = recording.stepping.calls_made(visit)
        after = recording.stepping.next_in_frame(visit)
        self._end = after if after >= 0 else len(self.trace.steps)
        results = self.trace.results
        rows = between(results.step, visit, self._end)
        self._gave: dict[tuple[int, int, int, int], int] = {}  # the row of what an expression gave last
        for row in range(rows.start, rows.stop):
            if results.frame[row] == self.frame:
                its = self.trace.program.expressions[int(results.expression[row])]
                self._gave[its.line, its.column, its.end_line, its.end_column] = row

    def value(self, node: ast.expr) -> int:
        """The value number of a name, element, field or call at this visit; NOT_SET where it is not known."""
        if isinstance(node, ast.Name):
            return value_of_name(self.trace, self.frame, node.id, self.visit)
        if isinstance(node, ast.Call):
            row = self._gave.get((node.lineno, node.col_offset, node.end_lineno or 0, node.end_col_offset or 0))
            return NOT_SET if row is None else int(self.trace.results.value[row])
        if not isinstance(node, (ast.Attribute, ast.Subscript)):
            return NOT_SET
        number = self.object_of(node.value)
        if number is None:
            return NOT_SET
        if isinstance(node, ast.Attribute):
            return insides.field(self.trace, number, node.attr, self.visit)
        key = self.plain(node.slice)
        slot = NO_SLOT if key is None else insides.slot_of_part(self.trace, number, Part.ITEM, key, self.visit)
        return NOT_SET if slot == NO_SLOT else self.trace.histories.value_at(slot, self.visit)

    def object_of(self, node: ast.expr) -> int | None:
        """The number of the object that an expression leads to; None where it leads to none, or that is not known."""
        value = self.value(node)
        return None if value == NOT_SET else self.trace.values.object_of(value)

    def plain(self, node: ast.expr) -> object | None:
        """The number or text that an index or key is; None where it is something else, or not known."""
        if isinstance(node, (ast.Constant, ast.UnaryOp)):
            try:
                found = ast.literal_eval(node)
            except ValueError:
                return None
            return found if type(found) in (int, str, float, bool) else None
        value = self.value(node)
        got = self.trace.values.get(value) if value != NOT_SET else None
        if isinstance(got, (Ref, list)):
            return None
        if got is None and isinstance(node, ast.BinOp):
            left, right = self.plain(node.left), self.plain(node.right)
            if type(left) is int and type(right) is int and isinstance(node.op, (ast.Add, ast.Sub)):
                return left + right if isinstance(node.op, ast.Add) else left - right
        return got

    def frame_called(self, node: ast.Call) -> Call | None:
        """The frame of the program's own function that a call in the text made; None for any other call."""
        row = self._gave.get((node.lineno, node.col_offset, node.end_lineno or 0, node.end_col_offset or 0))
        name = node.func.attr if isinstance(node.func, ast.Attribute) else getattr(node.func, "id", "")
        if row is not None:
            last = int(self.trace.results.step[row])
            found = next((its for its in self.calls if its.last == last), None)
            return found if found is not None and self._is_called(found, name) else None
        # What a class gives is its object, whatever its `__init__` gave.
        known = {int(self.trace.results.step[its]) for its in self._gave.values()}
        free = [its for its in self.calls if its.last not in known and self._is_called(its, name)]
        return free[0] if len(free) == 1 else None

    def _is_called(self, call: Call, name: str) -> bool:
        function = self.trace.function_of_frame(call.frame)
        if function.name in ("__init__", "__new__") and function.parent >= 0:
            return self.trace.program.functions[function.parent].name == name
        return function.name == name
