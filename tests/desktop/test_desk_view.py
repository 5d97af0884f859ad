"""The desk on the screen: the program's windows in step, and what is clicked there becomes a part of the case."""

from __future__ import annotations

from pathlib import Path

import pytest
from PyQt6.QtCore import QPointF, Qt
from pytestqt.qtbot import QtBot
from support.desk_programs import HAS_TK, PAGES, TALLY
from support.driving import PATIENCE_MS, ended, opened

from eelgrass.desktop.desk.desk_view import DeskView
from eelgrass.desktop.desk.handlers_view import HandlersView
from eelgrass.desktop.exercise.case_dialog import CaseDialog
from eelgrass.desktop.window.main_window import MainWindow
from eelgrass.lessons.cases.case import Case
from eelgrass.reading.desk.doable import entries_of
from eelgrass.runs.order import Turns
from eelgrass.trace.model import Texts

pytestmark = pytest.mark.skipif(not HAS_TK, reason="this Python has no tkinter")


def _middle_of(view: DeskView, path: str) -> QPointF:
    left, top, width, height = view.picture.desk.at(path)
    (window,) = view.picture.placed
    at = QPointF(left + width / 2, top + height / 2) - window.part.topLeft()
    return window.rect.topLeft() + at * window.scale


def test_clicks_in_the_picture_are_done_in_the_program(window: MainWindow, qtbot: QtBot, tmp_path: Path) -> None:
    opened(window, qtbot, tmp_path / "tally.py", TALLY)
    view, session = window.view(DeskView), window.models.parts.session
    window.show_view(DeskView)
    session.move("last")
    view.picture.grab()
    button = _middle_of(view, ".!button").toPoint()
    qtbot.mouseClick(view.picture, Qt.MouseButton.LeftButton, pos=button)
    assert not window.models.launch.case.acts, "looking does nothing"
    view.click.click()
    for _ in range(2):
        ended(window, qtbot, lambda: qtbot.mouseClick(view.picture, Qt.MouseButton.LeftButton, pos=button))
    assert window.models.launch.case.acts == ("at 500 click add", "at 1000 click add")
    assert view.script.text() == "at 500 click add; at 1000 click add"
    qtbot.waitUntil(lambda: view.calls.count() > 1, timeout=PATIENCE_MS)
    first = view.calls.item(0)
    assert first is not None
    assert first.text() == "add, 1st of 2: click on “add” at 500 ms · count ← 1"
    view.calls.itemClicked.emit(first)
    recording = session.recording
    assert recording is not None
    assert recording.trace.line_of(session.step) == 5
    assert first.font().bold()
    assert "eels: 0" in view.picture.accessibleDescription()
    table = window.view(HandlersView)
    window.show_view(HandlersView)
    row = table.topLevelItem(1)
    assert row is not None
    assert [row.text(column) for column in range(5)] == [
        "add, 2nd of 2",
        "click on “add” at 1000 ms",
        "",
        "count ← 2",
        "",
    ]
    table.itemClicked.emit(row, 0)
    assert recording.trace.line_of(session.step) == 5
    assert row.font(0).bold()
    ended(window, qtbot, view.undo.click)
    assert window.models.launch.case.acts == ("at 500 click add",)


def test_what_is_there_is_chosen_where_it_is_clicked(window: MainWindow, qtbot: QtBot, tmp_path: Path) -> None:
    opened(window, qtbot, tmp_path / "pages.py", PAGES)
    view, session = window.view(DeskView), window.models.parts.session
    window.show_view(DeskView)
    view.click.click()

    def click(path: str, across: float, down: float) -> None:
        session.move("last")
        view.picture.grab()
        left, top, width, height = view.picture.desk.at(path)
        (its,) = view.picture.placed
        at = QPointF(left + across * width, top + down * height) - its.part.topLeft()
        place = (its.rect.topLeft() + at * its.scale).toPoint()
        ended(window, qtbot, lambda: qtbot.mouseClick(view.picture, Qt.MouseButton.LeftButton, pos=place))

    click(".!notebook.!frame.!listbox", 0.3, 0.4)
    click(".!notebook.!frame.!scale", 0.99, 0.5)
    click(".!notebook", 0.45, 0.05)
    click(".!notebook.!frame2.!canvas.!button", 0.5, 0.5)
    assert window.models.launch.case.acts == (
        'at 500 choose "cod" in listbox',
        'at 1000 choose "40" in scale',
        'at 1500 choose "Chart" in notebook',
        "at 2000 click mark",
    )
    recording = session.recording
    assert recording is not None
    assert "".join(recording.trace.texts.of(Texts.OUTPUT)) == "page 0\nchose cod\ndepth 40\npage 1\nmarked\n"
    assert entries_of(recording.desk.at(session.step), ".") == ("Open", "Save", "Help")


def test_a_board_is_used_in_its_picture(window: MainWindow, qtbot: QtBot, tmp_path: Path) -> None:
    text = "from tidepost import *\nimport time\nlamp, button, light = Pin(2, Pin.OUT), Pin(14, Pin.IN), Analog(26)\n"
    text += "for n in range(20):\n    lamp.value(button.value() and light.read_u16() > 50_000)\n    time.sleep(0.1)\n"
    opened(window, qtbot, tmp_path / "gate.py", text.replace("*", "Analog, Pin"))
    view, session = window.view(DeskView), window.models.parts.session
    window.show_view(DeskView)
    view.click.click()

    def click(name: str, share: float) -> None:
        session.move("last")
        view.picture.grab()
        its = next(its for its in view.picture.parts if its.name == name)
        at = QPointF(its.inside.left() + share * its.inside.width(), its.inside.center().y()) * view.picture.scale
        ended(window, qtbot, lambda: qtbot.mouseClick(view.picture, Qt.MouseButton.LeftButton, pos=at.toPoint()))

    click("pin 26", 0.9)
    click("pin 14", 0.5)
    level, press, release = window.models.launch.case.acts
    assert (level[:14], press, release) == ("at 500 set 26 ", "at 1000 press 14", "at 1200 release 14")
    assert 88 <= int(level.rpartition(" ")[2].removesuffix("%")) <= 92
    recording = session.recording
    assert recording is not None
    assert [(its.name, len(its.on)) for its in recording.bands] == [("pin 2", 1), ("pin 14", 1)]
    session.go(int(recording.bands[0].on[0][0]))
    assert "pin 2 on, pin 14 pressed: 1, pin 26" in view.picture.accessibleDescription()


def test_a_case_that_is_edited_keeps_what_is_done_at_the_desk_and_its_order(window: MainWindow) -> None:
    case = Case(
        "two clicks", acts=("at 500 click add", "at 900 key Left"), turns=Turns(3, ((8, 0),)), output="eels: 2\n"
    )
    form = CaseDialog(window, case, set(), window.models.look)
    assert form.made() == case
    form.acts.setPlainText("click add")
    assert "is not understood: “click add”" in form._trouble()
