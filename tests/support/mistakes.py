"""Usual mistakes, made in programs that are right: each program with one is what a learner could have handed in, and
the program that it was made of is its model. What finds mistakes is judged by them."""

from __future__ import annotations

import ast
import copy
import re
from collections.abc import Callable, Iterator
from dataclasses import dataclass
from itertools import islice
from pathlib import Path

from eelgrass.lessons.cases.case import Case
from eelgrass.lessons.judging.case_clues import Model, case_clues
from eelgrass.reading.clues.clue import LIKELY, Clue
from eelgrass.reading.clues.finding import find_clues
from eelgrass.reading.recording import Recording
from support.clue_programs import FIRST, output_of
from support.runs import run_of_text

Block = list[ast.stmt]
#: Changes a program in one place; gives the node that is wrong now.
Change = Callable[[], ast.AST]
#: Of each of some clues, the lines that it names.
Lines = list[frozenset[int]]
_OTHER_BOUND = {ast.Lt: ast.LtE, ast.LtE: ast.Lt, ast.Gt: ast.GtE, ast.GtE: ast.Gt}
_CHANGES_ITSELF = frozenset(("append", "extend", "sort", "reverse", "update", "insert", "add"))
_PREPARED = frozenset(("strip", "lower", "upper", "replace", "rstrip", "title"))


@dataclass(frozen=True)
class Mistaken:
    """A program with a mistake of a `kind`, in this `line` of its text; its `model`, and what is typed into both."""

    kind: str
    text: str
    line: int
    model: str
    typed: tuple[str, ...] = ()


def mistaken(text: str, typed: tuple[str, ...] = ()) -> Iterator[Mistaken]:
    """A program with each mistake that can be made in it, one at a time; laid out as Python does."""
    model = ast.unparse(ast.parse(text))
    count = len(list(_changes(ast.parse(model))))
    for number in range(count):
        tree = ast.parse(model)
        kind, change = list(_changes(tree))[number]
        wrong = change()
        _mark(wrong)
        marked = ast.unparse(ast.fix_missing_locations(tree)).split("\n")
        line = next((place for place, its in enumerate(marked, 1) if _MARK in its), 0)
        plain = "\n".join(its.replace(_MARK, "") for its in marked)
        if line and plain != model:
            yield Mistaken(kind, plain, line, model, typed)


def found_in(
    text: str, typed: tuple[str, ...], folder: Path, most: int | None = None
) -> Iterator[tuple[Mistaken, tuple[Lines, ...]]]:
    """Each mistake that can be made in a program and that shows in what it prints, with the lines that the first likely
    clues of its run name: of the run alone, beside what was to be printed, and beside the model."""
    model = _run(ast.unparse(ast.parse(text)), typed, folder / "model")
    if model.trace.outcome.outcome != "finished":
        return
    case, its_own = Case("", output=output_of(model)), Model(model, find_clues(model))
    for number, its in enumerate(islice(mistaken(text, typed), most)):
        run = _run(its.text, typed, folder / str(number))
        if run.trace.outcome.outcome != "finished" or output_of(run) != case.output:
            found = (find_clues(run), case_clues(run, case), case_clues(run, case, lambda: its_own))
            likely = ([clue for clue in clues if clue.strength >= LIKELY] for clues in found)
            yield its, tuple([_named(run, clue) for clue in clues[:FIRST]] for clues in likely)


def _named(run: Recording, clue: Clue) -> frozenset[int]:
    """The lines that a clue names: its own, those of its moments, and those in its sentence."""
    moments = (run.trace.line_of(its.step) for its in clue.evidence)
    return frozenset({clue.line, *moments, *map(int, re.findall(r"line (\d+)", clue.text))})


def _run(text: str, typed: tuple[str, ...], folder: Path) -> Recording:
    folder.mkdir(parents=True)
    return Recording(run_of_text(text, typed, folder, max_steps=_MOST_STEPS))


_MARK = "wrong_here_"
_MOST_STEPS = 20_000


def _mark(node: ast.AST) -> None:
    """Has the first name or attribute in a node say that it is wrong."""
    for its in ast.walk(node):
        if isinstance(its, ast.Name):
            its.id = _MARK + its.id
            return
        if isinstance(its, ast.arg):
            its.arg = _MARK + its.arg
            return


def _changes(tree: ast.AST) -> Iterator[tuple[str, Change]]:
    for block, owner in _blocks(tree):
        for place, statement in enumerate(block):
            yield from _of_statement(block, place, statement, owner)
    for node in ast.walk(tree):
        yield from _of_expression(node)


def _blocks(tree: ast.AST) -> Iterator[tuple[Block, ast.AST]]:
    for node in ast.walk(tree):
        for field in ("body", "orelse", "finalbody"):
            block = getattr(node, field, None)
            if isinstance(block, list) and block and isinstance(block[0], ast.stmt):
                yield block, node


def _of_statement(block: Block, place: int, its: ast.stmt, owner: ast.AST) -> Iterator[tuple[str, Change]]:
    yield from _of_loop(block, place)
    yield from _of_result(block, place, owner)
    if isinstance(its, ast.Expr) and isinstance(its.value, ast.Call):
        yield from _of_method(block, place, its.value)
    if isinstance(its, ast.If):
        yield from _of_decision(block, place, its, owner)
    if isinstance(its, ast.AugAssign) and isinstance(its.target, (ast.Name, ast.Subscript)):
        target = copy.deepcopy(its.target)
        yield "set, not added", lambda: _swapped(block, place, ast.Assign([target], its.value, lineno=0))
        if isinstance(owner, ast.While) and len(block) > 1:
            yield "a step is missing", lambda: _left_out(block, place, owner)
    if isinstance(its, ast.Assign) and isinstance(its.targets[0], ast.Attribute) and len(its.targets) == 1:
        plain = ast.Assign([ast.Name(its.targets[0].attr)], its.value, lineno=0)
        yield "a name, not a field", lambda: _swapped(block, place, plain)


def _of_loop(block: Block, place: int) -> Iterator[tuple[str, Change]]:
    its, after = block[place], block[place + 1] if place + 1 < len(block) else None
    if isinstance(its, (ast.For, ast.While)):
        if isinstance(after, (ast.Return, ast.Expr, ast.AugAssign)):
            yield "after the loop goes into it", lambda: _moved_in(block, place)
        if len(its.body) > 1 and isinstance(its.body[-1], (ast.Expr, ast.AugAssign, ast.Assign)):
            yield "the loop's end goes out of it", lambda: _moved_out(block, place)
    if isinstance(after, (ast.For, ast.While)) and isinstance(its, ast.Assign) and _is_start(its.value):
        yield "set up in the loop", lambda: _start_inside(block, place)


def _of_result(block: Block, place: int, owner: ast.AST) -> Iterator[tuple[str, Change]]:
    its = block[place]
    is_last = place == len(block) - 1 and isinstance(owner, ast.FunctionDef)
    if isinstance(its, ast.Return) and its.value is not None and is_last:
        value = its.value
        yield "nothing is given back", lambda: _swapped(block, place, ast.Expr(value))
        call = ast.Call(ast.Name("print"), [value], [])
        yield "printed, not given back", lambda: _swapped(block, place, ast.Expr(call))
    if isinstance(its, ast.Assign) and isinstance(its.value, ast.Call) and _is_thrown_away(its.value):
        thrown = its.value
        yield "a result is thrown away", lambda: _swapped(block, place, ast.Expr(thrown))


def _of_method(block: Block, place: int, call: ast.Call) -> Iterator[tuple[str, Change]]:
    if not isinstance(call.func, ast.Attribute) or call.func.attr not in _CHANGES_ITSELF:
        return
    method = call.func
    if isinstance(method.value, ast.Name):
        kept = ast.Assign([copy.deepcopy(method.value)], call, lineno=0)
        yield "nothing is kept", lambda: _swapped(block, place, kept)
    if not call.args and not call.keywords:
        yield "not called", lambda: _swapped(block, place, ast.Expr(method))


def _of_decision(block: Block, place: int, its: ast.If, owner: ast.AST) -> Iterator[tuple[str, Change]]:
    if len(its.orelse) == 1 and isinstance(its.orelse[0], ast.If):
        yield "the decisions' order", lambda: _other_order(its)
        yield "if, not elif", lambda: _split(block, place)
    left = next((one for one in its.body if isinstance(one, ast.Return)), None)
    value = left.value if left is not None else None
    is_search = isinstance(owner, (ast.For, ast.While)) and not its.orelse
    if is_search and isinstance(value, ast.Constant) and isinstance(value.value, bool):
        given = ast.Return(ast.Constant(not value.value))
        yield "given up at the first", lambda: _else(its, given)


def _of_expression(node: ast.AST) -> Iterator[tuple[str, Change]]:
    if isinstance(node, ast.Compare) and type(node.ops[0]) in _OTHER_BOUND:
        yield "the bound", lambda: _with(node, ops=[_OTHER_BOUND[type(node.ops[0])](), *node.ops[1:]])
    if isinstance(node, ast.Compare) and isinstance(node.ops[0], ast.Eq):
        yield "identity", lambda: _with(node, ops=[ast.Is(), *node.ops[1:]])
    if isinstance(node, ast.BoolOp):
        yield "and, or", lambda: _with(node, op=ast.Or() if isinstance(node.op, ast.And) else ast.And())
    if (
        isinstance(node, (ast.If, ast.While))
        and isinstance(node.test, ast.UnaryOp)
        and isinstance(node.test.op, ast.Not)
    ):
        yield "not", lambda: _with(node, test=node.test.operand)  # type: ignore[attr-defined]
    if isinstance(node, ast.BinOp) and isinstance(node.op, (ast.FloorDiv, ast.Div)):
        other = ast.Div() if isinstance(node.op, ast.FloorDiv) else ast.FloorDiv()
        yield "division", lambda: _with(node, op=other)
    if isinstance(node, ast.Call) and isinstance(node.func, ast.Name):
        yield from _of_call(node, node.func.id)
    if isinstance(node, ast.Assign) and _is_copy(node.value):
        yield "not copied", lambda: _with(node, value=_copied(node.value))
    if isinstance(node, ast.Subscript) and isinstance(node.slice, ast.Name) and isinstance(node.ctx, ast.Load):
        further = ast.BinOp(ast.Name(node.slice.id), ast.Add(), ast.Constant(1))
        yield "the next place", lambda: _with(node, slice=further)


def _of_call(node: ast.Call, name: str) -> Iterator[tuple[str, Change]]:
    if name == "range" and len(node.args) == 1:
        yield "ends before", lambda: _with(node, args=[ast.BinOp(node.args[0], ast.Sub(), ast.Constant(1))])
        yield "ends after", lambda: _with(node, args=[ast.BinOp(node.args[0], ast.Add(), ast.Constant(1))])
        yield "begins after", lambda: _with(node, args=[ast.Constant(1), node.args[0]])
    if name == "range" and len(node.args) >= 2 and isinstance(node.args[1], ast.BinOp):
        yield "ends before", lambda: _with(node, args=[node.args[0], node.args[1].left, *node.args[2:]])  # type: ignore[attr-defined]
    if name in ("int", "float") and len(node.args) == 1:
        yield "not a number", lambda: _replaced_call(node)
    if len(node.args) == 2 and name not in ("range", "print", "isinstance", "min", "max", "zip"):
        yield "arguments swapped", lambda: _with(node, args=node.args[::-1])


# How each is made


def _with(node: ast.AST, **fields: object) -> ast.AST:
    for name, value in fields.items():
        setattr(node, name, value)
    return node


def _swapped(block: Block, place: int, other: ast.stmt) -> ast.AST:
    block[place] = other
    return other


def _moved_in(block: Block, place: int) -> ast.AST:
    moved = block.pop(place + 1)
    block[place].body.append(moved)  # type: ignore[attr-defined]
    return moved


def _moved_out(block: Block, place: int) -> ast.AST:
    moved: ast.stmt = block[place].body.pop()  # type: ignore[attr-defined]
    block.insert(place + 1, moved)
    return moved


def _start_inside(block: Block, place: int) -> ast.AST:
    start = block.pop(place)
    block[place].body.insert(0, start)  # type: ignore[attr-defined]
    return start


def _left_out(block: Block, place: int, owner: ast.While) -> ast.AST:
    del block[place]
    return owner.test


def _other_order(its: ast.If) -> ast.AST:
    second = its.orelse[0]
    assert isinstance(second, ast.If)
    its.test, second.test = second.test, its.test
    its.body, second.body = second.body, its.body
    return its.test


def _split(block: Block, place: int) -> ast.AST:
    first = block[place]
    assert isinstance(first, ast.If)
    second = first.orelse[0]
    first.orelse = []
    block.insert(place + 1, second)
    return second.test  # type: ignore[attr-defined]


def _else(its: ast.If, given: ast.stmt) -> ast.AST:
    its.orelse = [given]
    return its.test


def _replaced_call(node: ast.Call) -> ast.AST:
    return _with(node, func=ast.Name("str"))


def _is_start(value: ast.expr) -> bool:
    is_empty = isinstance(value, (ast.List, ast.Dict)) and not ast.unparse(value)[1:-1]
    return is_empty or (isinstance(value, ast.Constant) and value.value in (0, 1, ""))


def _is_thrown_away(call: ast.Call) -> bool:
    return _name_of(call.func) in (_PREPARED | {"sorted"})


def _name_of(function: ast.expr) -> str:
    if isinstance(function, ast.Attribute):
        return function.attr
    return function.id if isinstance(function, ast.Name) else ""


def _is_copy(value: ast.expr) -> bool:
    return _copied(value) is not value


def _copied(value: ast.expr) -> ast.expr:
    """What an expression makes a copy of."""
    if isinstance(value, ast.Subscript) and ast.unparse(value.slice) == ":":
        return value.value
    if (
        isinstance(value, ast.Call)
        and isinstance(value.func, ast.Attribute)
        and value.func.attr in ("copy", "deepcopy")
    ):
        return value.args[0] if value.args else value.func.value
    if isinstance(value, ast.Call) and _name_of(value.func) in ("list", "dict") and len(value.args) == 1:
        return value.args[0]
    return value
