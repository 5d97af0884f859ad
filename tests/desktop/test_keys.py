"""Where the keys are: in a field, in the text, at the moves; nobody has to wonder."""

from __future__ import annotations

from pathlib import Path

import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication, QWidget
from pytestqt.qtbot import QtBot
from support.driving import opened
from support.programs import TALLY

from eelgrass.desktop.tabs.breakpoint_dialog import BreakpointDialog
from eelgrass.desktop.tabs.trail_view import TrailView
from eelgrass.desktop.tabs.watch_view import WatchView
from eelgrass.desktop.window.main_window import MainWindow
from eelgrass.reading.breakpoints.breakpoint import Breakpoint

_TALLY = TALLY + "\nbeds = [4, 1, 6]\nprint(tally(beds, 3))\n"


def _press(key: Qt.Key) -> None:
    """A key as it comes from outside: to the widget that has the keys, as a shortcut first."""
    focused = QApplication.focusWidget()
    assert focused is not None
    QTest.keyClick(focused, key)


def _begun(window: MainWindow, qtbot: QtBot, tmp_path: Path) -> None:
    opened(window, qtbot, tmp_path / "tally.py", _TALLY)
    qtbot.waitUntil(lambda: QApplication.activeWindow() is window)


def test_arrows_in_the_line_of_ask_bring_back_what_was_asked_and_escape_the_moves(
    window: MainWindow, qtbot: QtBot, tmp_path: Path
) -> None:
    _begun(window, qtbot, tmp_path)
    session, view = window.models.parts.session, window.view(WatchView)
    window.commands.ask()
    for text in ("beds", "len(beds)"):
        view.line.setText(text)
        QTest.keyClick(view.line, Qt.Key.Key_Return)
    step = session.step
    _press(Qt.Key.Key_Up)
    _press(Qt.Key.Key_Up)
    assert (view.line.text(), session.step) == ("beds", step)
    _press(Qt.Key.Key_Down)
    assert (view.line.text(), session.step) == ("len(beds)", step)
    _press(Qt.Key.Key_Escape)
    assert QApplication.focusWidget() is window.layout_
    _press(Qt.Key.Key_Right)
    assert session.step > step


def test_a_click_beside_the_text_on_the_tide_line_or_in_depths_brings_the_keys_back(
    window: MainWindow, qtbot: QtBot, tmp_path: Path
) -> None:
    _begun(window, qtbot, tmp_path)
    question = window.view(TrailView).question
    beside = window.source.gutter
    for widget in (beside, window.timeline, window.stack.viewport()):
        assert isinstance(widget, QWidget)
        window.show_view(TrailView)
        question.setFocus()
        assert question.hasFocus()
        QTest.mouseClick(widget, Qt.MouseButton.LeftButton)
        assert not question.hasFocus()
        step = window.models.parts.session.step
        _press(Qt.Key.Key_Home)
        _press(Qt.Key.Key_Right)
        assert window.models.parts.session.step != step or step > 0


def test_another_program_has_the_keys_at_once(window: MainWindow, qtbot: QtBot, tmp_path: Path) -> None:
    _begun(window, qtbot, tmp_path)
    window.commands.ask()
    assert window.view(WatchView).line.hasFocus()
    opened(window, qtbot, tmp_path / "other.py", "print(1)\nprint(2)\n")
    assert window.layout_.hasFocus()


def test_while_the_text_is_written_keys_are_letters_only_in_the_text(
    window: MainWindow, qtbot: QtBot, tmp_path: Path
) -> None:
    _begun(window, qtbot, tmp_path)
    session = window.models.parts.session
    session.move("first")
    window.commands.toggle_editing()
    QTest.keyClicks(window.source.editor, "a")
    assert "a" in window.source.editor.text().split("\n")[0] or window.source.editor.isModified()
    QTest.mouseClick(window.timeline, Qt.MouseButton.LeftButton, pos=window.timeline.rect().bottomLeft())
    step = session.step
    _press(Qt.Key.Key_Right)
    assert session.step != step


@pytest.mark.parametrize(
    ("its", "field"),
    [
        (Breakpoint(""), "name"),
        (Breakpoint("", note=" "), "note"),
        (Breakpoint("", kind="everywhere", claims=True), "condition"),
    ],
)
def test_a_dialog_begins_in_the_field_to_fill(
    window: MainWindow, qtbot: QtBot, tmp_path: Path, its: Breakpoint, field: str
) -> None:
    _begun(window, qtbot, tmp_path)
    recording = window.models.parts.session.recording
    assert recording is not None
    dialog = BreakpointDialog(window, recording, its, window.models.look)
    qtbot.addWidget(dialog)
    dialog.show()
    qtbot.waitUntil(lambda: getattr(dialog, field).hasFocus())
