"""Where values came from and what kept lines out: judged by other literals, and by a few programs looked at closely."""

from __future__ import annotations

from collections.abc import Iterator
from pathlib import Path
from typing import Any

import pytest
from conftest import Record
from support.trail_judge import judge

from eelgrass.reading.recording import Recording
from eelgrass.reading.trails.kept_out import kept_out, kept_out_here
from eelgrass.reading.trails.moments import Kind
from eelgrass.reading.trails.origins import Origins
from eelgrass.reading.trails.sentences import MOST_CHARACTERS, Sentences
from eelgrass.reading.trails.trail import (
    NoTrailError,
    Trail,
    trail_of_end,
    trail_of_exception,
    trail_of_expression,
    trail_of_output,
    trail_of_visit,
)
from eelgrass.reading.trails.turnings import Turning, Turnings

_MEAN = """\
def mean(levels, scale=2):
    total = 0
    for level in levels:
        if level < 0:
            continue
        total += level * scale
    return total / len(levels)

levels = [4, -1, 6]
note = "low"
if mean(levels) > 9:
    note = "high"
else:
    levels.append(3)
print(mean(levels, scale=3), note)
"""


def _texts(trail: Trail, most: int = 500) -> list[str]:
    sentences = Sentences(trail.recording)
    found = []
    for number in trail.walk():
        found.append(sentences.of(trail.links[number]))
        if number >= most:
            break
    return found


@pytest.mark.parametrize("first", range(400, 424, 8))
def test_another_literal_that_makes_another_value_is_in_its_trail(tmp_path: Path, first: int) -> None:
    judged = [judge(seed, tmp_path, 4) for seed in range(first, first + 8)]
    assert [wrong for _, wrong in judged if wrong] == []
    assert sum(tried for tried, _ in judged) > 3


def test_a_trail_goes_through_calls_loops_and_decisions_in_sentences_with_values(record: Record) -> None:
    recording = record(_MEAN)
    trail = trail_of_output(Origins(recording), 0)
    texts = _texts(trail)
    for wanted in (
        "line 15 printed '9.75 low'",
        "line 7: mean gives back 39 / len(levels) = 9.75",
        "line 6, pass 4: total ← 30 + 3 * 3 = 39",
        "line 15 called mean with levels = [4, -1, 6, 3]",
        "line 14 changed levels: levels.append(3)",
        "line 9: the text says -1",
        "line 4, pass 2 decided: -1 < 0 is true",
        "> 9 is false",
    ):
        assert any(wanted in text for text in texts), (wanted, texts[:30])
    assert not any(text.endswith("…") for text in texts)  # said in full
    assert len(texts) == len(set(trail.links))  # each moment once


def test_links_lead_to_earlier_ones_and_data_comes_before_decisions(record: Record) -> None:
    trail = trail_of_output(Origins(record(_MEAN)), 0)
    reached = set(trail.beginning)
    for number in trail.walk():
        assert number in reached
        behind = trail.opened(number)
        reached.update(behind)
        kinds = [trail.links[its].kind for its in behind]
        decided = [kinds.index(kind) for kind in (Kind.DECIDED, Kind.NOT_RUN) if kind in kinds]
        stored = [place for place, kind in enumerate(kinds) if kind in (Kind.STORED, Kind.LITERAL, Kind.GIVEN_BACK)]
        assert not decided or all(place < min(decided) for place in stored)


def test_a_store_that_did_not_happen_is_in_the_trail_with_what_kept_it_out(record: Record) -> None:
    recording = record(_MEAN)
    last = len(recording.trace.steps) - 1
    texts = _texts(trail_of_expression(Origins(recording), "note", last))
    assert any(text.startswith("line 12 did not run: at line 11, ") and text.endswith("is false") for text in texts)


def test_a_function_can_be_left_out_and_what_lies_behind_it_stays(record: Record) -> None:
    trail = trail_of_output(Origins(record(_MEAN)), 0).narrowed("mean")
    functions = [
        trail.recording.trace.function_of_frame(trail.recording.stepping.frame_of(its.step)).name for its in trail.links
    ]
    texts = _texts(trail)
    assert set(functions) == {"<module>"}
    assert "line 9: the text says -1" in texts
    assert not any(text.startswith("line 6") for text in texts)


@pytest.mark.parametrize(
    ("line", "first"),
    [
        (2, "line 2: total ← 0"),
        (6, "line 6, pass 1: total ← 0 + 4 * 2 = 8"),
        (4, "line 4, pass 1 decided: 4 < 0 is false"),
        (7, "line 7: mean gives back 20 / len(levels) = 6.666666666666667"),
        (14, "line 14 changed levels: levels.append(3)"),
        (15, "line 15 printed '9.75 low'"),
    ],
)
def test_what_a_line_did_has_a_trail(record: Record, line: int, first: str) -> None:
    recording = record(_MEAN)
    trail = trail_of_visit(Origins(recording), int(recording.visits.of_line(0, line)[0]))
    assert _texts(trail, 0)[0] == first


def test_what_a_generator_takes_from_elsewhere_is_not_said_to_be_nothing(record: Record) -> None:
    recording = record("def walk():\n    yield from ['pier']\nfor stop in walk():\n    print(stop)")
    texts = _texts(trail_of_output(Origins(recording), 0))
    assert {"line 2: walk hands on what comes from elsewhere", "line 2: the text says 'pier'"} <= {*texts}


def test_what_was_typed_is_an_end(record: Record) -> None:
    recording = record("name = input()\nprint(name.upper())", "Mon")
    assert _texts(trail_of_output(Origins(recording), 0))[-1] == "line 1, typed: 'Mon'"


def test_exceptions_and_runs_that_did_not_end_have_trails(record: Record) -> None:
    recording = record("beds = {'mon': 3}\nname = 'ana'\nprint(beds[name])")
    texts = _texts(trail_of_exception(Origins(recording)))
    assert texts[0] == "line 3 raised KeyError: 'ana'"
    assert "line 2: name ← 'ana'" in texts
    endless = record("n = 3\nwhile n > 0:\n    m = n - 1\n", max_steps=500)
    texts = _texts(trail_of_end(Origins(endless)))
    assert texts[0].endswith("decided: 3 > 0 is true")
    assert "line 1: n ← 3" in texts
    with pytest.raises(NoTrailError):
        trail_of_end(Origins(recording))
    with pytest.raises(NoTrailError):
        trail_of_output(Origins(recording), 10_000)


def test_how_much_is_looked_at_does_not_grow_with_the_passes_of_a_loop(
    record: Record, monkeypatch: pytest.MonkeyPatch
) -> None:
    looked_at: list[int] = []
    of_visit = Turnings._of_visit

    def counted(turnings: Turnings, way: Any, stops: Any, place: int, until: int) -> Iterator[Turning]:
        looked_at[-1] += 1
        return of_visit(turnings, way, stops, place, until)

    monkeypatch.setattr(Turnings, "_of_visit", counted)
    for steps in (600, 9_600):
        looked_at.append(0)
        endless = record("queue = [1]\nwhile queue:\n    queue.append(queue[0])\n    queue.pop()\n", max_steps=steps)
        trail = trail_of_end(Origins(endless))
        for _ in zip(range(30), trail.walk(), strict=False):
            pass
        assert any(its.kind == Kind.CHANGED for its in trail.links)
    assert looked_at[1] <= looked_at[0] * 1.2


_KEPT_OUT = """\
import sys
def tide(levels):
    for level in levels:
        if level > 9:
            return "high"
        elif level > 5:
            note = "middle"
        level = 0
    else:
        note = "low"
    return note
def never():
    return 1
for none in []:
    print(none)
try:
    number = int("3")
except ValueError:
    number = 0
try:
    number = int("x")
    number += 1
except ValueError:
    number = 7
while number < 3:
    number += 1
print(tide([10, 2]))
if number > 100: never()
sys.exit(1)
print("after")
# nothing
"""


@pytest.mark.parametrize(
    ("line", "reason", "part"),
    [
        (4, "it ran", "ran once"),
        (5, "it ran", "ran once"),
        (7, "decision", "at line 4, pass 1, 10 > 9 is true"),
        (8, "left before", "line 5 left before"),
        (10, "left before", "line 5 left before"),
        (13, "never called", "line 28 names it, and did not run"),
        (15, "loop without passes", "[] had no more elements"),
        (19, "handler not needed", "nothing went wrong in the try of line 16"),
        (22, "exception", "an exception at line 21 came first"),
        (26, "decision", "at line 25, 7 < 3 is false"),
        (30, "exception", "an exception at line 29 came first"),
        (31, "no statement", "No statement stands on line 31"),
    ],
)
def test_what_kept_a_line_out(record: Record, line: int, reason: str, part: str) -> None:
    answer = kept_out(Origins(record(_KEPT_OUT)), 0, line)
    assert (answer.reason.value, part in answer.text) == (reason, True), answer.text
    assert bool(answer.decision) == (reason in ("decision", "loop without passes"))
    assert len(answer.text) <= MOST_CHARACTERS + 20


def test_after_a_step_only_its_frame_counts(record: Record) -> None:
    recording: Recording = record(_MEAN)
    third = int(recording.visits.of_line(0, 6)[1])
    answer = kept_out(Origins(recording), 0, 5, third)
    assert (answer.visits, answer.reason.value) == (0, "decision")


def test_of_a_line_that_ran_at_times_the_pass_on_view_says_what_kept_it_out(record: Record) -> None:
    recording: Recording = record(_MEAN)
    origins = Origins(recording)
    tests = recording.visits.of_line(0, 4).tolist()
    told = [kept_out_here(origins, 0, 5, step) for step in tests]
    assert [its.reason.value for its in told] == [
        "decision",
        "it ran",
        "decision",
        *["decision", "it ran"],
        *["decision"] * 2,
    ]
    assert told[0].text == "Line 5 did not run: at line 4, pass 1, 4 < 0 is false."


def test_recordings_without_their_program_have_trails_too(record: Record, tmp_path: Path) -> None:
    from eelgrass.trace.files import recording_file

    recording_file.save(record(_MEAN).trace, tmp_path / "run.eelrec")
    loaded = Recording(recording_file.load(tmp_path / "run.eelrec"))
    assert _texts(trail_of_output(Origins(loaded), 0)) == _texts(trail_of_output(Origins(record(_MEAN)), 0))
