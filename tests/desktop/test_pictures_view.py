"""Pictures of data in the window and as files."""

from __future__ import annotations

from pathlib import Path

from conftest import Record
from PyQt6.QtCore import Qt
from PyQt6.QtGui import QImage
from PyQt6.QtSvg import QSvgRenderer
from pytestqt.qtbot import QtBot
from support.programs import DATA

from eelgrass.desktop.tabs.pictures_view import PicturesView
from eelgrass.desktop.window.main_window import MainWindow


def test_pictures_in_the_window_follow_and_are_saved(
    window: MainWindow, record: Record, qtbot: QtBot, tmp_path: Path
) -> None:
    recording = record(DATA)
    window.models.parts.session.show(recording)
    window.models.parts.session.go(int(recording.visits.of_line(0, 7)[0]))
    qtbot.keyClick(window, Qt.Key.Key_D)
    window.stack.watched.emit("picture", "levels", 0)
    window.view(PicturesView).name.setCurrentText("first")
    window.view(PicturesView).draw.click()
    sheet = window.view(PicturesView).sheet
    assert [picture.path for picture in sheet.pictures] == ["first", "levels"]
    before = sheet.grab().toImage()
    window.models.parts.session.go(int(recording.visits.of_line(0, 7)[1]))
    assert sheet.grab().toImage() != before
    for name in ("levels.svg", "levels.png"):
        window.commands.save_picture("levels", tmp_path / name)
    assert QSvgRenderer(str(tmp_path / "levels.svg")).isValid()
    assert QImage(str(tmp_path / "levels.png")).width() > 100
    sheet.copy(sheet.pictures[0])
    window.models.parts.options.set_pictures(["levels"])
    assert len(sheet.pictures) == 1
