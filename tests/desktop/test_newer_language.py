"""A recording by a newer Python, whose language ours cannot read, in the window."""

from __future__ import annotations

import subprocess
import sys
from pathlib import Path

from pytestqt.qtbot import QtBot
from support.other_pythons import python_of

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
