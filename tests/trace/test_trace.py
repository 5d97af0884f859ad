"""The columns against plain models of them: histories, scopes, and what changes inside objects."""

from __future__ import annotations

import ast
import symtable
import sys
from typing import Any

import numpy as np
import pytest
from conftest import Record
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st
from support.generated import programs

from eelgrass.reading.state import insides, value_text
from eelgrass.reading.state.call_stack import bindings_of
from eelgrass.recorder.weaving.name_rules import NameRules, Surroundings
from eelgrass.recorder.weaving.points import Points
from eelgrass.recorder.weaving.statements import Weaver
from eelgrass.recorder.wire import FIRST_POINT
from eelgrass.trace.columns import Column
from eelgrass.trace.histories import Histories, Part, Slots
from eelgrass.trace.values import NOT_SET

writes = st.lists(st.tuples(st.integers(0, 4), st.integers(0, 6), st.integers(-1, 3)), max_size=40)


@given(writes)
def test_histories_answer_as_a_replay_would(made: list[tuple[int, int, int]]) -> None:
    made.sort(key=lambda write: write[1])
    column = [np.array([write[part] for write in made], np.int32) for part in range(3)]
    owners = np.array([0, 0, 1, 1, 2], np.int32)
    slots = Slots.of(np.zeros(5, np.uint8), owners, np.arange(5, dtype=np.int32), *column)
    histories = Histories(slots)
    for step in range(8):
        held, written = {}, {}
        for slot, at, value in made:
            if at < step:
                held[slot], written[slot] = value, at
        all_slots = np.arange(5)
        assert histories.values_at(all_slots, step).tolist() == [held.get(slot, NOT_SET) for slot in range(5)]
        assert histories.written_at(all_slots, step).tolist() == [written.get(slot, -2) for slot in range(5)]
    for slot in range(5):
        steps, values = histories.columns_of(slot)
        assert list(zip(steps.tolist(), values.tolist(), strict=True)) == [
            (at, value) for its, at, value in made if its == slot
        ]
    assert histories.of_frame(0).tolist() == [0, 1]
    assert Part.NAME == 0


@given(st.lists(st.lists(st.integers(-(2**31), 2**31 - 1), max_size=700), max_size=4))
def test_columns_grow_and_old_views_stay_true(parts: list[list[int]]) -> None:
    column, views, so_far = Column("i4"), [], []
    for part in parts:
        column.extend(part[:-1])
        for value in part[-1:]:
            column.append(value)
        so_far = so_far + part
        views.append((column.view(), list(so_far)))
    for view, expected in views:
        assert view.tolist() == expected
    with pytest.raises(IndexError):
        column[len(so_far)]


TRICKY = """
import os.path as way, sys
from math import *
def outer(first, *rest, key=lambda hidden: hidden, **more):
    global shared
    shared = inner_names = 1
    class Nested:
        field = first
        __secret = 2
        def method(self):
            return __class__, self.__secret, field
    def inner():
        nonlocal inner_names
        inner_names = [first for first in rest if (walrus := first)]
        return more, walrus, print
    try:
        with open(key) as (a, [b, *c]):
            for d.x, e[0] in c: pass
    except OSError as problem:
        import sys as system
    match first:
        case {"x": captured, **others} | [captured, *others]: pass
        case str() as whole: pass
    return inner, Nested
"""


def tables(table: symtable.SymbolTable) -> list[symtable.SymbolTable]:
    return [table, *[found for child in table.get_children() for found in tables(child)]]


def check_scopes(text: str) -> None:
    """Our scopes of a text against the compiler's own."""
    points = Points(FIRST_POINT)
    tree = ast.parse(text)
    Weaver(points, tree, NameRules(tree, lambda _module: False, Surroundings())).module()
    expected = []
    for table in tables(symtable.symtable(text, "bay.py", "exec")):
        symbols = [symbol for symbol in table.get_symbols() if symbol.get_name() not in (".0", "__class__")]
        bound = {
            symbol.get_name()
            for symbol in symbols
            if symbol.is_local() and (symbol.is_assigned() or symbol.is_parameter() or symbol.is_imported())
        }
        free = {symbol.get_name() for symbol in symbols if symbol.is_free()}
        is_module = table.get_name() == "top"
        expected.append((table.get_name().strip("<>"), 1 if is_module else table.get_lineno(), bound, free))
    ours = [
        (
            its["name"].strip("<>").replace("module", "top"),
            its["line"],
            set(its["local"]) | _inlined(points.functions, number),
            set(its["free"]) - {"__class__"},
        )
        for number, its in enumerate(points.functions)
        if not _is_inlined(points.functions, number)
    ]
    assert sorted(map(str_sorted, ours)) == sorted(map(str_sorted, expected))


def _is_inlined(functions: list[dict[str, Any]], number: int) -> bool:
    """Whether a scope is a comprehension's that the compiler has made part of the one around it."""
    its = functions[number]
    around = functions[its["parent"]]["kind"] if its["parent"] >= 0 else ""
    return (
        sys.version_info >= (3, 12)
        and its["kind"] == "comprehension"
        and (around != "class" or sys.version_info >= (3, 13))
    )


def _inlined(functions: list[dict[str, Any]], number: int) -> set[str]:
    inner = [place for place, its in enumerate(functions) if its["parent"] == number and _is_inlined(functions, place)]
    return {name for place in inner for name in (*functions[place]["local"], *_inlined(functions, place))}


def str_sorted(row: tuple[str, int, set[str], set[str]]) -> str:
    return str((*row[:2], sorted(row[2]), sorted(row[3])))


def test_scopes_are_those_of_the_compiler() -> None:
    check_scopes(TRICKY)


@settings(max_examples=25, deadline=None, derandomize=True, suppress_health_check=[HealthCheck.too_slow])
@given(programs())
def test_scopes_of_generated_programs_are_those_of_the_compiler(text: str) -> None:
    check_scopes(text)


@pytest.mark.parametrize(
    ("change", "expected"),
    [
        ("beds.sort()", "[1, 2, 3]"),
        ("beds.insert(1, 'x')", "[3, 'x', 1, 2]"),
        ("beds.pop(0)", "[1, 2]"),
        ("del beds[0]", "[1, 2]"),
        ("beds[1:] = [7, 8, 9]", "[3, 7, 8, 9]"),
        ("beds *= 2", "[3, 1, 2, 3, 1, 2]"),
        ("beds.clear()", "[]"),
        ("import heapq; heapq.heapify(beds)", "[1, 3, 2]"),
        ("counts['b'] = counts.pop('a')", "{'c': 2, 'b': 1}"),
        ("counts.update(a=5, z=6)", "{'a': 5, 'c': 2, 'z': 6}"),
        ("del counts['a']; counts['a'] = 9", "{'c': 2, 'a': 9}"),
        ("counts.setdefault('y', []).append(1)", "{'a': 1, 'c': 2, 'y': [1]}"),
        ("marks.add(4); marks.discard(1)", "{2, 4}"),
        ("marks |= {3}", "{1, 2, 3}"),
        ("grid[1][0] = beds", "[[0], [[3, 1, 2]]]"),
        ("setattr(crab, 'tag', 1); crab.tag += 1", "2"),
    ],
)
def test_changes_inside_objects_are_seen(record: Record, change: str, expected: str) -> None:
    recording = record(
        "class Crab: pass\nbeds, counts, marks, grid, crab = [3, 1, 2], {'a': 1, 'c': 2}, {1, 2}, [[0], [1]], Crab()\n"
        f"{change}\nend = 0\n"
    )
    trace, step = recording.trace, recording.stepping.last()
    state = {binding.name: binding.value for binding in bindings_of(trace, 0, step)}
    if "crab" in change:
        ((_, value),) = insides.fields(trace, trace.values.object_of(state["crab"]) or 0, step)
        assert value_text.text(trace, value, step) == expected
        return
    name = next(name for name in ("grid", "beds", "counts", "marks") if name in change)
    assert value_text.text(trace, state[name], step) == expected
