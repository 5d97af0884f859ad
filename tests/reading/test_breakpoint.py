"""Breakpoints, notes and claims: where they hit, and how they go with their statements."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace

import pytest
from conftest import Record
from support.programs import BEDS, CREW_CLAIMS

from eelgrass.reading.breakpoints.breakpoint import Breakpoint, described, hits, moved, outcome

#: Gives the lines of the hits of a breakpoint in the recorded module.
Lines = Callable[..., list[int]]


@pytest.fixture
def lines(record: Record) -> Lines:
    recording = record(CREW_CLAIMS)

    def told(**how: object) -> list[int]:
        its = Breakpoint(recording.trace.program.modules[0].file, **how)  # type: ignore[arg-type]
        return [recording.trace.line_of(step) for step in hits(recording, its).steps.tolist()]

    return told


def test_hits_follow_line_condition_and_count(record: Record) -> None:
    recording = record(BEDS)
    file = recording.trace.program.modules[0].file
    visits = recording.visits.of_line(0, 3).tolist()

    def steps(**how: object) -> list[int]:
        return hits(recording, Breakpoint(file, how.pop("line", 3), **how)).steps.tolist()  # type: ignore[arg-type]

    assert steps() == visits
    assert steps(condition="shoots > 4") == visits[1:3]
    assert steps(every=2) == [visits[1], visits[3]]
    assert steps(nth=3) == [visits[2]]
    assert steps(nth=9) == []
    assert steps(condition="shoots > 1", every=2) == [visits[1]]
    assert steps(on=False) == steps(line=6) == []
    assert "not understand" in hits(recording, Breakpoint(file, 3, "shoots >")).why
    assert "Out of scope" in hits(recording, Breakpoint(file, 3, "mud > 1")).why


def test_functions_exceptions_and_values_can_be_stopped_at(lines: Lines) -> None:
    assert lines(kind="function", name="Boat.board") == [8, 8, 8]
    assert lines(kind="function", name="deep", condition="level == 1") == [21]
    for name in ("FullError", "ValueError", "Exception", ""):
        assert lines(kind="exception", name=name) == [11], name
    assert lines(kind="exception", name="KeyError") == []
    assert lines(kind="write", name="crew") == [13, 19]
    assert lines(kind="change", name="crew") == [13, 15, 15, 15, 19]
    assert lines(kind="write", name="boat.level") == [5, 8, 8, 8]
    assert lines(kind="write", name="boat.seats[1]") == [9]
    assert lines(kind="write", name="boat.seats[0]") == [9, 9]
    assert lines(kind="change", name="boat.seats[0]", condition="name == 'Fen'") == [9]
    assert lines(kind="write", name="rest", function="deep") == [21, 21, 21]
    assert lines(kind="write", name="rest", function="deep", call=2) == [21]


def test_what_reads_a_value_is_found_from_the_text_and_the_working_out(lines: Lines) -> None:
    assert lines(kind="read", name="crew") == [15, 15, 15]
    assert lines(kind="read", name="boat.level") == [8, 10, 8, 10, 8, 10]
    assert lines(kind="read", name="boat.seats[1]") == [10], "left out by `and` before"
    assert lines(kind="read", name="rest", function="deep", call=2) == [22]


def test_a_claim_is_broken_always_held_or_never_tested(record: Record) -> None:
    recording = record(CREW_CLAIMS)
    file = recording.trace.program.modules[0].file

    def told(condition: str, **how: object) -> str:
        its = Breakpoint(file, condition=condition, claims=True, **how)  # type: ignore[arg-type]
        return outcome(its, hits(recording, its))

    assert told("self.level < 3", kind="function", name="Boat.board").startswith("broken at step ")
    assert "name = 'Fen', seat = 0" in told("name != 'Fen' or seat", kind="function", name="Boat.board")
    assert told("level >= 0", kind="everywhere") == "always held (asked 3 times)"
    assert told("len(crew) < 3", kind="everywhere").endswith("(once in all)")
    assert told("nowhere > 3", kind="everywhere").startswith("never tested")
    assert told("level >= 1", kind="line", line=21).split(": ", 1)[1] == "level = 0 (once in all)"


def test_a_note_writes_values_down_instead_of_stopping(record: Record) -> None:
    recording = record(BEDS)
    its = Breakpoint(recording.trace.program.modules[0].file, 3, note="{shoots:>3} of {total} {{x}}", every=2)
    assert hits(recording, its).notes == ["  5 of 2 {x}", "  1 of 14 {x}"]
    bad = hits(recording, replace(its, note="{shoots"))
    assert "braces" in bad.why


def test_breakpoints_go_with_their_statements() -> None:
    old = [
        Breakpoint("beds.py", 1, statement="a = 1"),
        Breakpoint("beds.py", 3, statement="c = 3"),
        Breakpoint("other.py", 9),
    ]
    text, changed = "a = 1\nb = 2\nc = 3", "# new\na = 1\nzzzzzz(9)\nyyyyyyy()"
    after = moved(old, "beds.py", text, changed)
    assert [(its.file, its.line) for its in after] == [("beds.py", 2), ("beds.py", 0), ("other.py", 9)]
    assert described(after[1]) == "gone: c = 3"
    assert moved(after, "beds.py", changed, text)[1].line == 3, "the statement is back"
