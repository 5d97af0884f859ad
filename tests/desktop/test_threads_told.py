"""Threads that wait for one another are named, while the program runs and when it was stopped."""

from __future__ import annotations

from pathlib import Path

from pytestqt.qtbot import QtBot

from eelgrass.desktop.tabs.threads_view import ThreadsView
from eelgrass.desktop.window.main_window import MainWindow

_FERRY = """\
import threading
ferry_lock, pier_lock = threading.Lock(), threading.Lock()
both = threading.Barrier(2)
def sail(first, second):
    with first:
        both.wait()
        with second:
            pass
crew = [threading.Thread(target=sail, args=locks, name=name) for name, locks in (
    ("pilot", (ferry_lock, pier_lock)), ("mate", (pier_lock, ferry_lock)))]
for its in crew:
    its.start()
"""
_TOLD = "“pilot” waits at line 7 for pier_lock, held by “mate” since line 5"


def test_a_deadlock_is_said(window: MainWindow, qtbot: QtBot, tmp_path: Path) -> None:
    program = tmp_path / "ferry.py"
    program.write_text(_FERRY)
    window.models.workspace.open(program)
    qtbot.waitUntil(lambda: any(_TOLD in its.text for its in window.models.messages.shown), timeout=30_000)
    qtbot.waitUntil(lambda: not window.models.run.is_running, timeout=30_000)  # it is ended when nobody can go on
    told = window.models.messages.latest.text
    assert told.startswith("The run was stopped: nobody could go on any more. A deadlock, in which nobody can go on: ")
    assert _TOLD in told
    view = window.view(ThreadsView)
    window.show_view(ThreadsView)
    window.models.parts.session.move("last")
    rows = [view.item(row) for row in range(view.count())]
    assert [its.text().partition(":")[0] for its in rows if its is not None] == ["main", "pilot", "mate"]
    assert rows[1] is not None
    assert "waits at line 7 for pier_lock, held by “mate” since line 5 · has ferry_lock since line 5" in rows[1].text()
    view.itemClicked.emit(rows[1])
    recording = window.models.parts.session.recording
    assert recording is not None
    assert recording.trace.line_of(window.models.parts.session.step) == 7
