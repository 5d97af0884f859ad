"""What a person is told who has never seen the window."""

from __future__ import annotations

import re
from pathlib import Path

from PyQt6.QtGui import QImage
from PyQt6.QtWidgets import QPushButton
from pytestqt.qtbot import QtBot

from eelgrass.desktop.app import introduce
from eelgrass.desktop.commands.action_table import ACTIONS
from eelgrass.desktop.commands.dialogs import manual_window
from eelgrass.desktop.commands.dialogs.manual_window import ManualWindow, pages
from eelgrass.desktop.window.main_window import MainWindow
from eelgrass.desktop.window.tab_table import TABS

_MANUAL = Path(manual_window.__file__).parents[3] / "manual"


def test_the_first_start_says_how_to_move_and_no_later_one(window: MainWindow, qtbot: QtBot) -> None:
    introduce(window)
    assert "Down goes into a call, Up out of it." in window.notice_bar.text()
    next(its for its in window.notice_bar.findChildren(QPushButton) if its.text() == "Seen").click()
    assert window.notice_bar.text() == ""
    again = MainWindow()
    qtbot.addWidget(again)
    introduce(again)
    assert again.notice_bar.text() == ""
    again.actions_by_id["first_steps"].trigger()
    assert "Right and Left" in again.notice_bar.text()


def test_the_manual_has_its_pictures_and_names_keys_as_they_are(window: MainWindow, qtbot: QtBot) -> None:
    window.actions_by_id["manual"].trigger()
    manual = window.findChild(ManualWindow)
    assert manual is not None
    assert manual.isVisible()
    titles = [title for title, _ in pages()]
    assert [manual.list.item(row).text() for row in range(manual.list.count())] == titles
    whole = " ".join(text for _, text in pages())
    for tab in (
        "Output",
        "Trace table",
        "Ask",
        "Trail",
        "Clues",
        "History",
        "Pictures",
        "Breakpoints",
        "Exceptions",
        "Threads",
        "Desk",
    ):
        assert tab in {its.title for its in TABS}
        assert tab.lower() in whole.lower(), "a page speaks of each tab"
    shown = re.findall(r"\((pictures/[\w-]+\.png)\)", whole)
    assert all("(pictures/" in text for _, text in pages())
    assert all(QImage(str(_MANUAL / name)).width() > 600 for name in shown)
    keys = {key for action in ACTIONS for key in action.keys} | {"Page Down", "Page Up", "Escape"}
    for named in re.findall(r"\*\*([^*]+?)\*\*", whole):
        if re.fullmatch(
            r"(Ctrl\+|Shift\+|Alt\+)*([A-Z.+-]|F\d|Left|Right|Up|Down|Home|End|Space|Escape|Page \w+)", named
        ):
            assert named in keys, f"{named} is no key of an action"
