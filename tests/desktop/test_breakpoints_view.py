"""Breakpoints, notes and claims in the window."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

from conftest import Record
from PyQt6.QtCore import Qt, QTimer
from PyQt6.QtWidgets import QApplication
from pytestqt.qtbot import QtBot
from support.driving import ended, opened
from support.programs import BEDS, CREW_CLAIMS

from eelgrass.desktop.tabs.breakpoints.breakpoint_dialog import BreakpointDialog
from eelgrass.desktop.tabs.breakpoints.breakpoints_view import BreakpointsView
from eelgrass.desktop.tabs.breakpoints.log_view import LogView
from eelgrass.desktop.window.main_window import MainWindow
from eelgrass.reading.recording import Recording


def test_a_breakpoint_is_set_listed_gone_to_and_kept_through_an_edit(
    window: MainWindow, qtbot: QtBot, tmp_path: Path
) -> None:
    program = tmp_path / "beds.py"
    program.write_text(BEDS)
    ended(window, qtbot, lambda: window.models.workspace.open(program))
    keys, session, listed = Qt.Key, window.models.parts.session, window.view(BreakpointsView).list
    window.source.gutter.marked.emit(4)
    assert _row(window, 0) == "line 4: 4 hits"
    assert list(window.source.gutter.breakpoints) == [4]
    plain = window.timeline.grab().toImage()
    assert session.recording is not None
    visits = session.recording.visits.of_line(0, 4).tolist()
    for expected in visits:
        qtbot.keyClick(window, keys.Key_PageDown)
        assert session.step == expected
    qtbot.keyClick(window, keys.Key_PageUp)
    assert session.step == visits[2]
    item = listed.item(0)
    assert item is not None
    item.setCheckState(Qt.CheckState.Unchecked)
    assert _row(window, 0) == "line 4: off"
    assert window.timeline.grab().toImage() != plain
    window.view(BreakpointsView).all.click()
    assert _row(window, 0) == "line 4: 4 hits"
    program.write_text("# counted at low tide\n" + BEDS)
    ended(window, qtbot, lambda: window.commands.run_again())
    assert [its.line for its in window.models.parts.breakpoints.breakpoints] == [5]
    assert len(window.models.parts.breakpoints.hits[0].steps) == 4
    window.models.claims.release_all()  # as if it had been closed
    again = MainWindow()
    qtbot.addWidget(again)
    program.write_text("# and once more\n# at high tide\n" + BEDS)
    ended(again, qtbot, lambda: again.models.workspace.open(program))
    assert [its.line for its in again.models.parts.breakpoints.breakpoints] == [6], (
        "kept, also when the text was changed elsewhere"
    )
    other = tmp_path / "reef.py"
    other.write_text("level = 1\n")
    for path in (other, program):
        opened(again, qtbot, path)
    assert [its.line for its in again.models.parts.breakpoints.breakpoints] == [6], (
        "also when something else was open in between"
    )
    program.write_text("level = 3\n")
    ended(again, qtbot, lambda: again.commands.run_again())
    assert _row(again, 0) == "gone: beds = total: its statement is no longer in the text"
    assert "is gone: “beds = total”" in again.notice_bar.text()
    listed.setCurrentRow(0)
    qtbot.keyClick(window.view(BreakpointsView), keys.Key_Delete)
    assert window.models.parts.breakpoints.breakpoints == []


def _row(window: MainWindow, row: int) -> str:
    item = window.view(BreakpointsView).list.item(row)
    assert item is not None
    return item.text()


def test_notes_and_claims_are_asked_for_and_lead_to_their_steps(
    window: MainWindow, qtbot: QtBot, record: Record
) -> None:
    recording = record(BEDS)
    window.models.parts.session.show(recording)
    visits = recording.visits.of_line(0, 3).tolist()
    window.models.parts.session.go(visits[1])
    with Filling(qtbot, lambda form: form.note.setText("now {total}")):
        qtbot.keyClick(window, Qt.Key.Key_N)
    with Filling(qtbot, lambda form: form.condition.setText("total < 10")):
        window.actions_by_id["claim"].trigger()
    qtbot.waitUntil(lambda: not window.models.parts.breakpoints.lane.is_busy, timeout=30_000)
    assert window.models.parts.breakpoints.log == [(visits[1], "now 2")]
    note = window.view(LogView).item(0)
    assert note is not None
    window.models.parts.session.go(0)
    window.view(LogView).itemClicked.emit(note)
    assert window.models.parts.session.step == visits[1]
    broken = int(window.models.parts.breakpoints.hits[0].steps[0])
    assert _row(window, 0) == f"claim: everywhere, total < 10: broken at step {broken}: total = 14 (2 times in all)"
    window.actions_by_id["next_mark"].trigger()
    assert window.models.parts.session.step == broken, "the breach is a stop, the note is none"


class Filling:
    """While the window asks for a breakpoint, fills in the form and says yes."""

    def __init__(self, qtbot: QtBot, fill: Callable[[BreakpointDialog], None]) -> None:
        self._fill = fill
        self.asked = False

    def __enter__(self) -> None:
        QTimer.singleShot(0, self._answer)

    def _answer(self) -> None:
        form = QApplication.activeModalWidget()
        assert isinstance(form, BreakpointDialog)
        form._accept()
        assert form.said.text(), "what is missing is said"
        self._fill(form)
        form._accept()
        self.asked = True

    def __exit__(self, *_: object) -> None:
        assert self.asked


def test_a_breakpoint_on_a_value_is_asked_for_where_the_value_stands(
    window: MainWindow, qtbot: QtBot, record: Record
) -> None:
    recording: Recording = record(CREW_CLAIMS)
    window.models.parts.session.show(recording)
    window.models.parts.session.move("last")
    QTimer.singleShot(0, lambda: QApplication.activeModalWidget()._accept())  # type: ignore[union-attr]
    window.stack.watched.emit("write", "boat.seats[1]", 0)
    assert _row(window, 0) == "boat.seats[1] is written: 1 hit"
