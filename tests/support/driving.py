"""Driving a real window: what tests of views have in common."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

from PyQt6.QtCore import Qt
from pytestqt.qtbot import QtBot

from eelgrass.desktop.window.main_window import MainWindow

PATIENCE_MS = 30_000


def ended(window: MainWindow, qtbot: QtBot, call: Callable[[], object]) -> None:
    """Does something that runs a program, and waits for its end."""
    with qtbot.waitSignal(window.models.run.runner.ended, timeout=PATIENCE_MS):
        call()


def opened(window: MainWindow, qtbot: QtBot, path: Path, text: str | None = None) -> Path:
    """Opens a program, which is written first if a text is given, and waits for the end of its run."""
    if text is not None:
        path.parent.mkdir(parents=True, exist_ok=True)
        path.write_text(text)
    ended(window, qtbot, lambda: window.models.workspace.open(path))
    return path


def type_at(window: MainWindow, qtbot: QtBot, line: int, column: int, text: str) -> None:
    """Writes into the text on view; lines from 1."""
    if not window.source.is_editing:
        window.commands.toggle_editing()
    window.source.editor.setCursorPosition(line - 1, column)
    for number, part in enumerate(text.split("\n")):
        if number:
            qtbot.keyClick(window.source.editor, Qt.Key.Key_Return)
        qtbot.keyClicks(window.source.editor, part)


def another_window(qtbot: QtBot) -> MainWindow:
    """One more window, shown; its program is stopped at the end of the test."""
    made = MainWindow()
    qtbot.addWidget(made, before_close_func=lambda _window: made.models.run.stop())
    made.show()
    return made


def crashed(window: MainWindow) -> None:
    """What the system does when a window's process ends without a word, once everything handed over is written."""
    window.models.writer.flush()
    window.models.claims.release_all()
