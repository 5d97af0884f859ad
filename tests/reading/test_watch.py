"""Questions at a step and over the run, and side runs, against what the program did."""

from __future__ import annotations

import json
from dataclasses import replace
from pathlib import Path

import pytest
from click.testing import CliRunner
from conftest import Record
from support.programs import CREW, FERRY_CREW

from eelgrass.cli.main import main
from eelgrass.reading.expressions.expression import ExpressionError, parse_expression
from eelgrass.reading.progress import Progress
from eelgrass.reading.state.call_stack import value_of_name
from eelgrass.reading.watches import side_run_check, watch
from eelgrass.reading.watches.series import series
from eelgrass.runs.repeating import SideRunError
from eelgrass.runs.side_run import ask_aside
from eelgrass.trace.files import recording_file


def test_a_question_is_answered_at_a_moment_in_a_frame(record: Record) -> None:
    recording = record(FERRY_CREW)
    inside = int(recording.visits.of_line(0, 7)[1])
    frame = recording.stepping.frame_of(inside)

    def told(text: str, step: int = inside, its: int = frame) -> tuple[str, str, bool]:
        answer = watch.at(recording, parse_expression(text), its, step)
        return answer.text, answer.type_word, answer.known

    assert told("boat.aboard[-1] + '!'") == ("'Reed!'", "text", True)
    assert told("boat.aboard") == ("['Moor', 'Reed']", "list of 2", True)
    boat = recording.trace.values.object_of(value_of_name(recording.trace, 0, "boat", inside))
    assert told("boat") == (f"<Boat #{boat}>", "Boat", True)
    assert told("name == 'Reed' and full") == ("Out of scope: name 'full' is not defined here.", "", False)
    assert told("boat.aboard[7]") == ("raises IndexError: list index out of range", "", True)
    assert told("board(boat, 1)")[0] == "“board” is the program's own; calling it would run the program."
    assert told("boat == 3")[2] is False, "what == means is up to the class"


def test_over_the_run_every_change_is_told_once_with_its_place(record: Record) -> None:
    recording = record(FERRY_CREW)
    trace = recording.trace
    told = [
        (trace.line_of(its.step), its.text) for its in watch.over(recording, parse_expression("len(boat.aboard) > 1"))
    ]
    # In the module, and in the function's three frames.
    assert told == [(11, "False"), (6, "False"), (6, "False"), (7, "True"), (7, "True"), (6, "True")]
    module = [(trace.line_of(its.step), its.text) for its in watch.over(recording, parse_expression("wait * 2"))]
    assert module == [(13, "6")]
    assert list(watch.over(recording, parse_expression("nowhere + 1"))) == []


def test_a_name_of_a_function_does_not_hide_that_of_the_module(record: Record) -> None:
    recording = record("def cost(total):\n    return total * 2\ntotal = 5\ntotal = -3\ncost(1)\n")
    told = watch.over(recording, parse_expression("total < 0"))
    where = [recording.trace.function_of_frame(its.frame).name for its in told if its.is_true]
    assert where == ["<module>"]
    assert [its.text for its in told] == ["False", "True", "False"]


def test_what_is_no_question_is_said(record: Record) -> None:
    for text, beginning in (("1 +", "Python does not understand"), ("level = 3", "A question is an expression")):
        with pytest.raises(ExpressionError, match=beginning):
            parse_expression(text)


def test_the_shell_asks(record: Record, tmp_path: Path) -> None:
    path = tmp_path / "ferry.eelrec"
    recording_file.save(record(FERRY_CREW).trace, path)
    run = CliRunner().invoke
    rows = [json.loads(line) for line in run(main, ["ask", str(path), "wait + 1"]).stdout.splitlines()]
    assert [(row["text"], row["type"], row["line"]) for row in rows] == [("4", "whole number", 13)]
    assert run(main, ["ask", str(path), "wait +"]).exit_code == 2
    assert run(main, ["ask", str(path), "wait", "--at", "0"]).exit_code == 1
    assert run(main, ["ask", str(path), "wait", "--at", "99999"]).exit_code == 1


def test_a_side_run_answers_what_runs_the_program_and_changes_nothing(record: Record) -> None:
    recording = record(CREW, "Moor", seed=3)
    trace = recording.trace
    inside = int(recording.visits.of_line(0, 8)[1])
    frame = recording.stepping.frame_of(inside)
    asked = "free(boat) + len([one for one in name])"
    assert not watch.at(recording, parse_expression(asked), frame, inside).known
    told = ask_aside(trace, inside, 0, asked)
    assert (told.text, told.type, told.raised) == ("10", "int", "")
    assert side_run_check.difference(recording, frame, inside, told.written, told.names) == ""
    assert told.names == {"name": "'Reed'"}
    assert side_run_check.frames_out(recording, 0, inside) == 1
    assert ask_aside(trace, inside, 1, "[name, free(boat)]").text == "['Reed', 6]"
    assert ask_aside(trace, inside, 0, "board(boat)").raised.startswith("TypeError: board()")
    at_end = recording.stepping.last()
    assert ask_aside(trace, at_end, 0, "len(boat)").text == "2", "also at the end, where the frames are about to go"
    assert "did not print" in side_run_check.difference(recording, frame, inside, 3, told.names)
    assert "name was 'Fen' there" in side_run_check.difference(
        recording, frame, inside, told.written, {"name": "'Fen'"}
    )
    for hostile in ("open('x', 'w')", "free.__globals__", "boat.__class__", "exec('1')", "(x for x in name).gi_frame"):
        with pytest.raises(ExpressionError):
            side_run_check.need_harmless(recording, parse_expression(hostile))
    assert ask_aside(trace, inside, 0, "open('x')").raised.startswith("NameError"), "nor does the child know it"
    gone = replace(trace, case={**trace.case, "program": "/nowhere/crew.py"})
    with pytest.raises(SideRunError, match="not on this machine"):
        ask_aside(gone, inside, 0, "1")


def test_a_question_can_be_given_up_and_the_window_lives_on(record: Record) -> None:
    recording = record("beds = []\nfor tide in range(3000):\n    beds.append(tide)\n")
    progress = Progress()
    shares: list[float] = []

    def told(share: float) -> None:
        shares.append(share)
        if share > 0.3:
            progress.given_up.set()

    progress.told = told
    over = watch.over(recording, parse_expression("sum(beds) % 2"), progress)
    assert not over.is_whole
    assert 0 < over.moments < 2000
    assert shares == sorted(shares)


def test_the_course_of_an_answer_is_drawn_from_its_changes(record: Record) -> None:
    recording = record(FERRY_CREW)
    numbers = series(recording.trace, watch.over(recording, parse_expression("wait * 2")), 4)
    assert numbers.is_numbers
    assert numbers.high[-1] == 6
    assert numbers.last[0] == -1
    over = watch.over(recording, parse_expression("name"))
    bands = series(recording.trace, over, len(recording.trace.steps))
    assert not bands.is_numbers
    told = [None if place < 0 else over.results[place] for place in bands.last]
    assert [name for place, name in enumerate(told) if name != told[place - 1] and name] == ["Moor", "Reed", "Fen"]
