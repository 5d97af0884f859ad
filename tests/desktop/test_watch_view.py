"""Ask in the window: questions that stay in view, and side runs."""

from __future__ import annotations

import json
from pathlib import Path

from click.testing import CliRunner
from conftest import Record
from PyQt6.QtCore import Qt
from pytestqt.qtbot import QtBot
from support.programs import CREW, FERRY_CREW

from eelgrass.cli.main import main
from eelgrass.desktop.tabs.watch_view import WatchView
from eelgrass.desktop.window.main_window import MainWindow
from eelgrass.reading.expressions.expression import parse_expression
from eelgrass.trace.files import recording_file


def test_questions_stay_in_view_and_lead_to_their_changes(window: MainWindow, record: Record, qtbot: QtBot) -> None:
    recording = record(FERRY_CREW)
    window.models.parts.session.show(recording)
    window.models.parts.session.move("last")
    qtbot.keyClick(window, Qt.Key.Key_A)
    qtbot.keyClicks(window.view(WatchView).line, "len(boat.aboard")
    qtbot.keyClick(window.view(WatchView).line, Qt.Key.Key_Return)
    assert "never closed" in window.view(WatchView).said.text()
    with qtbot.waitSignal(window.models.parts.watches.lane.done, timeout=30_000):
        qtbot.keyClick(window.view(WatchView).line, Qt.Key.Key_End)  # the caret stands where the trouble is
        qtbot.keyClicks(window.view(WatchView).line, ") > 1")
        qtbot.keyClick(window.view(WatchView).line, Qt.Key.Key_Return)
    kept = window.view(WatchView).kept.item(0)
    assert kept is not None
    assert kept.text() == "len(boat.aboard) > 1  =  True   (truth value)"
    assert window.view(WatchView).said.text().startswith("It becomes true 3 times, first at step")
    scope, whole = window.view(WatchView).scope, window.view(WatchView).changes.count()
    assert [scope.itemText(row) for row in range(scope.count())] == [
        "everywhere: the module, board",
        "only in the module",
        "only in board",
    ]
    scope.setCurrentIndex(2)
    assert 0 < window.view(WatchView).changes.count() < whole
    assert "board" in (getattr(window.view(WatchView).changes.item(0), "text", str)())
    scope.setCurrentIndex(0)
    change = window.view(WatchView).changes.item(3)
    assert change is not None
    window.view(WatchView).changes.itemClicked.emit(change)
    assert recording.trace.line_of(window.models.parts.session.step) == 7
    window.actions_by_id["look"].trigger()
    window.commands.ask()
    qtbot.waitUntil(lambda: window.view(WatchView).kept.count() == 1)  # another look keeps it
    window.view(WatchView).kept.setFocus()
    qtbot.keyClick(window.view(WatchView), Qt.Key.Key_Delete)
    assert window.models.parts.watches.expressions == []


def test_a_side_run_is_asked_for_in_the_window_and_in_the_shell(
    window: MainWindow, record: Record, qtbot: QtBot, tmp_path: Path
) -> None:
    recording = record(CREW, "Moor", seed=3)
    window.models.parts.session.show(recording)
    window.models.parts.session.move("last")
    window.commands.ask()
    window.models.parts.watches.ask(parse_expression("free(boat)"))
    qtbot.waitUntil(lambda: not window.models.parts.watches.lane.is_busy, timeout=30_000)
    with qtbot.waitSignals([window.models.side_runs.said] * 2, timeout=30_000):
        window.view(WatchView).aside.click()
    assert window.view(WatchView).said.text().startswith(f"Side run to step {window.models.parts.session.step}, ")
    assert window.view(WatchView).said.text().endswith(" s: free(boat) = 6   (whole number)")
    window.models.parts.session.go(int(recording.visits.of_line(0, 8)[1]))
    window.models.parts.watches.ask(parse_expression("name * 2"))
    inner = window.view(WatchView).kept.item(0)
    assert inner is not None
    assert inner.text().startswith("name * 2  =  'ReedReed'")
    assert [window.view(WatchView).frames.itemText(row) for row in range(2)] == ["in board", "in module"]
    window.models.parts.watches.ask(parse_expression("free(boat)"))
    window.view(WatchView).frames.setCurrentIndex(1)
    assert window.view(WatchView).frame == 0
    with qtbot.waitSignals([window.models.side_runs.said] * 2, timeout=30_000):
        window.view(WatchView).aside.click()
    assert window.view(WatchView).said.text().endswith(" s: free(boat) = 6   (whole number)")
    path = tmp_path / "crew.eelrec"
    recording_file.save(recording.trace, path)
    step = str(int(recording.visits.of_line(0, 8)[1]))
    run = CliRunner().invoke(main, ["ask", str(path), "free(boat)", "--at", step, "--side-run"])
    assert json.loads(run.stdout)["text"] == "6"
