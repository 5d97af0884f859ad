"""What comes from strangers, in the window: it is shown as it is, loads nothing, reaches nothing without the person's
leave, and does not come back when it has ended Eelgrass."""

from __future__ import annotations

import json
from pathlib import Path
from random import Random

import pytest
from PyQt6.QtCore import Qt, QUrl
from PyQt6.QtGui import QImage
from PyQt6.QtWidgets import QLabel
from pytestqt.qtbot import QtBot
from support.driving import opened
from support.hostile_files import changed_bytes, changed_json

from eelgrass.desktop.app import open_recent
from eelgrass.desktop.commands import program_commands
from eelgrass.desktop.commands.dialogs.leave_dialog import LeaveDialog
from eelgrass.desktop.look.look import Look
from eelgrass.desktop.look.markdown_view import MarkdownView
from eelgrass.desktop.look.plain_text import PlainLabel, as_rich
from eelgrass.desktop.services.disk_writer import DiskWriter
from eelgrass.desktop.services.settings import Settings
from eelgrass.desktop.tabs.output_view import OutputView
from eelgrass.desktop.window.main_window import MainWindow
from eelgrass.desktop.workspace import session_file
from eelgrass.desktop.workspace.session_file import KeptLeave, SavedSession
from eelgrass.runs import confinement
from eelgrass.runs.order import Leave


def test_markdown_loads_pictures_of_its_folder_and_nothing_else(qtbot: QtBot, tmp_path: Path) -> None:
    folder, outside = tmp_path / "exercise", tmp_path / "outside.png"
    folder.mkdir()
    for path, colour in ((folder / "reef.png", Qt.GlobalColor.red), (outside, Qt.GlobalColor.blue)):
        image = QImage(900, 30, QImage.Format.Format_RGB32)
        image.fill(colour)
        image.save(str(path))
    (folder / "link.png").symlink_to(outside)
    (folder / "no.png").write_bytes(b"no picture")
    view = MarkdownView(Look())
    qtbot.addWidget(view)
    view.folder = folder

    def width(name: str) -> int:
        found = view.loadResource(2, QUrl(name))
        assert isinstance(found, QImage)
        return found.width()

    assert width("reef.png") == 560, "as wide as there is room for"
    others = (
        "link.png",
        "no.png",
        "gone.png",
        "../outside.png",
        str(outside),
        f"file://{outside}",
        "/dev/zero",
        "/dev/stdin",
    )
    assert {name: width(name) for name in others} == dict.fromkeys(others, 1)
    assert not view.loadResource(3, QUrl("/etc/passwd"))
    view.setMarkdown("![a](/dev/zero) <img src='/dev/stdin'> <b>bold</b>\n" + "* x\n" * 5_000)
    assert "<b>bold</b>" in view.toPlainText(), "tags are no tags"
    assert view.toPlainText().endswith("(there is more than can be shown here)")
    view.setMarkdown("*" * 60_000)
    assert len(view.toPlainText()) < 10_000


def test_words_of_others_are_shown_as_they_are(window: MainWindow, qtbot: QtBot, tmp_path: Path) -> None:
    odd = tmp_path / "<b>tide\u202eyp.py"
    odd.write_text("print(1)\n")
    opened(window, qtbot, odd)
    shown = window.top_bar.findChildren(PlainLabel)
    assert any(label.text() == "<b>tide‹U+202E›yp.py" for label in shown)
    assert as_rich("<img src='x'>\n") == "<qt>&lt;img src=&#x27;x&#x27;&gt;<br></qt>"
    others = [its for its in window.findChildren(QLabel) if its.textFormat() != Qt.TextFormat.PlainText and its.text()]
    assert others == [], "labels take nothing for tags"


@pytest.mark.skipif(not confinement.is_confining(), reason=confinement.missing_words())
def test_what_a_program_may_reach_is_asked_kept_and_shown(
    window: MainWindow, qtbot: QtBot, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    place, other = tmp_path / "place", tmp_path / "reef data"
    place.mkdir()
    other.mkdir()
    (other / "levels.txt").write_text("3 4")
    program = place / "reads.py"
    program.write_text(f"print(open({str(other / 'levels.txt')!r}).read())\n")
    opened(window, qtbot, program)
    (choice,) = window.models.messages.latest.choices
    seen: list[LeaveDialog] = []

    def agree(dialog: LeaveDialog) -> int:
        seen.append(dialog)
        return 1

    monkeypatch.setattr(program_commands.LeaveDialog, "exec", agree)
    with qtbot.waitSignal(window.models.run.runner.ended, timeout=30_000):
        choice.call()
    assert seen[0].folder.text() == str(other), "what it wished for is put forward"
    assert not seen[0].display.isChecked()
    assert window.view(OutputView).toPlainText() == "3 4\n"
    assert "may reach: reef data" in window.models.launch.made_by[0]
    opened(window, qtbot, window.lesson.exercises[0].folder)
    assert window.models.launch.leave.leave == Leave(), "that is for the one program alone"
    opened(window, qtbot, program)
    assert window.view(OutputView).toPlainText() == "3 4\n", "and kept for that"


def test_what_has_ended_eelgrass_twice_is_not_opened_again(window: MainWindow, qtbot: QtBot, tmp_path: Path) -> None:
    program = tmp_path / "tides.py"
    program.write_text("print(1)\n")
    opened(window, qtbot, program)
    assert window.models.settings.values.starts == 0
    window.models.settings.change(starts=2)
    again = MainWindow()
    qtbot.addWidget(again)
    open_recent(again)
    assert again.models.workspace.program is None
    assert "ended twice" in again.models.messages.latest.text
    with qtbot.waitSignal(again.models.run.runner.ended, timeout=30_000):
        again.models.messages.latest.choices[0].call()
    again.models.run.runner.stop()
    for encoding in ("punycode", "undefined", "zip"):
        odd = tmp_path / f"{encoding}.py"
        odd.write_text(f"# coding: {encoding}\nprint(1)\n")
        window.models.workspace.open(odd)
        assert "cannot be read" in window.models.messages.latest.text
        assert window.models.settings.recent_files[0] == program, "what was not opened is not remembered"


@pytest.mark.filterwarnings("ignore")
def test_settings_and_what_was_kept_are_believed_only_as_far_as_they_make_sense(tmp_path: Path) -> None:
    program = tmp_path / "tides.py"
    kept = json.loads(session_file.encoded(SavedSession(questions=["level > 3"], leave=KeptLeave(True, False, ("/",)))))
    path, settings = session_file.session_path(program), Path(str(tmp_path / "state" / "eelgrass" / "settings.ini"))
    path.parent.mkdir(parents=True)
    Settings().change(points=13.0)
    good, writer = settings.read_bytes(), DiskWriter()
    for seed in range(300):
        random = Random(seed)
        data = json.dumps(changed_json(kept, random)).encode()
        path.write_bytes(data if seed % 2 else changed_bytes(data, random))
        session, _ = session_file.load(program, writer)
        assert isinstance(session, SavedSession)
        settings.write_bytes(changed_bytes(good, random))
        assert 6 <= Settings().values.points <= 72
