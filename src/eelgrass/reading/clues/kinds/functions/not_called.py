"""A function or method that is named, and not called."""

from __future__ import annotations

import ast
from collections.abc import Iterator

from eelgrass.reading.clues.checks import Ran
from eelgrass.reading.clues.clue import Evidence, Kind, Sighting
from eelgrass.reading.clues.facts import UNKNOWN, Facts
from eelgrass.reading.clues.program_text import source
from eelgrass.reading.expressions.python_values import Thing
from eelgrass.reading.expressions.source_tree import own_parts


def find(facts: Facts) -> Iterator[Sighting]:
    """Of each function or method that stands alone, in a condition, in a calculation or in a `print`, without `()`."""
    for site in facts.sites:
        for node, where in _places(site.node):
            for visit in facts.visits(site, 3):
                if _is_function(facts, node, visit):
                    yield Sighting(
                        site.number,
                        0.9,
                        {"name": source(node), "where": where},
                        (
                            Evidence(
                                visit,
                                f"“{source(node)}” is the function, not what it gives.",
                                (Ran(site.number, visit),),
                            ),
                        ),
                    )
                    break


def _places(node: ast.stmt) -> Iterator[tuple[ast.expr, str]]:
    """Names and fields at which a function is hardly meant, each with words for it."""
    if isinstance(node, ast.Expr) and isinstance(node.value, (ast.Name, ast.Attribute)):
        yield node.value, "stands alone"
    if isinstance(node, (ast.If, ast.While)):
        test = node.test
        parts = test.values if isinstance(test, ast.BoolOp) else [test]
        parts = [its.operand if isinstance(its, ast.UnaryOp) else its for its in parts]
        yield from (
            (its, "is asked whether it is true, which it always is")
            for its in parts
            if isinstance(its, (ast.Name, ast.Attribute))
        )
    for part in (its for own in own_parts(node) for its in ast.walk(own)):
        if (
            isinstance(part, ast.Call)
            and isinstance(part.func, ast.Name)
            and part.func.id in ("print", "str", "len", "int", "float")
        ):
            yield from (
                (its, f"is handed to “{part.func.id}”")
                for its in part.args
                if isinstance(its, (ast.Name, ast.Attribute))
            )
        if isinstance(part, (ast.BinOp, ast.Compare)):
            sides = [part.left, part.right] if isinstance(part, ast.BinOp) else [part.left, *part.comparators]
            if not (
                isinstance(part, ast.Compare)
                and isinstance(part.ops[0], (ast.Is, ast.IsNot, ast.In, ast.NotIn, ast.Eq, ast.NotEq))
            ):
                yield from (
                    (its, "is worked with as a value") for its in sides if isinstance(its, (ast.Name, ast.Attribute))
                )
        if isinstance(part, ast.FormattedValue) and isinstance(part.value, (ast.Name, ast.Attribute)):
            yield part.value, "is put into a text"


def _is_function(facts: Facts, node: ast.expr, visit: int) -> bool:
    value = facts.value(node, visit)
    if isinstance(value, Thing):
        return value.type_ in ("function", "method", "builtin_function_or_method") and not isinstance(
            node, ast.Attribute
        )
    if not isinstance(node, ast.Attribute):
        return False
    owner = facts.value(node.value, visit)
    if isinstance(owner, Thing):
        return value is UNKNOWN and _has_method(facts, owner, node.attr)
    return owner is not UNKNOWN and callable(getattr(type(owner), node.attr, None))


def _has_method(facts: Facts, owner: Thing, name: str) -> bool:
    functions = facts.trace.program.functions
    return any(
        its.kind == "function" and its.name == name and its.parent >= 0 and functions[its.parent].name == owner.type_
        for its in functions
    ) and not any(node.name == name and node.decorator_list for _, node in facts.all(ast.FunctionDef))


KIND = Kind(
    "not-called",
    "Named, not called",
    "“{name}” at line {line} {where}, but it is the function itself: without “()” it is not called. Was what it gives"
    " meant?",
    "a function or method stands without `()` where a value is worked with, printed, tested, or alone",
    "strong",
    """\
answer = "12"
if answer.isdigit: #!
    print("a number")
""",
    """\
answer = "12"
if answer.isdigit():
    print("a number")
""",
    find,
)
