"""Values of which only the beginning is recorded: what is recorded is right, and how much there is, too."""

from __future__ import annotations

import ast
import random
from typing import Any

import pytest
from conftest import Record

from eelgrass.reading.expressions.expression import parse_expression
from eelgrass.reading.recording import Recording
from eelgrass.reading.stack.rows import HeadingRow, ValueRow
from eelgrass.reading.state import insides, value_text
from eelgrass.reading.state.call_stack import value_of_name
from eelgrass.reading.watches import watch
from eelgrass.trace.files import recording_file

_MOST = 30
_OF_LIST = (
    *("levels.append({n})", "levels.pop()", "levels.pop({near})", "levels.insert({near}, {n})", "levels.pop({far})"),
    *("levels.insert({far}, {n})", "levels[{near}] = {n}", "levels[{far}] = {n}", "del levels[{near}:{near} + 3]"),
    *("levels[{far}] += {n}", "levels += [{n}, {n}]", "levels.sort()", "rng.shuffle(levels)", "levels.reverse()"),
    *("levels[:2] = [{n}] * 5", "heapq.heapify(levels)", "heapq.heappush(levels, {n})", "heapq.heappop(levels)"),
    *("levels.extend(range({n}))", "levels = list(levels)", "levels.remove(max(levels))"),
)
_OF_OTHERS = (
    *("counts[{n}] = {n}", "counts.pop({n}, 0)", "counts.setdefault({far}, 1)", "counts.update({{{n}: 4}})"),
    *("seen.add({n})", "seen.discard({n})", "seen |= {{{n}, {far}}}", "seen.pop()", "del counts[max(counts)]"),
    *("counts.popitem()", "seen.difference_update([{n}])", "counts |= {{{far}: 1}}", "seen = set(seen)"),
)


def _program(seed: int) -> str:
    draw = random.Random(seed)
    lines = ["import heapq, random", "rng = random.Random(4)", "levels = list(range(90))"]
    lines += ["counts = {n * 3: n for n in range(90)}", "seen = set(range(100))"]
    for _ in range(120):
        change = draw.choice(draw.choice((_OF_LIST, _OF_OTHERS)))
        lines.append(change.format(n=draw.randrange(150), near=draw.randrange(20), far=draw.randrange(40, 60)))
        lines.append("print([levels, counts, seen])")
    return "\n".join(lines)


def _held(recording: Recording, name: str, step: int) -> tuple[int, int]:
    """(the object that a name of the module leads to, the value)."""
    value = value_of_name(recording.trace, 0, name, step)
    number = recording.trace.values.object_of(value)
    assert number is not None
    return number, value


@pytest.mark.parametrize("seed", range(3))
def test_what_is_recorded_of_a_large_container_is_right_after_every_change(record: Record, seed: int) -> None:
    recording = record(_program(seed), max_elements=_MOST)
    trace = recording.trace
    printed = "".join(trace.texts.pieces).splitlines()
    assert (trace.outcome.outcome, len(printed)) == ("finished", 120)
    touched = 0
    for place, line in enumerate(printed):
        step = int(recording.visits.of_line(0, 7 + 2 * place)[0])
        truth: list[Any] = ast.literal_eval(line)
        for name, whole in zip(("levels", "counts", "seen"), truth, strict=True):
            number, value = _held(recording, name, step)
            rows = [[trace.values.get(part) for part in row] for row in insides.items(trace, number, step)]
            there = whole if isinstance(whole, dict) else dict(enumerate(whole)) if name == "levels" else None
            if there is None:
                assert {held for _, held in rows} <= whole
            else:
                assert all(there[key] == held for key, held in rows), (place, name)
            assert value_text.size_of(trace, value, step) == len(whole), (place, name)
            assert len(rows) + insides.untold(trace, number, step) == len(whole)
            touched += name == "levels" and any(key >= _MOST for key, _ in rows)
    assert touched > 0


def test_a_large_value_says_how_much_of_it_is_recorded(record: Record, tmp_path: Any) -> None:
    recording = record(
        "levels = list(range(20_000))\nlevels[15_000] = 7\nsong = 'linnet ' * 1_000_000\n"
        "data = bytes(3_000_000)\nlarge = -7 ** 900_000\n"
        "levels.append(large)\nrest = (song, levels)\nprint(levels[15_000])\n"
    )
    trace, last = recording.trace, len(recording.trace.steps) - 1
    number, value = _held(recording, "levels", last)
    told = "the first 10,000 of 20,001 elements are recorded, and 2 others"
    assert value_text.recorded_part(trace, number, last) == told
    assert value_text.text(trace, value, last).endswith(
        "9998, 9999, …, 7, …, -… (about 760,588 digits), … (20,001 elements)]"
    )
    path = next(row.path for row in recording.stack_rows.at(last)[0].rows if isinstance(row, ValueRow))
    opened = recording.stack_rows.at(last, frozenset({path}))[0].rows
    assert any(isinstance(row, HeadingRow) and row.name == told for row in opened)
    answers = {
        asked: watch.at(recording, parse_expression(asked), 0, last).text
        for asked in ("len(levels)", "levels[15_000]", "levels[3]", "levels[12_000]", "sum(levels)", "len(song)")
    }
    assert list(answers.values())[:3] == ["20001", "7", "3"]
    assert all("recorded" in answers[asked] for asked in ("levels[12_000]", "sum(levels)"))
    assert "not all of it was kept" in answers["len(song)"]
    recording_file.save(trace, tmp_path / "large.eelrec")
    again = recording_file.load(tmp_path / "large.eelrec")
    assert value_text.text(again, value, last) == value_text.text(trace, value, last)


def test_once_the_recording_would_grow_too_large_contents_are_told_briefly(record: Record) -> None:
    recording = record(
        "rows = []\nfor day in range(60):\n    rows.append(list(range(day, day + 900)))\nprint(len(rows))\n",
        max_recording_mib=20,
    )
    trace, last = recording.trace, len(recording.trace.steps) - 1
    number, _ = _held(recording, "rows", last)
    inner = [trace.values.object_of(row) or 0 for row in insides.beginning(trace, number, last)]
    assert trace.outcome.outcome == "finished"
    assert insides.untold(trace, inner[0], last) == 0
    assert value_text.recorded_part(trace, inner[-1], last) == "the first 100 of 900 elements are recorded"


def test_what_comes_in_at_once_is_bounded_as_well(record: Record) -> None:
    recording = record(
        "levels = [1]\nlevels.append(2)\nlevels.extend(range(10))\nlevels.extend(range(300_000))\n"
        "levels += [0] * 300_000\n"
        "counts = {1: 2}\ncounts.update(dict.fromkeys(range(300_000)))\nseen = set(range(100))\nseen.add(-1)\n"
        "seen |= set(range(300_000))\nprint(len(levels), len(counts), len(seen))\n"
    )
    trace, last = recording.trace, len(recording.trace.steps) - 1
    sizes = [value_text.size_of(trace, _held(recording, name, last)[1], last) for name in ("levels", "counts", "seen")]
    assert sizes == [600_012, 300_000, 300_001]
    assert len(trace.slots) < 60_000


def test_a_long_text_that_is_handed_on_and_on_leaves_room_for_others(record: Record) -> None:
    recording = record(
        "song = 'mo ' * 30_000\n\ndef at(song, place):\n    return song[place]\n\n"
        "for place in range(300):\n    at(song, place)\nother = 'ray' * 9_000\nprint(at(other, 1))\n"
    )
    trace, last = recording.trace, len(recording.trace.steps) - 1
    assert [trace.values.get(value_of_name(trace, 0, name, last)) for name in ("song", "other")] == [
        "mo " * 30_000,
        "ray" * 9_000,
    ]


def test_a_text_longer_than_a_block_passes_through_the_streams(record: Record) -> None:
    trace = record("print(len('x'))\nprint('y' * 280_000_000)\n", max_output=0).trace
    assert trace.outcome.outcome == "finished"
    assert sum(map(len, trace.texts.pieces)) == 280_000_003
