"""Trace tables, passes and histories in the window."""

from __future__ import annotations

from pathlib import Path

from conftest import Record
from PyQt6.QtCore import Qt
from pytestqt.qtbot import QtBot
from support.programs import GAUGES

from eelgrass.desktop.tabs.history_view import HistoryView
from eelgrass.desktop.tabs.trace_table import table_output
from eelgrass.desktop.tabs.trace_table.table_model import TableModel
from eelgrass.desktop.tabs.trace_table.table_view import TableView
from eelgrass.desktop.window.main_window import MainWindow


def test_the_table_in_the_window_leads_and_is_laid_out(
    window: MainWindow, record: Record, qtbot: QtBot, tmp_path: Path
) -> None:
    recording = record(GAUGES)
    session, view = window.models.parts.session, window.view(TableView)
    session.show(recording)
    session.go(int(recording.visits.of_line(0, 6)[2]))
    qtbot.keyClick(window, Qt.Key.Key_T)
    view.scope.setCurrentIndex(2)
    model = view.model
    assert isinstance(model, TableModel)
    assert model.here == 0
    assert (model.rowCount(), model.columnCount()) == (3, 5)
    view.line.setText("total +")
    view._add()
    assert "not understand" in view.said.text()
    view.line.setText("total + 1")
    view._add()
    assert model.index(2, 5).data() == "6"
    view.view.clicked.emit(model.index(2, 3))
    assert recording.trace.line_of(session.step) == 6
    assert model.here == 2
    view.toggle_rest()
    assert model.rowCount() == 2, "what a pass comes to is hidden until it is over"
    view.toggle_rest()
    view.show_column(2, on=False)
    view.titles.moveSection(view.titles.visualIndex(3), 1)
    assert [column.title for column in view.view.shown_columns()] == [
        "pass",
        "total",
        "level",
        "level > 9?",
        "total + 1",
    ]
    assert view.as_csv().splitlines()[3] == "3,5,4,false,6"
    view.copy()
    chosen = view.chosen()
    assert chosen is not None
    assert "99" in table_output.document(chosen, model.rows).toPlainText()
    window.commands.save_table(tmp_path / "passes.csv")
    assert (tmp_path / "passes.csv").read_text().splitlines()[0] == "pass,total,level,level > 9?,total + 1"
    view._follow_column(1)
    qtbot.waitUntil(lambda: not window.models.parts.watches.lane.is_busy, timeout=30_000)
    assert window.models.parts.watches.followed == "level"
    plain = window.timeline.grab().toImage()
    view._follow_column(1)
    assert window.timeline.grab().toImage() != plain
    window.actions_by_id["look"].trigger()  # all views take another look
    window.commands.show_table()
    qtbot.waitUntil(lambda: window.view(TableView).model.table is not None)
    assert [column.title for column in window.view(TableView).view.shown_columns()][:3] == ["pass", "total", "level"]
    session.go(0)
    assert window.view(TableView).model.table is not None, "outside of all loops, the last table stays"


def test_passes_and_history_in_the_window(window: MainWindow, record: Record, qtbot: QtBot) -> None:
    recording = record(GAUGES)
    session = window.models.parts.session
    session.show(recording)
    session.go(int(recording.visits.of_line(0, 6)[2]))
    qtbot.keyClick(window, Qt.Key.Key_V)
    view = window.iterations
    assert view.isVisible()
    assert not window.stack.isVisible()
    assert view.passes is not None
    assert len(view.passes) == 3
    top = window.source.editor.top_of(6)
    place = view.grid.rect().topLeft()
    qtbot.mouseClick(view.grid, Qt.MouseButton.LeftButton, pos=place + type(place)(20, top + 5))
    assert recording.trace.line_of(session.step) == 6
    view.after.click()
    assert view.passes.place_of(session.step) == view.odd[0].place == 1
    qtbot.keyClick(window, Qt.Key.Key_V)
    assert window.stack.isVisible()
    window.stack.watched.emit("history", "total", 0)
    qtbot.waitUntil(lambda: not window.models.parts.watches.lane.is_busy, timeout=30_000)
    assert [track.title for track in window.view(HistoryView).lanes.tracks] == ["total"]
    assert window.view(HistoryView).lanes.tracks[0].series.most == 5
