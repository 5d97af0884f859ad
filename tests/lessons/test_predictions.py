"""Say it first: what is asked, what answers are worth, and that nothing on the screen gives the answer away."""

from __future__ import annotations

from conftest import Record
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QListWidget
from pytestqt.qtbot import QtBot

from eelgrass.desktop.tabs.breakpoints_view import BreakpointsView
from eelgrass.desktop.tabs.log_view import LogView
from eelgrass.desktop.tabs.output_view import OutputView
from eelgrass.desktop.tabs.trace_table.table_view import TableView
from eelgrass.desktop.tabs.watch_view import WatchView
from eelgrass.desktop.window.main_window import MainWindow
from eelgrass.lessons.asking import prediction_at
from eelgrass.lessons.predictions import Prediction, judged
from eelgrass.reading.breakpoints.breakpoint import Breakpoint
from eelgrass.reading.expressions.expression import parse_expression
from eelgrass.reading.recording import Recording

TIDES = """\
def mean(levels):
    total = 0
    for level in levels:
        if level > 9:
            continue
        total = total + level
    return total / 2
crew = ["mo"]
mates = crew
mates.append("ti")
for row in [[1, 2, 99], [4, 5]]:
    print("mean", mean(row))
word = "1" + "2"
"""


def asked(recording: Recording) -> list[tuple[int, str, str]]:
    found = [prediction_at(recording, step) for step in recording.stepping.stops.tolist()]
    return [(recording.trace.line_of(its.step), its.kind, its.expected) for its in found if its is not None]


def test_what_is_worth_asking_and_nothing_else(record: Record) -> None:
    recording = record(TIDES)
    assert asked(recording) == [
        (10, "value", "['mo', 'ti']"),  # which has another name
        (11, "passes", "2"),
        (12, "output", "mean 1.5"),
        (3, "passes", "3"),
        (4, "way", "false"),
        (6, "value", "1"),
        (4, "way", "false"),
        (6, "value", "3"),
        (4, "way", "true"),  # otherwise than before
        (5, "line", "3"),
        (7, "returns", "1.5"),
        (12, "output", "mean 4.5"),
        (3, "passes", "2"),
        (4, "way", "false"),
        (7, "returns", "4.5"),
    ]
    shared = prediction_at(recording, int(recording.visits.of_line(0, 10)[0]))
    assert shared is not None
    assert shared.ask == "What will be in crew after this line?"
    adds = prediction_at(recording, int(recording.visits.of_line(0, 6)[1]))
    assert adds is not None
    assert adds.values == "total = 1, level = 2"


def test_answers_are_compared_by_value_and_differences_explained() -> None:
    def told(expected: str, said: str, kind: str = "value") -> tuple[bool, str]:
        verdict = judged(Prediction(0, kind, "", expected, "level = 1"), said)  # type: ignore[arg-type]
        return verdict.is_right, verdict.told

    assert told("[1, 2]", "[1,2]") == (True, "Yes. It is [1, 2], from level = 1.")
    assert told("'mo'", '"mo"')[0]
    assert told("0.3", "0.30")[0]
    assert told("3", "'3'") == (False, "It is 3, from level = 1. '3' is a text, 3 a whole number.")
    assert told("3.0", "3")[1].endswith("3 and 3.0 are equal numbers, but of different types.")
    assert told("'mo'", "mo")[1].endswith("A text is written with quotation marks around it.")
    assert told("true", "Yes", "way")[0]
    assert not told("true", "false", "way")[0]
    assert told("true", "perhaps", "way")[1].endswith("Say true or false.")
    assert told("3", "3", "passes")[0]
    assert told("mean 1.5", "mean 1.5", "output")[0]
    assert not told("3", "__import__('os')")[0]


def steps_of(its: QListWidget) -> list[int]:
    items = (its.item(row) for row in range(its.count()))
    return [item.data(Qt.ItemDataRole.UserRole) for item in items if item is not None]


def test_moves_hold_until_something_is_said_and_what_is_to_come_is_hidden(
    window: MainWindow, record: Record, qtbot: QtBot
) -> None:
    recording = record(TIDES)
    session, keys = window.models.parts.session, Qt.Key
    session.show(recording)
    file = recording.trace.program.modules[0].file
    window.models.parts.breakpoints.set_breakpoints([Breakpoint(file, 4), Breakpoint(file, 4, note="{level}")])
    window.models.parts.watches.ask(parse_expression("level"))
    qtbot.waitUntil(
        lambda: not (window.models.parts.watches.lane.is_busy or window.models.parts.breakpoints.lane.is_busy),
        timeout=30_000,
    )
    plain = window.timeline.grab().toImage()
    qtbot.keyClick(window, keys.Key_S)
    its = window.models.prediction
    qtbot.keyClick(window, keys.Key_End)
    assert (recording.trace.line_of(session.step), its.pending is not None) == (10, True), "the first thing to say"
    qtbot.keyClick(window, keys.Key_Right)
    assert recording.trace.line_of(session.step) == 10
    assert "First say" in window.prediction_view.told.text()
    window.prediction_view.line.setText("['mo']")
    window.prediction_view.say.click()
    assert window.prediction_view.told.text() == "It is ['mo', 'ti'], from mates = ['mo']."
    window.commands.show_table()
    qtbot.waitUntil(lambda: window.view(TableView).isVisible())
    seen: list[str] = []
    while session.step < int(recording.visits.of_line(0, 6)[1]):
        window.actions_by_id["next_any"].trigger()
        seen.append(window.top_bar._place.text())
        its.pass_over()
    assert not any(" of " in place for place in seen)
    assert not any(" of 3" in (note.text if (note := window.source.note(line)) else "") for line in range(1, 14))
    assert all(count.in_all is None for count in window.source.gutter.counts.values())
    assert window.view(OutputView).toPlainText() == ""
    assert window.prediction_view.isVisible()
    window.view(TableView).scope.setCurrentIndex(4)
    rows = window.view(TableView).model.rowCount()
    assert int(recording.stepping.stops[rows - 1]) == session.step
    listed = window.view(BreakpointsView).list.item(0)
    assert listed is not None
    assert listed.text() == "line 4"
    assert all(step <= session.step for step in steps_of(window.view(LogView)))
    window.commands.ask()
    window.view(WatchView).kept.setCurrentRow(0)
    steps = steps_of(window.view(WatchView).changes)
    assert steps
    assert max(steps) <= session.step
    misty = window.timeline.grab().toImage()
    right = window.timeline.width() - 60
    assert misty.pixelColor(right, 45) != plain.pixelColor(right, 45)
    assert misty.pixelColor(right, 45) == misty.pixelColor(right, 110)
    here = session.step
    session.go(0)
    assert session.horizon == here, "what has been seen stays to be seen"
    window.commands.toggle_predict()
    window.actions_by_id["last"].trigger()
    assert session.step == recording.stepping.last()


def test_what_was_said_goes_into_the_answer(window: MainWindow, qtbot: QtBot) -> None:
    with qtbot.waitSignal(window.models.run.runner.ended, timeout=30_000):
        window.models.workspace.open_exercise(window.lesson.exercise("shoot_count"))
    window.models.parts.session.move("first")
    window.commands.toggle_predict()
    while window.models.prediction.pending is None:
        window.models.parts.session.move("next_any")
    window.models.prediction.answer("4")
    said = window.models.solving.answer.predictions
    assert [(its.line, its.asked, its.said, its.expected, its.is_right) for its in said] == [
        (7, "How many passes will this loop make?", "4", "3", False)
    ]


def test_a_desk_check_is_filled_in_by_hand_and_compared(window: MainWindow, qtbot: QtBot) -> None:
    with qtbot.waitSignal(window.models.run.runner.ended, timeout=30_000):
        window.models.workspace.open_exercise(window.lesson.exercise("gauge_report"))
    session, view = window.models.parts.session, window.view(TableView)
    recording = session.recording
    assert recording is not None
    session.go(int(recording.visits.of_line(0, 22)[0]))
    window.commands.show_table()
    view.scope.setCurrentIndex(2)
    view.toggle_by_hand()
    model = view.model
    titles = [column.title for column in model.table.columns] if model.table else []
    level, total, way = (titles.index(title) for title in ("level", "total", "level > 9?"))

    def write(row: int, column: int, text: str) -> None:
        assert model.setData(model.index(row, column), text, Qt.ItemDataRole.EditRole)

    assert model.index(0, total).data() == ""
    assert model.index(0, 0).data() == "1", "the passes are given"
    for column, text in ((level, "2.60"), (total, "2.6"), (way, "False")):
        write(0, column, text)
    write(1, level, "2.7")
    write(1, total, "5")
    view.check()
    assert (model.checked.right, model.checked.wrong) == ([(0, level), (0, total), (0, way), (1, level)], [(1, total)])
    assert model.checked.missing == [(1, way)]
    assert recording.trace.line_of(session.step) == 22, "the first wrong cell leads to the step that set it"
    assert window.models.solving.answer.desk_checks == {model.table.title: (1, 4, 2)} if model.table else False
    write(1, total, "5.3")
    write(1, way, "false")
    view.check()
    assert (model.checked.wrong, model.checked.missing) == ([], [])
    picture = view.view.grab().toImage()
    view.toggle_by_hand()
    assert view.view.grab().toImage() != picture
    assert model.index(1, total).data() == "5.300000000000001"
