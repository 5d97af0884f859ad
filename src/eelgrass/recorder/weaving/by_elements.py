"""Woven text that asks hooks for elements, `hook[arguments]`, where it would call them; why, says `hooks/roomy.pyx`."""

from __future__ import annotations

import ast

from eelgrass.recorder.contract import EVENT, MARK

#: Called as they are: neither takes room on the call stack.
_TYPES = ("type", "int")


class ByElements(ast.NodeTransformer):
    """Changes a whole woven tree. An event is told by `-event`."""

    def visit_Call(self, node: ast.Call) -> ast.AST:
        """`hook(…)` and `list.append(…)`."""
        name = _name(node.func)
        if isinstance(node.func, ast.Attribute) and (owner := _name(node.func.value)):
            name = f"{owner}.{node.func.attr}"
        if name == "events.append" and isinstance(node.args[0], ast.Constant):
            event = ast.copy_location(ast.Constant(f"{MARK}{EVENT}{node.args[0].value!r}"), node)
            return ast.copy_location(ast.UnaryOp(ast.USub(), event), node)
        self.generic_visit(node)
        if not name or name in _TYPES:
            return node
        arguments = ast.copy_location(ast.Tuple(node.args, ast.Load()), node)
        hook = ast.copy_location(ast.Constant(MARK + name), node)
        return ast.copy_location(ast.Subscript(hook, arguments, ast.Load()), node)

    def visit_If(self, node: ast.If) -> ast.AST | list[ast.stmt]:
        """What tells of a whole number without a call: the hook for all values does it as quickly."""
        if isinstance(node.test, ast.Compare) and _name(node.test.comparators[0]) == "int":
            return [self.visit(its) for its in node.orelse]
        return self.generic_visit(node)


def _name(node: ast.expr) -> str:
    """The name of a hook; '' for anything else."""
    if isinstance(node, ast.Constant) and type(node.value) is str and node.value.startswith(MARK):
        return node.value[len(MARK) :]
    return ""
