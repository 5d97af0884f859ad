"""The views one by one."""

from __future__ import annotations

import sys
import threading
from itertools import pairwise
from pathlib import Path

import pytest
from conftest import Record
from PyQt6.QtCore import QEvent, QMimeData, QObject, QPoint, QPointF, Qt, QTranslator, QUrl
from PyQt6.QtGui import QDropEvent, QKeySequence, QMouseEvent, QPaintEvent, QWheelEvent
from PyQt6.QtWidgets import QApplication
from pytestqt.qtbot import QtBot
from support.driving import ended

from eelgrass.desktop import app
from eelgrass.desktop.call_stack.stack_view import place
from eelgrass.desktop.commands.dialogs.shortcuts_dialog import ShortcutsDialog
from eelgrass.desktop.services import crash_reports
from eelgrass.desktop.source.gutter import _short
from eelgrass.desktop.tabs.exceptions_view import ExceptionsView
from eelgrass.desktop.window.main_window import MainWindow
from eelgrass.reading.hover import name_at
from eelgrass.reading.stack.rows import FrameRows, Row, ValueRow
from eelgrass.reading.state.formats import fitting

LOOPS = "beds = []\nfor bed in range(40):\n    beds.append(bed)\n    if bed > 90:\n        bed = 0\n"


def test_layers_lie_below_each_other_and_step_in(qtbot: QtBot) -> None:
    rows: list[Row] = [ValueRow("level"), ValueRow("total")]
    stack_rows = [FrameRows(number, "dive", "", number, number == 11, number, rows) for number in range(12)]
    placed = place(stack_rows, 600)
    assert all(above.rect.bottom() < below.rect.top() for above, below in pairwise(placed))
    lefts = [layer.rect.left() for layer in placed]
    assert lefts[:9] == sorted(set(lefts[:9]))
    assert lefts[8:] == [lefts[8]] * 4, "a deep stack does not run out of the window"
    for layer in placed:
        assert layer.rect.right() <= 600
        assert all(layer.rect.contains(row.rect) for row in layer.rows)


@pytest.mark.parametrize(("count", "text"), [(0, "0"), (9999, "9999"), (10_000, "10k"), (3_400_000, "3M")])
def test_counts_fit_into_the_gutter(count: int, text: str) -> None:
    assert _short(count) == text


def wheel(view: object, x: float, notches: int) -> None:
    at = QPointF(x, 60)
    event = QWheelEvent(
        at,
        at,
        QPoint(),
        QPoint(0, 120 * notches),
        Qt.MouseButton.NoButton,
        Qt.KeyboardModifier.NoModifier,
        Qt.ScrollPhase.NoScrollPhase,
        False,
    )
    view.wheelEvent(event)  # type: ignore[attr-defined]


def test_the_tide_line_zooms_about_the_pointer_and_keeps_the_reader_on_view(
    window: MainWindow, record: Record, qtbot: QtBot
) -> None:
    window.models.parts.session.show(record(LOOPS))
    timeline = window.timeline
    steps = [timeline.step_at(timeline.x_of(step + 0.5)) for step in range(100)]
    assert steps == list(range(100)), "place and step are each other's inverse"
    x = timeline.x_of(50.5)
    wheel(timeline, x, 6)
    assert timeline.step_at(x) == 50
    assert timeline.x_of(51) - timeline.x_of(50) > 15
    window.models.parts.session.move("last")
    last = window.models.parts.session.step
    assert 0 < timeline.x_of(last) < timeline.width()
    wheel(timeline, x, -40)
    assert (timeline.step_at(0), timeline.step_at(timeline.width())) == (0, last)


def test_the_margin_is_painted_anew_when_a_move_scrolls_the_text(
    window: MainWindow, record: Record, qtbot: QtBot
) -> None:
    text = "\n".join(f"level_{number} = {number}" for number in range(90)) + "\n"
    window.models.parts.session.show(record(text))
    gutter, painted = window.source.gutter, []

    class Watch(QObject):
        def eventFilter(self, _watched: QObject | None, event: QEvent | None) -> bool:
            if isinstance(event, QPaintEvent):
                painted.append(event.region().boundingRect())
            return False

    watch = Watch()
    QApplication.processEvents()
    gutter.installEventFilter(watch)
    window.models.parts.session.move("last")
    assert window.source.editor.firstVisibleLine() > 40
    qtbot.waitUntil(lambda: gutter.rect() in painted, timeout=10_000)


def test_lines_that_never_run_are_hatched_and_unreached_ones_fade(
    window: MainWindow, record: Record, qtbot: QtBot
) -> None:
    window.models.parts.session.show(record(LOOPS))
    assert window.source.editor._faded == {3, 4, 5, 2}, "at the first line, everything after it is still to come"
    window.models.parts.session.move("last")
    assert window.source.editor._faded == {5}
    counts = window.source.gutter.counts
    assert (counts[5].in_all, counts[3].in_all, counts[2].in_all) == (0, 40, 41)


def test_pointing_at_a_name_shows_its_value_now_and_when_its_line_last_ran(window: MainWindow, record: Record) -> None:
    recording = record(
        "class Crab:\n    pass\ncrab = Crab()\ncrab.place = 1\nfor by in (2, 3):\n    crab.place += by\nend = 0\n"
    )
    window.models.parts.session.show(recording)
    window.models.parts.session.go(int(recording.visits.of_line(0, 6)[1]))
    editor = window.source.editor
    editor.SendScintilla(editor.SCI_GOTOPOS, 0)
    start = editor.text().index("crab.place += by")

    def at(offset: int) -> QPoint:
        x = editor.SendScintilla(editor.SCI_POINTXFROMPOSITION, 0, start + offset)
        return QPoint(x + 3, editor.SendScintilla(editor.SCI_POINTYFROMPOSITION, 0, start + offset) + 5)

    card = window.source.cards.point_at(at(6))
    assert card is not None
    assert (card.name, card.head.text()) == ("crab.place", "crab.place  ·  whole number")
    assert card.text.text() == "3\nwhen line 6 last ran: 1"
    left, keys = Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier
    card.mousePressEvent(QMouseEvent(QEvent.Type.MouseButtonPress, QPointF(3, 3), left, left, keys))
    window.models.parts.session.move("last")
    assert card.text.text() == "6\nwhen line 6 last ran: 3", "a card that is kept follows"
    other = window.source.cards.point_at(at(14))
    assert other is not None
    assert other.name == "by"
    assert len(window.source.cards.cards) == 2
    assert window.source.cards.point_at(QPoint(5000, 5000)) is None
    assert [name_at("if crab.place > by2:", column) for column in (0, 3, 10, 14, 17)] == [
        *("", "crab", "crab.place", "", "by2"),
    ]


def test_only_the_names_of_this_line(window: MainWindow, record: Record, qtbot: QtBot) -> None:
    recording = record("beds = 2\nshoots = 3\ntide = 4\nif shoots > beds:\n    tide = 1\n")
    window.models.parts.session.show(recording)
    window.models.parts.session.go(int(recording.visits.of_line(0, 4)[0]))
    qtbot.keyClick(window, Qt.Key.Key_F)
    assert [row.row.name for row in window.stack.placed[0].rows] == ["beds", "shoots", "and 1 more names"]
    qtbot.keyClick(window, Qt.Key.Key_F)
    assert [row.row.name for row in window.stack.placed[0].rows] == ["beds", "shoots", "tide"]


def test_the_tide_line_is_zoomed_by_keys_and_shows_marks(window: MainWindow, record: Record, qtbot: QtBot) -> None:
    recording = record(LOOPS)
    window.models.parts.session.show(recording)
    window.models.parts.session.go(int(recording.visits.of_line(0, 3)[20]))
    plain = window.timeline.grab().toImage()
    qtbot.keyClick(window, Qt.Key.Key_B)
    assert window.timeline.grab().toImage() != plain, "the bookmark shows"
    whole = window.timeline._to - window.timeline._from
    qtbot.keyClick(window, Qt.Key.Key_Z)
    assert window.timeline._to - window.timeline._from == pytest.approx(whole / 2, rel=0.01)
    assert window.timeline._from <= window.models.parts.session.step <= window.timeline._to
    qtbot.keyClick(window, Qt.Key.Key_0)
    assert window.timeline._to - window.timeline._from == whole


def test_values_in_other_clothes_stay_with_their_name(window: MainWindow, record: Record) -> None:
    recording = record("level = 65\ndepth = 0.1\nword = 'a b\\n'\nlevel = 66\n")
    window.models.parts.session.show(recording)
    window.models.parts.session.go(int(recording.visits.of_line(0, 4)[0]))

    def shown() -> dict[str, str]:
        return {row.row.name: row.row.text for row in window.stack.placed[0].rows if isinstance(row.row, ValueRow)}

    for name, how, text in (
        ("level", "hexadecimal", "0x41"),
        ("level", "binary", "0b1000001"),
        ("level", "character", "'A'"),
        ("depth", "exact", "0.1000000000000000055511151231257827021181583404541015625"),
        ("word", "with marks", "“a␣b⏎” (4 characters)"),
        ("word", "codes", "97 32 98 10"),
    ):
        window.models.parts.options.set_format(name, how)
        assert shown()[name] == text
    window.models.parts.session.move("last")
    assert shown()["level"] == "'B'", "it goes with the name"
    window.close()
    assert MainWindow().models.parts.options.formats["level"] == "character", "it is remembered"
    window.models.parts.options.set_format("level", "")
    assert shown()["level"] == "66"
    assert fitting(True) == fitting(None) == []
    shared = record("beds = [1]\nsame = beds\ncopy = [1]\nend = 0\n")
    stack_rows = shared.stack_rows.at(shared.stepping.last())
    assert shared.stack_rows.leads_of(stack_rows[0], stack_rows[0].rows[0], shared.stepping.last()) == (
        ["beds", "same"],
        ["copy"],
    )


def test_all_exceptions_of_a_run_are_listed_and_lead_to_their_place(window: MainWindow, record: Record) -> None:
    recording = record("try:\n    {}['mud']\nexcept KeyError:\n    pass\nlevel = 1\nlevel / 0\n")
    window.models.parts.session.show(recording)
    listed = [window.view(ExceptionsView).item(row) for row in range(window.view(ExceptionsView).count())]
    assert [item.text() for item in listed if item] == [
        "line 2: KeyError: 'mud' – caught where it was raised, and nothing was ever said of it",
        "line 6: ZeroDivisionError: division by zero – not caught",
    ]
    assert listed[0] is not None
    window.view(ExceptionsView).itemClicked.emit(listed[0])
    assert recording.trace.line_of(window.models.parts.session.step) == 2


def test_what_is_said_can_be_said_in_another_language(qtbot: QtBot, tmp_path: Path) -> None:
    class Other(QTranslator):
        def translate(self, context: str | None, text: str | None, *_: object) -> str:  # type: ignore[override]
            return f"~{text}" if context == "eelgrass" else ""

    translator = Other()
    QApplication.installTranslator(translator)
    try:
        window = MainWindow()
        qtbot.addWidget(window)
        window.models.workspace.open(tmp_path / "nowhere.eelrec")
        assert window.actions_by_id["into"].text() == "~Into"
        assert window.tabs.tabText(2) == "~Output"
        assert all(action.toolTip().startswith("~") for action in window.actions_by_id.values())
    finally:
        QApplication.removeTranslator(translator)


def test_an_error_of_ours_is_reported_and_told(window: MainWindow, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(sys, "excepthook", sys.excepthook)
    monkeypatch.setattr(threading, "excepthook", threading.excepthook)
    reports = crash_reports.CrashReports()
    reports.told.connect(lambda sentence: window.models.messages.say(sentence, is_trouble=True))
    reports.install()
    try:
        raise RuntimeError("mud")
    except RuntimeError as error:
        sys.excepthook(RuntimeError, error, error.__traceback__)
    assert "Something went wrong in Eelgrass itself (RuntimeError)" in window.notice_bar.text()
    (report,) = crash_reports.reports_folder().glob("*.txt")
    assert "RuntimeError: mud" in report.read_text()
    assert str(report) in window.notice_bar.text()


def test_a_dropped_file_is_opened_and_remembered(window: MainWindow, qtbot: QtBot, tmp_path: Path) -> None:
    program = tmp_path / "bay.py"
    program.write_text("level = 1\n")
    data = QMimeData()
    data.setUrls([QUrl.fromLocalFile(str(program))])
    buttons, keys = Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier
    drop = QDropEvent(QPointF(5, 5), Qt.DropAction.CopyAction, data, buttons, keys)
    assert window.models.settings.recent_files == []
    ended(window, qtbot, lambda: window.dropEvent(drop))
    assert window.models.workspace.title == "bay.py"
    assert window.models.settings.recent_files == [program]
    program.unlink()
    assert window.models.settings.recent_files == [], "what is gone is not opened again"


def test_starting_without_a_display_says_so(
    monkeypatch: pytest.MonkeyPatch, capsys: pytest.CaptureFixture[str]
) -> None:
    for name in ("DISPLAY", "WAYLAND_DISPLAY", "QT_QPA_PLATFORM"):
        monkeypatch.delenv(name, raising=False)
    assert app.open_demo() == 1
    assert "no display" in capsys.readouterr().err


def test_keys_are_found_changed_and_kept(window: MainWindow, qtbot: QtBot) -> None:
    view = ShortcutsDialog(window, window.shortcuts, window.models.look)
    view.word.setText("seen from")
    assert all(item.isHidden() for item in view._items())
    view.word.setText("waterline")
    (item,) = [item for item in view._items() if not item.isHidden()]
    view.rows.setCurrentItem(item)
    assert view.key.keySequence().toString() == "W"
    view.key.setKeySequence(QKeySequence("Right"))
    view.take.click()
    assert view.said.text() == "Right is the key of “On” already."
    view.key.setKeySequence(QKeySequence("Ctrl+W"))
    view.take.click()
    assert (item.text(0), view.said.text()) == ("Ctrl+W *", "")
    window.models.settings.change(keys=window.shortcuts.kept)
    window.source.set_editing(True)
    assert window.actions_by_id["waterline"].shortcut().toString() == "Ctrl+W", "with Ctrl, also while one writes"
    assert window.actions_by_id["next_line"].shortcut().isEmpty()
    window.source.set_editing(False)
    again = MainWindow()
    qtbot.addWidget(again)
    its = again.actions_by_id["waterline"]
    assert (its.shortcut().toString(), its.toolTip()) == ("Ctrl+W", "Bring the line about to run into view (Ctrl+W)")
    assert again.shortcuts.change("look", "W") == ""
    assert again.shortcuts.reset("waterline") == "W is the key of “Next look” already."
    assert again.shortcuts.reset("look") == again.shortcuts.reset("waterline") == ""
    assert again.shortcuts.kept == ()
