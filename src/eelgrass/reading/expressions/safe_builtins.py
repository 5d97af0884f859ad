"""Functions, methods and operators that change nothing, with limits: what questions may call."""

from __future__ import annotations

import ast
import math
import operator
import re
import string
from collections.abc import Callable, Collection, Sequence, Sized
from typing import Any

from eelgrass.reading.expressions.python_values import CannotAnswerError

#: A result may have so many bits, characters or elements.
MOST_BITS = 200_000
MOST_ELEMENTS = 1_000_000

FUNCTIONS: dict[str, Callable[..., Any]] = {
    **{"abs": abs, "all": all, "any": any, "ascii": ascii, "bin": bin, "bool": bool, "bytes": bytes, "chr": chr},
    **{"complex": complex, "dict": dict, "divmod": divmod, "enumerate": enumerate, "float": float, "format": format},
    **{"frozenset": frozenset, "hex": hex, "int": int, "len": len, "list": list, "max": max, "min": min, "oct": oct},
    **{"ord": ord, "pow": pow, "range": range, "repr": repr, "reversed": reversed, "round": round, "set": set},
    **{"slice": slice, "sorted": sorted, "str": str, "sum": sum, "tuple": tuple, "zip": zip},
}
#: What `isinstance` may be asked about.
TYPES: dict[str, type] = {
    its.__name__: its for its in (bool, bytes, complex, dict, float, frozenset, int, list, set, str, tuple)
}
_CHANGING = frozenset(
    (
        *("append", "extend", "insert", "remove", "pop", "clear", "sort", "reverse", "update", "setdefault", "popitem"),
        *("add", "discard", "difference_update", "intersection_update", "symmetric_difference_update"),
    )
)
_PLAIN = (int, float, complex, bool, str, bytes, list, tuple, dict, set, frozenset, range, type(None))

_BINARY: dict[type[ast.operator], Callable[[Any, Any], Any]] = {
    ast.Add: operator.add,
    ast.Sub: operator.sub,
    ast.Mult: operator.mul,
    ast.Div: operator.truediv,
    ast.FloorDiv: operator.floordiv,
    ast.Mod: operator.mod,
    ast.Pow: operator.pow,
    ast.LShift: operator.lshift,
    ast.RShift: operator.rshift,
    ast.BitOr: operator.or_,
    ast.BitXor: operator.xor,
    ast.BitAnd: operator.and_,
    ast.MatMult: operator.matmul,
}
_COMPARISONS: dict[type[ast.cmpop], Callable[[Any, Any], Any]] = {
    ast.Eq: operator.eq,
    ast.NotEq: operator.ne,
    ast.Lt: operator.lt,
    ast.LtE: operator.le,
    ast.Gt: operator.gt,
    ast.GtE: operator.ge,
    ast.In: lambda one, other: one in other,
    ast.NotIn: lambda one, other: one not in other,
}
_UNARY: dict[type[ast.unaryop], Callable[[Any], Any]] = {
    ast.UAdd: operator.pos,
    ast.USub: operator.neg,
    ast.Invert: operator.invert,
    ast.Not: operator.not_,
}


def is_plain(value: Any) -> bool:
    """Whether a value is of a built-in type whose behaviour is known."""
    return type(value) in _PLAIN


def need_plain(*of: Any) -> None:
    """Raises CannotAnswerError for an object whose class decides what happens to it."""
    if not all(map(is_plain, of)):
        raise CannotAnswerError("What happens to this object is decided by its class, which is not run for an answer.")


def unary(kind: ast.unaryop, operand: Any) -> Any:
    """What an operator makes of its operand."""
    need_plain(operand)
    return _UNARY[type(kind)](operand)


def binary(kind: ast.operator, left: Any, right: Any) -> Any:
    """What an operator makes of its operands. Raises CannotAnswerError when it would be too large."""
    need_plain(left, right)
    its = type(kind)
    if isinstance(left, int) and isinstance(right, int):
        _limit_bits(its, left, right)
    elif its is ast.Mult:
        sequence, times = (left, right) if isinstance(right, int) else (right, left)
        if isinstance(sequence, Sized) and isinstance(times, int):
            limit_size(len(sequence) * max(times, 0))
    elif its is ast.Add and isinstance(left, (str, bytes, list, tuple)) and isinstance(right, Sized):
        limit_size(len(left) + len(right))
    elif its is ast.Mod and isinstance(left, (str, bytes)):
        limit_widths(str(left), right)
    return _BINARY[its](left, right)


def _limit_bits(kind: type[ast.operator], left: int, right: int) -> None:
    bits = {
        ast.Pow: left.bit_length() * max(right, 0),
        ast.LShift: left.bit_length() + max(right, 0),
        ast.Mult: left.bit_length() + right.bit_length(),
    }.get(kind, 0)
    if bits > MOST_BITS:
        raise CannotAnswerError("The number would be too large to work out.")


def limit_size(size: int) -> None:
    """Raises CannotAnswerError when something would have too many elements."""
    if size > MOST_ELEMENTS:
        raise CannotAnswerError(f"The answer would have {size:,} elements; more than {MOST_ELEMENTS:,} are not made.")


def limit_widths(template: str, *of: Any) -> None:
    """The same for text that is padded to a width."""
    widths = [int(digits[:12]) for digits in re.findall(r"\d+", template)]
    widths += [
        one for its in of for one in (its if isinstance(its, tuple) else (its,)) if type(one) is int and "*" in template
    ]
    limit_size(max(widths, default=0))


def compare(kind: ast.cmpop, left: Any, right: Any) -> Any:
    """What a comparison other than `is` gives."""
    if not isinstance(kind, (ast.Eq, ast.NotEq)):
        need_plain(right if isinstance(kind, (ast.In, ast.NotIn)) else left, right)
    if isinstance(right, range) and type(left) is not int:
        limit_size(_length(right))  # which Python would go through
    return _COMPARISONS[type(kind)](left, right)


def call(name: str, arguments: Sequence[Any], keywords: dict[str, Any]) -> Any:
    """What a built-in function gives. Raises CannotAnswerError for one that is not on the list, or for too much."""
    if name not in FUNCTIONS:
        raise CannotAnswerError(f"“{name}” is not among the functions that can be called for an answer.")
    need_plain(*(argument for argument in arguments if not isinstance(argument, (zip, enumerate, reversed, slice))))
    need_plain(*(value for value in keywords.values()))
    for argument in arguments if name not in ("len", "range", "bool") else ():
        limit_size(argument if name == "bytes" and type(argument) is int else _length(argument))
    if name == "pow" and len(arguments) == 2:
        return binary(ast.Pow(), *arguments)
    if name == "format":
        limit_widths(*map(str, arguments[1:]))
    return FUNCTIONS[name](*arguments, **keywords)


def _length(of: Any) -> int:
    try:
        return len(of) if isinstance(of, Sized) else 0
    except OverflowError:  # a range beyond all bounds
        return 1 << 63


def call_method(owner: Any, name: str, arguments: Sequence[Any], keywords: dict[str, Any]) -> Any:
    """What a method of a plain value gives. Raises CannotAnswerError for one that would change it, or for too much."""
    need_plain(owner)
    if name in _CHANGING:
        raise CannotAnswerError(f"“{name}” would change what is recorded; a question changes nothing.")
    if name.startswith("_"):
        raise CannotAnswerError(f"“{name}” is not called for an answer.")
    numbers = [argument for argument in arguments if type(argument) is int]
    limit_size(max([0, *numbers, *map(_length, arguments)]))
    if isinstance(owner, (str, bytes)):
        if name in ("format", "format_map"):
            _refuse_attributes(str(owner))
            limit_widths(str(owner))
        if name == "expandtabs":
            limit_size(len(owner) * max([8, *numbers]))
        if name in ("join", "replace"):
            limit_size(_joined(owner, name, arguments))
    return getattr(owner, name)(*arguments, **keywords)


def _refuse_attributes(template: str) -> None:
    """A template can ask for attributes of what it is given, and so for its class and all that this leads to."""
    for _, field, spec, _ in string.Formatter().parse(template):
        if "." in (field or ""):
            raise CannotAnswerError(f"“{field}” would look inside of a value, which a question does not.")
        _refuse_attributes(spec or "")


def _joined(owner: str | bytes, name: str, arguments: Sequence[Any]) -> int:
    if name == "join":
        parts = list(arguments[0]) if arguments and isinstance(arguments[0], Collection) else []
        return len(owner) * len(parts) + sum(map(_length, parts))
    grown = _length(arguments[1]) if len(arguments) > 1 else 0
    return len(owner) + (len(owner) + 1) * grown if math.isfinite(grown) else 0
