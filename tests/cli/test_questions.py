"""Questions about a whole run: passes, frames, exceptions, what leads to an object, what changed, histories."""

from __future__ import annotations

from pathlib import Path

import pytest
from click.testing import CliRunner
from conftest import Record

from eelgrass.cli.main import main
from eelgrass.export import json_rows
from eelgrass.reading.endless_run import endless_loop
from eelgrass.reading.lines.error_explanations import explained
from eelgrass.reading.recording import Recording
from eelgrass.reading.state.history import moments, slots_called
from eelgrass.trace.files import recording_file
from eelgrass.trace.model import FrameEnd, StepKind

GAUGES = """\
def highest(levels):
    top = levels[0]
    for level in levels:
        if level > top:
            top = level
    return top

for place in ["reef", "pier"]:
    for level in [[1, 4], [2]]:
        print(place, highest(level))
"""


def line(recording: Recording, number: int) -> list[int]:
    steps: list[int] = recording.visits.of_line(0, number).tolist()
    return steps


def test_passes_are_counted_for_each_round_of_each_loop(record: Record) -> None:
    recording = record(GAUGES)
    loops, statements = recording.loops, recording.trace.program.statements
    calls = line(recording, 10)
    around = loops.around(calls[1])
    assert [statements[loop].line for loop in around] == [9, 8]
    assert [loops.pass_at(calls[1], loop).number for loop in around] == [2, 1]  # type: ignore[union-attr]
    assert [loops.pass_at(calls[2], loop).number for loop in around] == [1, 2]  # type: ignore[union-attr]
    assert loops.to_pass(calls[0], around[0], 2) == calls[1]
    assert loops.to_pass(calls[2], around[0], -1) == calls[3]
    assert loops.to_pass(calls[0], around[0], 3) == calls[0], "there is no third pass"
    ends = line(recording, 9)[2::3]
    assert [loops.another_pass(step, 1) for step in calls] == [calls[1], ends[0], calls[3], ends[1]]
    assert loops.another_pass(calls[2], -1) == calls[2], "another round is another matter"
    assert recording.trace.line_of(loops.past(calls[0], around[0])) == 8
    assert loops.rounds(around[0]).tolist() == line(recording, 9)[::3]
    # In a pass that does not reach the line, its beginning is shown; the first pass has none before it.
    bigger = line(recording, 5)[0]
    assert recording.trace.line_of(loops.another_pass(bigger, -1)) == 4
    inner = next(iter(loops.around(bigger)))
    assert (loops.pass_at(bigger), len(loops.starts(bigger, inner))) == (loops.pass_at(bigger, inner), 2)


def test_recursion_does_not_mix_up_the_passes_of_its_frames(record: Record) -> None:
    recording = record("def sow(rows):\n    for row in range(rows):\n        sow(row)\nsow(3)\n")
    told = [(recording.loops.pass_at(step), step) for step in line(recording, 3)]
    outer = [its for its, step in told if recording.stepping.frame_of(step) == 1]
    assert [(its.number, its.in_all) for its in outer if its] == [(1, 3), (2, 3), (3, 3)]


def test_visits_frames_and_kinds_are_found_both_ways(record: Record) -> None:
    recording = record(GAUGES + "if level:\n    pass\nelse:\n    place = 0\n")
    calls, tops = recording.calls, line(recording, 2)
    assert recording.visits.next_visit(0, 2, tops[0]) == tops[1]
    assert recording.visits.next_visit(0, 2, tops[-1]) == -1
    function = next(n for n, its in enumerate(recording.trace.program.functions) if its.name == "highest")
    frames = calls.of_function(function).tolist()
    facts = calls.facts(frames[0])
    value = recording.trace.values
    assert (facts.function, facts.end, value.get(facts.value)) == ("highest", FrameEnd.RETURNED, 4)
    assert [binding.name for binding in facts.arguments] == ["levels"]
    assert calls.next_of_function(function, facts.first) == calls.facts(frames[1]).first
    assert calls.previous_of_function(function, facts.first) == -1
    assert calls.next_of_kind(StepKind.RETURN, facts.first) == facts.last
    assert calls.previous_of_kind(StepKind.CALL, facts.last) == facts.first
    assert calls.next_of_kind(StepKind.RAISE, 0) == -1


def test_exceptions_are_followed_and_silenced_ones_told_apart(record: Record) -> None:
    recording = record(
        "def weigh(load):\n    return 6 / load\n\ndef check(load):\n    try:\n        weigh(load)\n"
        "    except ZeroDivisionError:\n        return None\n\ncheck(0)\n"
        "try:\n    try:\n        weigh(0)\n    except ZeroDivisionError:\n        raise\n"
        "except ZeroDivisionError as error:\n    print(error)\nint('mud')\n"
    )
    told = [
        ([(recording.trace.function_of_frame(its.frame).name, its.line) for its in way.stations], way.is_silenced)
        for way in recording.exceptions
    ]
    assert told == [
        ([("weigh", 2), ("check", 6)], True),
        ([("weigh", 2), ("<module>", 13)], False),  # raised again
        ([("<module>", 13)], False),  # printed; the place is that of the call
        ([("<module>", 18)], False),  # the end of the run
    ]
    last = recording.exceptions[-1]
    assert (last.type, last.is_caught) == ("ValueError", False)
    assert last.message == "invalid literal for int() with base 10: 'mud'"
    assert last.stations[0].step == recording.stepping.last()


def test_a_run_that_would_not_end_says_where_it_went_round_and_what_never_changed(record: Record) -> None:
    found = endless_loop(
        record(
            "def sow(bed):\n    wanted = 3\n    while bed < wanted:\n        for seed in 'ab':\n"
            "            seeds = bed\nsow(1)\n",
            max_steps=5000,
        )
    )
    assert found is not None
    assert (found.first_line, found.last_line, found.unchanged) == (3, 5, [("bed", "1"), ("wanted", "3")])
    assert found.times > 400
    assert "never changed" in found.words()
    counting = endless_loop(record("tide = 0\nwhile tide >= 0:\n    tide += 1\n", max_steps=5000))
    assert counting is not None
    assert counting.unchanged == []
    diving = endless_loop(record("def dive(depth):\n    dive(depth + 1)\ndive(0)\n", max_steps=1500))
    assert diving is not None
    assert (diving.function, diving.first_line, diving.last_line) == ("dive", 1, 2)
    assert diving.times > 400
    assert endless_loop(record("level = 1\n")) is None


def test_exceptions_are_explained_in_plain_words() -> None:
    for text, meaning in (
        ("{'reef': 1}['mud']", "The dictionary has no key 'mud'."),
        ("[1, 2][5]", "The list has no element with this index; the first one has index 0."),
        ("int('3 shoots')", "'3 shoots' is no whole number."),
        ("'reef' + 3", "+ cannot join a text and a whole number."),
        ("None.level", "Nothing (None) has no “level”."),
        ("mud", "Nothing is called “mud” here: is it misspelt, or set only later?"),
        ("[1] - [2]", "“-” does not work between a list and a list."),
        ("(lambda bed: 1)()", "<lambda>() is called without 'bed'."),
    ):
        with pytest.raises(Exception) as raised:  # noqa: PT011
            eval(text)
        assert explained(type(raised.value).__name__, str(raised.value)) == meaning
    assert explained("FullError", "no seat") == ""


def test_what_leads_to_an_object_and_what_only_equals_it(record: Record) -> None:
    recording = record(
        "class Ferry:\n    pass\nseats = [1, 2]\nferry = Ferry()\nferry.seats = seats\nboats = {'Plover': (0, seats)}\n"
        "copy = [1, 2]\n\ndef count(its):\n    return len(its)\n\ncount(seats)\nseats = None\nend = 0\n"
    )
    trace, references = recording.trace, recording.references
    inside = recording.stepping.into(line(recording, 12)[0])
    its = next(lead for lead in recording.stack_rows.at(inside)[-1].rows if lead.name == "its")
    assert its.tag is not None
    slot = slots_called(trace, "seats").tolist()[0]
    number = trace.values.object_of(trace.histories.value_at(slot, inside))
    assert number is not None
    assert [lead.text for lead in references.leads(number, inside)] == [
        *("seats", "its"),
        *("boats['Plover'][1]", "ferry.seats"),
    ]
    end = recording.stepping.last()
    assert [lead.text for lead in references.leads(number, end)] == ["boats['Plover'][1]", "ferry.seats"]
    (equal,) = references.equals(number, end)
    assert [lead.text for lead in references.leads(equal, end)] == ["copy"]


def test_a_history_tells_of_changes_inside_and_of_deletion(record: Record, tmp_path: Path) -> None:
    recording = record("rows = [[1], 2]\nrows[0].append(5)\nother = rows\nother[1] = 0\ndel rows\nrows = ''\n")
    trace = recording.trace
    (slot,) = slots_called(trace, "rows").tolist()
    told = [(trace.line_of(its.by), its.text) for its in moments(trace, slot)]
    assert told == [(1, "[[1], 2]"), (2, "[[1, 5], 2]"), (4, "[[1, 5], 0]"), (5, ""), (6, "''")]
    assert trace.histories.set_by(slot, line(recording, 4)[0]) == line(recording, 1)[0]
    rows = list(json_rows.history(trace, "rows"))
    assert [row["value"] and row["value"]["text"] for row in rows] == [*(text or None for _, text in told)]
    recording_file.save(trace, tmp_path / "rows.eelrec")
    done = CliRunner().invoke(main, ["history", str(tmp_path / "rows.eelrec"), "rows"])
    assert (done.exit_code, done.stdout.count("\n")) == (0, 5)
    absent = CliRunner().invoke(main, ["history", str(tmp_path / "rows.eelrec"), "columns"])
    assert absent.exit_code == 1
    assert "ever has a name “columns”" in absent.stderr


def test_histories_of_parameters_go_through_all_frames(record: Record) -> None:
    recording = record("def sow(rows):\n    if rows:\n        rows -= 1\n        sow(rows)\nsow(2)\n")
    told = [(row["frame"], row["line"], row["value"]["text"]) for row in json_rows.history(recording.trace, "rows")]
    assert told == [(1, 1, "2"), (1, 3, "1"), (2, 1, "1"), (2, 3, "0"), (3, 1, "0")]
