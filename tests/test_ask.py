"""Questions at a moment and over the run, in the shell and in the window."""

from __future__ import annotations

import json
from pathlib import Path

import pytest
from click.testing import CliRunner
from conftest import Record
from PyQt6.QtCore import Qt
from pytestqt.qtbot import QtBot

from eelgrass.cli.main import main
from eelgrass.desktop.window import Window
from eelgrass.reading import ask
from eelgrass.reading.state import value_of_name
from eelgrass.trace import files

FERRY = """\
class Boat:
    def __init__(self):
        self.aboard = []

def board(boat, name):
    boat.aboard.append(name)
    full = len(boat.aboard) > 1
    return full

boat = Boat()
for name in ["Moor", "Reed", "Fen"]:
    board(boat, name)
wait = 3
"""


def test_a_question_is_answered_at_a_moment_in_a_frame(record: Record) -> None:
    recording = record(FERRY)
    inside = int(recording.visits.of_line(0, 7)[1])
    frame = recording.places.frame_of(inside)

    def told(text: str, step: int = inside, its: int = frame) -> tuple[str, str, bool]:
        answer = ask.at(recording, ask.question(text), its, step)
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
    recording = record(FERRY)
    trace = recording.trace
    told = [(trace.line_of(its.step), its.text) for its in ask.over(recording, ask.question("len(boat.aboard) > 1"))]
    # In the function's three frames.
    assert told == [(6, "False"), (6, "False"), (7, "True"), (6, "True")]
    module = [(trace.line_of(its.step), its.text) for its in ask.over(recording, ask.question("wait * 2"))]
    assert module == [(13, "6")]
    assert list(ask.over(recording, ask.question("nowhere + 1"))) == []


def test_what_is_no_question_is_said(record: Record) -> None:
    for text, beginning in (("1 +", "Python does not understand"), ("level = 3", "A question is an expression")):
        with pytest.raises(ask.QuestionError, match=beginning):
            ask.question(text)


def test_the_shell_asks(record: Record, tmp_path: Path) -> None:
    path = tmp_path / "ferry.eelrec"
    files.save(record(FERRY).trace, path)
    run = CliRunner().invoke
    rows = [json.loads(line) for line in run(main, ["ask", str(path), "wait + 1"]).stdout.splitlines()]
    assert [(row["text"], row["type"], row["line"]) for row in rows] == [("4", "whole number", 13)]
    assert run(main, ["ask", str(path), "wait +"]).exit_code == 2
    assert run(main, ["ask", str(path), "wait", "--at", "0"]).exit_code == 1
    assert run(main, ["ask", str(path), "wait", "--at", "99999"]).exit_code == 1


def test_questions_stay_in_view_and_lead_to_their_changes(window: Window, record: Record, qtbot: QtBot) -> None:
    recording = record(FERRY)
    window.reader.show(recording)
    window.reader.move("last")
    qtbot.keyClick(window, Qt.Key.Key_A)
    qtbot.keyClicks(window.ask.line, "len(boat.aboard")
    qtbot.keyClick(window.ask.line, Qt.Key.Key_Return)
    assert "never closed" in window.ask.said.text()
    with qtbot.waitSignal(window.ask._answered, timeout=30_000):
        qtbot.keyClick(window.ask.line, Qt.Key.Key_End)  # the caret stands where the trouble is
        qtbot.keyClicks(window.ask.line, ") > 1")
        qtbot.keyClick(window.ask.line, Qt.Key.Key_Return)
    kept = window.ask.kept.item(0)
    assert kept is not None
    assert kept.text() == "len(boat.aboard) > 1  =  True   (truth value)"
    assert window.ask.said.text().startswith("It becomes true 2 times, first at step")
    change = window.ask.changes.item(2)
    assert change is not None
    window.ask.changes.itemClicked.emit(change)
    assert recording.trace.line_of(window.reader.step) == 7
    window.actions_by_id["look"].trigger()
    window.commands.ask()
    qtbot.waitUntil(lambda: window.ask.kept.count() == 1)  # another look keeps it
    window.ask.kept.setFocus()
    qtbot.keyClick(window.ask, Qt.Key.Key_Delete)
    assert window.reader.questions == []
