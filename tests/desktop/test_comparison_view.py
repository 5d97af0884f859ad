"""The run on view held against a recording: what differs first, each difference leading to its moment."""

from __future__ import annotations

from pathlib import Path

from pytestqt.qtbot import QtBot
from support.driving import PATIENCE_MS, opened

from eelgrass.desktop.tabs.comparison_view import ComparisonView
from eelgrass.desktop.window.main_window import MainWindow
from eelgrass.trace.files import recording_file

_TALLY = """\
total = 0
for bed in [4, 1, 6]:
    if bed > 2:
        total += bed
print(total)
"""
_OTHER = _TALLY.replace("total = 0", "total = 1").replace("> 2", "> 5")


def test_the_first_differences_lead_to_their_moments(window: MainWindow, qtbot: QtBot, tmp_path: Path) -> None:
    session, comparison = window.models.parts.session, window.models.comparison
    opened(window, qtbot, tmp_path / "other" / "tally.py", _OTHER)
    assert session.recording is not None
    recording_file.save(session.recording.trace, tmp_path / "other.eelrec")
    opened(window, qtbot, tmp_path / "tally.py", _TALLY)
    with qtbot.waitSignal(
        comparison.compared, timeout=PATIENCE_MS, check_params_cb=lambda: comparison.found is not None
    ):
        window.commands.compare_with(tmp_path / "other.eelrec")
    view = window.view(ComparisonView)
    assert view.isVisible()
    assert view.said.text() == "Beside other.eelrec: First at line 1: total is 0, and 1 in the other run."
    texts = [its.text() for its in (view.rows.item(row) for row in range(view.rows.count())) if its is not None]
    assert texts == [
        "Value: line 1: total is 0, and 1 in the other run",
        "Path: the runs part after line 3",
        "Printed: output from character 0 on: '10', and '7' in the other run",
    ]
    item = view.rows.item(1)
    assert item is not None
    view.rows.itemClicked.emit(item)
    assert session.recording is not None
    assert session.recording.trace.line_of(session.step) == 3
    (tmp_path / "broken.eelrec").write_text("nothing")
    with qtbot.waitSignal(comparison.said, timeout=PATIENCE_MS):
        window.commands.compare_with(tmp_path / "broken.eelrec")
    assert "is not a recording" in view.said.text()
