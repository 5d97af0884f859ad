"""One function alone: a program's definitions without what it does, and a call.

What stays: functions, classes, imports, and names that are given constants. Everything keeps its line.
"""

from __future__ import annotations

import ast

from eelgrass.parsing import parsed, parsed_expression

#: The name that holds what the call gave.
ANSWER = "answer"
_DEFINING = (ast.FunctionDef, ast.AsyncFunctionDef, ast.ClassDef, ast.Import, ast.ImportFrom)


def alone(text: str, call: str) -> str:
    """The text of a program that only works out `call`. Raises SyntaxError when either is none."""
    tree = parsed(text)
    parsed_expression(call)
    lines = text.split("\n")
    kept: set[int] = set()
    for node in tree.body:
        if isinstance(node, _DEFINING) or _is_constant(node):
            first = min([node.lineno, *(its.lineno for its in getattr(node, "decorator_list", []))])
            kept.update(range(first, (node.end_lineno or node.lineno) + 1))
    body = [
        line if number in kept or not line.strip() or line.startswith("#") else ""
        for number, line in enumerate(lines, 1)
    ]
    return "\n".join([*body, f"{ANSWER} = {call.strip()}", ""])


def _is_constant(node: ast.stmt) -> bool:
    """Whether a statement gives a name a value that is written there."""
    if not isinstance(node, (ast.Assign, ast.AnnAssign)) or node.value is None:
        return False
    try:
        ast.literal_eval(node.value)
    except ValueError:
        return False
    return True
