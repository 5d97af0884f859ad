"""Loops that go through the places of a list: which places they reached, and what those that they missed would have
done."""

from __future__ import annotations

import ast
import copy
from collections.abc import Iterator
from dataclasses import dataclass
from typing import Any

from eelgrass.reading.clues.facts import UNKNOWN, Facts, Round
from eelgrass.reading.clues.patterns import is_name, length_of, range_of, stored_name
from eelgrass.reading.clues.program_text import Site, names_in
from eelgrass.reading.expressions.source_tree import header_targets, own_parts


@dataclass(frozen=True)
class IndexRound:
    """One round of a loop in which a name (`index`) took the places of a list (`sequence`) one by one, and the elements
    there were read by `sequence[index]`."""

    its: Round
    index: str
    sequence: str
    places: tuple[int, ...]
    size: int


def index_rounds(facts: Facts) -> list[IndexRound]:
    """Every such round that was not left early and in which the list kept its size."""
    return facts.once(_index_rounds)


def _index_rounds(facts: Facts) -> list[IndexRound]:
    rounds = []
    for loop, node in (*facts.all(ast.For), *facts.all(ast.While)):
        for index, sequence in _pairs(node):
            for its in facts.rounds(loop, 4):
                found = _places(facts, its, index, sequence)
                if found is not None and not facts.ended_early(its):
                    rounds.append(IndexRound(its, index, sequence, found[0], found[1]))
    return rounds


def _pairs(node: ast.stmt) -> Iterator[tuple[str, str]]:
    """(index, sequence) of each `sequence[index]` that is read in the body of a loop."""
    indices: list[str] = []
    if isinstance(node, ast.While):
        indices = sorted(names_in(node.test))
    elif isinstance(node, ast.For) and isinstance(node.target, ast.Name) and range_of(node):
        indices = [node.target.id]
    else:
        return
    seen = set()
    for its in (part for statement in node.body for part in ast.walk(statement)):
        if isinstance(its, ast.Subscript) and isinstance(its.slice, ast.Name) and isinstance(its.value, ast.Name):
            pair = its.slice.id, its.value.id
            if its.slice.id in indices and pair not in seen and isinstance(its.ctx, ast.Load):
                seen.add(pair)
                yield pair


def _places(facts: Facts, its: Round, index: str, sequence: str) -> tuple[tuple[int, ...], int] | None:
    sizes = {facts.asked(f"len({sequence})", step, its.frame) for step in (its.first, its.past)}
    size = sizes.pop()
    if sizes or type(size) is not int or not 2 <= len(its.starts) <= 400:
        return None
    inside = [facts.plain(facts.named(index, its.frame, facts.after(step))) for step in its.starts.tolist()]
    if not all(type(place) is int for place in inside):
        return None
    return tuple(inside), size


def is_read_elsewhere(facts: Facts, found: IndexRound, place: int) -> bool:
    """Whether something else than `sequence[index]` in the loop may read the element at a place: another index that had
    its value, a slice, a call that was handed the list, or a loop through all of it."""
    loop = found.its.loop
    for site in facts.loads(loop.function, found.sequence):
        for node in (its for part in [*own_parts(site.node), *header_targets(site.node)] for its in ast.walk(part)):
            if isinstance(node, ast.Subscript) and is_name(node.value, found.sequence):
                is_own = is_name(node.slice, found.index) and facts.inside(site, loop)
                is_part = isinstance(node.slice, ast.Slice)
                if not is_own and (is_part or _had(facts, site, node.slice, place, found.size)):
                    return True
            elif isinstance(node, ast.Call) and _looks_into(node, found.sequence):
                return True
        if isinstance(site.node, ast.For) and is_name(site.node.iter, found.sequence):
            return True
    return False


def _had(facts: Facts, site: Site, index: ast.expr, place: int, size: int) -> bool:
    """Whether an index may have been a place at one of its statement's visits."""
    for visit in facts.visits(site):
        value = facts.value(index, visit)
        if type(value) is not int or value % max(size, 1) == place:
            return True
    return False


def _looks_into(node: ast.Call, name: str) -> bool:
    """Whether a call that was handed a list may look at its elements for the program."""
    is_print = isinstance(node.func, ast.Name) and node.func.id == "print"
    return any(is_name(its, name) for its in node.args) and not length_of(node) and not is_print


def goes_by_length(found: IndexRound) -> bool:
    """Whether a loop says itself that it goes by the length of the list, or of some other."""
    node = found.its.loop.node
    asked = node.iter if isinstance(node, ast.For) else node.test if isinstance(node, ast.While) else node
    return any(
        isinstance(its, ast.Call) and isinstance(its.func, ast.Name) and its.func.id == "len" for its in ast.walk(asked)
    )


def would_change(facts: Facts, found: IndexRound, place: int) -> bool | None:
    """Whether a pass for a place would have done something after the round: the first condition of the loop's body is
    true there, or an element that is added is not nothing. None where that is not known."""
    body = found.its.loop.node.body if isinstance(found.its.loop.node, (ast.For, ast.While)) else []
    for statement in body:
        if isinstance(statement, ast.If):
            worth = _at_place(facts, found, statement.test, place)
            return None if worth is UNKNOWN else bool(worth)
        added = _added(statement)
        if added is not None:
            worth = _at_place(facts, found, added, place)
            return None if worth is UNKNOWN else bool(worth)
    return None


def _added(statement: ast.stmt) -> ast.expr | None:
    """What a statement adds to a name, or takes from it."""
    if isinstance(statement, ast.AugAssign) and isinstance(statement.op, (ast.Add, ast.Sub)):
        return statement.value
    value = statement.value if isinstance(statement, ast.Assign) else None
    is_sum = isinstance(value, ast.BinOp) and isinstance(value.op, (ast.Add, ast.Sub))
    return (
        value.right if is_sum and isinstance(value, ast.BinOp) and is_name(value.left, stored_name(statement)) else None
    )


def _at_place(facts: Facts, found: IndexRound, node: ast.expr, place: int) -> Any:
    class Placed(ast.NodeTransformer):
        def visit_Name(self, its: ast.Name) -> ast.AST:
            return ast.copy_location(ast.Constant(place), its) if its.id == found.index else its

    placed = Placed().visit(copy.deepcopy(node))
    return facts.value(placed, found.its.past, found.its.frame)
