"""Python's expression language over the recorded state, by its own rules and in its own order.

Built-in types behave exactly as they do in Python, since Python works with copies of them; nothing of the program runs.
The working out of a line (`working`) takes the results of calls from the recording and shares everything else.
"""

from __future__ import annotations

import ast
from collections.abc import Callable, Iterator
from typing import Any

from eelgrass.reading.expressions import safe_builtins
from eelgrass.reading.expressions.python_values import (
    MOST_ELEMENTS,
    CannotAnswerError,
    PythonValues,
    Thing,
    type_word,
)
from eelgrass.reading.state import insides, value_text
from eelgrass.reading.state.call_stack import class_of, value_of_name
from eelgrass.trace.histories import Part
from eelgrass.trace.model import Trace
from eelgrass.trace.values import NOT_SET

#: So many parts of an expression are worked out, counting those of comprehensions each time.
MOST_PARTS = 200_000


class Evaluator:
    """Works out expressions in one frame, just before one step.

    `value(node)` raises CannotAnswerError where the recording does not know, and whatever the expression itself raises.
    """

    def __init__(self, trace: Trace, frame: int, step: int, most_elements: int = MOST_ELEMENTS) -> None:
        self.trace = trace
        self.frame = frame
        self.lift = PythonValues(trace, step, most=most_elements)
        self._local: list[dict[str, Any]] = []  # names of comprehensions around, the innermost last
        self._room = MOST_PARTS

    def value(self, node: ast.expr) -> Any:
        """What an expression gives."""
        self._count()
        its: Callable[[Any], Any] | None = getattr(self, "_" + type(node).__name__.lower(), None)
        if its is None:
            raise CannotAnswerError(f"“{ast.unparse(node)}” cannot be worked out from the recording.")
        return its(node)

    def _count(self) -> None:
        self._room -= 1
        if self._room < 0:
            raise CannotAnswerError("The expression takes too long to work out.")

    # Leaves

    def _constant(self, node: ast.Constant) -> Any:
        return node.value

    def _name(self, node: ast.Name) -> Any:
        for names in reversed(self._local):
            if node.id in names:
                return names[node.id]
        self.looks_at_name(node.id)
        number = value_of_name(self.trace, self.frame, node.id, self.lift.step)
        if number != NOT_SET:
            return self.lift.value(number)
        if node.id in safe_builtins.FUNCTIONS:
            raise CannotAnswerError(f"“{node.id}” is a built-in function; it can be called here.")
        raise NameError(f"name '{node.id}' is not defined here")

    def _attribute(self, node: ast.Attribute) -> Any:
        owner = self.value(node.value)
        if isinstance(owner, Thing):
            return self._field(owner, node.attr)
        safe_builtins.need_plain(owner)
        if node.attr in ("real", "imag", "numerator", "denominator", "start", "stop", "step"):
            return getattr(owner, node.attr)
        if not hasattr(type(owner), node.attr):
            raise AttributeError(f"{type(owner).__name__!r} object has no attribute {node.attr!r}")
        raise CannotAnswerError(f"“{node.attr}” of a {type_word(owner)} is a method; it can be called here.")

    def _field(self, owner: Thing, name: str) -> Any:
        """A field of the object itself, else of its class. What a class does when asked for a field is not run."""
        step = self.lift.step
        own = insides.field(self.trace, owner.number, name, step)
        class_ = class_of(self.trace, owner.number, self.frame, step)
        shared = NOT_SET if class_ is None else insides.field(self.trace, class_, name, step)
        asked = class_ is not None and insides.field(self.trace, class_, "__getattribute__", step) != NOT_SET
        if asked or (shared != NOT_SET and self._may_decide(shared, own != NOT_SET)):
            raise CannotAnswerError(
                f"What “{name}” of this {owner.type_} is, is decided by its class, which is not run."
            )
        value, number = (own, owner.number) if own != NOT_SET else (shared, class_)
        if value == NOT_SET or number is None:
            raise CannotAnswerError(f"The recording knows no field “{name}” of this {owner.type_}.")
        self.looks_at_part(number, Part.FIELD, name)
        return self.lift.value(value)

    def _may_decide(self, shared: int, has_own: bool) -> bool:
        """Whether something held by a class may decide itself what its instances give for it, as properties do, and,
        unless they have a field of that name, functions."""
        number = self.trace.values.object_of(shared)
        if number is None or value_text.is_literal(self.trace, number):
            return False
        return not (has_own and self.trace.objects.shape_of(number) == "function")

    # Operators

    def _unaryop(self, node: ast.UnaryOp) -> Any:
        operand = self.value(node.operand)
        if isinstance(node.op, ast.Not):
            return not self.truth(operand)
        return safe_builtins.unary(node.op, operand)

    def _binop(self, node: ast.BinOp) -> Any:
        left = self.value(node.left)
        return safe_builtins.binary(node.op, left, self.value(node.right))

    def _boolop(self, node: ast.BoolOp) -> Any:
        result = None
        for place, part in enumerate(node.values):
            result = self.value(part)
            if self.truth(result) == isinstance(node.op, ast.Or):
                self.skip(node.values[place + 1 :])
                break
        return result

    def _compare(self, node: ast.Compare) -> Any:
        left = self.value(node.left)
        result: Any = True
        for place, (kind, part) in enumerate(zip(node.ops, node.comparators, strict=True)):
            right = self.value(part)
            result = self._compared(kind, left, right)
            if not self.truth(result):
                self.skip(node.comparators[place + 1 :])
                break
            left = right
        return result

    def _compared(self, kind: ast.cmpop, left: Any, right: Any) -> Any:
        if not isinstance(kind, (ast.Is, ast.IsNot)):
            return safe_builtins.compare(kind, left, right)
        one, other = self.lift.number_of(left), self.lift.number_of(right)
        if one is None and other is None and left is not right and type(left) is type(right) and left == right:
            raise CannotAnswerError(
                "Whether equal numbers or texts are one object is up to Python; compare them with ==."
            )
        same = one == other if one is not None or other is not None else left is right
        return same == isinstance(kind, ast.Is)

    def _ifexp(self, node: ast.IfExp) -> Any:
        taken, skipped = (node.body, node.orelse) if self.truth(self.value(node.test)) else (node.orelse, node.body)
        result = self.value(taken)
        self.skip([skipped])
        return result

    def skip(self, nodes: list[ast.expr]) -> None:
        """These parts are not evaluated."""

    def looks_at_name(self, name: str) -> None:
        """A name of the program is read."""

    def looks_at_part(self, number: int, part: int, key: Any) -> None:
        """An element or a field of an object is read."""

    def truth(self, value: Any) -> bool:
        """Whether a value counts as true."""
        if isinstance(value, Thing) and self.trace.objects.shape_of(value.number) == "instance":
            raise CannotAnswerError("Whether this object counts as true is decided by its class.")
        return bool(value)

    # Containers

    def _elements(self, nodes: list[ast.expr]) -> list[Any]:
        found: list[Any] = []
        for node in nodes:
            if isinstance(node, ast.Starred):
                for value in self._iterated(node.value):
                    self._count()
                    found.append(value)
            else:
                found.append(self.value(node))
        return found

    def _list(self, node: ast.List) -> Any:
        return self._elements(node.elts)

    def _tuple(self, node: ast.Tuple) -> Any:
        return tuple(self._elements(node.elts))

    def _set(self, node: ast.Set) -> Any:
        return set(self._elements(node.elts))

    def _dict(self, node: ast.Dict) -> Any:
        made: dict[Any, Any] = {}
        for key, held in zip(node.keys, node.values, strict=True):
            if key is None:
                made.update(self.value(held))
            else:
                its = self.value(key)
                made[its] = self.value(held)
        return made

    def _subscript(self, node: ast.Subscript) -> Any:
        number = self.list_named(node.value)
        if number is not None and not isinstance(node.slice, ast.Slice):
            index = self.value(node.slice)
            if type(index) is int:
                held = insides.element(self.trace, number, index, self.lift.step)
                if held == NOT_SET:
                    raise CannotAnswerError(
                        f"Of this list {value_text.recorded_part(self.trace, number, self.lift.step)}."
                    )
                return self.lift.value(held)
        owner = self.value(node.value)
        safe_builtins.need_plain(owner)
        number = self.lift.number_of(owner)
        index = self.value(node.slice)
        if number is not None:
            self.looks_at_part(number, Part.ITEM, index)
        return owner[index]

    def list_named(self, node: ast.expr) -> int | None:
        """The number of the list that a name or field holds; None for anything else. With it, an element or the length
        can be looked up without lifting all elements."""
        value = NOT_SET
        if isinstance(node, ast.Name) and not any(node.id in names for names in self._local):
            value = value_of_name(self.trace, self.frame, node.id, self.lift.step)
        elif isinstance(node, ast.Attribute):
            owner = self.value(node.value) if isinstance(node.value, (ast.Name, ast.Attribute)) else None
            if isinstance(owner, Thing):
                value = insides.field(self.trace, owner.number, node.attr, self.lift.step)
        number = self.trace.values.object_of(value)
        return number if number is not None and self.trace.objects.type_of(number) == "list" else None

    def _slice(self, node: ast.Slice) -> Any:
        parts = (node.lower, node.upper, node.step)
        return slice(*(None if part is None else self.value(part) for part in parts))

    def _iterated(self, node: ast.expr) -> Iterator[Any]:
        value = self.value(node)
        if isinstance(value, (zip, enumerate, reversed)):
            return iter(value)
        safe_builtins.need_plain(value)
        return iter(value)

    # Text

    def _joinedstr(self, node: ast.JoinedStr) -> Any:
        return "".join(str(self.value(part)) for part in node.values)

    def _formattedvalue(self, node: ast.FormattedValue) -> Any:
        value = self.value(node.value)
        safe_builtins.need_plain(value)
        if node.conversion >= 0:
            value = safe_builtins.call({"r": "repr", "s": "str", "a": "ascii"}[chr(node.conversion)], [value], {})
        how = self._joinedstr(node.format_spec) if isinstance(node.format_spec, ast.JoinedStr) else ""
        safe_builtins.limit_widths(how)
        return format(value, how)

    # Calls

    def _call(self, node: ast.Call) -> Any:
        function = node.func
        if isinstance(function, ast.Attribute):
            owner = self.value(function.value)
            arguments, keywords = self.arguments(node)
            return safe_builtins.call_method(owner, function.attr, arguments, keywords)
        if isinstance(function, ast.Name) and not self._is_programs_own(function.id):
            if function.id == "len" and len(node.args) == 1 and not node.keywords:
                number = self.list_named(node.args[0])
                if number is not None:
                    return insides.size_of_object(self.trace, number, self.lift.step)
            if function.id == "isinstance" and len(node.args) == 2 and not node.keywords:
                return self._is_of_type(self.value(node.args[0]), node.args[1])
            arguments, keywords = self.arguments(node)
            return safe_builtins.call(function.id, arguments, keywords)
        raise CannotAnswerError(f"“{ast.unparse(function)}” is the program's own; calling it would run the program.")

    def _is_programs_own(self, name: str) -> bool:
        return value_of_name(self.trace, self.frame, name, self.lift.step) != NOT_SET

    def _is_of_type(self, value: Any, type_: ast.expr) -> bool:
        """What `isinstance` gives for built-in types, and for the very class of an object."""
        if isinstance(type_, ast.Tuple):
            return any(self._is_of_type(value, its) for its in type_.elts)
        name = type_.id if isinstance(type_, ast.Name) else ""
        if isinstance(value, Thing):
            if value.type_ == name:
                return True
            raise CannotAnswerError(f"Whether this {value.type_} is a “{ast.unparse(type_)}” is not known.")
        if name not in safe_builtins.TYPES or self._is_programs_own(name):
            raise CannotAnswerError(f"“{ast.unparse(type_)}” is not among the types that can be asked for.")
        return isinstance(value, safe_builtins.TYPES[name])

    def arguments(self, node: ast.Call) -> tuple[list[Any], dict[str, Any]]:
        """What a call is given, in Python's order."""
        arguments = self._elements(node.args)
        keywords: dict[str, Any] = {}
        for keyword in node.keywords:
            value = self.value(keyword.value)
            keywords.update({keyword.arg: value} if keyword.arg else value)
        return arguments, keywords

    # Comprehensions

    def _listcomp(self, node: ast.ListComp) -> Any:
        return list(self._passes(node.generators, node.elt))

    def _setcomp(self, node: ast.SetComp) -> Any:
        return set(self._passes(node.generators, node.elt))

    def _generatorexp(self, node: ast.GeneratorExp) -> Any:
        return list(self._passes(node.generators, node.elt))

    def _dictcomp(self, node: ast.DictComp) -> Any:
        return dict(self._passes(node.generators, ast.Tuple([node.key, node.value], ast.Load())))

    def _passes(self, clauses: list[ast.comprehension], element: ast.expr) -> Iterator[Any]:
        if not clauses:
            yield self.value(element)
            return
        clause, *rest = clauses
        for value in self._iterated(clause.iter):
            self._count()
            self._local.append({})
            try:
                self._bind(clause.target, value)
                if all(self.truth(self.value(condition)) for condition in clause.ifs):
                    yield from self._passes(rest, element)
            finally:
                self._local.pop()

    def _bind(self, target: ast.expr, value: Any) -> None:
        if isinstance(target, ast.Name):
            self._local[-1][target.id] = value
        elif isinstance(target, (ast.Tuple, ast.List)):
            for part, its in zip(target.elts, value, strict=True):
                self._bind(part, its)
        else:
            raise CannotAnswerError("Such a target cannot be worked out here.")
