"""Threads that wait for one another are named, while the program runs and when it was stopped."""

from __future__ import annotations

from pathlib import Path

import pytest
from pytestqt.qtbot import QtBot
from support.driving import PATIENCE_MS, ended, opened

from eelgrass.desktop.tabs.threads_view import ThreadsView
from eelgrass.desktop.window.main_window import MainWindow
from eelgrass.lessons.demo_lesson import FOLDER

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


@pytest.mark.parametrize(
    ("first", "said"),
    [
        (
            "",
            "The run was ended: every thread waits, and none can go on any more. A deadlock",
        ),
        (
            "import socket; ",
            "The run was stopped: nobody could go on any more. A deadlock",
        ),
    ],
)
def test_a_deadlock_is_said(first: str, said: str, window: MainWindow, qtbot: QtBot, tmp_path: Path) -> None:
    program = tmp_path / "ferry.py"
    program.write_text(first + _FERRY)
    window.models.workspace.open(program)
    qtbot.waitUntil(lambda: any(_TOLD in its.text for its in window.models.messages.shown), timeout=30_000)
    qtbot.waitUntil(lambda: not window.models.run.is_running, timeout=30_000)  # it is ended when nobody can go on
    told = window.models.messages.latest.text
    assert told.startswith(f"{said}, in which nobody can go on: ")
    assert _TOLD in told
    view = window.view(ThreadsView)
    window.show_view(ThreadsView)
    window.models.parts.session.move("last")
    rows = [view.list.item(row) for row in range(view.list.count())]
    assert [its.text().partition(":")[0] for its in rows if its is not None] == ["main", "pilot", "mate"]
    assert rows[1] is not None
    assert "waits at line 7 for pier_lock, held by “mate” since line 5 · has ferry_lock since line 5" in rows[1].text()
    view.list.itemClicked.emit(rows[1])
    recording = window.models.parts.session.recording
    assert recording is not None
    assert recording.trace.line_of(window.models.parts.session.step) == 7


def test_an_order_that_goes_wrong_is_found_kept_and_shown(window: MainWindow, qtbot: QtBot, tmp_path: Path) -> None:
    opened(window, qtbot, tmp_path / "tally.py", (FOLDER / "eel_tally" / "eel_tally.py").read_text())
    view, session = window.view(ThreadsView), window.models.parts.session
    window.show_view(ThreadsView)
    assert view.order.text() == "Turns in the usual order. The same again in each run."
    ended(window, qtbot, view.wrong.click)
    case = window.models.launch.case
    assert (case.name, case in window.models.launch.cases) == ("goes wrong", True)
    assert len(case.turns.switches) == 1
    said = [its.text for its in window.models.messages.shown]
    assert any("kept as the case “goes wrong”: “eels: " in its for its in said)

    def lines() -> list[str]:
        return [its.text() for row in range(view.list.count()) if (its := view.list.item(row)) is not None]

    qtbot.waitUntil(
        lambda: any("A lost update: “gull” read “tally” (0)" in its for its in lines()), timeout=PATIENCE_MS
    )
    race = view.list.item(view.list.count() - 1)
    assert race is not None
    recording = session.recording
    assert recording is not None
    places = []
    for _ in range(3):
        view.list.itemClicked.emit(race)
        places.append((recording.thread_steps.of_step[session.step], recording.trace.line_of(session.step)))
        race = view.list.item(view.list.count() - 1)
        assert race is not None
    assert places == [(1, 11), (2, 12), (1, 12)], "it read, the other wrote, it wrote"
    titles = [its.layer.title for its in window.stack.placed]
    assert titles[0] == "module"
    session.move("next_thread")
    assert recording.thread_steps.of_step[session.step] != 1
    ended(window, qtbot, view.usual.click)
    assert view.order.text() == "Turns in the usual order. The same again in each run."
