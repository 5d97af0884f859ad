"""Where the keys are: in a field, in the text, at the moves; nobody has to wonder."""

from __future__ import annotations

from pathlib import Path

import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import (
    QAbstractButton,
    QAbstractSpinBox,
    QApplication,
    QComboBox,
    QMenu,
    QScrollBar,
    QTabBar,
    QWidget,
)
from pytestqt.qtbot import QtBot
from support.driving import PATIENCE_MS, ended, opened
from support.programs import TALLY

from eelgrass.desktop.tabs.breakpoints.breakpoint_dialog import BreakpointDialog
from eelgrass.desktop.tabs.exceptions_view import ExceptionsView
from eelgrass.desktop.tabs.output_view import OutputView
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


def test_what_is_typed_ahead_is_given_when_the_program_asks(window: MainWindow, qtbot: QtBot, tmp_path: Path) -> None:
    program = tmp_path / "crabs.py"
    program.write_text(
        "first = input('first? ')\nfor _ in range(200_000):\n    pass\nprint(first, input('second? '))\n"
    )
    with qtbot.waitSignal(window.models.run.asked, timeout=PATIENCE_MS):
        window.models.workspace.open(program)
    place = window.input_line.line
    window.commands.toggle_passes()
    assert place.isVisible(), "passes do not hide it"
    window.commands.toggle_passes()
    qtbot.keyClicks(place, "edible")
    window.commands.next_look()
    assert place.text() == "edible", "another look leaves what is half typed"
    qtbot.keyClick(place, Qt.Key.Key_Return)
    qtbot.keyClicks(place, "see")
    assert place.isVisible()
    assert not window.source.is_editing, "E and S are letters here"
    ended(window, qtbot, lambda: qtbot.keyClick(place, Qt.Key.Key_Return))
    assert window.models.run.typed == (("edible", "see"), False)
    assert "edible see" in window.view(OutputView).toPlainText()
    assert not place.isVisible()


def test_reading_all_input_waits_until_there_is_no_more_which_is_kept(
    window: MainWindow, qtbot: QtBot, tmp_path: Path
) -> None:
    program = tmp_path / "gauges.py"
    program.write_text("import sys\nprint(len(sys.stdin.read().splitlines()), 'levels', [*sys.stdin])\n")
    with qtbot.waitSignal(window.models.run.asked, timeout=PATIENCE_MS):
        window.models.workspace.open(program)
    for level in ("3", "4"):
        qtbot.keyClicks(window.input_line.line, level)
        qtbot.keyClick(window.input_line.line, Qt.Key.Key_Return)
    assert window.models.run.is_waiting
    assert "2 lines typed so far" in window.input_line._words.text()
    ended(window, qtbot, window.input_line.no_more.click)
    assert "2 levels []" in window.view(OutputView).toPlainText()
    window.models.launch.keep_case("two")
    ended(window, qtbot, window.commands.run_again)
    assert "2 levels []" in window.view(OutputView).toPlainText()
    assert window.models.launch.case.typed == (("3", "4"), True)


_CRABS = """\
crabs = {"edible": [3, 1], "shore": [4]}
for kind in crabs:
    try:
        print(kind, crabs[kind][1])
    except IndexError:
        print("only one", kind)
"""


_BESIDE = """\
import threading
stopped = threading.Event()
def beside():
    count = 0
    while not stopped.wait(0.0005):
        count += 1
thread = threading.Thread(target=beside)
thread.start()
tide = input("tide? ")
stopped.set()
thread.join()
print("the tide is", tide)
"""


def _focused() -> str:
    focused = QApplication.focusWidget()
    return focused.accessibleName() if focused is not None else ""


def test_every_part_is_walked_by_keys(
    window: MainWindow, qtbot: QtBot, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    opened(window, qtbot, tmp_path / "crabs.py", _CRABS)
    qtbot.waitUntil(lambda: QApplication.activeWindow() is window)
    session, stack = window.models.parts.session, window.stack
    for key in (Qt.Key.Key_Right, Qt.Key.Key_Right, Qt.Key.Key_Right, Qt.Key.Key_B, Qt.Key.Key_F6):
        _press(key)
    assert _focused() == "How this line works out"
    _press(Qt.Key.Key_Return)
    qtbot.waitUntil(lambda: bool(window.models.trails.title), timeout=PATIENCE_MS)
    window.statement.setFocus(Qt.FocusReason.TabFocusReason)
    _press(Qt.Key.Key_F6)
    assert stack.hasFocus()
    step, rows = session.step, len(stack.placed[-1].rows)
    while not stack.accessibleDescription().startswith("crabs"):
        _press(Qt.Key.Key_Down)
    _press(Qt.Key.Key_Return)
    assert len(stack.placed[-1].rows) > rows, "Enter opens what a click opens"
    _press(Qt.Key.Key_Left)
    assert len(stack.placed[-1].rows) == rows
    menus: list[QMenu] = []
    monkeypatch.setattr(QMenu, "exec", lambda menu, *_of: menus.append(menu))
    _press(Qt.Key.Key_Menu)
    assert any("Where from? crabs" in action.text() for action in menus[0].actions())
    assert session.step == step, "the arrows walked the rows, not the program"
    window.show_view(OutputView)
    _press(Qt.Key.Key_F6)
    assert window.view(OutputView).hasFocus()
    _press(Qt.Key.Key_End)
    _press(Qt.Key.Key_PageDown)
    _press(Qt.Key.Key_Return)
    assert session.recording is not None
    assert session.recording.trace.line_of(session.step) == 6
    assert "Printed by line 6" in window.view(OutputView).toolTip()
    _press(Qt.Key.Key_F6)
    assert window.timeline.hasFocus()
    _press(Qt.Key.Key_Left)
    assert session.recording.trace.line_of(session.step) == 4, "the exception's mark"
    _press(Qt.Key.Key_Left)
    assert session.step == step, "the bookmark"
    window.show_view(ExceptionsView)
    window.view(ExceptionsView).setFocus(Qt.FocusReason.TabFocusReason)
    _press(Qt.Key.Key_Down)
    _press(Qt.Key.Key_Return)
    assert session.recording.trace.line_of(session.step) == 4
    _press(Qt.Key.Key_Escape)
    assert window.layout_.hasFocus()


def test_whatever_can_have_the_keys_has_a_name(window: MainWindow, qtbot: QtBot, tmp_path: Path) -> None:
    opened(window, qtbot, tmp_path / "crabs.py", _CRABS)
    nameless = []
    for widget in window.findChildren(QWidget):
        parts = (QComboBox, QAbstractSpinBox)
        is_part = (
            widget.window() is not window
            or widget.objectName().startswith("qt_")
            or isinstance(widget.parentWidget(), parts)
        )
        if widget.focusPolicy().value & Qt.FocusPolicy.TabFocus.value and not is_part:
            text = widget.text() if isinstance(widget, QAbstractButton) else ""
            if not (widget.accessibleName() or text or isinstance(widget, (QTabBar, QScrollBar))):
                nameless.append(f"{type(widget).__name__} in {type(widget.parentWidget()).__name__}")
    assert not nameless, "\n".join(nameless)


def test_a_click_on_a_row_brings_the_keys_back(window: MainWindow, qtbot: QtBot, tmp_path: Path) -> None:
    opened(window, qtbot, tmp_path / "crabs.py", _CRABS)
    qtbot.waitUntil(lambda: QApplication.activeWindow() is window)
    view = window.show_view(ExceptionsView)
    window.show_view(WatchView).line.setFocus()
    window.show_view(ExceptionsView)
    viewport = view.viewport()
    assert viewport is not None
    qtbot.mouseClick(viewport, Qt.MouseButton.LeftButton, pos=view.visualItemRect(view.item(0)).center())
    assert window.layout_.hasFocus()


def test_a_key_that_can_do_nothing_says_why(window: MainWindow, qtbot: QtBot, tmp_path: Path) -> None:
    qtbot.waitUntil(lambda: QApplication.activeWindow() is window)
    actions = window.actions_by_id
    assert not actions["next_line"].isEnabled()
    _press(Qt.Key.Key_Right)
    assert window.notice_bar.text().startswith("There is no recording on view")
    opened(window, qtbot, tmp_path / "tally.py", _TALLY)
    window.take_keys()
    for key, words in ((Qt.Key.Key_U, "No other run"), (Qt.Key.Key_X, "No exception"), (Qt.Key.Key_J, "No trail")):
        _press(key)
        assert window.notice_bar.text().startswith(words)
    _press(Qt.Key.Key_Left)
    assert window.top_bar._place.text().startswith("no further · step ")
    assert actions["difference"].toolTip().endswith("puts one there.")
    _press(Qt.Key.Key_B)
    assert actions["next_mark"].isEnabled()


def test_in_the_text_the_caret_begins_at_the_waterline_and_keys_with_ctrl_are_the_windows(
    window: MainWindow, qtbot: QtBot, tmp_path: Path
) -> None:
    opened(window, qtbot, tmp_path / "tabs.py", "def level():\n\tgauge = 3\n\treturn gauge\nprint(level())\n")
    qtbot.waitUntil(lambda: QApplication.activeWindow() is window)
    for key in (Qt.Key.Key_Right, Qt.Key.Key_Down, Qt.Key.Key_E):
        _press(key)
    editor, look = window.source.editor, window.models.settings.values.look
    assert editor.getCursorPosition() == (1, 1), "the line about to run, at its first word"
    QTest.keyClick(editor, Qt.Key.Key_End)
    QTest.keyClick(editor, Qt.Key.Key_Return)
    QTest.keyClicks(editor, "gauge")
    assert editor.text(2).rstrip() == "\tgauge", "a file with tabs gets tabs"
    before = editor.text()
    QTest.keyClick(editor, Qt.Key.Key_L, Qt.KeyboardModifier.ControlModifier)
    assert window.models.settings.values.look != look
    assert editor.text() == before, "and no line is cut"
    QTest.keyClick(editor, Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
    assert editor.text() != before


def test_what_is_typed_reaches_a_program_whose_other_thread_goes_on(
    window: MainWindow, qtbot: QtBot, tmp_path: Path
) -> None:
    program = tmp_path / "ferry.py"
    program.write_text(_BESIDE)
    with qtbot.waitSignal(window.models.run.asked, timeout=PATIENCE_MS):
        window.models.workspace.open(program)
    with qtbot.waitSignal(window.models.run.runner.progressed, timeout=PATIENCE_MS):
        pass
    assert window.models.run.is_waiting
    qtbot.keyClicks(window.input_line.line, "out")
    ended(window, qtbot, lambda: qtbot.keyClick(window.input_line.line, Qt.Key.Key_Return))
    assert "the tide is out" in window.view(OutputView).toPlainText()
