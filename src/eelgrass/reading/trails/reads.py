"""What one visit of a statement reads: slots, what calls gave back, and where nothing recorded lies behind.

After the data dependences of dynamic slices (Agrawal and Horgan, Dynamic program slicing, 1990), for each part of the
statement's tree by its own rule. Where a rule is not known, everything in a part counts as read, with all that is in
the objects there: rather a link too many than one too few.
"""

from __future__ import annotations

import ast
from collections.abc import Iterable
from dataclasses import dataclass

import numpy as np

from eelgrass.reading.recording import Recording
from eelgrass.reading.state import insides
from eelgrass.reading.state.call_stack import value_of_name
from eelgrass.reading.state.name_lookup import NO_SLOT, slot_of
from eelgrass.reading.stepping.stepping import Call
from eelgrass.reading.trails.moments import Kind
from eelgrass.reading.trails.visit_values import VisitValues
from eelgrass.trace.columns import Ints, between
from eelgrass.trace.histories import Part
from eelgrass.trace.values import NOT_SET

#: Methods of built-in containers that change them, whatever is in them.
CHANGING = frozenset(
    [
        "append",
        "extend",
        "insert",
        "remove",
        "pop",
        "clear",
        "sort",
        "reverse",
        "add",
        "discard",
        "update",
        "setdefault",
        "popitem",
        "appendleft",
        "popleft",
        "extendleft",
        "rotate",
        "move_to_end",
        "difference_update",
        "intersection_update",
        "symmetric_difference_update",
    ]
)
_FROM_FILE = frozenset(("read", "readline", "readlines", "read_text", "read_bytes", "open"))
#: So many slots of what is in an object are looked at.
_MOST_INSIDE = 5_000


@dataclass(frozen=True)
class Read:
    """A slot that was read, as it was just before a step."""

    slot: int
    step: int


@dataclass(frozen=True)
class GivenBack:
    """What a frame handed back, or out, at its step `last`."""

    call: Call


@dataclass(frozen=True)
class Sent:
    """What a frame that waited was sent, by the statement that went on with it at a step."""

    step: int


@dataclass(frozen=True)
class End:
    """A part of the text behind which nothing recorded lies."""

    kind: Kind
    text: str
    visit: int


class Reads(VisitValues):
    """Collects what parts of one visit's statement read, in the order of the text."""

    def __init__(self, recording: Recording, visit: int, frame: int | None = None) -> None:
        super().__init__(recording, visit, frame)
        self.found: dict[Read | GivenBack | Sent | End, None] = {}
        self._matched: set[int] = set()

    def read(self, nodes: Iterable[ast.expr], deep: bool = True) -> None:
        """Some expressions, with all that is in the objects that they lead to if `deep`."""
        for node in nodes:
            self._read(node, deep)

    def read_unmatched(self) -> None:
        """What frames gave back that no call in the text stands for: operators, properties, calls from C."""
        for call in self.calls:
            if call.frame not in self._matched and call.last >= 0:
                self.found[GivenBack(call)] = None

    def _read(self, node: ast.expr, deep: bool) -> None:
        rule = getattr(self, f"_{type(node).__name__.lower()}", None)
        if rule is not None:
            rule(node, deep)
        else:
            self.read((its for its in ast.iter_child_nodes(node) if isinstance(its, ast.expr)), True)

    # Names and what is in objects

    def _name(self, node: ast.Name, deep: bool) -> None:
        slot = slot_of(self.trace, self.frame, node.id)
        if slot == NO_SLOT:
            return
        self._slot(slot)
        value = self.trace.histories.value_at(slot, self.visit)
        if deep:
            self._inside_value(value)

    def _slot(self, slot: int) -> None:
        """A slot, as it was before the visit, and as calls that the statement made have left it."""
        self.found[Read(slot, self.visit)] = None
        if self.calls:
            own = set(self.recording.changes.own_steps(self.visit))
            steps, _ = self.trace.histories.columns_of(slot)
            for step in steps[between(steps, self.visit + 1, self._end)].tolist():
                if step not in own:
                    self.found[Read(slot, step + 1)] = None

    def _inside_value(self, value: int) -> None:
        numbers = [number for number, _ in self.recording.references.objects_in(value)] if value != NOT_SET else []
        self._inside_objects(numbers)

    def _inside_objects(self, waiting: list[int]) -> None:
        """All that is in some objects, and in those in them."""
        seen = set(waiting)
        looked_at = 0
        for number in waiting:  # which grows meanwhile
            if self.trace.objects.shape_of(number) in insides.DEFINITIONS or looked_at >= _MOST_INSIDE:
                continue
            slots = self._latest(self.trace.histories.of_object(number), _MOST_INSIDE - looked_at)
            self.found.update((Read(slot, self.visit), None) for slot in slots.tolist())
            looked_at += len(slots)
            for value in self.trace.histories.values_at(slots, self.visit).tolist():
                if value != NOT_SET:
                    inner = [its for its, _ in self.recording.references.objects_in(value) if its not in seen]
                    seen.update(inner)
                    waiting.extend(inner)

    def _latest(self, slots: Ints, most: int) -> Ints:
        """Some slots without those that were not written before the visit; of very many, those written last."""
        when = self.trace.histories.written_at(slots, self.visit)
        slots, when = slots[when > -2], when[when > -2]
        return slots if len(slots) <= most else slots[np.sort(np.argsort(when, kind="stable")[-most:])]

    def structure(self, number: int) -> None:
        """Which elements an object has, whatever they are: the latest change of all, whose own changes go on from
        there."""
        slots = self.trace.histories.of_object(number)
        if len(slots):
            latest = slots[np.argmax(self.trace.histories.written_at(slots, self.visit))]
            self.found[Read(int(latest), self.visit)] = None

    def _attribute(self, node: ast.Attribute, deep: bool) -> None:
        number = self.object_of(node.value)
        if number is None:
            self._read(node.value, True)
            return
        self._read(node.value, False)
        slot = insides.slot_of_part(self.trace, number, Part.FIELD, node.attr, self.visit)
        if slot == NO_SLOT:
            class_ = value_of_name(self.trace, self.frame, self.trace.objects.type_of(number), self.visit)
            its = self.trace.values.object_of(class_)
            slot = NO_SLOT if its is None else insides.slot_of_part(self.trace, its, Part.FIELD, node.attr, self.visit)
        if slot != NO_SLOT:
            self._slot(slot)
            if deep:
                self._inside_value(self.trace.histories.value_at(slot, self.visit))

    def _subscript(self, node: ast.Subscript, deep: bool) -> None:
        number, key = self.object_of(node.value), self.plain(node.slice)
        self._read(node.slice, True)
        shape = self.trace.objects.shape_of(number) if number is not None else ""
        if number is None or key is None or shape not in ("list", "tuple", "dict"):
            self._read(node.value, True)
            return
        self._read(node.value, False)
        slot = insides.slot_of_part(self.trace, number, Part.ITEM, key, self.visit)
        if slot == NO_SLOT or shape == "list":
            self.structure(number)
        if slot != NO_SLOT:
            self._slot(slot)
            if deep:
                self._inside_value(self.trace.histories.value_at(slot, self.visit))

    def element(self, number: int, place: int) -> None:
        """The element at a place of an object that is gone through."""
        slot = insides.slot_of_part(self.trace, number, Part.ITEM, place, self.visit)
        self.structure(number)
        if slot == NO_SLOT or self.trace.objects.shape_of(number) not in ("list", "tuple"):
            self._inside_objects([number])
        else:
            self._slot(slot)

    # Calls

    def _call(self, node: ast.Call, _deep: bool) -> None:
        call = self.frame_called(node)
        if call is not None:
            self._matched.add(call.frame)
            self.found[GivenBack(call)] = None
            if isinstance(node.func, ast.Attribute):
                self._read(node.func.value, False)
            if self.trace.function_of_frame(call.frame).name == "__init__":
                self.read([*node.args, *(its.value for its in node.keywords)], False)
            return
        receiver = node.func.value if isinstance(node.func, ast.Attribute) else None
        if receiver is not None:
            self._receiver(receiver, node)
        elif not isinstance(node.func, ast.Name):
            self._read(node.func, False)
        if isinstance(node.func, ast.Name) and node.func.id == "len" and len(node.args) == 1:
            number = self.object_of(node.args[0])
            self._read(node.args[0], number is None)
            if number is not None:
                self.structure(number)
        else:
            self.read([*node.args, *(its.value for its in node.keywords)])
        self._end_of_call(node, receiver)
        self.read_unmatched()

    def _receiver(self, node: ast.expr, call: ast.Call) -> None:
        """What a method is called on. One that changes a container goes on from its changes before."""
        assert isinstance(call.func, ast.Attribute)
        number = self.object_of(node)
        if number is None or call.func.attr not in CHANGING:
            self._read(node, True)
            return
        self._read(node, False)
        self.structure(number)
        if call.func.attr in ("pop", "popleft", "popitem", "setdefault"):
            self._taken(number, call)
        elif call.func.attr == "sort":
            self._inside_objects([number])

    def _taken(self, number: int, call: ast.Call) -> None:
        """The element that a container gives away."""
        assert isinstance(call.func, ast.Attribute)
        at_end = -1 if call.func.attr == "pop" else 0
        key = self.plain(call.args[0]) if call.args else at_end
        slot = NO_SLOT
        if key is not None and self.trace.objects.shape_of(number) in ("list", "dict"):
            slot = insides.slot_of_part(self.trace, number, Part.ITEM, key, self.visit)
        if slot == NO_SLOT:
            self._inside_objects([number])
        else:
            self._slot(slot)

    def _end_of_call(self, node: ast.Call, receiver: ast.expr | None) -> None:
        name = node.func.attr if isinstance(node.func, ast.Attribute) else getattr(node.func, "id", "")
        root = receiver
        while isinstance(root, (ast.Attribute, ast.Subscript, ast.Call)):
            root = root.func if isinstance(root, ast.Call) else root.value
        module = root.id if isinstance(root, ast.Name) else ""
        if name == "input" or module == "sys":
            kind = Kind.TYPED
        elif name in _FROM_FILE:
            kind = Kind.FROM_FILE
        elif module == "random" or name in ("randint", "choice", "shuffle", "randrange", "sample", "random"):
            kind = Kind.RANDOM
        elif self._is_module(module):
            kind = Kind.LIBRARY
        else:
            return
        self.found[End(kind, ast.unparse(node), self.visit)] = None

    def _is_module(self, name: str) -> bool:
        value = value_of_name(self.trace, self.frame, name, self.visit) if name else NOT_SET
        number = self.trace.values.object_of(value) if value != NOT_SET else None
        return number is not None and self.trace.objects.shape_of(number) == "module"

    # Everything else

    def _constant(self, node: ast.Constant, _deep: bool) -> None:
        self.found[End(Kind.LITERAL, ast.unparse(node), self.visit)] = None

    def _unaryop(self, node: ast.UnaryOp, _deep: bool) -> None:
        if isinstance(node.op, ast.USub) and isinstance(node.operand, ast.Constant):
            self.found[End(Kind.LITERAL, ast.unparse(node), self.visit)] = None
        else:
            self._read(node.operand, True)

    def _list(self, node: ast.List | ast.Tuple, deep: bool) -> None:
        self.read(node.elts, deep)

    _tuple = _set = _list

    def _starred(self, node: ast.Starred, _deep: bool) -> None:
        self._read(node.value, True)

    def _boolop(self, node: ast.BoolOp, deep: bool) -> None:
        self.read(node.values[:-1])
        self._read(node.values[-1], deep)

    def _ifexp(self, node: ast.IfExp, deep: bool) -> None:
        self._read(node.test, True)
        self.read((node.body, node.orelse), deep)

    def _lambda(self, _node: ast.Lambda, _deep: bool) -> None:
        """Reads when it is called."""

    def _namedexpr(self, node: ast.NamedExpr, deep: bool) -> None:
        self._read(node.value, deep)

    def _await(self, node: ast.Await | ast.YieldFrom, _deep: bool) -> None:
        self._read(node.value, True)
        self.read_unmatched()

    _yieldfrom = _await

    def _yield(self, node: ast.Yield, _deep: bool) -> None:
        if node.value is not None:
            self._read(node.value, True)
        row = self.trace.stretches.row_at(self.frame, self.visit) + 1
        its = self.trace.stretches
        if row < len(its.frame) and its.frame[row] == self.frame and its.call_step[row] >= 0:
            self.found[Sent(int(its.call_step[row]))] = None

    def _listcomp(self, node: ast.ListComp | ast.DictComp, _deep: bool) -> None:
        """A comprehension: all that its parts read, of the names that are not its own; and its calls."""
        own = {its.id for its in ast.walk(node) if isinstance(its, ast.Name) and isinstance(its.ctx, ast.Store)}
        inner = {id(its) for part in ast.walk(node) if isinstance(part, ast.Lambda) for its in ast.walk(part.args)}
        for its in ast.walk(node):
            if isinstance(its, ast.Name) and its.id not in own and id(its) not in inner:
                self._name(its, True)
            elif isinstance(its, ast.Constant):
                self._constant(its, True)
            elif isinstance(its, ast.Call):
                receiver = its.func.value if isinstance(its.func, ast.Attribute) else None
                self._end_of_call(its, receiver)
            elif isinstance(its, ast.Attribute) and self.object_of(its) is not None:
                self._attribute(its, True)
        for call in self.calls:
            self._matched.add(call.frame)
            self._called_from(call)

    _setcomp = _dictcomp = _generatorexp = _listcomp

    def _called_from(self, call: Call) -> None:
        """What the frames gave back that a comprehension's frame called."""
        if self.trace.function_of_frame(call.frame).name not in _INNER:
            self.found[GivenBack(call)] = None
            return
        for its in self.recording.stepping.calls_of(call.frame):
            self._called_from(its)


_INNER = frozenset(("<listcomp>", "<setcomp>", "<dictcomp>", "<genexpr>"))
