"""The kept cases of a program that is no exercise, all run at once."""

from __future__ import annotations

from pathlib import Path

import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QInputDialog
from pytestqt.qtbot import QtBot
from support.driving import PATIENCE_MS, ended, opened, type_at

from eelgrass.desktop.tabs.cases_view import CasesView
from eelgrass.desktop.window.main_window import MainWindow

_FERRY = """\
import sys
seats = 4
for size in map(int, sys.argv[1:]):
    seats -= size
    print(size, 'aboard,', seats, 'left')
"""


def _rows(window: MainWindow) -> list[str]:
    items = window.view(CasesView).list.findItems("", Qt.MatchFlag.MatchContains)
    return [item.text() for item in items]


def test_kept_cases_run_at_once_and_say_which_do_otherwise_than_before(
    window: MainWindow, qtbot: QtBot, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    opened(window, qtbot, tmp_path / "ferry.py", _FERRY)
    for name, arguments in (("none", ()), ("two", ("2", "1"))):
        ended(window, qtbot, lambda given=arguments: window.models.launch.set_arguments(given))
        monkeypatch.setattr(QInputDialog, "getText", lambda *_of, name=name: (name, True))
        window.actions_by_id["keep_case"].trigger()
    assert _rows(window) == ["none – not run yet", "two – not run yet"]
    type_at(window, qtbot, 4, 0, "    size += 1\n")
    with qtbot.waitSignal(window.models.kept_cases.lane.done, timeout=PATIENCE_MS):
        window.actions_by_id["cases"].trigger()
    assert _rows(window) == [
        "none – as before",
        "two – differs: First at line 5, there line 4: seats is 1, and 2 in the other run.",
    ]
    view, session = window.view(CasesView), window.models.parts.session
    view.list.setCurrentRow(1)
    with qtbot.waitSignal(window.models.comparison.compared, timeout=PATIENCE_MS):
        qtbot.keyClick(view.list, Qt.Key.Key_Return)
        qtbot.waitUntil(lambda: window.models.comparison.beside is not None, timeout=PATIENCE_MS)
    assert session.recording is not None
    assert session.recording.trace.line_of(session.step) == 5
    assert window.models.launch.case.name == "two"
    view.accept.click()
    assert _rows(window)[1] == "two – as before"
    with qtbot.waitSignal(window.models.kept_cases.lane.done, timeout=PATIENCE_MS):
        view.run_all.click()
    assert _rows(window)[1] == "two – as before"
