"""Programs and recordings of other Pythons than ours, in the window."""

from __future__ import annotations

import os
import subprocess
import sys
from pathlib import Path

import pytest
from PyQt6.QtWidgets import QToolButton
from pytestqt.qtbot import QtBot
from support.other_pythons import python_of

from eelgrass.desktop.commands.dialogs.python_dialog import PythonDialog
from eelgrass.desktop.window.main_window import MainWindow


def test_it_is_walked_through_with_every_tab(window: MainWindow, qtbot: QtBot, tmp_path: Path) -> None:
    program, recording = tmp_path / "levels.py", tmp_path / "levels.eelrec"
    program.write_text(
        'type Levels = list[int]\ndef first[T](its: list[T]) -> T:\n    return its[0]\nprint(first([7]), f"{"mo"!r}")\n'
    )
    command = [sys.executable, "-m", "eelgrass.cli", "record", "-o", recording, "--python", python_of("3.12"), program]
    subprocess.run(command, capture_output=True, check=True)
    with qtbot.waitSignal(window.models.parts.session.opened, timeout=30_000):
        window.models.workspace.open(recording)
    session = window.models.parts.session
    lines = []
    for step in range(len(session.recording.trace.steps)):
        session.go(step)
        lines.append(session.recording.trace.line_of(session.step))
    assert 3 in lines
    for tab in range(window.tabs.count()):
        window.tabs.setCurrentIndex(tab)


def test_which_python_runs_the_program_is_shown_and_chosen(
    window: MainWindow, qtbot: QtBot, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.delenv("EELGRASS_PYTHON")
    other = python_of("3.13")
    subprocess.run([other, "-m", "venv", "--without-pip", tmp_path / ".venv"], check=True)
    program = tmp_path / "levels.py"
    program.write_text("import sys\nprint(sys.version_info[:2])\n")
    session = window.models.parts.session

    def printed() -> str:
        return "".join(session.recording.trace.texts.pieces)

    with qtbot.waitSignal(window.models.run.runner.ended, timeout=30_000):
        window.models.workspace.open(program)
    shown = window.top_bar.findChild(QToolButton, "python")
    assert shown.text() == "Python 3.13, .venv"
    assert printed() == "(3, 13)\n"

    form = PythonDialog(window, window.models.launch.pythons, window.models.look)
    form.other.setText(str(tmp_path / "none"))
    assert form.chosen is not None
    form._accept()
    assert "There is no Python at" in form.said.text()
    form.other.clear()
    form.places.setCurrentIndex(form.places.findText("Eelgrass's own"))
    with qtbot.waitSignal(window.models.run.runner.ended, timeout=30_000):
        window.models.launch.choose_python(form.chosen)
    assert shown.text() == f"Python {sys.version_info[0]}.{sys.version_info[1]}, chosen"
    assert printed() == f"{sys.version_info[:2]}\n"


def test_a_python_that_does_not_answer_leaves_the_window_alive(
    window: MainWindow, qtbot: QtBot, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.delenv("EELGRASS_PYTHON")
    asked = tmp_path / ".venv" / "bin" / "python"
    asked.parent.mkdir(parents=True)
    os.mkfifo(tmp_path / "answer")
    asked.write_text(f"#!/bin/sh\nread -r line < '{tmp_path}/answer'\necho tide\n")
    asked.chmod(0o755)
    (tmp_path / ".venv" / "pyvenv.cfg").write_text("")
    program = tmp_path / "levels.py"
    program.write_text("level = 7\n")
    window.models.workspace.open(program)  # comes back, though nothing answers yet
    assert window.models.workspace.program == program
    messages = window.models.messages
    with qtbot.waitSignal(messages.changed, timeout=30_000):
        (tmp_path / "answer").write_text("go on\n")
    assert "does not answer as a Python does. Choose another Python for this folder." in messages.latest.text
