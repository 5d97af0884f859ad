"""Breakpoints: their hits are all known at once, with conditions, and they go with their lines."""

from __future__ import annotations

from pathlib import Path

from conftest import Record
from PyQt6.QtCore import Qt
from pytestqt.qtbot import QtBot

from eelgrass.desktop.window import Window
from eelgrass.reading.breakpoints import Breakpoint, hits, moved

BEDS = """\
total = 0
for shoots in [2, 5, 7, 1]:
    total = total + shoots
    beds = total
if total > 90:
    beds = 0
"""


def test_hits_follow_line_condition_and_count(record: Record) -> None:
    recording = record(BEDS)
    file = recording.trace.program.modules[0].file
    visits = recording.visits.of_line(0, 3).tolist()

    def steps(**how: object) -> list[int]:
        return hits(recording, Breakpoint(file, how.pop("line", 3), **how)).steps.tolist()  # type: ignore[arg-type]

    assert steps() == visits
    assert steps(condition="shoots > 4") == visits[1:3]
    assert steps(every=2) == [visits[1], visits[3]]
    assert steps(condition="shoots > 1", every=2) == [visits[1]]
    assert steps(on=False) == steps(line=6) == []
    assert "not understand" in hits(recording, Breakpoint(file, 3, "shoots >")).why
    assert "Out of scope" in hits(recording, Breakpoint(file, 3, "mud > 1")).why


def test_breakpoints_go_with_their_lines() -> None:
    old = [Breakpoint("beds.py", 1), Breakpoint("beds.py", 3), Breakpoint("other.py", 9)]
    kept, gone = moved(old, "beds.py", "a = 1\nb = 2\nc = 3", "# new\na = 1\nzzzzzz(9)\nyyyyyyy()")
    assert [(its.file, its.line) for its in kept] == [("beds.py", 2), ("other.py", 9)]
    assert [its.line for its in gone] == [3]


def test_a_breakpoint_is_set_listed_gone_to_and_kept_through_an_edit(
    window: Window, qtbot: QtBot, tmp_path: Path
) -> None:
    program = tmp_path / "beds.py"
    program.write_text(BEDS)
    with qtbot.waitSignal(window.desk.runner.ended, timeout=30_000):
        window.desk.open(program)
    keys, reader = Qt.Key, window.reader
    window.text.gutter.marked.emit(4)
    listed = window.breakpoints.item(0)
    assert listed is not None
    assert listed.text() == "line 4: 4 hits"
    assert window.text.gutter.breakpoints == {4: True}
    plain = window.tide.grab().toImage()
    assert reader.recording is not None
    visits = reader.recording.visits.of_line(0, 4).tolist()
    for expected in visits:
        qtbot.keyClick(window, keys.Key_PageDown)
        assert reader.step == expected
    qtbot.keyClick(window, keys.Key_PageUp)
    assert reader.step == visits[2]
    listed.setCheckState(Qt.CheckState.Unchecked)
    off = window.breakpoints.item(0)
    assert off is not None
    assert off.text() == "line 4: off"
    assert window.tide.grab().toImage() != plain
    off.setCheckState(Qt.CheckState.Checked)
    program.write_text("# counted at low tide\n" + BEDS)
    with qtbot.waitSignal(window.desk.runner.ended, timeout=30_000):
        window.commands.run_again()
    assert [its.line for its in reader.breakpoints] == [5]
    assert len(reader.hits[0].steps) == 4
    again = Window()
    qtbot.addWidget(again)
    with qtbot.waitSignal(again.desk.runner.ended, timeout=30_000):
        again.desk.open(program)
    assert again.reader.breakpoints == reader.breakpoints, "they are kept for the next time"
    other = tmp_path / "reef.py"
    other.write_text("level = 1\n")
    for path in (other, program):
        with qtbot.waitSignal(again.desk.runner.ended, timeout=30_000):
            again.desk.open(path)
    assert [its.line for its in again.reader.breakpoints] == [5], "also when something else was open in between"
    window.breakpoints.setCurrentRow(0)
    qtbot.keyClick(window.breakpoints, keys.Key_Delete)
    assert reader.breakpoints == []
