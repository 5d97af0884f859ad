"""Weaving what a statement stores into, and reporting what it stored."""

from __future__ import annotations

import ast
from collections.abc import Iterable, Iterator
from typing import NamedTuple

from eelgrass.recorder import wire
from eelgrass.recorder.contract import FIELD
from eelgrass.recorder.weaving.expressions import Expressions
from eelgrass.recorder.weaving.nodes import call, hook, names_stored, placed


class _Target(NamedTuple):
    node: ast.Name | ast.Attribute | ast.Subscript
    owner_held: bool = False
    key_held: bool = False


class Targets:
    """The targets of one storing statement: weaves what cannot be worked out twice, then makes the reports.

    An owner or index that is a plain name, not stored by this very statement, or a constant, is simply read again
    after the statement; any other is kept by the hook `hold` when the statement works it out.
    """

    def __init__(self, weaver: Expressions, node: ast.stmt) -> None:
        self._weaver = weaver
        self._deletes = isinstance(node, ast.Delete)
        self._augmented = isinstance(node, ast.AugAssign)
        self._calls_first = self._augmented and any(isinstance(part, ast.Call) for part in ast.walk(node))
        self._unstable = names_stored(node)
        self._held_meanwhile = False
        self.nodes = list(_target_nodes(node))
        self._targets = [self._weave(target) for target in _leaves(self.nodes)]

    def _weave(self, node: ast.expr) -> _Target:
        """Wraps an owner and an index that have to be held."""
        owner_held = key_held = False
        if isinstance(node, (ast.Attribute, ast.Subscript)):
            node.value, owner_held = self._keep(node.value)
        if isinstance(node, ast.Subscript) and not isinstance(node.slice, ast.Slice):
            node.slice, key_held = self._keep(node.slice)
        assert isinstance(node, (ast.Name, ast.Attribute, ast.Subscript))
        return _Target(node, owner_held, key_held)

    def _keep(self, node: ast.expr) -> tuple[ast.expr, bool]:
        """(the woven owner or index, whether it is held)."""
        if self._is_stable(node):
            return node, False
        return placed([call("hold", self._weaver.expression(node))], node)[0], True

    def _is_stable(self, node: ast.expr) -> bool:
        if isinstance(node, ast.UnaryOp):
            node = node.operand
            return isinstance(node, ast.Constant)
        if isinstance(node, ast.Name):
            in_class = self._weaver.scope.kind == "class"  # whose namespace may be an object of the program's own
            return not self._calls_first and not in_class and node.id not in self._unstable
        return isinstance(node, ast.Constant)

    def reports(self, statement: int) -> list[ast.stmt]:
        """What follows the statement. Held things are given back last first, so the targets go backwards too."""
        reports = [list(self._report(target, statement)) for target in reversed(self._targets)]
        if not any(target.owner_held or target.key_held for target in self._targets):
            reports.reverse()
        given_back: list[ast.stmt] = [ast.Expr(call("take"))] if self._held_meanwhile else []
        return [*given_back, *(report for its in reports for report in its)]

    def hold_meanwhile(self, node: ast.AugAssign) -> None:
        """`rows += more()` and `pair[0] += [2]` may be ended by an exception when they have changed something: what
        that is in is held until then. Numbers and text change nothing in place."""
        target = self._targets[0]
        owner = target.node if isinstance(target.node, ast.Name) else target.node.value
        reads_may_store = isinstance(target.node, ast.Subscript) and self._weaver.rules.may_grow
        plain = isinstance(node.value, (ast.Constant, ast.BinOp, ast.UnaryOp, ast.Compare, ast.JoinedStr))
        if plain and not reads_may_store:
            return
        grows = isinstance(node.value, (ast.Call, ast.GeneratorExp)) or owner is not target.node
        if grows and isinstance(owner, ast.Name) and self._weaver.scope.kind != "class":
            both = [call("hold", ast.Name(owner.id, ast.Load())), node.value]
            second = ast.Subscript(ast.Tuple(both, ast.Load()), ast.Constant(1), ast.Load())
            node.value = placed([second], node.value)[0]
            self._held_meanwhile = True

    def _report(self, target: _Target, statement: int) -> Iterator[ast.stmt]:
        weaver, node = self._weaver, target.node
        if isinstance(node, ast.Name):
            if self._deletes:
                yield weaver.event(wire.DELETE, statement, weaver.scope.mangled(node.id))
            elif self._augmented:
                yield from weaver.store_reports(node.id, statement, "augmented")
            else:
                yield from weaver.store_reports(node.id, statement)
            return
        owner = call("take") if target.owner_held else node.value
        if isinstance(node, ast.Attribute) and not self._deletes:
            yield self._field_report(node, owner, target.owner_held, statement)
        elif isinstance(node, ast.Attribute) or isinstance(node.slice, ast.Slice):
            yield ast.Expr(call("changed", owner))
        else:
            told_by = "item_deleted" if self._deletes else "item_augmented" if self._augmented else "item_set"
            key = call("take") if target.key_held else node.slice
            if target.owner_held and target.key_held:
                told_by, owner, key = told_by + "_held", key, owner  # taken in the other order
            yield ast.Expr(call(told_by, owner, key))

    def _field_report(self, node: ast.Attribute, owner: ast.expr, held: bool, statement: int) -> ast.stmt:
        """Where the owner can be read twice, and its type is known to keep the field plainly, the field is read
        here."""
        weaver, name = self._weaver, self._weaver.scope.mangled(node.attr)
        point = weaver.constant(wire.SET_FIELD, statement, name)
        plain = hook(f"{FIELD}{point.value!r}")
        set_, told = ("field_set_augmented", "field_augmented") if self._augmented else ("field_set", "field_told")
        slow = ast.Expr(call(set_, point, owner, ast.Constant(name), plain))
        if held:
            return slow
        known = ast.Compare(call("type", owner), [ast.Is()], [ast.Attribute(plain, "type", ast.Load())])
        read = ast.Attribute(owner, node.attr, ast.Load())
        return ast.If(known, [ast.Expr(call(told, point, owner, read))], [slow])


def _target_nodes(node: ast.stmt) -> Iterator[ast.expr]:
    if isinstance(node, (ast.Assign, ast.Delete)):
        yield from node.targets
    elif isinstance(node, (ast.AugAssign, ast.For, ast.AsyncFor)):
        yield node.target
    elif isinstance(node, ast.AnnAssign):
        if node.value is not None:
            yield node.target
    elif isinstance(node, (ast.With, ast.AsyncWith)):
        yield from (item.optional_vars for item in node.items if item.optional_vars is not None)


def _leaves(targets: Iterable[ast.expr]) -> Iterator[ast.expr]:
    for target in targets:
        if isinstance(target, (ast.Tuple, ast.List)):
            yield from _leaves(target.elts)
        elif isinstance(target, ast.Starred):
            yield from _leaves([target.value])
        else:
            yield target
