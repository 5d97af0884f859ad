"""What views work out before they paint, and what is remembered between starts."""

from __future__ import annotations

from itertools import pairwise
from pathlib import Path

import pytest
from conftest import Record
from PyQt6.QtCore import QEvent, QMimeData, QObject, QPoint, QPointF, Qt, QUrl
from PyQt6.QtGui import QDropEvent, QPaintEvent, QWheelEvent
from PyQt6.QtWidgets import QApplication
from pytestqt.qtbot import QtBot

from eelgrass.desktop import app, settings
from eelgrass.desktop.depths_view import place
from eelgrass.desktop.gutter import _short
from eelgrass.desktop.window import Window
from eelgrass.lessons.lesson import demo_lesson
from eelgrass.reading.layers import Layer, Row

LOOPS = "beds = []\nfor bed in range(40):\n    beds.append(bed)\n    if bed > 90:\n        bed = 0\n"


def test_layers_lie_below_each_other_and_step_in(qtbot: QtBot) -> None:
    rows = [Row("level"), Row("total")]
    layers = [Layer(number, "dive", "", number, number == 11, number, rows) for number in range(12)]
    placed = place(layers, 600)
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
    window: Window, record: Record, qtbot: QtBot
) -> None:
    window.reader.show(record(LOOPS))
    tide = window.tide
    steps = [tide.step_at(tide.x_of(step + 0.5)) for step in range(100)]
    assert steps == list(range(100)), "place and step are each other's inverse"
    x = tide.x_of(50.5)
    wheel(tide, x, 6)
    assert tide.step_at(x) == 50
    assert tide.x_of(51) - tide.x_of(50) > 15
    window.reader.move("last")
    last = window.reader.step
    assert 0 < tide.x_of(last) < tide.width()
    wheel(tide, x, -40)
    assert (tide.step_at(0), tide.step_at(tide.width())) == (0, last)


def test_the_margin_is_painted_anew_when_a_move_scrolls_the_text(window: Window, record: Record, qtbot: QtBot) -> None:
    text = "\n".join(f"level_{number} = {number}" for number in range(90)) + "\n"
    window.reader.show(record(text))
    gutter, painted = window.text.gutter, []

    class Watch(QObject):
        def eventFilter(self, _watched: QObject | None, event: QEvent | None) -> bool:
            if isinstance(event, QPaintEvent):
                painted.append(event.region().boundingRect())
            return False

    watch = Watch()
    QApplication.processEvents()
    gutter.installEventFilter(watch)
    window.reader.move("last")
    assert window.text.editor.firstVisibleLine() > 40
    qtbot.waitUntil(lambda: gutter.rect() in painted, timeout=10_000)


def test_lines_that_never_run_are_hatched_and_unreached_ones_fade(window: Window, record: Record, qtbot: QtBot) -> None:
    window.reader.show(record(LOOPS))
    assert window.text.editor._faded == {3, 4, 5, 2}, "at the first line, everything after it is still to come"
    window.reader.move("last")
    assert window.text.editor._faded == {5}
    counts = window.text.gutter.counts
    assert (counts[5].in_all, counts[3].in_all, counts[2].in_all) == (0, 40, 41)


def test_a_dropped_file_is_opened_and_remembered(window: Window, qtbot: QtBot, tmp_path: Path) -> None:
    program = tmp_path / "bay.py"
    program.write_text("level = 1\n")
    data = QMimeData()
    data.setUrls([QUrl.fromLocalFile(str(program))])
    buttons, keys = Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier
    drop = QDropEvent(QPointF(5, 5), Qt.DropAction.CopyAction, data, buttons, keys)
    assert settings.recent_files() == []
    with qtbot.waitSignal(window.desk.runner.ended, timeout=30_000):
        window.dropEvent(drop)
    assert window.desk.title == "bay.py"
    assert settings.recent_files() == [program]
    program.unlink()
    assert settings.recent_files() == [], "what is gone is not opened again"


def test_starting_without_a_display_says_so(
    monkeypatch: pytest.MonkeyPatch, capsys: pytest.CaptureFixture[str]
) -> None:
    for name in ("DISPLAY", "WAYLAND_DISPLAY", "QT_QPA_PLATFORM"):
        monkeypatch.delenv(name, raising=False)
    assert app.open_demo() == 1
    assert "no display" in capsys.readouterr().err


def test_the_lesson_has_three_faulty_programs_with_their_data() -> None:
    lesson = demo_lesson()
    assert [exercise.program.name for exercise in lesson.exercises] == [
        "gauge_report.py",
        "crab_tags.py",
        "ferry_list.py",
    ]
    assert all(exercise.program.is_file() and exercise.task.endswith("?") for exercise in lesson.exercises)
    assert lesson.exercises[2].input == ("3", "4", "5")
