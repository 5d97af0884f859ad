"""Say it first in the window: what is to come stays hidden."""

from __future__ import annotations

from conftest import Record
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QListWidget
from pytestqt.qtbot import QtBot
from support.driving import ended
from support.programs import MATES

from eelgrass.desktop.tabs.breakpoints.breakpoints_view import BreakpointsView
from eelgrass.desktop.tabs.breakpoints.log_view import LogView
from eelgrass.desktop.tabs.output_view import OutputView
from eelgrass.desktop.tabs.trace_table.table_view import TableView
from eelgrass.desktop.tabs.watch_view import WatchView
from eelgrass.desktop.window.main_window import MainWindow
from eelgrass.reading.breakpoints.breakpoint import Breakpoint
from eelgrass.reading.expressions.expression import parse_expression


def steps_of(its: QListWidget) -> list[int]:
    items = (its.item(row) for row in range(its.count()))
    return [item.data(Qt.ItemDataRole.UserRole) for item in items if item is not None]


def test_moves_hold_until_something_is_said_and_what_is_to_come_is_hidden(
    window: MainWindow, record: Record, qtbot: QtBot
) -> None:
    recording = record(MATES)
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
    ended(window, qtbot, lambda: window.models.workspace.open_exercise(window.lesson.exercise("shoot_count")))
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
    ended(window, qtbot, lambda: window.models.workspace.open_exercise(window.lesson.exercise("gauge_report")))
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
